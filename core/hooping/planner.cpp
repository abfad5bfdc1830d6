#include "planner.h"

#include <algorithm>
#include <map>
#include <set>

#include "assign.h"
#include "cover_candidates.h"
#include "error.h"
#include "length.h"
#include "marks.h"
#include "plain_grid.h"
#include "polygon.h"
#include "seam_budget.h"
#include "setting_writer.h"
#include "strip_cover.h"

namespace rt {

std::string_view name(MarkSchool school) {
  switch (school) {
    case MarkSchool::DrawnLines:
      return "drawn-lines";
    case MarkSchool::Tags:
      return "tags";
    case MarkSchool::SewnLine:
      return "sewn-line";
    case MarkSchool::SewnCrosses:
      return "sewn-crosses";
    case MarkSchool::Basted:
      return "basted";
  }
  return "";
}

double markError_mm(MarkSchool school, const MarkErrors& errors) {
  switch (school) {
    case MarkSchool::Tags:
      return errors.tag_mm;
    case MarkSchool::Basted:
      return errors.pinned_mm;  // loose thread is a little wider than a line
    case MarkSchool::SewnLine:
      return errors.sewn_line_mm;  // the knot is found, the line turns with it
    default:
      return errors.needle_mm;
  }
}

size_t Hooping::stitches() const {
  size_t n = 0;
  for (const PlanSetting& s : settings) n += s.stitches;
  return n;
}
double Hooping::thread_mm() const {
  double mm = 0;
  for (const PlanSetting& s : settings) mm += s.thread_mm;
  return mm;
}
size_t HoopingPlan::settings() const {
  size_t n = 0;
  for (const Hooping& h : hoopings) n += h.settings.size();
  return n;
}

bool endedEarly(const HoopingPlan& plan) {
  return std::any_of(plan.doubts.begin(), plan.doubts.end(),
                     [](const PlanDoubt& d) { return d.what == PlanDoubt::What::EndedEarly; });
}

namespace {

constexpr int kMostHoopings = 100;
constexpr size_t kFewNeeds = 300, kMostNeeds = 700;   // for the integer program, first and finer
constexpr double kFinerStrips[] = {0.5, 0.25, 0.12};  // of the finest cell for these
constexpr size_t kMostStripNeeds = 120000;            // times frames
constexpr size_t kStretches[] = {250, 600, 1500};     // for the bound, until it meets the plan
constexpr int kMostTogether = 3;  // rounds of keeping what overlaps in one field
constexpr size_t kOrdersTried = 12;
constexpr double kSamePlace_mm = 0.5;  // of a frame that a person put in order
constexpr double kTogetherWeight = 4;  // pieces that may be cut to keep an overlap in one field

std::string size(const Box& box) {
  return formatNumber(box.width(), 1) + " x " + formatNumber(box.height(), 1) + " mm";
}

/// Clampings moved toward the middle as far as what only they hold allows, so that they overlap
/// where they can and leave room at the edge for cloth that lies a little crooked.
void drawTogether(std::vector<Clamping>& clampings, const std::vector<CoverItem>& items,
                  Point middle, double edge_room_mm) {
  for (size_t c = 0; c < clampings.size(); ++c) {
    Clamping& own = clampings[c];
    const auto heldElsewhere = [&](const CoverItem& item) {
      for (size_t k = 0; k < clampings.size(); ++k)
        if (k != c && hold(clampings[k].fields, item.box, item.core)) return true;
      return false;
    };
    Box fields;
    double left = INFINITY, right = INFINITY, up = INFINITY, down = INFINITY;  // how far it may go
    std::vector<const CoverItem*> must;
    for (const PlacedField& f : own.fields) fields.add(f.box);
    const auto stay = [&](const Box& field, const Box& what) {
      right = std::min(right, what.left - field.left),
      left = std::min(left, field.right - what.right);
      down = std::min(down, what.top - field.top), up = std::min(up, field.bottom - what.bottom);
    };
    for (const CoverItem& item : items) {
      if (!hold(own.fields, item.box, item.core) || heldElsewhere(item)) continue;
      must.push_back(&item);
      const auto holder = [&](const Box& what) {
        return std::find_if(own.fields.begin(), own.fields.end(),
                            [&](const PlacedField& f) { return f.holds(what); });
      };
      if (const auto whole = holder(item.box); whole != own.fields.end()) {
        stay(whole->box, item.box);
      } else {
        stay(holder(item.core)->box, item.core);
        stay(fields, item.box);
      }
    }
    if (must.empty()) continue;
    const auto shift = [edge_room_mm](double want, double low, double high) {
      const double room = std::min(edge_room_mm, (high + low) / 2);
      return std::clamp(want, room - low, high - room);
    };
    const Point want = middle - fields.centre();
    Point by{shift(want.x, left, right), shift(want.y, up, down)};
    std::vector<PlacedField> moved = own.fields;
    for (int attempt = 0; attempt < 6; ++attempt, by = by * 0.5) {
      moved = own.fields;
      for (PlacedField& f : moved) f.box = f.box.moved(by);
      const bool holds = std::all_of(must.begin(), must.end(), [&](const CoverItem* item) {
        return hold(moved, item->box, item->core);
      });
      if (!holds) continue;  // ovals: the way is shorter than their boxes allow
      own.fields = moved;
      own.origin = own.origin + by;
      break;
    }
  }
}

class Planner {
 public:
  Planner(const Pattern& pattern, const PlanOptions& options, const Watch& watch)
      : pattern_(pattern),
        options_(options),
        watch_([this, &watch](WorkProgress at) {
          at.best = static_cast<int>(clampings_.size());
          return watch ? watch(at) : Go::On;
        }),
        blocks_(blocksOf(pattern)),
        motifs_(motifsOf(pattern, blocks_, options.keep, options.cuts)) {}

