#include "letter.h"

#include <algorithm>
#include <cstdio>

#include "area_columns.h"
#include "baseline.h"
#include "error.h"
#include "hand_stroke.h"
#include "length.h"
#include "set_text.h"
#include "shape.h"
#include "side_by_side.h"
#include "thread_gap.h"

namespace rt {
namespace {

constexpr double kGapRoom_mm = 0.05;  // beyond the least gap, as sewing anew moves a needle point
constexpr int kMostWidenings = 4;
constexpr double kMostWidened = 3;    // of the cap height: how far letters are moved apart
constexpr double kFullCircle = 0.92;  // of a circle: text that is moved apart leaves its ends apart
constexpr size_t kLongestText = 2000;     // one lettering; more is a slip of the paste
constexpr double kStrokeCorner_deg = 50;  // sharper turns of a stroke are meant
constexpr double kStrokeStep_mm = 0.5;    // of the curve through a stroke's points
constexpr double kDotUpTo = 0.9;          // of the column's width: a smaller stroke is a dot, …
constexpr double kDotWide = 0.16, kDotHigh = 1.25;  // … drawn a little wider than it is high
constexpr double kSamplesOverCap = 70;  // of the outline: over ten to the width of a bold stroke
constexpr double kSatinUpTo_mm = 9.0;   // letters with wider strokes than this are filled

void checkOptions(const LetterOptions& o) {
  if (!(o.height_mm > 0) || !(o.height_mm <= 2000))
    throw Error("a letter height of " + formatNumber(o.height_mm, 2) + " mm cannot be sewn",
                "height", "give the cap height in mm, over 0 and up to 2000");
  if (!std::isfinite(o.gap_mm) || std::abs(o.gap_mm) > 1000)
    throw Error("a gap of " + formatNumber(o.gap_mm, 2) + " mm cannot be set", "gap",
                "give up to 1000 mm either way");
}

std::vector<std::u32string> linesOf(const std::u32string& text) {
  std::vector<std::u32string> lines{{}};
  for (char32_t c : text)
    if (c == U'\n')
      lines.emplace_back();
    else if (c != U'\r')
      lines.back().push_back(c);
  return lines;
}

/// Warns once for each character that a face lacks.
void warnMissing(std::u32string missing, std::vector<LetterWarning>& warnings) {
  std::sort(missing.begin(), missing.end());
  missing.erase(std::unique(missing.begin(), missing.end()), missing.end());
  for (char32_t code : missing)
    warnings.push_back({LetterWarning::What::NoLetter, encodeUtf8(code)});
}

/// Letters with their marks; combining marks (U+0300 to U+036F) go with the letter before.
std::vector<std::string> lettersOf(const std::string& text) {
  std::vector<std::string> out;
  for (char32_t c : decodeUtf8(text)) {
    if (out.empty() || c < 0x300 || c > 0x36F) out.emplace_back();
    out.back() += encodeUtf8(c);
  }
  return out;
}

class Composer {
 public:
  Composer(const Face& face, const LetterOptions& options) : face_(face), options_(options) {
    how_.satin.spacing_mm = options_.spacing_mm;
    how_.satin.pull_mm = options_.pull_mm;
    how_.satin.rule = options_.rules.columns;
    how_.least_column_mm = options_.least_column_mm;
  }

  Lettering run(const std::u32string& text) {
    setAll(text);
    if (!face_.outlines) outlineStrokes();
    if (hasAreas_) makeColumns();
    for (Line& line : lines_) sewLine(line);
    appendStrands(out_.pattern, strands_, {options_.colour, "lettering", options_.rules.ties});
    for (size_t i = 0; i < lines_.size(); ++i) place(lines_[i], static_cast<int>(i));
    return std::move(out_);
  }

  /// The letters on both sides of a gap, counted over all lines.
  std::string pairAfter(size_t index) const {
    for (const Line& line : lines_) {
      const auto& glyphs = line.set.glyphs;
      if (index + 1 < glyphs.size()) return glyphs[index].text + glyphs[index + 1].text;
      if (index < glyphs.size()) return glyphs[index].text;
      index -= glyphs.size();
    }
    return {};
  }

