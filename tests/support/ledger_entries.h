// Entries for tests of ledgers.
#pragma once

#include "ledger_store.h"

namespace rt::testing {

/// With every kind of content, and text that a careless statement would stumble over.
inline LedgerEntry ledgerEntry(int n) {
  LedgerEntry e;
  e.id = "id-" + std::to_string(n);
  e.time = nowUtc();
  e.job_id = "job-" + std::to_string(n % 3);
  e.event = "note";
  e.hooping = n % 5;
  e.rotation_deg = n * 0.125;
  e.note = "line " + std::to_string(n) + ", \"quoted\" 'and so'\nünïcode; DROP TABLE entry";
  e.figures = {{"value", n * 0.5}};
  e.words = {{"fabric", "felt"}};
  return e;
}

inline std::vector<LedgerEntry> allOf(LedgerStore& store) {
  int64_t place = 0;
  return store.since(place);
}

}  // namespace rt::testing
