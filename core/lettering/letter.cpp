#include "letter.h"

#include <algorithm>
#include <set>

#include "error.h"
#include "length.h"

namespace rt {
namespace {

constexpr size_t kLongestText = 2000;  // one line of lettering; more is a slip of the paste
constexpr double kCrowdedGap_mm = 0.5;

/// A letter in text coordinates (straight baseline), before any arc.
struct SetGlyph {
  char32_t code = 0;
  double left = 0, right = 0;  // of the advance, mm
  int word = 0;
  std::vector<std::vector<Point>> strokes;
};

class Setter {
 public:
  Setter(const StrokeFace& face, const LetterOptions& options, std::vector<std::string>& warnings)
      : face_(face), options_(options), warnings_(warnings) {
    width_ = std::max(face.weight * options.height_mm, face.least_width_mm);
    width_ = std::min(width_, options.height_mm / 4);
    // the skeleton stands inside the letter by half a column, so that the sewn height is the asked
    // one
    unit_ = (options.height_mm - width_) / face.cap_units;
  }

  double width_mm() const { return width_; }

  std::vector<SetGlyph> set(const std::u32string& text) {
    std::vector<SetGlyph> out;
    std::set<char32_t> missing;
    double pen = 0;
    int word = 0;
    for (char32_t code : text) {
      const auto found = face_.glyphs.find(code);
      if (code == U' ' || code == U'\t' || code == 0xA0) {
        pen += face_.glyphs.at(U' ').advance() * unit_ + options_.gap_mm;
        ++word;
      } else if (found == face_.glyphs.end()) {
        missing.insert(code);
      } else {
        out.push_back(place(code, found->second, pen, word));
        pen = out.back().right + options_.gap_mm;
      }
    }
    for (char32_t code : missing)
      warnings_.push_back("the face has no letter \"" + encodeUtf8(code) + "\"; it was left out");
    centre(out);
    return out;
  }

 private:
  SetGlyph place(char32_t code, const StrokeGlyph& glyph, double pen, int word) const {
    SetGlyph out{code, pen, pen + glyph.advance() * unit_, word, glyph.strokes};
    for (auto& stroke : out.strokes)
      for (Point& p : stroke) p = {pen + (p.x - glyph.left) * unit_, p.y * unit_ - width_ / 2};
    return out;
  }

  static void centre(std::vector<SetGlyph>& glyphs) {
    if (glyphs.empty()) return;
    const double shift = -(glyphs.front().left + glyphs.back().right) / 2;
    for (SetGlyph& g : glyphs) {
      g.left += shift;
      g.right += shift;
      for (auto& stroke : g.strokes)
        for (Point& p : stroke) p.x += shift;
    }
  }

  const StrokeFace& face_;
  const LetterOptions& options_;
  std::vector<std::string>& warnings_;
  double width_ = 0, unit_ = 0;
};

/// The baseline: where a straight text coordinate comes to lie.
class Baseline {
 public:
  explicit Baseline(const LetterOptions& o)
      : radius_(o.arc_radius_mm),
        inside_(o.arc_side == ArcSide::Inside),
        turn_(Transform::turning(o.turn_deg)),
        turn_deg_(o.turn_deg) {}

  double angle_deg(double x) const {
    return radius_ > 0 ? (inside_ ? -1 : 1) * degrees(x / radius_) : 0;
  }
  /// Rigid placement of a letter whose advance is centred on `x`.
  Transform at(double x) const {
    const double a = angle_deg(x);
    Point foot{x, 0};
    if (radius_ > 0) {
      const double t = radians(a);
      foot = inside_ ? Point{-radius_ * std::sin(t), -radius_ + radius_ * std::cos(t)}
                     : Point{radius_ * std::sin(t), radius_ - radius_ * std::cos(t)};
    }
    return turn_ * Transform::moving(foot) * Transform::turning(a) * Transform::moving({-x, 0});
  }
  /// Bends a point onto the arc: keeps joins of neighbouring letters closed.
  Point bent(Point p) const { return at(p.x)(p); }
  double turn_deg() const { return turn_deg_; }

