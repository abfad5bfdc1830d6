// A SQLite file, or a database of a server, through QtSql. Part of this room.
#pragma once

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QVariantList>
#include <chrono>
#include <filesystem>
#include <functional>

#include "error.h"
#include "server_url.h"

namespace rt {

/// What ails a store, so that its user can choose what to do.
enum class Trouble { Damaged, ReadOnly, Full, Unreachable, Busy, Foreign };

class StoreError : public Error {
 public:
  StoreError(Trouble trouble, std::string what, std::string where, std::string remedy)
      : Error(std::move(what), std::move(where), std::move(remedy)), trouble_(trouble) {}
  Trouble trouble() const { return trouble_; }

 private:
  Trouble trouble_;
};

/// Opens on construction, closes on destruction; not copyable, for one thread. Every failure is a
/// StoreError.
class Database {
 public:
  /// A database of a server. A server that keeps silent is given up.
  explicit Database(const ServerUrl& server, std::chrono::milliseconds patience = kServerPatience);
  enum class Open { ReadWrite, ReadOnly };
  explicit Database(const std::filesystem::path& path, Open how = Open::ReadWrite);
  ~Database();
  Database(const Database&) = delete;
  Database& operator=(const Database&) = delete;

  /// Runs one statement with its values.
  QSqlQuery run(const QString& sql, const QVariantList& values = {});
  /// Calls `use` for each row; an error in the middle of the rows is an error, not their end.
  void each(const QString& sql, const QVariantList& values,
            const std::function<void(const QSqlQuery&)>& use);
  void begin(
      bool at_once = false);  ///< `at_once` takes the write lock now, not at the first write.
  void commit();
  void rollback();
  /// True tables by name; views and the like are none.
  bool hasTable(const QString& name);

 private:
  [[noreturn]] void fail(const class QSqlError& problem) const;
  [[noreturn]] void failFile(const class QSqlError& problem) const;
  [[noreturn]] void failServer(const class QSqlError& problem) const;
  std::string where_;
  QString connection_;
  bool server_ = false;
  std::chrono::milliseconds patience_{};
};

/// A transaction that is rolled back unless it is committed.
class Transaction {
 public:
  explicit Transaction(Database& db) : db_(db) { db_.begin(true); }
  ~Transaction() {
    if (!done_) db_.rollback();
  }
  void commit() {
    db_.commit();
    done_ = true;
  }

 private:
  Database& db_;
  bool done_ = false;
};

}  // namespace rt
