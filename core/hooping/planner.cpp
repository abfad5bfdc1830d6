#include "planner.h"

#include <algorithm>
#include <map>
#include <set>

#include "assign.h"
#include "error.h"
#include "length.h"
#include "marks.h"

namespace rt {
namespace {

constexpr double kInterlock_mm = 1.0;  // how far both sides of a cut sew into one another
constexpr double kTie_mm = 0.6;
constexpr int kMostHoopings = 100;
constexpr double kEdgeRoom_mm =
    4.0;                          // kept between sewing and the field's edge where there is slack
constexpr int kCellsAcross = 14;  // pieces a field's short side is divided in for cuts

std::vector<FieldSize> sizesOf(const PlanOptions& options) {
  std::vector<FieldSize> sizes;
  for (size_t i = 0; i < options.hoops.size(); ++i) {
    double w = options.hoops[i].field.width_mm, h = options.hoops[i].field.height_mm;
    if (options.hoops[i].field.shape == HoopShape::Oval) {
      // the largest rectangle that an oval holds
      w /= std::sqrt(2.0);
      h /= std::sqrt(2.0);
    }
    sizes.push_back({w, h, static_cast<int>(i), 0});
    if (options.turn && w != h) sizes.push_back({h, w, static_cast<int>(i), 90});
  }
  return sizes;
}

bool fitsAny(const Box& box, const std::vector<FieldSize>& sizes) {
  return std::any_of(sizes.begin(), sizes.end(), [&](const FieldSize& s) {
    return box.width() <= s.width_mm && box.height() <= s.height_mm;
  });
}

enum class Grain { Pieces, Blocks, Stitches };

/// Boxes that must each lie in one field.
class Units {
 public:
  Units(const Pattern& pattern, const std::vector<Block>& blocks,
        const std::vector<FieldSize>& sizes, double overlap_mm)
      : pattern_(pattern), blocks_(blocks), sizes_(sizes), overlap_(overlap_mm) {
    for (const Block& b : blocks) all_.add(b.bounds);
    double side = INFINITY;
    for (const FieldSize& s : sizes) side = std::min({side, s.width_mm, s.height_mm});
    cell_ = std::max(1.0, (side - overlap_mm) / kCellsAcross);
  }

  std::vector<Box> at(Grain grain) const {
    std::vector<Box> units;
    std::map<uint16_t, Box> pieces;
    for (const Block& b : blocks_)
      if (b.piece != 0) pieces[b.piece].add(b.bounds);
    for (size_t b = 0; b < blocks_.size(); ++b) {
      const Block& block = blocks_[b];
      const bool pieceFits = block.piece != 0 && fitsAny(pieces[block.piece], sizes_);
      if (grain == Grain::Pieces && pieceFits)
        units.push_back(pieces[block.piece]);
      else if (grain != Grain::Stitches && fitsAny(block.bounds, sizes_))
        units.push_back(block.bounds);
      else
        addCells(block, units);
    }
    return units;
  }

  /// Small boxes of single stitches' places, for a bound that holds for every plan.
  std::vector<Box> bare() const {
    std::map<std::pair<int, int>, Box> cells;
    for (const Block& b : blocks_) collect(b, cells);
    std::vector<Box> out;
    for (const auto& [key, box] : cells) out.push_back(Box::around(box.centre(), 0, 0));
    return out;
  }

 private:
  void collect(const Block& block, std::map<std::pair<int, int>, Box>& cells) const {
    NeedleWalk walk;
    for (size_t row = block.first; row < block.last; ++row) {
      const NeedleWalk::Step step = walk.next(pattern_.stitches[row]);
      if (pattern_.stitches[row].op != Op::Stitch) continue;
      Box box;
      box.add(step.from);
      box.add(pattern_.stitches[row].at);
      const Point m = box.centre() - Point{all_.left, all_.top};
      cells[{static_cast<int>(m.x / cell_), static_cast<int>(m.y / cell_)}].add(box);
    }
  }

  void addCells(const Block& block, std::vector<Box>& units) const {
    std::map<std::pair<int, int>, Box> cells;
    collect(block, cells);
    for (auto& [key, box] : cells) {
      // grown by half the overlap: whoever covers all of them overlaps wherever thread goes on
      const Box grown = box.grown(overlap_ / 2 + 0.1).intersection(block.bounds);
      units.push_back(fitsAny(grown, sizes_) ? grown : box);
    }
  }

