// The shop's logbook: what was hooped, aligned and sewn, and how it went. Only ever added to.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "judge.h"
#include "learning.h"

namespace rt {

class Database;

/// One line of the ledger.
struct LedgerEntry {
  int id = 0;
  std::string time;  ///< ISO 8601, local.
  std::string job_id, job_title;
  std::string event;   ///< `plan`, `align`, `sew-start`, `colour`, `break`, `resume`, `done`,
                       ///< `overrule`, `export`.
  int hooping = 0;     ///< 0: the whole job.
  std::string status;  ///< Of an alignment: ready, check, rehoop.
  double rotation_deg = 0, dx_mm = 0, dy_mm = 0, rms_mm = 0, worst_mm = 0;
  int stitch = 0;  ///< Where in the hooping.
  std::string note;
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

/// A hooping sewn from its first stitch to its last.
struct RunEntry {
  std::string job_id;
  int hooping = 1;
  double predicted_s = 0, taken_s = 0;  ///< By the time model, and by the machine's clock.
};

/// Opens (or makes) the ledger; every `add` is on the disk when it returns. Not copyable.
class Ledger {
 public:
  explicit Ledger(const std::filesystem::path& path);
  ~Ledger();
  /// Fills id and time. Throws Error.
  LedgerEntry add(LedgerEntry entry);
  /// Newest first; one job's, or all for an empty id.
  std::vector<LedgerEntry> entries(const std::string& job_id = {}) const;
  std::string csv(const std::string& job_id = {}) const;

  /// How a sewing went, for the shop's limits.
  void addOutcome(const OutcomeEntry& entry);
  /// Of one fabric and kind, oldest first.
  std::vector<OutcomeEntry> outcomes(const std::string& fabric, OutcomeOf of) const;
  /// A hooping that was sewn through, for the time model.
  void addRun(const RunEntry& entry);
  std::vector<RunEntry> runs() const;

 private:
  std::unique_ptr<Database> db_;
};

/// An alignment as a ledger line.
LedgerEntry entryFor(const Alignment& alignment, int hooping);

}  // namespace rt
