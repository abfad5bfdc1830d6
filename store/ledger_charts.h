// What the ledger shows where people would rather look than read.
#pragma once

#include <optional>

#include "ledger_entry.h"

namespace rt {

struct ChartPoint {
  double x = 0, y = 0;
  int mark = 0;       ///< 0 well, 1 doubtful, 2 badly.
  std::string label;  ///< For whoever points at it.
  friend bool operator==(const ChartPoint&, const ChartPoint&) = default;
};

struct Chart {
  std::vector<ChartPoint> points;  ///< In the order in which they happened.
  std::optional<double> line;      ///< A level that y is held against.
  bool diagonal = false;           ///< x and y should be equal.
  friend bool operator==(const Chart&, const Chart&) = default;
};

/// Worst corner of each alignment, mm, one after another; the line is the tolerance.
Chart alignmentChart(const std::vector<LedgerEntry>& entries, double tolerance_mm);
/// Minutes as planned against minutes by the machine's clock, a point a run; one that is `far_off`
/// of the plan from it is marked.
Chart minutesChart(const std::vector<LedgerEntry>& entries, double far_off);
/// Heaviest place that was sewn on a fabric, mm/mm², and how it went; the line is its stop limit.
Chart densityChart(const std::vector<LedgerEntry>& entries, const std::string& fabric,
                   double stop_limit);
/// Gap of each seam that was measured in a scan against the bound that was predicted, mm: above the
/// diagonal by more than the measurement's own error it is marked.
Chart seamChart(const std::vector<LedgerEntry>& entries);
/// Points of each practice.
Chart practiceChart(const std::vector<LedgerEntry>& entries);

/// Entries that hold all words of a search in their event, note, job or time, whatever the case;
/// only those of one event unless it is empty.
std::vector<LedgerEntry> searched(const std::vector<LedgerEntry>& entries, const std::string& words,
                                  const std::string& event);

}  // namespace rt
