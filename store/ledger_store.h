// Where the ledger is kept. Every store meets one contract, tested once for all.
#pragma once

#include <filesystem>
#include <memory>

#include "ledger_entry.h"

namespace rt {

/// Only ever added to. Any number of programs may add at once. Not copyable, for one thread. Every
/// failure is a StoreError.
class LedgerStore {
 public:
  virtual ~LedgerStore() = default;
  /// Keeps entries, each with its id and time; one whose id is there already is passed over. When
  /// it returns they are on the disk, all of them. How many were new.
  virtual size_t add(const std::vector<LedgerEntry>& entries) = 0;
  /// Entries that were added after a place, in the order they were added; the place moves along.
  /// Begin with 0.
  virtual std::vector<LedgerEntry> since(int64_t& place) = 0;
  /// Whether all that is kept can be read.
  virtual bool sound() = 0;
};

/// Opens (or makes) the ledger file, of whatever older format, and brings it to today's.
std::unique_ptr<LedgerStore> openLedgerFile(const std::filesystem::path& path);

/// What could be read of a damaged ledger.
struct Salvage {
  std::vector<LedgerEntry> entries;
  int64_t lost = 0;             ///< Entries known to have been there that could not be read.
  std::filesystem::path aside;  ///< Where the damaged file lies now.
};
/// Reads what can be read and moves the file aside, so that a new one can take its place.
Salvage salvageLedgerFile(const std::filesystem::path& path);

}  // namespace rt