  /// What each gap under `from_mm` lacks so that letters are told apart, along the
  /// baseline, letters of all lines one after another; empty where no gap lacks anything.
  std::vector<double> lackingGaps(double from_mm) const {
    std::vector<double> out;
    bool any = false;
    for (const Line& line : lines_) {
      const auto& glyphs = line.set.glyphs;
      double added = 0;
      std::vector<double> gaps(glyphs.size(), 0);
      for (size_t i = 0; i + 1 < glyphs.size(); ++i)
        if (glyphs[i].word == glyphs[i + 1].word) added += gaps[i] = lackingGap(line, i, from_mm);
      const double length = glyphs.back().right - glyphs.front().left + added;
      const double radius = line.base.radius_mm();
      if (radius > 0 && length > kFullCircle * 2 * kPi * radius)
        std::fill(gaps.begin(), gaps.end(), 0);
      else
        any = any || added > 0;
      out.insert(out.end(), gaps.begin(), gaps.end());
    }
    if (!any) out.clear();
    return out;
  }

 private:
  struct Line {
    SetLine set;
    Baseline base;
    std::vector<ThreadSegments> thread;  ///< Of each letter.
  };

  void setAll(const std::u32string& text) {
    std::u32string missing;
    size_t first = 0;
    int row = 0;
    for (const std::u32string& words : linesOf(text)) {
      Line line{setLine(words, face_, options_, first),
                Baseline(options_, row++ * options_.line_spacing * options_.height_mm),
                {}};
      missing += line.set.missing;
      first += line.set.glyphs.size();
      if (!line.set.glyphs.empty()) {
        checkSpan(line);
        lines_.push_back(std::move(line));
      }
    }
    warnMissing(missing, out_.warnings);
    if (lines_.empty())
      throw Error(missing.empty() ? "there is no letter to sew"
                                  : "the face \"" + face_.id + "\" has none of these letters",
                  "text", "type at least one letter that the face has");
    how_.width_mm = lines_[0].set.column_mm;
  }

  void checkSpan(const Line& line) {
    const auto& glyphs = line.set.glyphs;
    const double advance = glyphs.back().right - glyphs.front().left;
    out_.advance_mm = std::max(out_.advance_mm, advance);
    if (options_.arc_radius_mm <= 0) return;
    const double radius = line.base.radius_mm();
    if (!(radius > 0))
      throw Error("a further line would lie beyond the arc's centre", "arc radius",
                  "take a larger radius or fewer lines");
    const double circle = 2 * kPi * radius;
    out_.span_deg = std::max(out_.span_deg, degrees(advance / radius));
    if (advance > circle)
      throw Error("the text goes more than once round its circle", "arc radius",
                  "the largest height that fits is " +
                      formatNumber(std::floor(options_.height_mm * circle / advance * 10) / 10, 1) +
                      " mm");
    if (options_.arc_side == ArcSide::Inside && options_.height_mm >= radius)
      throw Error("the letters are taller than the arc's radius", "arc radius",
                  "take a radius over " + formatNumber(options_.height_mm, 1) + " mm");
  }

  double lackingGap(const Line& line, size_t i, double from_mm) const {
    const SetGlyph& next = line.set.glyphs[i + 1];
    const double x = (next.left + next.right) / 2;
    const Transform back = line.base.at(x).inverse().value_or(Transform{});
    auto apart = [&](double by) {
      const Transform to = line.base.at(x + by) * Transform::moving({by, 0}) * back;
      ThreadSegments moved = line.thread[i + 1];
      for (auto& [a, b] : moved) a = to(a), b = to(b);
      return gapBetween(line.thread[i], moved).mm >= kCrowdedGap_mm + kGapRoom_mm;
    };
    if (gapBetween(line.thread[i], line.thread[i + 1]).mm >= from_mm) return 0;
    double low = 0, high = kMostWidened * options_.height_mm;
    if (!apart(high)) return 0;
    while (high - low > 0.02) (apart((low + high) / 2) ? high : low) = (low + high) / 2;
    return high;
  }

  /// Takes a letter's point to where it will be sewn.
  template <class Lines>
  Lines laid(const Line& line, const SetGlyph& g, Lines lines) const {
    const Transform rigid = line.base.at((g.left + g.right) / 2);
    for (auto& points : lines)
      for (Point& p : points) p = face_.joins ? line.base.bent(p) : rigid(p);
    return lines;
  }

  Point firstPoint(const Line& line, const SetGlyph& g) const {
    return line.base.at(g.left)({g.left, 0});
  }