  HoopingPlan run() {
    validate();
    watched(watch_, 0, "seeking fields");
    const Assignment assignment = splitted();
    watched(watch_, 0.7, "placing marks");
    layOut(assignment);
    placeMarks(plan_, pattern_, options_);
    watched(watch_, 0.8, "writing");
    write(assignment);
    report(assignment);
    return std::move(plan_);
  }

 private:
  void validate() const {
    if (options_.hoops.empty())
      throw Error("no hoop is given", "hoop",
                  "name at least one hoop, or give its field as 200x140");
    if (blocks_.empty())
      throw Error("there is nothing to sew", "layout", "put at least one piece on the cloth");
    if (!(options_.overlap_mm >= 0) || !std::isfinite(options_.overlap_mm))
      throw Error("the overlap must be 0 mm or more", "overlap", "10 mm is usual");
    for (const Hoop& h : options_.hoops) {
      checkHoop(h, "hoop " + h.id);
      if (std::min(h.field.width_mm, h.field.height_mm) < options_.overlap_mm + 10)
        throw Error("the field is too small for an overlap of " +
                        formatNumber(options_.overlap_mm, 1) + " mm",
                    "hoop " + h.id, "take a larger hoop or a smaller overlap");
    }
    for (const AskedCut& c : options_.cuts)
      if (!(distance(c.from, c.to) >= kShortestCut_mm))
        throw Error("a cut is asked for along a line of no length", "cut",
                    "draw it across the piece that is to be parted");
    requireKept();
    requireBounded();
    requireStitches();
  }

  void requireKept() const {
    for (const std::string& keep : options_.keep) {
      const auto m = std::find_if(motifs_.begin(), motifs_.end(),
                                  [&](const Motif& one) { return one.name == keep; });
      if (m == motifs_.end())
        throw Error("there is no piece named \"" + keep + "\" to keep whole", "layout",
                    "give the name of a piece of the layout");
      if (fitsSomeField(m->bounds, options_.hoops, options_.turn)) continue;
      const Hoop& large = largest();
      throw Error("\"" + keep + "\" is " + size(m->bounds) +
                      " large and fits whole in no field; the largest is " +
                      formatNumber(large.field.width_mm, 1) + " x " +
                      formatNumber(large.field.height_mm, 1) + " mm",
                  "piece " + keep, "take a larger hoop, make it smaller, or let it be cut");
    }
  }

  const Hoop& largest() const {
    return *std::max_element(
        options_.hoops.begin(), options_.hoops.end(), [](const Hoop& a, const Hoop& b) {
          return a.field.width_mm * a.field.height_mm < b.field.width_mm * b.field.height_mm;
        });
  }

  /// Refuses layouts that no one would hoop, before any search begins.
  void requireBounded() const {
    Box all;
    for (const Block& b : blocks_) all.add(b.bounds);
    double width = 0, height = 0;
    for (const Hoop& h : options_.hoops)
      for (int turn : {0, 90}) {
        if (turn != 0 && !options_.turn) continue;
        Box reach;
        for (const PlacedField& f : fieldsOf(h, turn)) reach.add(f.box);
        width = std::max(width, reach.width()), height = std::max(height, reach.height());
      }
    if (std::ceil(all.width() / width) * std::ceil(all.height() / height) > kMostHoopings)
      throw Error("a layout of " + formatNumber(all.width(), 0) + " x " +
                      formatNumber(all.height(), 0) + " mm would take over " +
                      std::to_string(kMostHoopings) + " hoopings",
                  "layout", "take a larger hoop, or check the layout's size");
  }

