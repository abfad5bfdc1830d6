// A small face on the integer program solver. Part of the planner; not for other rooms.
#pragma once

#include <optional>
#include <utility>
#include <vector>

#include "watch.h"

namespace rt {

/// Least cost under rows `low <= sum <= high`; every column is a number from 0 to `most`, whole
/// where so said.
class IntegerProgram {
 public:
  int column(double cost, bool whole = true, double most = 1);
  /// `low` or `high` may be infinite.
  void row(double low, double high, std::vector<std::pair<int, double>> terms);
  void setCost(int column, double cost) { costs_[static_cast<size_t>(column)] = cost; }
  size_t columns() const { return costs_.size(); }

  /// The least cost with whole numbers left open: no solution has less. std::nullopt: none exists,
  /// or it was not found within the steps.
  std::optional<double> relaxed() const;

  enum class Outcome { Best, Good, None, GivenUp };
  struct Solution {
    Outcome outcome = Outcome::GivenUp;
    std::vector<double> values;  ///< Of Best and Good.
    double cost = 0;
  };
  /// None: proven that there is no solution. Good: not proven to be the least within the branches.
  /// Throws Stopped.
  Solution solve(int most_branches, const Watch& watch) const;

 private:
  struct Row {
    double low, high;
    std::vector<std::pair<int, double>> terms;
  };
  friend class Problem;
  std::vector<double> costs_, most_;
  std::vector<bool> whole_;
  std::vector<Row> rows_;
};

}  // namespace rt