  void sewLine(Line& line) {
    const auto& glyphs = line.set.glyphs;
    size_t i = 0;
    while (i < glyphs.size()) {
      // joined letters are one drawing; others are each their own
      const size_t end = groupEnd(line, i);
      const Point at = strands_.empty() ? firstPoint(line, glyphs[i]) : strands_.back().exit();
      const Point exit = end < glyphs.size()
                             ? firstPoint(line, glyphs[end])
                             : line.base.at(glyphs.back().right)({glyphs.back().right, 0});
      std::vector<Strand> sewn =
          hasAreas_ ? sewOutlines(line, i, end, at, exit) : sewStrokes(line, i, end, at, exit);
      shareThread(line, i, end, sewn);
      for (Strand& s : sewn) strands_.push_back(std::move(s));
      i = end;
    }
  }

  // --- outline faces, and strokes wide enough for columns

  /// Strokes become areas as wide as their columns, so that they meet and cross as outlines do.
  /// Narrower ones stay lines.
  void outlineStrokes() {
    hasAreas_ = how_.width_mm >= how_.least_column_mm;
    if (!hasAreas_) return;
    const double width = how_.width_mm + 2 * AreaColumnOptions{}.inset_mm;
    for (Line& line : lines_)
      for (SetGlyph& g : line.set.glyphs) {
        std::vector<Area> parts;
        for (const auto& stroke : g.strokes) parts.push_back(strokeArea(stroke, width));
        g.outline = united(parts);
      }
  }

  static Area strokeArea(const std::vector<Point>& stroke, double width_mm) {
    const Box box = boundsOf(stroke);
    if (std::max(box.width(), box.height()) < kDotUpTo * width_mm) {  // however it is drawn
      const Point middle = box.centre(), half{kDotWide / 2 * width_mm, 0};
      const std::vector<Point> dot{middle - half, middle + half};
      return widened(dot, kDotHigh * width_mm, LineEnd::Round);
    }
    return widened(smoothedBetweenCorners(stroke, kStrokeCorner_deg, kStrokeStep_mm), width_mm,
                   LineEnd::Round);
  }

  struct MadeLetter {
    Area area;
    ColumnGraph columns;
  };

  /// Letters that are sewn by themselves are known by their text, upright; joined words by where
  /// they begin.
  static std::string keyOf(const Line& line, size_t first, size_t end) {
    const SetGlyph& g = line.set.glyphs[first];
    return end == first + 1 ? g.text
                            : g.text + " " + std::to_string(line.base.at(g.left)({g.left, 0}).x) +
                                  " " + std::to_string(line.base.at(g.left)({g.left, 0}).y);
  }

  size_t groupEnd(const Line& line, size_t first) const {
    return face_.joins ? drawingEnd(line.set.glyphs, first) : first + 1;
  }

  Area areaOf(const Line& line, size_t first, size_t end) const {
    const auto& glyphs = line.set.glyphs;
    if (end == first + 1)
      return transformed(glyphs[first].outline,
                         Transform::moving({-(glyphs[first].left + glyphs[first].right) / 2, 0}));
    std::vector<Area> letters;
    for (size_t i = first; i < end; ++i)
      letters.push_back(laid(line, glyphs[i], glyphs[i].outline));
    return united(letters);
  }

  /// The columns of every letter or word, each once, two at a time.
  void makeColumns() {
    std::vector<MadeLetter*> todo;
    for (const Line& line : lines_)
      for (size_t first = 0; first < line.set.glyphs.size(); first = groupEnd(line, first)) {
        const size_t end = groupEnd(line, first);
        const auto [made, added] = made_.try_emplace(keyOf(line, first, end));
        if (!added) continue;
        made->second.area = areaOf(line, first, end);
        todo.push_back(&made->second);
      }
    sideBySide(todo.size(), [&](size_t i) { todo[i]->columns = columns(todo[i]->area); });
  }

  std::vector<Strand> sewOutlines(const Line& line, size_t first, size_t end, Point at,
                                  Point exit) const {
    const MadeLetter& made = made_.at(keyOf(line, first, end));
    if (end > first + 1) return sewArea(made.area, made.columns, at, exit);
    const SetGlyph& g = line.set.glyphs[first];
    const Point middle{(g.left + g.right) / 2, 0};
    const Transform to = line.base.at(middle.x) * Transform::moving(middle);
    ColumnGraph graph = made.columns;
    for (Point& p : graph.joints) p = to(p);
    for (ColumnEdge& e : graph.edges)
      for (auto* points : {&e.line, &e.satin, &e.mirrored, &e.under, &e.under_mirrored})
        for (Point& p : *points) p = to(p);
    return sewArea(transformed(made.area, to), graph, at, exit);
  }

  ColumnGraph columns(const Area& area) const {
    AreaColumnOptions o;
    o.satin = how_.satin;
    o.least_column_mm = how_.least_column_mm;
    o.axis.step_mm = std::max(0.05, options_.height_mm / kSamplesOverCap);
    return areaColumns(area, o);
  }

