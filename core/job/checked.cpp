// Jobs from outside: everything is held against what the program itself could have made.
#include <algorithm>
#include <cmath>
#include <set>

#include "error.h"
#include "job_limits.h"
#include "length.h"
#include "work.h"

namespace rt {
namespace {

using namespace job_limits;

[[noreturn]] void refuse(const std::string& part, const std::string& what) {
  throw Error(part + ": " + what, "job file", "open another copy; the file was left as it is");
}

void number(double v, double least, double most, const std::string& part, const char* name) {
  if (!(v >= least && v <= most))
    refuse(part, std::string(name) + " is " + formatNumber(v, 3) + ", it must be " +
                     formatNumber(least, 3) + " to " + formatNumber(most, 3));
}

void place(Point p, const std::string& part) {
  number(p.x, -kFarthest_mm, kFarthest_mm, part, "x");
  number(p.y, -kFarthest_mm, kFarthest_mm, part, "y");
}

void count(size_t n, size_t most, const std::string& part, const char* of) {
  if (n > most)
    refuse(part, std::to_string(n) + " " + of + " are more than " + std::to_string(most));
}

void text(const std::string& s, const std::string& part, size_t most = kLongestText) {
  count(s.size(), most, part, "bytes of text");
}

void check(const Pattern& p, const std::string& part) {
  count(p.stitches.size(), kMostStitches, part, "stitches");
  if (p.pieces.empty()) refuse(part, "its stitches have no list of names");
  for (const std::string& name : p.pieces) text(name, part);
  for (const Stitch& s : p.stitches) {
    if (s.thread >= p.threads.size() || s.piece >= p.pieces.size())
      refuse(part, "a stitch names a thread or piece that is not there");
    if (s.op > Op::End || s.kind > Kind::Mark) refuse(part, "a stitch is of no known kind");
    place(s.at, part);
  }
  for (Colour c : p.threads)
    if (c.rgb > 0xffffff) refuse(part, "a thread's colour is none");
}

void checkScale(double sx, double sy, const std::string& part) {
  number(sx, 1e-4, 1e4, part, "scale");
  number(sy, 1e-4, 1e4, part, "scale");
}

void check(const Placement& at, const std::string& part) {
  place(at.at, part);
  number(at.turn_deg, -36'000, 36'000, part, "turn");
  checkScale(at.scale_x, at.scale_y, part);
}

void check(const ArtworkSource& a, const std::string& part) {
  text(a.file, part);
  text(a.svg, part, kLongestDrawing);
  number(a.width_mm, 0, kFarthest_mm, part, "width");
  checkScale(a.scale_x, a.scale_y, part);
  if (a.row_spacing_mm) number(*a.row_spacing_mm, 0.01, 100, part, "row spacing");
  if (a.satin_spacing_mm) number(*a.satin_spacing_mm, 0.01, 100, part, "satin spacing");
  if (a.pull_mm) number(*a.pull_mm, 0, kMostPull_mm, part, "pull compensation");
  number(a.stitch_length_mm, 0.1, 100, part, "stitch length");
  if (a.angle_deg) number(*a.angle_deg, -36'000, 36'000, part, "angle");
  count(a.threads.size(), kMostSwaps, part, "threads of its own");
  for (const ThreadSwap& s : a.threads)
    if (s.drawn.rgb > 0xffffff || s.sewn.rgb > 0xffffff) refuse(part, "its colour is none");
}

void check(const MeasuredCurve& c, const std::string& part) {
  number(c.radius_mm, 0, 1e7, part, "radius");
  number(c.chord_mm, 0, kFarthest_mm, part, "chord");
  number(c.sagitta_mm, 0, kFarthest_mm, part, "sagitta");
  if (c.clear_mm) number(*c.clear_mm, -1'000, 10'000, part, "clearance");
  count(c.points_mm.size(), kMostCurvePoints, part, "points of its curve");
  for (Point p : c.points_mm) place(p, part);
}

void check(const TextSource& t, const std::string& part) {
  text(t.text, part);
  text(t.face, part);
  number(t.height_mm, 0.1, 10'000, part, "letter height");
  number(t.arc_radius_mm, 0, 1e7, part, "radius");
  number(t.gap_mm, -1'000, 10'000, part, "gap");
  count(t.gaps_mm.size(), kLongestText, part, "gaps");
  for (double gap : t.gaps_mm) number(gap, -1'000, 10'000, part, "gap");
  number(t.line_spacing, 0.1, 100, part, "line spacing");
  number(t.stretch, 1e-3, 1e3, part, "stretch");
  if (t.spacing_mm) number(*t.spacing_mm, 0.01, 100, part, "spacing");
  if (t.pull_mm) number(*t.pull_mm, 0, kMostPull_mm, part, "pull compensation");
  check(t.curve, part);
  if (t.colour.rgb > 0xffffff) refuse(part, "its colour is none");
}

void check(const StitchSource& s, const std::string& part) {
  text(s.file, part);
  if (s.bare) check(*s.bare, part);
  checkScale(s.scale_x, s.scale_y, part);
  number(s.spacing_factor, 1e-3, 1e3, part, "spacing factor");
}

void check(const Piece& p) {
  const std::string part = "piece " + std::to_string(p.id);
  text(p.name, part);
  if (!p.stitches) refuse(part, "it has no stitches");
  check(*p.stitches, part);
  check(p.place, part);
  std::visit([&](const auto& source) { check(source, part); }, p.source);
  if (p.group < 0 || p.group > 1'000'000) refuse(part, "its group is none");
}

void checkBrief(const Brief& b) {
  for (const std::string* s : {&b.item, &b.order_text, &b.fabric, &b.backing}) text(*s, "brief");
  number(b.needle_nm, 30, 300, "brief", "needle");
  number(b.thread_weight, 5, 300, "brief", "thread weight");
  number(b.place_width_mm, 0.1, kFarthest_mm, "brief", "width");
  number(b.place_height_mm, 0.1, kFarthest_mm, "brief", "height");
  number(b.centre_line_deg, -36'000, 36'000, "brief", "centre line");
}

void checkZone(const Zone& z) {
  const std::string part = "zone " + z.name.substr(0, 60);
  text(z.name, "zone");
  count(z.polygon_mm.size(), kMostCorners, part, "corners");
  if (z.polygon_mm.size() < 3) refuse(part, "it has fewer than three corners");
  for (Point p : z.polygon_mm) place(p, part);
  number(z.layers, 1, 100, part, "layers");
  number(z.thickness_mm, 0, 1'000, part, "thickness");
}

void checkCloth(const ClothKnown& cloth) {
  for (const std::string* word : {&cloth.fabric, &cloth.backing, &cloth.held}) text(*word, "cloth");
  number(cloth.learned_from, 0, 1e6, "cloth", "swatches");
  for (const ClothFigureInfo& info : clothFigures()) {
    const ClothValue& v = cloth.law.figures[static_cast<size_t>(info.figure)];
    const std::string figure(info.name);
    number(v.value, info.least, info.most, "cloth", figure.c_str());
    number(v.sigma, 0, 1'000, "cloth", figure.c_str());
  }
}

void checkSequence(const SequenceSettings& s) {
  number(s.hidden_margin_mm, 0, 1'000, "sewing order", "margin");
  number(s.needles, 1, 99, "sewing order", "needles");
  number(s.thin_under_letters, 0, 10, "sewing order", "thinning");
  count(s.colours_by_hand.size(), 70'000, "sewing order", "colours");
  count(s.stops.size(), kMostWaits, "sewing order", "waits");
  if (s.cloth) checkCloth(*s.cloth);
  for (const OperatorStop& stop : s.stops) {
    text(stop.note, "wait");
    number(stop.blocks_before, 0, 1e8, "wait", "blocks before");
  }
}

void checkSetting(const PlanSetting& s, int index, const std::string& part,
                  std::set<std::string>& ids) {
  if (s.index != index) refuse(part, "a hooping's settings are not counted from 1");
  if (s.id.empty() || !ids.insert(s.id).second) refuse(part, "two settings share an id");
  if (s.field.box.empty()) refuse(part, "a setting has no field");
  number(s.field.turn_deg, 0, 270, part, "turn of a field");
  place({s.field.box.left, s.field.box.top}, part);
  place({s.field.box.right, s.field.box.bottom}, part);
  check(s.pattern, part);
}

void checkPlan(const MadePlan& made) {
  const std::string part = "plan " + made.id.substr(0, 40);
  if (made.id.empty()) refuse("plan", "it has no id");
  count(made.plan.hoopings.size(), kMostHoopings, part, "hoopings");
  if (made.plan.hoopings.empty()) refuse(part, "it has no hooping");
  std::set<std::string> ids, settingIds;
  int index = 0;
  for (const Hooping& h : made.plan.hoopings) {
    if (h.index != ++index) refuse(part, "its hoopings are not counted from 1");
    if (h.id.empty() || !ids.insert(h.id).second) refuse(part, "two hoopings share an id");
    place(h.origin, part);
    if (h.settings.empty()) refuse(part, "a hooping has no setting");
    count(h.settings.size(), kMostHoopings, part, "settings");
    int setting = 0;
    for (const PlanSetting& s : h.settings) checkSetting(s, ++setting, part, settingIds);
    for (const PlanMark& m : h.marks) place(m.at, part);
  }
  for (const Seam& s : made.plan.seams) {
    number(s.first, 1, index, part, "seam");
    number(s.second, 1, index, part, "seam");
    place(s.at, part);
  }
}

/// Rows that the record says are sewn must be rows of the plan that it names.
void checkRows(const Work& work, const RowsSewn& fact) {
  const MadePlan* plan = planById(work, fact.of.plan);
  if (!plan) return;  // its plan was dropped: nothing is read from it any more
  for (const Hooping& h : plan->plan.hoopings)
    for (const PlanSetting& s : h.settings) {
      if (s.id != fact.of.setting) continue;
      if (fact.row > s.pattern.stitches.size() || fact.from > s.pattern.stitches.size())
        refuse("record", "row " + std::to_string(std::max(fact.row, fact.from)) +
                             " is past the end of hooping " + std::to_string(h.index));
      return;
    }
  refuse("record", "a fact names a hooping that its plan does not have");
}

void checkMark(const Mark& m) {
  text(m.id, "record", 200);
  place(m.layout, "mark " + m.id);
  place(m.hoop, "mark " + m.id);
  number(m.error_mm, 1e-4, 100, "mark " + m.id, "error");
  count(m.shared.size(), kMostShared, "mark " + m.id, "shared errors");
  for (Point p : m.shared) place(p, "mark " + m.id);
  text(m.shared_by, "mark " + m.id);
}

void checkScan(const Scan& s) {
  text(s.id, "record", 200);
  text(s.name, "record", 1000);
  text(s.shot, "record", 100);
  number(s.width, 0, 100000, "scan " + s.id, "width");
  number(s.height, 0, 100000, "scan " + s.id, "height");
  if (!s.bytes) refuse("scan " + s.id, "its picture is missing");
  count(s.bytes->size(), kMostScanBytes, "scan " + s.id, "bytes");
}

}  // namespace

void requireSound(const Job& job) {
  if (job.id.empty()) refuse("job", "it has no id");
  text(job.id, "job", 200);
  text(job.title, "job");
  checkBrief(job.brief);
  count(job.pieces.size(), kMostPieces, "job", "pieces");
  std::set<int> ids;
  for (const Piece& p : job.pieces) {
    if (p.id <= 0 || !ids.insert(p.id).second)
      refuse("piece " + std::to_string(p.id), "its id is none, or another piece has it");
    check(p);
    if (p.id >= job.next_piece_id) refuse("job", "the next piece's id is in use");
  }
  count(job.zones.size(), kMostZones, "job", "zones");
  for (const Zone& z : job.zones) checkZone(z);
  checkSequence(job.sequence);
  text(job.plan_settings.hoop, "plan settings");
  count(job.plan_settings.more_hoops.size(), 500, "plan settings", "frames");
  for (const std::string& hoop : job.plan_settings.more_hoops) text(hoop, "plan settings");
  count(job.plan_settings.pinned.size(), 100, "plan settings", "fields held in place");
  for (const PinnedFrame& p : job.plan_settings.pinned) {
    place(p.origin, "plan settings");
    if (p.turn_deg != 0 && p.turn_deg != 90)
      refuse("plan settings", "a frame is turned by no quarter");
  }
  count(job.plan_settings.cuts.size(), 100, "plan settings", "cuts asked for");
  for (const AskedCut& c : job.plan_settings.cuts) {
    place(c.from, "plan settings");
    place(c.to, "plan settings");
  }
  count(job.plan_settings.order_by_hand.size(), 500, "plan settings", "hoopings in order");
  for (Point at : job.plan_settings.order_by_hand) place(at, "plan settings");
  count(job.plan_settings.keep.size(), 10'000, "plan settings", "pieces kept whole");
  for (const std::string& piece : job.plan_settings.keep) text(piece, "plan settings");
  number(job.plan_settings.overlap_mm, 0, 10'000, "plan settings", "overlap");
  number(job.tolerance_mm, 0.001, 100, "job", "tolerance");
  count(job.swatch.size(), 100'000, "job", "swatch steps");
  for (const SwatchStep& s : job.swatch) number(s.value, 0, kFarthest_mm, "swatch", "value");
}

Job checked(Job job) {
  requireSound(job);
  return job;
}

void requireSound(const Work& work) {
  requireSound(work.job);
  std::set<std::string> ids;
  for (const auto& plan : work.plans) {
    checkPlan(*plan);
    if (!ids.insert(plan->id).second) refuse("plan " + plan->id, "another plan has its id");
  }
  count(work.plans.size(), kMostPlans, "job", "plans");
  count(work.record.all().size(), kMostFacts, "record", "facts");
  count(work.record.scans().size(), kMostScans, "record", "scans");
  for (const Happening& h : work.record.all()) {
    if (const auto* rows = std::get_if<RowsSewn>(&h)) checkRows(work, *rows);
    if (const auto* found = std::get_if<MarkFound>(&h)) {
      checkMark(found->mark);
      text(found->reading, "record", 200);
    }
    if (const auto* taken = std::get_if<ScanTaken>(&h)) checkScan(taken->scan);
  }
}

Work checked(Work work) {
  requireSound(work);
  return work;
}

}  // namespace rt