  void requireStitches() const {
    double longest = 0;
    for (const Hoop& h : options_.hoops)
      longest = std::max(longest, std::min(h.field.width_mm, h.field.height_mm));
    forEachSegment(pattern_, [&](Point a, Point b, size_t) {
      if (std::abs(a.x - b.x) <= longest / 2 && std::abs(a.y - b.y) <= longest / 2) return;
      Box box;
      box.add(a), box.add(b);
      if (!fitsSomeField(box, options_.hoops, options_.turn))
        throw Error("a stitch near (" + formatNumber(box.centre().x, 1) + ", " +
                        formatNumber(box.centre().y, 1) + ") mm is longer than the field",
                    "layout", "take a larger hoop, or split the stitch");
    });
  }

  /// Fields, order and who sews what. Where a seam would turn an overlap over, another one is
  /// sought that leaves both in one field, as long as that costs neither hooping nor setting.
  Assignment splitted() {
    Box all;
    for (const Block& b : blocks_) all.add(b.bounds);
    if (!options_.pinned.empty() || !oneHolds(all)) placeClampings(all, {});
    std::vector<Box> together;
    Assignment best = ordered();
    for (int round = 0; round < kMostTogether && !best.turned.empty() && !enough(); ++round) {
      if (!joinTurned(best, together)) break;
      auto clampings = clampings_;
      auto fields = fields_;
      auto order = order_;
      placeClampings(all, together);
      Assignment other;
      const bool dearer = clampings_.size() > clampings.size() || fields_.size() > fields.size();
      if (!dearer) other = ordered();
      if (!dearer && other.turned.size() < best.turned.size()) {
        best = std::move(other);
        continue;
      }
      clampings_ = std::move(clampings), fields_ = std::move(fields), order_ = std::move(order);
      break;
    }
    if (fields_.size() > 1) prove();
    return options_.order_by_hand.empty() ? best : orderedByHand();
  }

  /// The fields as they are planned anyway, sewn in the order of a person.
  Assignment orderedByHand() {
    const auto rank = [&](int field) {
      const Point at = clampings_[clampingOf(field)].origin;
      size_t i = 0;
      while (i < options_.order_by_hand.size() &&
             distance(options_.order_by_hand[i], at) > kSamePlace_mm)
        ++i;
      return i;
    };
    std::stable_sort(order_.begin(), order_.end(), [&](int a, int b) { return rank(a) < rank(b); });
    return assigner().assign(order_);
  }
  size_t clampingOf(int field) const {
    return static_cast<size_t>(fields_[static_cast<size_t>(field)].clamping);
  }

  Assigner assigner() const {
    return {pattern_, blocks_, motifs_, fields_, options_.rule.cut, options_.cuts};
  }
  Assignment ordered() {
    watched(watch_, 0.5, "choosing the order");
    return order(assigner());
  }

  /// Adds a box around each pair that is sewn the wrong way round and fits a field together.
  bool joinTurned(const Assignment& assignment, std::vector<Box>& together) const {
    bool added = false;
    for (const auto& [under, over] : assignment.turned) {
      Box both = wholeOf(under);
      both.add(wholeOf(over));
      if (!fitsSomeField(both, options_.hoops, options_.turn)) continue;
      together.push_back(both);
      added = true;
    }
    return added;
  }
  Box wholeOf(size_t block) const {
    for (const Motif& m : motifs_)
      if (std::find(m.blocks.begin(), m.blocks.end(), block) != m.blocks.end() &&
          fitsSomeField(m.bounds, options_.hoops, options_.turn))
        return m.bounds;
    return blocks_[block].bounds;
  }

  void prove() {
    const ThreadUnits units(pattern_, blocks_, motifs_, options_.hoops, options_.turn,
                            options_.overlap_mm);
    plan_.lower_bound = 1;
    const int known = static_cast<int>(clampings_.size());
    const size_t frames = options_.hoops.size() * (options_.turn ? 2 : 1);
    for (size_t most : kStretches) {
      watched(watch_, 0.6, "proving the least number");
      if (enough()) break;
      plan_.lower_bound =
          std::max(plan_.lower_bound, fewestClampings(units.stretches(most), options_.hoops,
                                                      options_.turn, limits(), known, watch_));
      if (plan_.lower_bound >= known || (most > 300 && frames > 1)) break;
    }
  }

  bool enough() { return ended_ = ended_ || enoughAsked(watch_, {0.1, "seeking fields"}); }
  CoverLimits limits() const { return {options_.most_branches, 4000}; }

