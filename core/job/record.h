// What happened to a job: it is only added to. Facts name the plan and the setting that they belong
// to by id, so that no other plan can ever take them for its own.
#pragma once

#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "fit.h"

namespace rt {

/// A setting of a hooping of a plan. Ids are given once and never used again.
struct SettingKey {
  std::string plan, setting;
  friend bool operator==(const SettingKey&, const SettingKey&) = default;
  friend auto operator<=>(const SettingKey&, const SettingKey&) = default;
};

/// A mark was found: by the needle, or in a scan. A later one of the same name takes its place.
struct MarkFound {
  SettingKey of;
  std::string time;  ///< ISO 8601, UTC; as everywhere here.
  Mark mark;
  friend bool operator==(const MarkFound&, const MarkFound&) = default;
};

/// The cloth was hooped again, or the points were taken back: marks found before count no more.
struct MarksCleared {
  SettingKey of;
  std::string time;
  friend bool operator==(const MarksCleared&, const MarksCleared&) = default;
};

/// The machine has sewn up to a row. Rows of one run never fall.
struct RowsSewn {
  SettingKey of;
  std::string time;
  std::string run;    ///< One start of the machine.
  size_t from = 0;    ///< Row that the run began at.
  size_t row = 0;     ///< Rows before it are sewn.
  std::string event;  ///< Word of the machine: `start`, `colour`, `break`, `stop`, `lost`, `done`;
                      ///< `` while it goes.
  bool done = false;  ///< All of the setting is sewn.
  friend bool operator==(const RowsSewn&, const RowsSewn&) = default;
};

/// A person went on in spite of a verdict.
struct Overruled {
  std::string time;
  std::string of;           ///< `density` or `alignment`.
  SettingKey setting;       ///< Of an alignment; else empty.
  size_t layout_print = 0;  ///< Of the layout that was judged: another layout needs another word.
  std::string reason;
  friend bool operator==(const Overruled&, const Overruled&) = default;
};

/// Written by a newer program: kept as it is.
struct UnknownHappening {
  std::string kind, body;
  friend bool operator==(const UnknownHappening&, const UnknownHappening&) = default;
};

using Happening = std::variant<MarkFound, MarksCleared, RowsSewn, Overruled, UnknownHappening>;

/// All that happened, oldest first.
class Record {
 public:
  /// Adds a fact. While a run goes on without an event its last place moves along instead of
  /// making a row of its own; a place behind the last one is dropped.
  void add(Happening happening);
  const std::vector<Happening>& all() const { return all_; }
  bool empty() const { return all_.empty(); }

  /// Marks that count for a setting, by name.
  std::vector<Mark> marks(const SettingKey& of) const;
  /// How far a setting has been sewn.
  struct Sewn {
    size_t row = 0;  ///< Rows before it are sewn; where to go on, but for the overlap.
    bool begun = false, done = false;
    friend bool operator==(const Sewn&, const Sewn&) = default;
  };
  Sewn sewn(const SettingKey& of) const;
  /// The reason given for sewing over a density verdict of this very layout; empty: none.
  std::string overruledDensity(size_t layout_print) const;
  /// The same for the alignment of a setting, as long as no mark was found since.
  std::string overruledAlignment(const SettingKey& of) const;
  /// Whether anything happened under a plan.
  bool mentions(const std::string& plan) const;

  friend bool operator==(const Record&, const Record&) = default;

 private:
  std::vector<Happening> all_;
};

}  // namespace rt