  std::vector<Strand> sewArea(const Area& area, const ColumnGraph& graph, Point at,
                              Point exit) const {
    double length = 0, surface = 0;
    for (const ColumnEdge& e : graph.edges) {
      length += polylineLength(e.line);
      surface += polylineLength(e.line) * e.width_mm;
    }
    if (surface <= kSatinUpTo_mm * length) return sewColumns(graph, how_, at, exit);
    DigitiseOptions fill;
    fill.fill.pull_mm = options_.pull_mm;
    fill.satin_up_to_mm = 0;
    fill.ties = options_.rules.ties;
    Shape shape;
    shape.area = area;
    return digitise(shape, fill, at).strands;
  }

  /// Gives each letter of a word its thread: what lies in its outline, or all there is.
  void shareThread(Line& line, size_t first, size_t end, const std::vector<Strand>& strands) {
    line.thread.resize(end);
    const ThreadSegments all = segmentsOf(strands);
    if (end == first + 1) {
      line.thread[first] = all;
      return;
    }
    for (size_t i = first; i < end; ++i) {
      const SetGlyph& g = line.set.glyphs[i];
      if (g.outline.empty()) {
        line.thread[i] = segmentsOf(sewStrokes(line, i, i + 1, {}, {}));
        continue;
      }
      const Area outline = laid(line, g, g.outline);
      const Box box = boundsOf(outline).grown(0.3);
      for (const auto& s : all)
        if (const Point p = mix(s.first, s.second, 0.5); box.contains(p) && contains(outline, p))
          line.thread[i].push_back(s);
    }
  }

  // --- stroke faces

  std::vector<Strand> sewStrokes(const Line& line, size_t first, size_t end, Point at,
                                 Point exit) const {
    std::vector<std::vector<Point>> lines;
    for (size_t i = first; i < end; ++i)
      for (auto& stroke : laid(line, line.set.glyphs[i], line.set.glyphs[i].strokes))
        lines.push_back(std::move(stroke));
    const ColumnGraph graph = columnGraph(lines, 0.02 * options_.height_mm, how_.width_mm / 2,
                                          how_.width_mm, how_.satin.rule.stroke_lap_mm);
    std::vector<Strand> strands = sewColumns(graph, how_, at, exit);
    for (const auto& stroke : lines)  // a dot is a stroke without length
      if (stroke.size() == 1 || polylineLength(stroke) < kSame_mm)
        strands.push_back(dot(stroke[0]));
    return strands;
  }

  Strand dot(Point p) const {
    const std::vector<Point> line{p - Point{how_.width_mm / 2, 0}, p + Point{how_.width_mm / 2, 0}};
    return satinAlong(line, how_.width_mm, how_.satin);
  }

  // --- what is said of the letters

  void place(const Line& line, int row) {
    const auto& glyphs = line.set.glyphs;
    for (size_t i = 0; i < glyphs.size(); ++i) {
      const SetGlyph& g = glyphs[i];
      placeLetters(line, g, row);
      if (i + 1 >= glyphs.size() || g.word != glyphs[i + 1].word) continue;
      const ThreadGap gap = gapBetween(line.thread[i], line.thread[i + 1]);
      PlacedGlyph& last = out_.glyphs.back();
      last.gap_to_next_mm = gap.mm;
      last.gap_at = gap.at;
      last.joined_to_next = gap.mm < kJoined_mm;
      warnGap(last.text + glyphs[i + 1].text, gap.mm);
    }
  }

  /// The letters of a glyph; those of a ligature share its advance evenly and are joined.
  void placeLetters(const Line& line, const SetGlyph& g, int row) {
    const std::vector<std::string> letters = lettersOf(g.text);
    const double step = (g.right - g.left) / static_cast<double>(letters.size());
    for (size_t k = 0; k < letters.size(); ++k) {
      const double x = g.left + (static_cast<double>(k) + 0.5) * step;
      PlacedGlyph placed;
      placed.text = letters[k];
      placed.at = line.base.at(x)({x, 0});
      placed.angle_deg = line.base.angle_deg(x);
      placed.line = row;
      if (k + 1 < letters.size()) {
        placed.gap_to_next_mm = 0;
        placed.joined_to_next = true;
        placed.gap_at = placed.at;
      }
      out_.glyphs.push_back(std::move(placed));
    }
  }