  const Pattern& pattern_;
  const std::vector<Block>& blocks_;
  const std::vector<FieldSize>& sizes_;
  double overlap_, cell_ = 1;
  Box all_;
};

/// Fields moved toward the middle as far as what only they cover allows, so that they overlap.
void drawTogether(std::vector<PlacedField>& fields, const std::vector<Box>& units, Point middle) {
  for (PlacedField& field : fields) {
    Box must;
    for (const Box& u : units) {
      const auto holds = [&](const PlacedField& f) { return f.box.grown(kSame_mm).contains(u); };
      if (holds(field) && std::count_if(fields.begin(), fields.end(), holds) == 1) must.add(u);
    }
    if (must.empty()) continue;
    const double w = field.size.width_mm, h = field.size.height_mm;
    const double slackX = std::min(kEdgeRoom_mm, (w - must.width()) / 2);
    const double slackY = std::min(kEdgeRoom_mm, (h - must.height()) / 2);
    const double left = std::clamp(middle.x - w / 2, must.right - w + slackX, must.left - slackX);
    const double top = std::clamp(middle.y - h / 2, must.bottom - h + slackY, must.top - slackY);
    const Box moved{left, top, left + w, top + h};
    field.box = moved;
  }
}

/// Writes one hooping's rows out of the layout's.
class Writer {
 public:
  Writer(const Pattern& source, const Box& field) : source_(source), field_(field) {
    out_.title = source.title;
    out_.threads = source.threads;
    out_.pieces = source.pieces;
  }

  /// A row that this hooping sews; `step` says where its thread comes from.
  void sew(size_t row, const NeedleWalk::Step& step) {
    const Stitch& s = source_.stitches[row];
    const bool goesOn =
        lastRow_ && distance(at_, step.from) <= kSame_mm && !step.fresh && gap_ == 0;
    if (!goesOn) begin(row, step);
    out_.stitches.push_back(s);
    at_ = s.at;
    lastRow_ = row;
    gap_ = 0;
  }

  /// A row that another hooping sews: what comes next here starts anew.
  void skip(size_t row, Point to) {
    if (gap_ == 0 && lastRow_) beyond_ = to, beyondRow_ = row;
    ++gap_;
  }

  void passTrim() { trimmed_ = true; }
  void passStop(const Stitch& stop) { pendingStop_ = stop; }

  void addMark(const PlanMark& mark) {
    cut();
    const Point arms[] = {{-1, 0}, {1, 0}, {0, 0}, {0, -1}, {0, 1}};
    bool first = true;
    for (Point arm : arms) {
      const Point p = mark.at + arm * 4.0;
      if (first) row(p, Op::Jump, Kind::Unknown);
      if (!first) row(mark.at, Op::Stitch, Kind::Mark);
      row(p, Op::Stitch, Kind::Mark);
      first = false;
    }
    lastRow_ = std::nullopt;
    marked_ = true;
  }

  Pattern finish() {
    if (!out_.stitches.empty()) {
      if (!marked_) cut();
      row(out_.stitches.back().at, Op::End, Kind::Unknown);
    }
    return std::move(out_);
  }

 private:
  void begin(size_t rowIndex, const NeedleWalk::Step& step) {
    const Stitch& s = source_.stitches[rowIndex];
    interlockEnd();
    const bool sameThread = lastRow_ && source_.stitches[*lastRow_].thread == s.thread;
    const double gap = lastRow_ ? distance(at_, step.from) : INFINITY;
    const bool near =
        sameThread && gap <= kLongestLooseMove_mm && !(trimmed_ && step.fresh) && !pendingStop_;
    thread_ = s.thread, piece_ = s.piece, block_ = s.block;
    if (near) {
      if (gap > kSame_mm) connect(step, gap);
    } else {
      if (lastRow_) cut();
      if (pendingStop_) out_.stitches.push_back(*pendingStop_);
      row(step.from, Op::Jump, Kind::Unknown);
      if (!step.fresh && step.sewn) tieIn(step.from, s.at);
    }
    pendingStop_.reset();
    trimmed_ = false;
  }

  /// Rows of a fill that was cut lie side by side: a tie leads from one to the next.
  void connect(const NeedleWalk::Step& step, double gap) {
    const bool cutHere = gap_ > 0;
    row(step.from, cutHere && gap >= 0.4 ? Op::Stitch : Op::Jump,
        cutHere && gap >= 0.4 ? Kind::Tie : Kind::Unknown);
  }

  /// A little of the stitch that the other hooping sews next, so that the two sides interlock.
  void interlockEnd() {
    if (gap_ == 0 || !lastRow_ || *lastRow_ + 1 != beyondRow_) return;
    const double mm = distance(at_, beyond_);
    if (mm < 0.5) return;
    const Point p = mix(at_, beyond_, std::min(1.0, kInterlock_mm / mm));
    if (!field_.contains(p)) return;
    row(p, Op::Stitch, Kind::Tie);
    row(at_, Op::Stitch, Kind::Tie);
  }