 private:
  double radius_;
  bool inside_;
  Transform turn_;
  double turn_deg_;
};

void joinNeighbours(std::vector<SetGlyph>& glyphs) {
  for (size_t i = 0; i + 1 < glyphs.size(); ++i) {
    if (glyphs[i].word != glyphs[i + 1].word) continue;
    // the closest pair of stroke points of the two letters is bridged by a stroke of the first
    double least = INFINITY;
    Point from, to;
    for (const auto& a : glyphs[i].strokes)
      for (Point p : a)
        for (const auto& b : glyphs[i + 1].strokes)
          for (Point q : b)
            if (const double d = distance(p, q); d < least) least = d, from = p, to = q;
    if (least > kSame_mm && std::isfinite(least)) glyphs[i].strokes.push_back({from, to});
  }
}

double leastDistance(const std::vector<std::pair<Point, Point>>& a,
                     const std::vector<std::pair<Point, Point>>& b) {
  double least = INFINITY;
  for (const auto& [a0, a1] : a)
    for (const auto& [b0, b1] : b) least = std::min(least, segmentDistance(a0, a1, b0, b1));
  return least;
}

/// Thread of each letter, from a strand whose points are nearest to it.
using Segments = std::vector<std::pair<Point, Point>>;

Segments segmentsOf(const std::vector<Strand>& strands) {
  Segments out;
  for (const Strand& s : strands)
    for (size_t i = 1; i < s.points.size(); ++i) out.emplace_back(s.points[i - 1], s.points[i]);
  return out;
}

class Composer {
 public:
  Composer(const StrokeFace& face, const LetterOptions& options)
      : face_(face), options_(options), baseline_(options) {}

  Lettering run(const std::u32string& text) {
    Setter setter(face_, options_, out_.warnings);
    glyphs_ = setter.set(text);
    if (glyphs_.empty())
      throw Error("there is no letter to sew", "text",
                  "type at least one letter that the face has");
    how_.width_mm = setter.width_mm();
    how_.satin.spacing_mm = options_.spacing_mm;
    how_.satin.pull_mm = options_.pull_mm;
    how_.least_column_mm = 0.7;
    checkSpan();
    if (face_.joins) joinNeighbours(glyphs_);
    sewAll();
    place();
    return std::move(out_);
  }

 private:
  void checkSpan() {
    out_.advance_mm = glyphs_.back().right - glyphs_.front().left;
    if (options_.arc_radius_mm <= 0) return;
    const double circle = 2 * kPi * options_.arc_radius_mm;
    out_.span_deg = degrees(out_.advance_mm / options_.arc_radius_mm);
    if (out_.advance_mm > circle)
      throw Error("the text goes more than once round its circle", "arc radius",
                  "the largest height that fits is " +
                      formatNumber(options_.height_mm * circle / out_.advance_mm, 1) + " mm");
    if (options_.arc_side == ArcSide::Inside && options_.height_mm >= options_.arc_radius_mm)
      throw Error("the letters are taller than the arc's radius", "arc radius",
                  "take a radius over " + formatNumber(options_.height_mm, 1) + " mm");
  }

  /// The letter's strokes where they will be sewn.
  std::vector<std::vector<Point>> laid(const SetGlyph& g) const {
    auto strokes = g.strokes;
    const Transform rigid = baseline_.at((g.left + g.right) / 2);
    for (auto& stroke : strokes)
      for (Point& p : stroke) p = face_.joins ? baseline_.bent(p) : rigid(p);
    return strokes;
  }

  void sewAll() {
    std::vector<Strand> strands;
    Point at{-1e6, 0};
    size_t i = 0;
    while (i < glyphs_.size()) {
      // a joined word is one drawing; other letters are each their own
      std::vector<std::vector<Point>> lines = laid(glyphs_[i]);
      size_t end = i + 1;
      while (face_.joins && end < glyphs_.size() && glyphs_[end].word == glyphs_[i].word)
        for (auto& line : laid(glyphs_[end++])) lines.push_back(std::move(line));
      const Point exit = end < glyphs_.size() ? laid(glyphs_[end])[0][0] : Point{1e6, 0};
      if (at.x < -1e5) at = lines[0][0];
      for (Strand& s : sewLines(lines, at, exit)) strands.push_back(std::move(s));
      if (!strands.empty()) at = strands.back().exit();
      i = end;
    }
    out_.pattern.threads.clear();
    appendStrands(out_.pattern, strands, {options_.colour, "lettering"});
  }

  std::vector<Strand> sewLines(const std::vector<std::vector<Point>>& lines, Point at,
                               Point exit) const {
    const ColumnGraph graph =
        columnGraph(lines, 0.02 * options_.height_mm, how_.width_mm / 2, how_.width_mm);
    std::vector<Strand> strands = sewColumns(graph, how_, at, exit);
    for (const auto& line : lines)  // a dot is a stroke without length
      if (line.size() == 1 || polylineLength(line) < kSame_mm) strands.push_back(dot(line[0]));
    return strands;
  }

  Strand dot(Point p) const {
    const std::vector<Point> line{p - Point{how_.width_mm / 2, 0}, p + Point{how_.width_mm / 2, 0}};
    return satinAlong(line, how_.width_mm, how_.satin);
  }