  void warnGap(const std::string& pair, double gap) {
    if (face_.joins && gap >= kJoined_mm)
      out_.warnings.push_back({LetterWarning::What::NotJoined, pair, gap});
    if (!face_.joins && gap < kCrowdedGap_mm)
      out_.warnings.push_back({LetterWarning::What::Crowded, pair, gap});
  }

  const Face& face_;
  const LetterOptions& options_;
  ColumnSewing how_;
  bool hasAreas_ = true;  ///< Letters are areas; false: lines.
  std::vector<Line> lines_;
  std::vector<Strand> strands_;
  std::map<std::string, MadeLetter> made_;
  Lettering out_;
};

std::u32string checkedText(const std::string& text) {
  std::u32string codes = decodeUtf8(text);
  if (codes.size() > kLongestText)
    throw Error("the text has " + std::to_string(codes.size()) + " characters", "text",
                "set at most 2,000 in one lettering");
  return codes;
}

/// Set once, and on the inside of an arc again with letters moved apart that would collide: sewing
/// anew moves a needle point, so that it may take a few times.
Lettering composed(const std::u32string& codes, const Face& face, const LetterOptions& options) {
  LetterOptions wider = options;
  std::vector<double> added;
  for (int round = 0;; ++round) {
    Composer composer(face, wider);
    Lettering out = composer.run(codes);
    // heads crowd on the inside of an arc; elsewhere a face's own gaps stand, but no letter is sewn
    // over another
    const bool inside = options.arc_radius_mm > 0 && options.arc_side == ArcSide::Inside;
    const bool mayWiden = !face.joins && options.gap_mm >= 0 && round < kMostWidenings;
    const std::vector<double> lacking =
        mayWiden ? composer.lackingGaps(inside ? kCrowdedGap_mm : kJoined_mm)
                 : std::vector<double>{};
    if (lacking.empty()) {
      for (size_t i = 0; i < added.size(); ++i)
        if (added[i] > 0)
          out.warnings.push_back({LetterWarning::What::Widened, composer.pairAfter(i), added[i]});
      return out;
    }
    added.resize(lacking.size());
    wider.gaps_mm.resize(std::max(lacking.size(), wider.gaps_mm.size()));
    for (size_t i = 0; i < lacking.size(); ++i) {
      if (lacking[i] <= 0 || wider.gaps_mm[i] < 0) continue;
      wider.gaps_mm[i] += lacking[i];
      added[i] += lacking[i];
    }
  }
}

}  // namespace

Lettering turned(Lettering lettering, double turn_deg) {
  if (turn_deg == 0) return lettering;
  const Transform turn = Transform::turning(turn_deg);
  lettering.pattern = transformed(std::move(lettering.pattern), turn);
  for (Stitch& s : lettering.pattern.stitches)
    s.at = {std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100};
  for (PlacedGlyph& g : lettering.glyphs) {
    g.at = turn(g.at);
    g.gap_at = turn(g.gap_at);
    g.angle_deg += turn_deg;
  }
  return lettering;
}

Lettering letter(const std::string& text, const Face& face, const LetterOptions& options) {
  checkOptions(options);
  // made level and then turned: the same letters are sewn the same way at every turn
  LetterOptions level = options;
  level.turn_deg = 0;
  Lettering out = turned(composed(checkedText(text), face, level), options.turn_deg);
  if (options.height_mm < face.min_height_mm || options.height_mm > face.max_height_mm)
    out.warnings.push_back({LetterWarning::What::HeightOutside, "", options.height_mm,
                            face.min_height_mm, face.max_height_mm});
  return out;
}

double setLength_mm(const std::string& text, const Face& face, const LetterOptions& options) {
  checkOptions(options);
  double longest = 0;
  for (const std::u32string& words : linesOf(checkedText(text))) {
    const SetLine line = setLine(words, face, options, 0);
    if (!line.glyphs.empty())
      longest = std::max(longest, line.glyphs.back().right - line.glyphs.front().left);
  }
  return longest;
}

double heightThatFits(const std::string& text, const Face& face, const LetterOptions& options,
                      double span_mm) {
  checkOptions(options);
  auto fits = [&](double height) {
    LetterOptions o = options;
    o.height_mm = height;
    return setLength_mm(text, face, o) <= span_mm;
  };
  double low = 0.5, high = 2000;
  if (!fits(low)) return 0;
  while (high - low > 0.005 * low) (fits((low + high) / 2) ? low : high) = (low + high) / 2;
  return low;
}

double gapAtHeads_mm(double gap_mm, double radius_mm, double height_mm) {
  return gap_mm * (radius_mm - height_mm) / radius_mm;
}

}  // namespace rt