  void tieIn(Point at, Point toward) {
    const Point p = at + unit(toward - at) * std::min(kTie_mm, distance(at, toward));
    row(at, Op::Stitch, Kind::Tie);
    row(p, Op::Stitch, Kind::Tie);
    row(at, Op::Stitch, Kind::Tie);
  }

  void cut() {
    if (out_.stitches.empty() || out_.stitches.back().op == Op::Trim) return;
    row(out_.stitches.back().at, Op::Trim, Kind::Unknown);
  }

  void row(Point at, Op op, Kind kind) {
    out_.stitches.push_back({at, block_, thread_, piece_, op, kind});
  }

  const Pattern& source_;
  Box field_;
  Pattern out_;
  std::optional<size_t> lastRow_;
  std::optional<Stitch> pendingStop_;
  Point at_, beyond_;
  size_t gap_ = 0, beyondRow_ = 0;
  uint16_t thread_ = 0, piece_ = 0;
  uint32_t block_ = 0;
  bool trimmed_ = false, marked_ = false;
};

/// Leaves unused threads and pieces out.
Pattern compact(const Pattern& full) {
  Pattern out;
  out.title = full.title;
  for (Stitch s : full.stitches) {
    s.thread = out.threadIndex(full.threads[s.thread]);
    s.piece = out.pieceIndex(full.pieces[s.piece]);
    out.stitches.push_back(s);
  }
  return out;
}

bool countsAsSewing(Kind kind) {
  return kind != Kind::Tie && kind != Kind::Mark && kind != Kind::Basting;
}

void count(Hooping& h) {
  NeedleWalk walk;
  for (const Stitch& s : h.pattern.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op != Op::Stitch || !countsAsSewing(s.kind)) continue;
    h.stitches += 1;
    if (step.sewn) h.thread_mm += distance(step.from, s.at);
  }
}

class Planner {
 public:
  Planner(const Pattern& pattern, const PlanOptions& options, const Watch& watch)
      : pattern_(pattern),
        options_(options),
        watch_(watch),
        blocks_(blocksOf(pattern)),
        sizes_(sizesOf(options)) {}

  HoopingPlan run() {
    validate();
    watched(watch_, 0, "seeking fields");
    placeFields();
    watched(watch_, 0.5, "cutting");
    const Assignment assignment = assignBlocks(pattern_, blocks_, fields_);
    makeHoopings(assignment);
    watched(watch_, 0.7, "placing marks");
    placeMarks(plan_, pattern_);
    watched(watch_, 0.9, "writing");
    writePatterns(assignment);
    report(assignment);
    predictErrors(plan_, options_.style, options_.mark_error_mm);
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
      const double side = std::min(h.field.width_mm, h.field.height_mm);
      if (!(side > 0))
        throw Error("the hoop has no field", "hoop " + h.id, "give width and height over 0 mm");
      if (side < options_.overlap_mm + 10)
        throw Error("the field is too small for an overlap of " +
                        formatNumber(options_.overlap_mm, 1) + " mm",
                    "hoop " + h.id, "take a larger hoop or a smaller overlap");
    }
  }

  void placeFields() {
    const Units units(pattern_, blocks_, sizes_, options_.overlap_mm);
    plan_.lower_bound = std::max(1, leastFields(units.bare(), sizes_));
    Box all;
    for (const Block& b : blocks_) all.add(b.bounds);
    requireBounded(all);
    std::vector<Box> chosen;
    for (Grain grain : {Grain::Pieces, Grain::Blocks, Grain::Stitches}) {
      std::vector<Box> boxes = units.at(grain);
      for (const Box& box : boxes)
        if (!fitsAny(box, sizes_))
          throw Error("a stitch near (" + formatNumber(box.centre().x, 1) + ", " +
                          formatNumber(box.centre().y, 1) + ") mm is longer than the field",
                      "layout", "take a larger hoop, or split the stitch");
      const Cover cover = coverBoxes(boxes, sizes_, options_.most_nodes);
      if (!fields_.empty() && cover.fields.size() >= fields_.size()) continue;
      fields_ = cover.fields;
      chosen = std::move(boxes);
      if (static_cast<int>(fields_.size()) == plan_.lower_bound) break;
    }
    if (fields_.size() == 1)
      fields_[0].box =
          Box::around(all.centre(), fields_[0].size.width_mm, fields_[0].size.height_mm);
    else
      drawTogether(fields_, chosen, all.centre());
  }

