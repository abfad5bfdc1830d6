// Ledgers as files to hand on: everything out, everything in, a copy put by.
#pragma once

#include "ledger_store.h"

namespace rt {

/// Where the person's own ledger and the shop's own values lie, whether it is there or not.
std::filesystem::path ownShopFolder();
/// The person's own ledger; its folder is made if it is missing.
std::filesystem::path ownLedgerFile();
/// A ledger file that is there. Throws StoreError if it is not, or not ours.
std::unique_ptr<LedgerStore> openExistingLedger(const std::filesystem::path& path);

/// All entries, as CSV or JSON by the name's ending (.csv, .json). Throws Error.
void exportLedger(const std::vector<LedgerEntry>& entries, const std::filesystem::path& path);
/// Entries of a file that exportLedger wrote, told apart by its content. Throws Error with the line
/// or the entry.
std::vector<LedgerEntry> readExportedLedger(const std::filesystem::path& path);
/// A ledger of its own with all entries, whole or not at all; gives their number. Throws Error.
size_t backUpLedger(const std::vector<LedgerEntry>& entries, const std::filesystem::path& path);

}  // namespace rt
