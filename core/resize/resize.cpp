#include "resize.h"

#include <algorithm>

#include "error.h"
#include "length.h"
#include "ties.h"

namespace rt {
namespace {

constexpr double kBeyond_mm = 0.3;  // that a section sewn anew may reach beyond the old one
constexpr double kMostScale = 100;

void checkScale(double scale, const char* where) {
  if (!(scale > 0) || !(scale <= kMostScale))
    throw Error("a scale of " + formatNumber(scale, 3) + " cannot be sewn", where,
                "give a scale over 0 and up to 100");
}

void warnLengths(const Pattern& pattern, std::vector<ResizeWarning>& warnings) {
  size_t shorts = 0, longs = 0;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    const double mm = distance(a, b);
    shorts += mm > 0 && mm < kShortestStitch_mm && pattern.stitches[row].kind != Kind::Tie;
    longs += mm > kLongestStitch_mm;
  });
  using What = ResizeWarning::What;
  if (shorts > 0) warnings.push_back({What::ShortStitches, shorts, kShortestStitch_mm});
  if (longs > 0) warnings.push_back({What::LongStitches, longs, kLongestStitch_mm});
}

/// What stretching does to a spacing. Rows part by the change of area over the change of their own
/// length; a column's needle points by the change across its rungs; runs are of all directions.
double spacingChange(const Recognised& r, double scale_x, double scale_y) {
  const double c = std::cos(radians(r.angle_deg)), s = std::sin(radians(r.angle_deg));
  if (r.kind == Kind::Fill) return scale_x * scale_y / length({scale_x * c, scale_y * s});
  if (r.kind == Kind::Satin) return length({scale_x * s, scale_y * c});
  return std::sqrt(scale_x * scale_y);
}

/// Sews a pattern again, block by block; all other rows are carried along.
class Respacer {
 public:
  Respacer(const Pattern& pattern, const RespaceOptions& options)
      : p_(pattern), o_(options), to_(Transform::scaling(options.scale_x, options.scale_y)) {
    // the compensation grew or shrank with the design; the mean of both ways stands for all angles
    const double mean = std::sqrt(options.scale_x * options.scale_y);
    relay_.pull_mm = options.built_in_pull_mm * (1 - mean);
    relay_.least_column_mm = options.least_column_mm;
  }

  Resized run() {
    out_.pattern.title = p_.title;
    out_.pattern.threads = p_.threads;
    out_.pattern.pieces = p_.pieces;
    const std::vector<Block> blocks = blocksOf(p_);
    size_t row = 0;
    for (size_t i = 0; i < blocks.size(); ++i) {
      const bool own = i < o_.block_factors.size();
      factor_ = own ? o_.block_factors[i] : o_.spacing_factor;
      if (own && factor_ == 1 && o_.scale_x == 1 && o_.scale_y == 1) {
        carry(row, blocks[i].last);
      } else {
        carry(row, blocks[i].first);
        sew(blocks[i]);
      }
      row = blocks[i].last;
    }
    carry(row, p_.stitches.size());
    if (runs_ > 0)
      out_.warnings.push_back({ResizeWarning::What::ColumnsAsRuns, runs_, o_.least_column_mm});
    return std::move(out_);
  }

 private:
  void carry(size_t from, size_t to) {
    for (size_t i = from; i < to; ++i) {
      out_.pattern.stitches.push_back(p_.stitches[i]);
      Stitch& s = out_.pattern.stitches.back();
      s.at = to_(s.at);
      last_ = s.op == Op::Jump || s.op == Op::Stitch ? s.at : last_;
    }
  }

  void sew(const Block& block) {
    like_ = p_.stitches[block.last - 1];
    const Kind hint = declaredKind(p_, block);
    ResizedBlock report{Kind::Run, 0, 0, block.stitches, 0};
    most_ = 0;
    const size_t before = out_.pattern.stitches.size();
    const bool tied = isTied(block);
    const auto lists = needlePoints(p_, block);
    size_t at = block.first;
    for (size_t i = 0; i < lists.size(); ++i) {
      Strand strand = relaid(declaredParts(lists[i], at, block.last, hint), report);
      if (strand.points.size() < 2) continue;
      row(strand.entry(), Op::Jump, Kind::Unknown);
      if (tied && i == 0) tie(strand.entry(), strand.points[1], true);
      for (size_t k = 1; k < strand.points.size(); ++k)
        row(strand.points[k], Op::Stitch, strand.kinds[k]);
      if (tied && i + 1 == lists.size())
        tie(strand.exit(), strand.points[strand.points.size() - 2], false);
    }
    for (size_t k = before; k < out_.pattern.stitches.size(); ++k)
      report.stitches_after += out_.pattern.stitches[k].op == Op::Stitch;
    out_.blocks.push_back(report);
  }

  /// The block's thread is cut at its ends: by a trim, a change of thread or the end.
  bool isTied(const Block& block) const {
    for (size_t i = block.first; i < block.last; ++i)
      if (p_.stitches[i].kind == Kind::Tie) return true;
    if (block.last >= p_.stitches.size()) return true;
    const Stitch& next = p_.stitches[block.last];
    return next.op == Op::Trim || next.op == Op::End || next.thread != like_.thread;
  }

  /// Needle points that go by one name; neighbours share their border point.
  struct Part {
    std::vector<Point> points;
    Kind hint = Kind::Unknown;
  };