  void placeClampings(const Box& all, const std::vector<Box>& together) {
    fields_.clear();
    const ThreadUnits units(pattern_, blocks_, motifs_, options_.hoops, options_.turn,
                            options_.overlap_mm);
    const auto with = [&](CoverProblem p) {
      for (const Box& box : together) p.wholes.push_back({box, kTogetherWeight, false});
      return p;
    };
    const std::vector<Clamping> pinned = pinnedClampings();
    const auto rest = [&](CoverProblem p) { return withoutHeld(with(std::move(p)), pinned); };
    CoverProblem used = rest(units.problem(units.finestCell_mm()));
    if (used.needs.empty()) {
      clampings_ = pinned;
      return takeFields();
    }
    clampings_ = coverInStrips(used, options_.hoops, options_.turn);
    const size_t strips = clampings_.empty() ? SIZE_MAX : clampings_.size() + 1;
    seek(rest(units.problemOf(kFewNeeds)), strips, used);
    const int least = fewestClampings(units.stretches(kStretches[0]), options_.hoops, options_.turn,
                                      limits(), static_cast<int>(clampings_.size()), watch_) -
                      static_cast<int>(pinned.size());
    // finer where it may save a hooping, or where much is cut
    const double parted = partedBy(clampings_, used);
    const bool finer = worthFiner();
    if (finer && (static_cast<int>(clampings_.size()) > least || clampings_.empty()))
      seek(rest(units.problemOf(kMostNeeds)), clampings_.empty() ? SIZE_MAX : clampings_.size(),
           used);
    if (finer && parted >= 2 && static_cast<int>(clampings_.size()) <= least)
      seek(rest(units.problemOf(kMostNeeds)), clampings_.size() + 1, used);
    seekFinerStrips(units, rest, least, used);
    finish(all, used, pinned);
  }

  /// Cells lose part of the overlap that they are grown by: finer ones, in strips that any number
  /// of them is no matter for, may need a clamping less. What is parted then comes second.
  template <class Rest>
  void seekFinerStrips(const ThreadUnits& units, const Rest& rest, int least, CoverProblem& used) {
    size_t needs = used.needs.size();
    const size_t frames = options_.hoops.size() * (options_.turn ? 2 : 1);
    for (double part : kFinerStrips) {
      // half as large cells are up to four times as many
      if (static_cast<int>(clampings_.size()) <= least || 4 * needs * frames > kMostStripNeeds)
        break;
      CoverProblem finer = rest(units.problem(units.finestCell_mm() * part));
      needs = finer.needs.size();
      if (enough()) return;
      std::vector<Clamping> strips = coverInStrips(finer, options_.hoops, options_.turn);
      if (strips.empty() || strips.size() >= clampings_.size()) continue;
      clampings_ = std::move(strips);
      used = std::move(finer);
    }
  }

  /// Frames of many settings have too many places for a second, finer search.
  bool worthFiner() const {
    size_t fields = 0;
    for (const Hoop& h : options_.hoops) fields += fieldsOf(h, 0).size() * (options_.turn ? 2 : 1);
    return fields <= 4;
  }

  void finish(const Box& all, const CoverProblem& used, const std::vector<Clamping>& pinned) {
    if (clampings_.empty())
      throw Error("no arrangement of these frames holds the layout", "hoop",
                  "take a larger hoop, or a smaller overlap");
    std::vector<CoverItem> items;
    for (const CoverWhole& w : used.wholes)
      if (partedBy(clampings_, {{}, {w}}) == 0) items.push_back({w.box, w.box});
    for (const CoverNeed& n : used.needs)
      if (n.whole < 0 ||
          partedBy(clampings_, {{}, {used.wholes[static_cast<size_t>(n.whole)]}}) > 0)
        items.push_back({n.box, n.core});
    drawTogether(clampings_, items, all.centre(), options_.rule.edge_room_mm);
    clampings_.insert(clampings_.end(), pinned.begin(), pinned.end());
    takeFields();
  }

  std::vector<Clamping> pinnedClampings() const {
    std::vector<Clamping> out;
    for (const PinnedFrame& pin : options_.pinned) {
      const auto hoop = std::find_if(options_.hoops.begin(), options_.hoops.end(),
                                     [&](const Hoop& h) { return h.id == pin.hoop; });
      if (hoop == options_.hoops.end())
        throw Error("the frame \"" + pin.hoop + "\" that is held in place is not in the plan",
                    "frames", "mix it in, or let the field go");
      Clamping c{static_cast<int>(hoop - options_.hoops.begin()), pin.turn_deg, pin.origin, {}};
      for (PlacedField f : fieldsOf(*hoop, pin.turn_deg)) {
        f.box = f.box.moved(pin.origin);
        c.fields.push_back(f);
      }
      out.push_back(std::move(c));
    }
    return out;
  }

