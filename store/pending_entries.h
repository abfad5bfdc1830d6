// Ledger entries that wait for their store.
#pragma once

#include <filesystem>

#include "ledger_entry.h"

namespace rt {

/// In memory, and in a file beside the store as far as that can be written.
class PendingEntries {
 public:
  /// Reads what an earlier run of the program left.
  explicit PendingEntries(const std::filesystem::path& store_file);
  void add(const LedgerEntry& entry);
  const std::vector<LedgerEntry>& entries() const { return entries_; }
  bool empty() const { return entries_.empty(); }
  /// They are in the store.
  void clear();

 private:
  std::filesystem::path file_;
  std::vector<LedgerEntry> entries_;
};

}  // namespace rt
