// Ledger entries as JSON, for export, import and what waits.
#pragma once

#include "ledger_entry.h"

namespace rt {

std::string ledgerJson(const LedgerEntry& entry);
/// Throws Error on text that is no entry.
LedgerEntry ledgerEntryFrom(const std::string& json);
/// All but id, time, event, job, hooping and note, which are columns. For stores.
std::string ledgerBody(const LedgerEntry& entry);
void readLedgerBody(const std::string& json, LedgerEntry& entry);

}  // namespace rt
