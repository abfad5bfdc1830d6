// Lines of the shop's logbook, as values.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "judge.h"
#include "learning.h"
#include "practice_score.h"

namespace rt {

/// One line. Whoever writes it names what happened; the keeper gives id and time.
struct LedgerEntry {
  std::string id;    ///< Given once, unique everywhere: the same line is never kept twice.
  std::string time;  ///< ISO 8601, UTC, to the millisecond.
  std::string job_id, job_title;
  /// `plan`, `align`, `sew-start`, `colour`, `break`, `resume`, `done`, `overrule`, `export`,
  /// `limits`, `outcome`, `run`, `lost`, `bobbin-missed`, `bobbin-empty`, `fold`, `skipped`,
  /// `back`, `practice`, `seam`; or any word that a person chose.
  std::string event;
  int hooping = 0;     ///< 0: the whole job.
  std::string status;  ///< Of an alignment: ready, check, rehoop; of an outcome how it went.
  double rotation_deg = 0, dx_mm = 0, dy_mm = 0, rms_mm = 0, worst_mm = 0;
  int stitch = 0;  ///< Where in the hooping.
  std::string note;
  std::map<std::string, double> figures;     ///< What else the event measured, by name with unit.
  std::map<std::string, std::string> words;  ///< And what else it names.
  friend bool operator==(const LedgerEntry&, const LedgerEntry&) = default;
};

/// What an outcome is of.
enum class OutcomeOf { Density, Column, Letter };

/// How a sewing on a fabric went.
struct OutcomeEntry {
  std::string job_id, fabric;
  double value = 0;   ///< Heaviest place that was sewn, mm/mm²; or a width or height, mm.
  double factor = 1;  ///< Of needle, thread and backing on the fabric's density limits.
  Outcome outcome = Outcome::Fine;
  std::string note;
  OutcomeOf of = OutcomeOf::Density;
};

/// A hooping sewn from its first stitch to its last, be it with breaks between.
struct RunEntry {
  std::string job_id;
  int hooping = 1;
  double predicted_s = 0, taken_s = 0;  ///< By the time model, and by the machine's clock.
  bool whole = true;                    ///< Without a break; others are kept and teach nothing.
};

LedgerEntry entryFor(const Alignment& alignment, int hooping);
LedgerEntry entryFor(const OutcomeEntry& outcome);
LedgerEntry entryFor(const RunEntry& run);
/// `level` and `fault`: how badly the cloth was clamped, and what was done to it.
LedgerEntry entryFor(const PracticeScore& score, int hooping, int level, const std::string& fault);
/// Points of all practice, in the order of `entries`.
std::vector<int> practicePoints(const std::vector<LedgerEntry>& entries);
/// Of one fabric and kind, in the order of `entries`.
std::vector<OutcomeEntry> outcomesIn(const std::vector<LedgerEntry>& entries,
                                     const std::string& fabric, OutcomeOf of);
std::vector<RunEntry> runsIn(const std::vector<LedgerEntry>& entries);
/// Now, as entries and records write it.
std::string nowUtc();
/// A time as people write it, ISO 8601 in UTC (`2027-03-02`, `2027-03-02T08:00`, seconds and their
/// parts, Z or another offset), as entries write it; empty for what is none.
std::string utcTime(const std::string& text);
/// A new id.
std::string newId();
/// The columns of the first paragraph of docs/formats.md's ledger, one line an entry; the last,
/// `body`, holds as JSON all that has no column of its own, so that it can be read back whole.
std::string csvOf(const std::vector<LedgerEntry>& entries);

}  // namespace rt