  void place() {
    std::vector<Segments> thread;
    for (const SetGlyph& g : glyphs_) {
      const double x = (g.left + g.right) / 2;
      const Transform t = baseline_.at(x);
      out_.glyphs.push_back(
          {encodeUtf8(g.code), t({x, 0}), baseline_.angle_deg(x) + baseline_.turn_deg(), {}, {}});
      thread.push_back(segmentsOf(sewLines(laid(g), laid(g)[0][0], laid(g)[0][0])));
    }
    for (size_t i = 0; i + 1 < glyphs_.size(); ++i) {
      if (glyphs_[i].word != glyphs_[i + 1].word) continue;
      const double gap = leastDistance(thread[i], thread[i + 1]);
      out_.glyphs[i].gap_to_next_mm = gap;
      out_.glyphs[i].joined_to_next = gap < kJoined_mm;
      warnGap(i, gap);
    }
  }

  void warnGap(size_t i, double gap) {
    const std::string pair = "\"" + out_.glyphs[i].text + out_.glyphs[i + 1].text + "\"";
    if (face_.joins && gap >= kJoined_mm)
      out_.warnings.push_back(pair + " does not join: " + formatNumber(gap, 2) + " mm apart");
    if (!face_.joins && gap < kCrowdedGap_mm)
      out_.warnings.push_back(pair +
                              (gap <= 0.01
                                   ? " collide"
                                   : " stand " + formatNumber(gap, 2) + " mm apart, under 0.5 mm") +
                              "; widen the gap or the radius");
  }

  const StrokeFace& face_;
  const LetterOptions& options_;
  Baseline baseline_;
  ColumnSewing how_;
  std::vector<SetGlyph> glyphs_;
  Lettering out_;
};

}  // namespace

Lettering letter(const std::string& text, const StrokeFace& face, const LetterOptions& options) {
  if (!(options.height_mm > 0) || !std::isfinite(options.height_mm))
    throw Error("a letter height of " + formatNumber(options.height_mm, 2) + " mm cannot be sewn",
                "height", "give the cap height in mm, over 0");
  const std::u32string codes = decodeUtf8(text);
  if (codes.size() > kLongestText)
    throw Error("the text has " + std::to_string(codes.size()) + " characters", "text",
                "set at most 2,000 in one line");
  Lettering out = Composer(face, options).run(codes);
  if (options.height_mm < face.min_height_mm || options.height_mm > face.max_height_mm)
    out.warnings.push_back("a height of " + formatNumber(options.height_mm, 1) +
                           " mm is outside the face's " + formatNumber(face.min_height_mm, 1) +
                           " to " + formatNumber(face.max_height_mm, 1) + " mm");
  return out;
}

std::u32string decodeUtf8(const std::string& text) {
  std::u32string out;
  for (size_t i = 0; i < text.size();) {
    const auto c = static_cast<unsigned char>(text[i]);
    const int extra = c < 0x80                ? 0
                      : c >= 0xC2 && c < 0xE0 ? 1
                      : (c & 0xF0) == 0xE0    ? 2
                      : c >= 0xF0 && c < 0xF5 ? 3
                                              : -1;
    char32_t code = extra <= 0 ? c : c & (0x3F >> extra);
    bool good = extra >= 0 && i + static_cast<size_t>(extra) < text.size();
    for (int k = 1; good && k <= extra; ++k) {
      const auto next = static_cast<unsigned char>(text[i + static_cast<size_t>(k)]);
      good = (next & 0xC0) == 0x80;
      code = code << 6 | (next & 0x3F);
    }
    if (!good) throw Error("the text is not UTF-8", "byte " + std::to_string(i), "type it again");
    out.push_back(code);
    i += static_cast<size_t>(extra) + 1;
  }
  return out;
}

std::string encodeUtf8(char32_t c) {
  std::string out;
  auto put = [&](char32_t b) { out.push_back(static_cast<char>(b)); };
  if (c < 0x80) {
    put(c);
  } else if (c < 0x800) {
    put(0xC0 | c >> 6);
    put(0x80 | (c & 0x3F));
  } else if (c < 0x10000) {
    put(0xE0 | c >> 12);
    put(0x80 | (c >> 6 & 0x3F));
    put(0x80 | (c & 0x3F));
  } else {
    put(0xF0 | c >> 18);
    put(0x80 | (c >> 12 & 0x3F));
    put(0x80 | (c >> 6 & 0x3F));
    put(0x80 | (c & 0x3F));
  }
  return out;
}

}  // namespace rt