  /// What pinned clampings do not hold yet.
  static CoverProblem withoutHeld(CoverProblem p, const std::vector<Clamping>& pinned) {
    if (pinned.empty()) return p;
    const auto held = [&](const Box& box) {
      return std::any_of(pinned.begin(), pinned.end(), [&](const Clamping& c) {
        return std::any_of(c.fields.begin(), c.fields.end(),
                           [&](const PlacedField& f) { return f.holds(box); });
      });
    };
    CoverProblem out;
    std::vector<int> moved(p.wholes.size(), -1);
    for (size_t w = 0; w < p.wholes.size(); ++w) {
      if (held(p.wholes[w].box)) continue;
      moved[w] = static_cast<int>(out.wholes.size());
      out.wholes.push_back(p.wholes[w]);
    }
    for (const CoverNeed& n : p.needs) {
      const bool whole = n.whole >= 0 && moved[static_cast<size_t>(n.whole)] < 0;
      if (whole || held(n.box)) continue;
      out.needs.push_back(n);
      if (n.whole >= 0) out.needs.back().whole = moved[static_cast<size_t>(n.whole)];
    }
    return out;
  }

  /// A cover with fewer clampings than `below`, taken if it is better than the one in hand.
  void seek(CoverProblem problem, size_t below, CoverProblem& used) {
    if (enough() && !clampings_.empty()) return;
    CoverAnswer cover = coverNeeds(problem, options_.hoops, options_.turn, limits(), below, watch_);
    if (cover.clampings.empty()) return;
    const auto worth = [&](const std::vector<Clamping>& c) {
      size_t fields = 0;
      for (const Clamping& k : c) fields += k.fields.size();
      return std::tuple(c.size(), fields, partedBy(c, problem));
    };
    if (!clampings_.empty() && !(worth(cover.clampings) < worth(clampings_))) return;
    clampings_ = std::move(cover.clampings);
    used = std::move(problem);
  }

  /// One setting for everything, in its middle.
  bool oneHolds(const Box& all) {
    for (size_t h = 0; h < options_.hoops.size(); ++h)
      for (int turn : {0, 90}) {
        if (turn != 0 && !options_.turn) continue;
        for (PlacedField f : fieldsOf(options_.hoops[h], turn)) {
          const Point origin = all.centre() - f.box.centre();
          f.box = f.box.moved(origin);
          if (!f.holds(all)) continue;
          clampings_ = {{static_cast<int>(h), turn, origin, {f}}};
          plan_.lower_bound = 1;
          takeFields();
          return true;
        }
      }
    return false;
  }

  void takeFields() {
    for (size_t c = 0; c < clampings_.size(); ++c)
      for (const PlacedField& f : clampings_[c].fields) fields_.push_back({f, static_cast<int>(c)});
  }

  /// The best order that turns over nothing, or as little as there is.
  Assignment order(const Assigner& assigner) {
    const auto orders = ordersToTry(fields_, clampings_, assigner.precedence(), options_.order,
                                    fields_.size() > 1 ? kOrdersTried : 1);
    Assignment best;
    for (size_t i = 0; i < orders.size(); ++i) {
      watched(watch_, 0.5, "choosing the order");
      Assignment one = assigner.assign(orders[i]);
      if (i > 0 && one.turned.size() >= best.turned.size()) continue;
      best = std::move(one);
      order_ = orders[i];
      if (best.turned.empty()) break;
    }
    return best;
  }

  /// Hoopings and settings in sewing order, those that sew nothing left out.
  void layOut(const Assignment& assignment) {
    std::vector<bool> sews(fields_.size());
    for (int f : assignment.row_field)
      if (f >= 0) sews[static_cast<size_t>(f)] = true;
    int last = -1;
    for (int f : order_) {
      if (!sews[static_cast<size_t>(f)]) continue;
      const int c = fields_[static_cast<size_t>(f)].clamping;
      if (c != last) {
        const Clamping& clamping = clampings_[static_cast<size_t>(c)];
        Hooping h;
        h.index = static_cast<int>(plan_.hoopings.size()) + 1;
        h.id = "h" + std::to_string(h.index);
        h.hoop = clamping.hoop;
        h.hoop_id = options_.hoops[static_cast<size_t>(h.hoop)].id;
        h.turn_deg = clamping.turn_deg;
        h.origin = clamping.origin;
        plan_.hoopings.push_back(std::move(h));
        last = c;
      }
      Hooping& h = plan_.hoopings.back();
      PlanSetting s;
      s.index = static_cast<int>(h.settings.size()) + 1;
      s.id = s.index == 1 ? h.id : h.id + "." + std::to_string(s.index);
      s.field = fields_[static_cast<size_t>(f)].field;
      place_[f] = {plan_.hoopings.size() - 1, h.settings.size()};
      h.settings.push_back(std::move(s));
    }
    // fields that sew nothing are not in the answer: nothing was kept for them
    plan_.lower_bound = std::min(plan_.lower_bound, static_cast<int>(plan_.hoopings.size()));
  }

