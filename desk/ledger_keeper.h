// The ledger as the window sees it: always there, never waited for.
#pragma once

#include <QObject>
#include <QThread>
#include <filesystem>
#include <memory>

#include "ledger_store.h"

namespace rt {

class KeeperDoor;
class LedgerWorker;

/// Keeps the store in a thread of its own and all entries here, so that nobody waits for a disk. A
/// store that cannot be opened or written keeps nothing from working: what happens meanwhile is
/// kept in a file beside it (or in memory, where that cannot be written either) and goes in when
/// the store can take it again. A damaged file is set aside and what can be read of it taken over.
class LedgerKeeper : public QObject {
  Q_OBJECT
 public:
  /// `store` is a file or the address of a server; `beside` is where entries wait that it cannot
  /// take (the file's own name for a file).
  LedgerKeeper(std::string store, std::filesystem::path beside, QObject* parent = nullptr);
  explicit LedgerKeeper(const std::filesystem::path& file, QObject* parent = nullptr)
      : LedgerKeeper(file.string(), file, parent) {}
  ~LedgerKeeper() override;

  /// Gives the entry its id and time and keeps it.
  const LedgerEntry& add(LedgerEntry entry);
  /// Entries from elsewhere; those whose id is here already are passed over. How many were new.
  size_t takeIn(const std::vector<LedgerEntry>& entries);
  /// Newest first; one job's, or all for an empty id.
  std::vector<LedgerEntry> entries(const std::string& job_id = {}) const;
  /// The same as CSV, oldest first.
  std::string csv(const std::string& job_id = {}) const;
  /// All, oldest first.
  const std::vector<LedgerEntry>& all() const { return all_; }
  /// Entries that are not in the store yet.
  size_t waiting() const { return waiting_; }
  /// Whether all that the store held has been read.
  bool loaded() const { return loaded_; }
  /// Why the store does not take entries just now, in words; empty: it does.
  const QString& trouble() const { return trouble_; }
  /// Another store from now on. What is known of this one is forgotten; what still waits for it
  /// goes in when it is chosen again.
  void moveTo(std::string store, std::filesystem::path beside);
  /// As it is shown: a server without its password.
  QString storeName() const;
  /// Waits until the store has answered all that was asked so far.
  void settle();

 signals:
  void changed();
  /// Said once for each trouble, and once when it is over.
  void told(const QString& words);

 private:
  friend class LedgerWorker;
  void take(const std::vector<LedgerEntry>& entries, bool loaded);
  void setTrouble(const QString& words, size_t waiting);

  std::vector<LedgerEntry> all_;
  std::map<std::string, size_t> byId_;
  size_t waiting_ = 0;
  bool loaded_ = false;
  std::string store_;
  size_t moves_ = 0;  ///< What another store told late is not taken.
  QString trouble_;
  std::shared_ptr<KeeperDoor> door_;
  QThread* thread_;  ///< Ours until it has ended; one that waits for a silent server is let go.
  LedgerWorker* worker_;
};

}  // namespace rt
