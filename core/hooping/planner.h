// A layout split over as few hoopings as it takes.
#pragma once

#include <string>

#include "asked_cut.h"
#include "frame.h"
#include "hooping_rule.h"
#include "pattern.h"
#include "watch.h"

namespace rt {

/// Star: every hooping is tied to the same cross, errors do not add. Chain: each to those before.
enum class TieStyle { Star, Chain };

/// From the middle outward slack cloth is pushed out; from one end along the cloth moves one way.
enum class SewingOrder { FromMiddle, FromEnd };

/// What marks are looked for at the cloth: each school with its own error.
enum class MarkSchool { DrawnLines, Tags, SewnLine, SewnCrosses, Basted };
inline constexpr MarkSchool kMarkSchools[] = {MarkSchool::DrawnLines, MarkSchool::Tags,
                                              MarkSchool::SewnLine, MarkSchool::SewnCrosses,
                                              MarkSchool::Basted};
std::string_view name(MarkSchool school);
/// One sigma a coordinate, each time a mark of this school is looked for, mm.
double markError_mm(MarkSchool school, const MarkErrors& errors = {});

/// Where no mark may lie and no clamp may press.
struct KeepOut {
  std::string name;
  std::vector<Point> polygon;  ///< Layout frame, mm.
  friend bool operator==(const KeepOut&, const KeepOut&) = default;
};

/// A clamping that a person wants just there; the plan does the rest around it.
struct PinnedFrame {
  std::string hoop;  ///< Id of a frame of the plan.
  int turn_deg = 0;  ///< Of the frame: 0 or 90.
  Point origin;      ///< Of the frame, in the layout's frame, mm.
  friend bool operator==(const PinnedFrame&, const PinnedFrame&) = default;
};

struct PlanOptions {
  std::vector<Hoop> hoops;
  double overlap_mm = 10;  ///< Neighbouring fields overlap at least by this.
  bool turn = false;       ///< Frames may be turned by 90°.
  TieStyle style = TieStyle::Star;
  SewingOrder order = SewingOrder::FromMiddle;
  double mark_error_mm = MarkErrors{}.needle_mm;
  HoopingRule rule = {};
  std::vector<std::string> keep = {};  ///< Names of pieces that are never cut.
  std::vector<AskedCut> cuts = {};
  std::vector<KeepOut> keep_out = {};
  std::vector<PinnedFrame> pinned = {};
  /// Origins of frames in the order wanted: clampings at these places are sewn so, the others after
  /// them. What that turns over is doubted.
  std::vector<Point> order_by_hand = {};
  int most_branches = 300;  ///< Bounds the search; see coverNeeds.
  friend bool operator==(const PlanOptions&, const PlanOptions&) = default;
};

/// A mark by which hoopings are placed. In a star all are drawn on the cloth; in a chain the first
/// hooping finds its own drawn, and whoever comes first to a mark sews it for those after.
struct PlanMark {
  std::string id, kind = "cross";
  Point at;           ///< Layout frame, mm.
  bool clear = true;  ///< No thread and no keep-out zone within reach of its arms.
  friend bool operator==(const PlanMark&, const PlanMark&) = default;
};

/// What the machine sews without the cloth being moved in its frame and the frame being reset.
struct PlanSetting {
  std::string id;        ///< Within its plan: given once, kept whatever the order becomes.
  int index = 1;         ///< Within its hooping, in sewing order, from 1.
  PlacedField field;     ///< Layout frame.
  Pattern pattern;       ///< Layout frame; ties and marks included.
  size_t stitches = 0;   ///< Without ties, marks and basting.
  double thread_mm = 0;  ///< Likewise.
  friend bool operator==(const PlanSetting&, const PlanSetting&) = default;
};

/// One clamping of the cloth.
struct Hooping {
  std::string id;  ///< Within its plan, as a setting's.
  int index = 1;   ///< Sewing order, from 1.
  int hoop = 0;    ///< Index into PlanOptions::hoops.
  std::string hoop_id;
  int turn_deg = 0;                   ///< Of the frame: 0 or 90.
  Point origin;                       ///< Of the frame, in the layout's frame, mm.
  std::vector<PlanSetting> settings;  ///< At least one.
  std::vector<PlanMark> marks;
  /// 95 % bound on how far a layout point lands from its place, at the worst corner of what it
  /// sews, mm.
  double predicted_error_mm = 0;
  size_t stitches() const;
  double thread_mm() const;
  friend bool operator==(const Hooping&, const Hooping&) = default;
};

/// Where two settings meet, of one hooping or of two.
struct Seam {
  int first = 1, second = 2;                  ///< Hooping indices.
  int first_setting = 1, second_setting = 1;  ///< Setting indices.
  Point at;             ///< The worst place where thread of both meets, layout frame, mm.
  bool meets = false;   ///< Thread of both meets; else `at` is the middle of what both reach.
  double error_mm = 0;  ///< 95 % bound of the gap between the two there.
  friend bool operator==(const Seam&, const Seam&) = default;
};

/// A piece or block that was parted between two settings.
struct Cutting {
  std::string what;
  int first = 1, second = 2, first_setting = 1, second_setting = 1;
  size_t stitches = 0;   ///< Places where its thread is parted; 0: it is parted between blocks.
  double length_mm = 0;  ///< Extent of those places along the seam.
  Point at;              ///< Their middle, layout frame, mm.
  friend bool operator==(const Cutting&, const Cutting&) = default;
};

/// What a grid of the largest hoop, laid edge to edge, would take.
struct PlainGrid {
  int columns = 0, rows = 0;
  int hoopings = 0;   ///< Fields that hold sewing.
  int crossings = 0;  ///< Pieces (or blocks without one) with thread in more than one.
  friend bool operator==(const PlainGrid&, const PlainGrid&) = default;
};

/// A doubt about a plan, for people above the core to put in words.
struct PlanDoubt {
  enum class What {
    TurnedOver,     ///< `a` lies under `b` and is sewn after it.
    ThinOverlap,    ///< Settings share `value` mm only; no thread crosses.
    MarkOnSewing,   ///< Mark `a` of hooping `first` lies on sewing or a zone: no clear place.
    NoSharedMarks,  ///< Hoopings share no two marks far enough apart to tie one to the other.
    ClampOnZone,    ///< The frame of hooping `first` presses on zone `a`.
    CutElsewhere,   ///< Piece `a` is parted `value` mm beside the line that was asked for.
    LittleRoom,     ///< Sewing of hoopings `a` comes within `value` mm of a field's edge.
    EndedEarly,     ///< The search was ended: `first` hoopings are proven, `second` are planned.
  };
  What what = What::TurnedOver;
  std::string a, b;
  int first = 0, second = 0;  ///< Hoopings.
  double value = 0;
  friend bool operator==(const PlanDoubt&, const PlanDoubt&) = default;
};

struct HoopingPlan {
  std::vector<Hooping> hoopings;
  int lower_bound = 0;                 ///< Proven: no plan has fewer hoopings.
  std::vector<std::string> crossings;  ///< Pieces (or blocks) that were cut.
  size_t cut_stitches = 0;             ///< Places where a cut parts a thread.
  std::vector<Cutting> cuts;
  std::vector<Seam> seams;
  double worst_seam_error_mm = 0;
  double interlock_mm = 0;  ///< How much thread both sides of a cut sew; 0 without a cut.
  PlainGrid plain_grid;
  std::vector<PlanDoubt> doubts;
  size_t settings() const;
  friend bool operator==(const HoopingPlan&, const HoopingPlan&) = default;
};

/// The search was ended before its end: fewer hoopings are not ruled out.
bool endedEarly(const HoopingPlan& plan);

/// Plans the fewest hoopings, then the fewest settings, then the fewest pieces cut, then the least
/// thread cut. Every stitch goes to exactly one setting; what lies on top is not sewn before what
/// lies under it, or a doubt names the pair. Throws Error for an empty layout, no hoop, a field too
/// small to overlap, a kept piece that fits no field; Stopped when the watch says so. When it says
/// Enough the plan is made of the best fields found so far, and a doubt says so.
HoopingPlan planHoopings(const Pattern& pattern, const PlanOptions& options,
                         const Watch& watch = {});

}  // namespace rt