  void write(const Assignment& assignment) {
    findSeams(assignment);
    const ThreadSource source(pattern_);
    // errors depend on where sewing lies, the interlock on the errors: write twice if cut
    const bool cut = plan_.cut_stitches > 0;
    for (const double guess : {0.0, 1.0}) {
      if (guess > 0 && !cut) break;
      for (const auto& [f, place] : place_) {
        Hooping& h = plan_.hoopings[place.first];
        PlanSetting& s = h.settings[place.second];
        s.pattern = writeSetting(source, assignment.row_field, f, s.field, plan_.interlock_mm,
                                 sewnBy(place.first, place.second));
        countSewing(s);
      }
      if (guess == 0) {
        predictErrors(plan_, options_.hoops, options_.style, options_.mark_error_mm, meeting_);
        double worst = 0;
        for (size_t i = 0; i < plan_.seams.size(); ++i)
          if (partedAt_[i]) worst = std::max(worst, plan_.seams[i].error_mm);
        plan_.interlock_mm =
            cut ? std::ceil(std::max(options_.rule.least_interlock_mm, worst) * 10 - 1e-6) / 10 : 0;
      }
    }
  }

  /// In a chain, who comes first to a mark sews it for those after.
  std::vector<PlanMark> sewnBy(size_t h, size_t s) const {
    std::vector<PlanMark> out;
    if (options_.style == TieStyle::Star) return out;
    const Hooping& own = plan_.hoopings[h];
    for (const PlanMark& m : own.marks) {
      const auto has = [&](const Hooping& other) {
        return std::any_of(other.marks.begin(), other.marks.end(),
                           [&](const PlanMark& n) { return n.id == m.id; });
      };
      bool earlier = false, later = false;
      for (size_t g = 0; g < plan_.hoopings.size(); ++g)
        (g < h ? earlier : later) |= g != h && has(plan_.hoopings[g]);
      if (earlier || !later) continue;
      size_t sewer = 0;
      while (
          sewer + 1 < own.settings.size() &&
          !own.settings[sewer].field.holds(Box{m.at.x, m.at.y, m.at.x, m.at.y}.grown(kMarkArm_mm)))
        ++sewer;
      if (sewer == s) out.push_back(m);
    }
    return out;
  }

  /// All pairs of settings that reach the same cloth or whose thread meets, and where it meets.
  void findSeams(const Assignment& assignment) {
    std::map<std::pair<int, int>, std::vector<Point>> meets;
    std::map<std::pair<int, int>, bool> parted;
    collectMeetings(assignment, meets);
    collectCuts(assignment, meets, parted);
    std::vector<int> inOrder;
    for (int f : order_)
      if (place_.count(f)) inOrder.push_back(f);
    for (size_t i = 0; i < inOrder.size(); ++i)
      for (size_t j = i + 1; j < inOrder.size(); ++j) {
        const int f = inOrder[i], g = inOrder[j];
        const auto key = std::minmax(f, g);
        const Box strip = fields_[static_cast<size_t>(f)].field.box.intersection(
            fields_[static_cast<size_t>(g)].field.box);
        const bool overlap =
            !strip.empty() && strip.width() > kSame_mm && strip.height() > kSame_mm;
        const auto it = meets.find(key);
        if (!overlap && it == meets.end()) continue;
        const auto [h, s] = place_.at(f);
        const auto [k, t] = place_.at(g);
        Seam seam;
        seam.first = static_cast<int>(h) + 1, seam.second = static_cast<int>(k) + 1;
        seam.first_setting = static_cast<int>(s) + 1, seam.second_setting = static_cast<int>(t) + 1;
        seam.meets = it != meets.end();
        if (overlap) seam.at = strip.centre();
        plan_.seams.push_back(seam);
        meeting_.push_back(seam.meets ? it->second : std::vector<Point>{});
        partedAt_.push_back(parted.count(key) > 0);
      }
  }

