// A SQLite file through QtSql. Part of this room; its public faces are job_file.h and ledger.h.
#pragma once

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QVariantList>
#include <filesystem>

namespace rt {

/// Opens on construction, closes on destruction; not copyable, for one thread.
class Database {
 public:
  /// Throws Error if the file cannot be opened.
  explicit Database(const std::filesystem::path& path);
  ~Database();
  Database(const Database&) = delete;
  Database& operator=(const Database&) = delete;

  /// Runs one statement with its values. Throws Error with SQLite's words.
  QSqlQuery run(const QString& sql, const QVariantList& values = {});
  void begin();
  void commit();

 private:
  std::filesystem::path path_;
  QString connection_;
};

}  // namespace rt
