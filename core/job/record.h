// What happened to a job: it is only added to. Facts name the plan and the setting that they belong
// to by id, so that no other plan can ever take them for its own.
#pragma once

#include <memory>
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
  std::string reading = {};  ///< Id of the reading of a scan that it was seen in; empty: none.
  friend bool operator==(const MarkFound&, const MarkFound&) = default;
};

/// The cloth was hooped again, or the points were taken back: marks found before count no more.
struct MarksCleared {
  SettingKey of;
  std::string time;
  friend bool operator==(const MarksCleared&, const MarksCleared&) = default;
};

/// The machine has sewn up to a row. Rows of one run never fall, but at `bobbin-missed`: what was
/// told as sewn behind that row does not hold.
struct RowsSewn {
  SettingKey of;
  std::string time;
  std::string run;    ///< One start of the machine.
  size_t from = 0;    ///< Row that the run began at.
  size_t row = 0;     ///< Rows before it are sewn.
  std::string event;  ///< Word of the machine: `start`, `colour`, `break`, `bobbin-missed`,
                      ///< `bobbin-empty`, `fold`, `stop`, `lost`, `done`; of a person: `skipped`,
                      ///< `chosen` (to begin there, before anything was sewn); of a new plan:
                      ///< `taken-over`; `` while it goes.
  bool done = false;  ///< All of the setting is sewn.
  friend bool operator==(const RowsSewn&, const RowsSewn&) = default;
};

/// A person went on in spite of a verdict.
struct Overruled {
  std::string time;
  std::string of;           ///< `density`, `alignment` or `sewn-already`.
  SettingKey setting;       ///< Of an alignment, or what is sewn over; else empty.
  size_t layout_print = 0;  ///< Of the layout that was judged: another layout needs another word.
  std::string reason;
  friend bool operator==(const Overruled&, const Overruled&) = default;
};

/// A photo of the cloth in its frame.
struct Scan {
  std::string id;             ///< Given once.
  std::string name;           ///< As the file was called.
  std::string shot;           ///< When it was taken, ISO 8601, UTC; empty: not known.
  int width = 0, height = 0;  ///< px
  std::shared_ptr<const std::string> bytes;  ///< PNG or JPEG; never null.
  std::string camera = {};  ///< Model and focal length, by the photo's own notes; empty: not said.
  friend bool operator==(const Scan& a, const Scan& b) {
    return a.id == b.id && a.name == b.name && a.shot == b.shot && a.width == b.width &&
           a.height == b.height && a.camera == b.camera &&
           (a.bytes == b.bytes || *a.bytes == *b.bytes);
  }
};

/// A scan came in and belongs to a hooping.
struct ScanTaken {
  SettingKey of;
  std::string time;
  Scan scan;
  friend bool operator==(const ScanTaken&, const ScanTaken&) = default;
};

/// A person threw a scan away: its picture is gone, that it was there is not.
struct ScanDropped {
  SettingKey of;
  std::string time, scan;  ///< Id.
  friend bool operator==(const ScanDropped&, const ScanDropped&) = default;
};

/// A scan was read for marks. Where it could not be, the clamping is not measured by anything that
/// was found before: nobody knows whether the cloth still lies so.
struct ScanRead {
  SettingKey of;
  std::string time, scan;    ///< Id of the scan.
  std::string reading;       ///< Id under which its marks follow.
  std::string problem = {};  ///< Why there is nothing to measure by; empty: it was read.
  std::vector<std::string> missing = {};  ///< Marks that it should show and does not.
  friend bool operator==(const ScanRead&, const ScanRead&) = default;
};

/// A later plan holds the same setting of the same cloth: what happened to it counts there too.
struct TakenOver {
  SettingKey of;    ///< In the later plan.
  SettingKey from;  ///< In the earlier one.
  std::string time;
  friend bool operator==(const TakenOver&, const TakenOver&) = default;
};

/// The job goes on on another cloth: nothing of it is sewn, and nothing measured.
struct ClothReplaced {
  std::string time;
  friend bool operator==(const ClothReplaced&, const ClothReplaced&) = default;
};

/// Written by a newer program: kept as it is.
struct UnknownHappening {
  std::string kind, body;
  friend bool operator==(const UnknownHappening&, const UnknownHappening&) = default;
};

using Happening = std::variant<MarkFound, MarksCleared, RowsSewn, Overruled, ScanTaken, ScanDropped,
                               ScanRead, TakenOver, ClothReplaced, UnknownHappening>;

/// All that happened, oldest first.
class Record {
 public:
  /// Adds a fact. While a run goes on without an event its last place moves along instead of
  /// making a row of its own; a place behind the last one is dropped.
  void add(Happening happening);
  /// Adds a fact as it stands in a file: what was kept is read back, place by place.
  void addRead(Happening happening) { all_.push_back(std::move(happening)); }
  const std::vector<Happening>& all() const { return all_; }
  bool empty() const { return all_.empty(); }

  /// Marks that count for a setting, by name. A later reading takes the place of an earlier one
  /// with all that was seen in it.
  std::vector<Mark> marks(const SettingKey& of) const;
  /// The scan that was read last for a hooping, as long as it counts; null: none, or the marks were
  /// taken back, or others found, since.
  const ScanRead* lastReading(const SettingKey& of) const;
  /// The key and those that it took over, through all plans; itself first.
  std::vector<SettingKey> chainOf(const SettingKey& of) const;
  /// Scans that were not thrown away, oldest first: of one hooping, or of all for no key.
  std::vector<const ScanTaken*> scans(const std::optional<SettingKey>& of = std::nullopt) const;
  /// Since when the cloth may lie as it does: the last time that marks were cleared or that another
  /// hooping of the plan was sewn; empty: nothing of the kind is known.
  std::string clampedSince(const SettingKey& of, const std::vector<SettingKey>& same) const;
  /// How far a setting has been sewn.
  struct Sewn {
    size_t row = 0;  ///< Rows before it are sewn; where to go on, but for the overlap.
    bool begun = false, done = false;
    friend bool operator==(const Sewn&, const Sewn&) = default;
  };
  Sewn sewn(const SettingKey& of) const;
  /// Whether anything lies on the cloth in hand.
  bool anythingSewn() const;
  /// A person's last word on sewing over a density verdict of this very layout; null: none.
  const Overruled* overruledDensity(size_t layout_print) const;
  /// The same for the alignment of a setting, as long as no mark was found since, …
  const Overruled* overruledAlignment(const SettingKey& of) const;
  /// … and for thread of a setting that lies on the cloth already.
  const Overruled* overruledSewnAlready(const SettingKey& of) const;
  /// Whether anything happened under a plan.
  bool mentions(const std::string& plan) const;

  /// All of this one, and after it what only the other knows: of two states of one job, saved side
  /// by side.
  void take(const Record& other);

  friend bool operator==(const Record&, const Record&) = default;

 private:
  std::vector<Happening> all_;
};

}  // namespace rt