  /// Thread of different settings within the meeting distance, thinned to a point a cell.
  void collectMeetings(const Assignment& assignment,
                       std::map<std::pair<int, int>, std::vector<Point>>& meets) const {
    const double meet_mm = options_.rule.meet_mm;
    std::map<std::pair<long, long>, std::map<int, Point>> cells;
    std::vector<Box> strips;
    for (size_t i = 0; i < fields_.size(); ++i)
      for (size_t j = i + 1; j < fields_.size(); ++j)
        if (const Box s = fields_[i].field.box.grown(meet_mm).intersection(
                fields_[j].field.box.grown(meet_mm));
            !s.empty())
          strips.push_back(s);
    if (strips.empty()) return;
    forEachSegment(pattern_, [&](Point a, Point b, size_t row) {
      const int f = assignment.row_field[row];
      if (f < 0) return;
      for (Point p : {a, b})
        if (std::any_of(strips.begin(), strips.end(), [&](const Box& s) { return s.contains(p); }))
          cells[{std::lround(std::floor(p.x / meet_mm)), std::lround(std::floor(p.y / meet_mm))}]
              .try_emplace(f, p);
    });
    for (const auto& [at, own] : cells)
      for (long dy = 0; dy <= 1; ++dy)
        for (long dx = -1; dx <= 1; ++dx) {
          if (dy == 0 && dx < 0) continue;
          const auto near = cells.find({at.first + dx, at.second + dy});
          if (near == cells.end()) continue;
          for (const auto& [f, p] : own)
            for (const auto& [g, q] : near->second)
              if (f != g && distance(p, q) <= meet_mm) meets[std::minmax(f, g)].push_back(p);
        }
  }

  void collectCuts(const Assignment& assignment,
                   std::map<std::pair<int, int>, std::vector<Point>>& meets,
                   std::map<std::pair<int, int>, bool>& parted) {
    std::map<std::tuple<size_t, int, int>, std::vector<Point>> cutAt;
    for (size_t m = 0; m < motifs_.size(); ++m) {
      std::set<int> homes;
      int last = -1;
      for (size_t b : motifs_[m].blocks) {
        int previous = -1;
        Point at;
        for (size_t row = blocks_[b].first; row < blocks_[b].last; ++row) {
          const int f = assignment.row_field[row];
          if (f < 0) continue;
          if (previous >= 0 && previous != f) {
            const auto key = std::minmax(previous, f);
            cutAt[{m, key.first, key.second}].push_back(at);
            meets[key].push_back(at);
            parted[key] = true;
            plan_.cut_stitches += 1;
          } else if (previous < 0 && last >= 0 && last != f) {
            const auto key = std::minmax(last, f);
            cutAt.try_emplace({m, key.first, key.second});
          }
          previous = last = f;
          at = pattern_.stitches[row].at;
          homes.insert(f);
        }
      }
      if (homes.size() > 1) plan_.crossings.push_back(motifs_[m].name);
    }
    std::sort(plan_.crossings.begin(), plan_.crossings.end());
    for (const auto& [key, places] : cutAt) addCutting(key, places);
  }

  void addCutting(const std::tuple<size_t, int, int>& key, const std::vector<Point>& places) {
    const auto& [motif, f, g] = key;
    auto [h, s] = place_.at(f);
    auto [k, t] = place_.at(g);
    if (std::pair(h, s) > std::pair(k, t)) std::swap(h, k), std::swap(s, t);
    Cutting c;
    c.what = motifs_[motif].name;
    c.first = static_cast<int>(h) + 1, c.second = static_cast<int>(k) + 1;
    c.first_setting = static_cast<int>(s) + 1, c.second_setting = static_cast<int>(t) + 1;
    c.stitches = places.size();
    const Box box = boundsOf(places);
    c.length_mm = box.empty() ? 0 : std::hypot(box.width(), box.height());
    c.at = box.empty() ? motifs_[motif].bounds.centre() : box.centre();
    plan_.cuts.push_back(c);
  }

  void report(const Assignment& assignment) {
    for (const auto& [under, over] : assignment.turned)
      plan_.doubts.push_back({PlanDoubt::What::TurnedOver, nameOf(under), nameOf(over), 0, 0, 0});
    thinOverlaps();
    clampsOnZones();
    littleRoom();
    cutsElsewhere();
    if (ended_ && plan_.lower_bound < static_cast<int>(plan_.hoopings.size()))
      plan_.doubts.push_back({PlanDoubt::What::EndedEarly, "", "", plan_.lower_bound,
                              static_cast<int>(plan_.hoopings.size()), 0});
    plan_.plain_grid = plainGrid(pattern_, blocks_, motifs_, options_.hoops);
    std::vector<PlanDoubt> once;
    for (PlanDoubt& d : plan_.doubts)
      if (std::find(once.begin(), once.end(), d) == once.end()) once.push_back(std::move(d));
    plan_.doubts = std::move(once);
  }

  std::string nameOf(size_t block) const {
    const std::string number = "block " + std::to_string(block + 1);
    const std::string& piece = pattern_.pieces[blocks_[block].piece];
    return piece.empty() ? number : piece + " (" + number + ")";
  }