  /// Refuses layouts that no one would hoop, before any search begins.
  void requireBounded(const Box& all) const {
    double width = 0, height = 0;
    for (const FieldSize& s : sizes_) {
      width = std::max(width, s.width_mm);
      height = std::max(height, s.height_mm);
    }
    if (std::ceil(all.width() / width) * std::ceil(all.height() / height) > kMostHoopings)
      throw Error("a layout of " + formatNumber(all.width(), 0) + " x " +
                      formatNumber(all.height(), 0) + " mm would take over " +
                      std::to_string(kMostHoopings) + " hoopings",
                  "layout", "take a larger hoop, or check the layout's size");
  }

  void makeHoopings(const Assignment& assignment) {
    for (int f : assignment.order) {
      const PlacedField& field = fields_[static_cast<size_t>(f)];
      Hooping h;
      h.index = static_cast<int>(plan_.hoopings.size()) + 1;
      h.id = "h" + std::to_string(h.index);
      h.hoop = field.size.hoop;
      h.hoop_id = options_.hoops[static_cast<size_t>(h.hoop)].id;
      h.turn_deg = field.size.turn_deg;
      h.field = field.box;
      plan_.hoopings.push_back(std::move(h));
    }
  }

  void writePatterns(const Assignment& assignment) {
    for (size_t position = 0; position < plan_.hoopings.size(); ++position) {
      Hooping& h = plan_.hoopings[position];
      Writer writer(pattern_, h.field);
      NeedleWalk walk;
      for (size_t row = 0; row < pattern_.stitches.size(); ++row) {
        const Stitch& s = pattern_.stitches[row];
        const NeedleWalk::Step step = walk.next(s);
        if (s.op == Op::Trim) writer.passTrim();
        if (s.op == Op::Stop) writer.passStop(s);
        if (s.op != Op::Stitch) continue;
        if (assignment.row_hooping[row] == static_cast<int>(position))
          writer.sew(row, step);
        else
          writer.skip(row, s.at);
      }
      for (const PlanMark& m : h.marks)
        if (firstWith(m) == position) writer.addMark(m);
      h.pattern = compact(writer.finish());
      count(h);
    }
  }

  size_t firstWith(const PlanMark& mark) const {
    for (size_t i = 0; i < plan_.hoopings.size(); ++i)
      for (const PlanMark& m : plan_.hoopings[i].marks)
        if (m.id == mark.id) return i;
    return plan_.hoopings.size();
  }

  void report(const Assignment& assignment) {
    plan_.cut_stitches = assignment.cut_stitches;
    std::set<std::string> named;
    std::map<uint16_t, std::set<int>> pieceHomes;
    for (size_t b = 0; b < blocks_.size(); ++b) {
      const std::string& piece = pattern_.pieces[blocks_[b].piece];
      for (size_t row = blocks_[b].first; row < blocks_[b].last; ++row)
        if (assignment.row_hooping[row] >= 0 && !piece.empty())
          pieceHomes[blocks_[b].piece].insert(assignment.row_hooping[row]);
      if (assignment.cut_block[b] && piece.empty()) named.insert("block " + std::to_string(b + 1));
    }
    for (const auto& [piece, homes] : pieceHomes)
      if (homes.size() > 1) named.insert(pattern_.pieces[piece]);
    plan_.crossings.assign(named.begin(), named.end());
    if (assignment.overturned > 0)
      plan_.warnings.push_back(std::to_string(assignment.overturned) +
                               " overlaps are sewn in turned order, as a seam runs through them");
    warnOverlap();
  }

  /// Neighbours whose fields overlap by less than asked.
  void warnOverlap() {
    for (const Hooping& a : plan_.hoopings)
      for (const Hooping& b : plan_.hoopings) {
        if (b.index <= a.index) continue;
        const Box shared = a.field.intersection(b.field);
        const double x = shared.right - shared.left, y = shared.bottom - shared.top;
        if (std::min(x, y) >= options_.overlap_mm - kSame_mm ||
            std::max(x, y) < 0.25 * a.field.width())
          continue;
        if (std::min(x, y) < -0.5 * a.field.width()) continue;
        plan_.warnings.push_back("hoopings " + std::to_string(a.index) + " and " +
                                 std::to_string(b.index) + " overlap by " +
                                 formatNumber(std::max(0.0, std::min(x, y)), 1) +
                                 " mm only; no thread crosses between them");
      }
  }

  const Pattern& pattern_;
  const PlanOptions& options_;
  const Watch& watch_;
  std::vector<Block> blocks_;
  std::vector<FieldSize> sizes_;
  std::vector<PlacedField> fields_;
  HoopingPlan plan_;
};

}  // namespace

HoopingPlan planHoopings(const Pattern& pattern, const PlanOptions& options, const Watch& watch) {
  return Planner(pattern, options, watch).run();
}

}  // namespace rt