  /// Rows and the ways between them, where the design tells them apart: a way that leads along the
  /// rows would be read as one of them. `row` goes on to where the list ends.
  std::vector<Part> declaredParts(const std::vector<Point>& points, size_t& row, size_t end,
                                  Kind hint) const {
    std::vector<Part> parts{{{points[0]}, hint}};
    if (hint != Kind::Fill) {
      parts[0].points = points;
      return parts;
    }
    std::optional<bool> under;
    for (size_t i = 1; i < points.size(); ++i) {
      while (row < end &&
             (p_.stitches[row].op != Op::Stitch || !(p_.stitches[row].at == points[i])))
        ++row;
      const bool now = row < end && p_.stitches[row].kind == Kind::Underlay;
      if (under && *under != now) parts.push_back({{points[i - 1]}, hint});
      under = now;
      parts.back().points.push_back(points[i]);
      parts.back().hint = now ? Kind::Unknown : hint;
    }
    return parts;
  }

  /// A way that was taken for a row can carry an edge anywhere: nothing lies beyond where the
  /// section's own needle points lay.
  void keepWithin(Strand& strand, size_t from, std::span<const Point> points) const {
    const Box box = boundsOf(std::vector<Point>(points.begin(), points.end()))
                        .grown(kBeyond_mm + std::abs(relay_.pull_mm) / 2);
    for (size_t i = from; i < strand.points.size(); ++i) {
      Point& p = strand.points[i];
      p = {std::clamp(p.x, box.left, box.right), std::clamp(p.y, box.top, box.bottom)};
    }
  }

  Strand relaid(const std::vector<Part>& parts, ResizedBlock& report) {
    Strand strand;
    bool steps = false;
    for (const Part& part : parts) {
      std::vector<Point> carried;
      for (Point p : part.points) carried.push_back(to_(p));
      for (Section& s : sectionsOf(part.points, part.hint)) {
        s.spacing_mm *= s.kind == Kind::Run ? 1 : factor_;
        const size_t before = strand.points.size();
        const Relaid done = relay(s, carried, relay_, strand);
        keepWithin(strand, before, std::span(carried).subspan(s.first, s.last - s.first + 1));
        runs_ += done.kind != s.kind;
        steps |= s.steps;
        if (s.thread_mm <= most_) continue;
        most_ = s.thread_mm;
        report.kind = s.kind;
        report.spacing_before_mm = s.kind == Kind::Run ? s.spacing_mm : s.spacing_mm / factor_;
        report.spacing_after_mm = done.spacing_mm;
      }
    }
    return tidied(strand, kLongestStitch_mm - 0.1, steps ? 0.15 : kShortestStitch_mm);
  }

  void tie(Point at, Point toward, bool begins) {
    const auto put = [this](Point p) { row(p, Op::Stitch, Kind::Tie); };
    if (begins)
      tieIn(put, at, toward, tie_mm_);
    else
      tieOff(put, at, toward, tie_mm_);
  }

  void row(Point at, Op op, Kind kind) {
    if (op == Op::Jump && !out_.pattern.stitches.empty() && distance(last_, at) < kSame_mm &&
        out_.pattern.stitches.back().op == Op::Jump)
      return;
    Stitch s = like_;
    s.at = at;
    s.op = op;
    s.kind = kind;
    out_.pattern.stitches.push_back(s);
    last_ = at;
  }

  const Pattern& p_;
  double tie_mm_ = tieLengthOf(p_);
  RespaceOptions o_;
  Transform to_;
  RelayOptions relay_;
  Resized out_;
  Stitch like_;
  Point last_;
  double most_ = 0, factor_ = 1;
  size_t runs_ = 0;
};

}  // namespace

bool respacingAdvised(double scale_x, double scale_y) {
  return std::max(std::abs(scale_x - 1), std::abs(scale_y - 1)) > kKeepUpTo + 1e-9;
}

double machineDensity_percent(double scale_x, double scale_y) {
  return 100 * std::sqrt(scale_x * scale_y);
}

Resized resizeRespacing(const Pattern& pattern, const RespaceOptions& options) {
  checkScale(options.scale_x, "scale");
  checkScale(options.scale_y, "scale-y");
  if (!(options.spacing_factor >= 0.2) || !(options.spacing_factor <= 5))
    throw Error("spacing cannot change by a factor of " + formatNumber(options.spacing_factor, 2),
                "spacing", "give 0.2 to 5");
  for (double f : options.block_factors)
    if (!(f >= 0.2) || !(f <= 5))
      throw Error("spacing cannot change by a factor of " + formatNumber(f, 2), "spacing",
                  "give 0.2 to 5");
  return Respacer(pattern, options).run();
}

Resized resizeKeeping(const Pattern& pattern, double scale_x, double scale_y) {
  checkScale(scale_x, "scale");
  checkScale(scale_y, "scale-y");
  Resized out;
  out.pattern = transformed(pattern, Transform::scaling(scale_x, scale_y));
  for (const Block& block : blocksOf(pattern)) {
    const Recognised before = recognisedBlock(pattern, block);
    out.blocks.push_back({before.kind, before.spacing_mm,
                          before.spacing_mm * spacingChange(before, scale_x, scale_y),
                          block.stitches, block.stitches});
  }
  const double change = std::max(std::abs(scale_x - 1), std::abs(scale_y - 1));
  if (respacingAdvised(scale_x, scale_y))
    out.warnings.push_back(
        {ResizeWarning::What::DensityChanged, 0, 0, change, 1 / std::sqrt(scale_x * scale_y)});
  warnLengths(out.pattern, out.warnings);
  return out;
}

}  // namespace rt