  /// Settings whose thread meets although their fields overlap by less than asked.
  void thinOverlaps() {
    for (const Seam& s : plan_.seams) {
      if (!s.meets || s.first == s.second) continue;
      const Box shared =
          settingOf(s.first, s.first_setting)
              .field.box.intersection(settingOf(s.second, s.second_setting).field.box);
      const double mm = std::min(shared.right - shared.left, shared.bottom - shared.top);
      if (mm < options_.overlap_mm - 0.01)
        plan_.doubts.push_back(
            {PlanDoubt::What::ThinOverlap, "", "", s.first, s.second, std::max(0.0, mm)});
    }
  }
  const PlanSetting& settingOf(int hooping, int setting) const {
    return plan_.hoopings[static_cast<size_t>(hooping - 1)]
        .settings[static_cast<size_t>(setting - 1)];
  }

  void clampsOnZones() {
    for (const Hooping& h : plan_.hoopings) {
      const Box clamp =
          clampedBox(options_.hoops[static_cast<size_t>(h.hoop)], h.turn_deg).moved(h.origin);
      const Area ring{{clamp.corner(0), clamp.corner(1), clamp.corner(2), clamp.corner(3)}};
      for (const KeepOut& zone : options_.keep_out) {
        Area under = intersection(ring, {zone.polygon});
        for (const PlacedField& f :
             fieldsOf(options_.hoops[static_cast<size_t>(h.hoop)], h.turn_deg)) {
          const Box b = f.box.moved(h.origin);
          under = difference(under, {{b.corner(0), b.corner(1), b.corner(2), b.corner(3)}});
        }
        if (area_mm2(under) > 1)
          plan_.doubts.push_back({PlanDoubt::What::ClampOnZone, zone.name, "", h.index, 0, 0});
      }
    }
  }

  /// Cloth never lies quite straight: sewing that just fits its field will not. One doubt for all.
  void littleRoom() {
    PlanDoubt doubt{PlanDoubt::What::LittleRoom, "", "", 0, 0, options_.rule.little_room_mm};
    for (const Hooping& h : plan_.hoopings) {
      double least = options_.rule.little_room_mm;
      for (const PlanSetting& s : h.settings) least = std::min(least, roomOf(s, least));
      if (least >= options_.rule.little_room_mm) continue;
      doubt.a += (doubt.a.empty() ? "" : ", ") + std::to_string(h.index);
      if (doubt.first == 0) doubt.first = h.index;
      doubt.value = std::min(doubt.value, least);
    }
    if (doubt.first > 0) plan_.doubts.push_back(std::move(doubt));
  }
  /// From a setting's sewing to its field's edge, mm; at most `most`.
  static double roomOf(const PlanSetting& s, double most) {
    const Box sewn = threadBounds(s.pattern);
    if (sewn.empty() || s.field.holds(sewn.grown(most))) return most;
    double low = 0, high = most;
    while (high - low > 0.05) {
      const double mid = (low + high) / 2;
      (s.field.holds(sewn.grown(mid)) ? low : high) = mid;
    }
    return low;
  }

  /// Pieces that are cut, and that a line was asked for through: one of the cuts is along it.
  void cutsElsewhere() {
    for (const Motif& m : motifs_) {
      if (m.parts.empty()) continue;
      double least = INFINITY;
      const Cutting* nearest = nullptr;
      for (const Cutting& c : plan_.cuts)
        for (const AskedCut& line : options_.cuts)
          if (const double off = line.off(c.at); c.what == m.name && off < least)
            least = off, nearest = &c;
      if (nearest && least > options_.rule.cut.beside_mm)
        plan_.doubts.push_back(
            {PlanDoubt::What::CutElsewhere, m.name, "", nearest->first, nearest->second, least});
    }
  }

  const Pattern& pattern_;
  const PlanOptions& options_;
  const Watch watch_;  // the caller's, told what is best so far
  std::vector<Block> blocks_;
  std::vector<Motif> motifs_;
  std::vector<Clamping> clampings_;
  std::vector<ClampedField> fields_;
  std::vector<int> order_;
  std::map<int, std::pair<size_t, size_t>> place_;  // by field: hooping and setting, from 0
  std::vector<std::vector<Point>> meeting_;         // by seam
  std::vector<bool> partedAt_;                      // by seam: thread is cut there
  bool ended_ = false;                              // the best so far was enough
  HoopingPlan plan_;
};

}  // namespace

HoopingPlan planHoopings(const Pattern& pattern, const PlanOptions& options, const Watch& watch) {
  return Planner(pattern, options, watch).run();
}

}  // namespace rt
