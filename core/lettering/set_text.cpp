#include "set_text.h"

#include <algorithm>
#include <cctype>

#include "side_by_side.h"

namespace rt {
namespace {

constexpr double kLap = 0.03;  // letters that join reach this far into each other, cap heights
constexpr double kMostClosing = 0.12;  // letters are moved together by this at most, cap heights
constexpr double kSliver = 0.012;  // letters that share less than twice this do not hold together
constexpr double kDotsAbove =
    0.45;                         // parts that end higher than this are dots and marks, cap heights
constexpr double kBridge = 0.10;  // width of a bridging stroke, cap heights

bool isSpace(char32_t code) {
  return code == U' ' || code == U'\t' || code == 0xA0;
}

double gapAfter(const LetterOptions& o, size_t index) {
  return o.gap_mm + (index < o.gaps_mm.size() ? o.gaps_mm[index] : 0);
}

void moveBy(SetGlyph& g, double mm) {
  g.left += mm;
  g.right += mm;
  for (auto& stroke : g.strokes)
    for (Point& p : stroke) p.x += mm;
  for (Ring& ring : g.outline)
    for (Point& p : ring) p.x += mm;
}

// --- stroke faces

class StrokeSetter {
 public:
  StrokeSetter(const Face& face, const LetterOptions& options) : face_(face), options_(options) {
    width_ = std::max(face.weight * options.height_mm, face.least_width_mm);
    width_ = std::min(width_, options.height_mm / 4);
    // the skeleton stands inside the letter by half a column, so that the sewn height is the asked
    // one
    unit_ = (options.height_mm - width_) / face.cap_units;
  }

  SetLine set(const std::u32string& text, size_t firstGap) {
    SetLine line;
    line.column_mm = width_;
    double pen = 0;
    int word = 0;
    for (char32_t code : text) {
      const auto found = face_.glyphs.find(code);
      if (isSpace(code)) {
        pen += face_.glyphs.at(U' ').advance() * unit_ + options_.gap_mm;
        ++word;
      } else if (found == face_.glyphs.end()) {
        line.missing.push_back(code);
      } else {
        line.glyphs.push_back(place(code, found->second, pen, word));
        pen = line.glyphs.back().right + gapAfter(options_, firstGap + line.glyphs.size() - 1);
      }
    }
    return line;
  }

 private:
  SetGlyph place(char32_t code, const StrokeGlyph& glyph, double pen, int word) const {
    SetGlyph out{encodeUtf8(code), pen, pen + glyph.advance() * unit_, word, glyph.strokes, {}};
    for (auto& stroke : out.strokes)
      for (Point& p : stroke) p = {pen + (p.x - glyph.left) * unit_, p.y * unit_ - width_ / 2};
    return out;
  }

  const Face& face_;
  const LetterOptions& options_;
  double width_ = 0, unit_ = 0;
};

/// The closest pair of stroke points of two letters is bridged by a stroke of the first.
void bridgeStrokes(SetGlyph& first, const SetGlyph& second) {
  double least = INFINITY;
  Point from, to;
  for (const auto& a : first.strokes)
    for (Point p : a)
      for (const auto& b : second.strokes)
        for (Point q : b)
          if (const double d = distance(p, q); d < least) least = d, from = p, to = q;
  if (least > kSame_mm && std::isfinite(least)) first.strokes.push_back({from, to});
}

// --- outline faces

SetLine setOutlines(const std::u32string& text, const Face& face, const LetterOptions& o,
                    size_t firstGap) {
  SetLine line;
  const bool spaced = o.gap_mm != 0 || !o.gaps_mm.empty();
  double pen = 0;
  int word = 0;
  for (OutlineGlyph& g : face.outlines->shape(text, !spaced, line.missing)) {
    const double advance = g.advance * o.height_mm;
    if (g.outline.empty()) {
      pen += advance + o.gap_mm;
      ++word;
      continue;
    }
    const Transform to = Transform::moving({pen, 0}) * Transform::scaling(o.height_mm, o.height_mm);
    line.glyphs.push_back({g.text, pen, pen + advance, word, {}, transformed(g.outline, to)});
    pen += advance + gapAfter(o, firstGap + line.glyphs.size() - 1);
  }
  return line;
}

/// Left and right edge of an outline in level bands.
class Profile {
 public:
  Profile(const Area& outline, double band_mm) : band_(band_mm) {
    for (const Ring& ring : outline)
      for (size_t i = 0, n = ring.size(); i < n; ++i) add(ring[i], ring[(i + 1) % n]);
  }
  /// Least level distance from this outline's right edge to another's left edge.
  double gapTo(const Profile& other) const {
    double least = INFINITY;
    for (const auto& [band, edge] : edges_)
      for (int near = band - 1; near <= band + 1; ++near)
        if (const auto found = other.edges_.find(near); found != other.edges_.end())
          least = std::min(least, found->second.first - edge.second);
    return least;
  }

 private:
  void add(Point a, Point b) {
    const int parts = static_cast<int>(std::ceil(std::abs(b.y - a.y) / band_)) + 1;
    for (int k = 0; k <= parts; ++k) {
      const Point p = mix(a, b, static_cast<double>(k) / parts);
      const auto [it, added] =
          edges_.try_emplace(static_cast<int>(std::floor(p.y / band_)), std::pair(p.x, p.x));
      it->second.first = std::min(it->second.first, p.x);
      it->second.second = std::max(it->second.second, p.x);
    }
  }
  double band_;
  std::map<int, std::pair<double, double>> edges_;
};

/// The shortest way between two outlines, from vertex to edge.
std::pair<Point, Point> shortestWay(const Area& a, const Area& b) {
  double least = INFINITY;
  std::pair<Point, Point> best;
  auto tryAll = [&](const Area& from, const Area& to, bool swapped) {
    for (const Ring& ring : from)
      for (Point p : ring)
        for (const Ring& other : to)
          for (size_t i = 0, n = other.size(); i < n; ++i) {
            const Point u = other[i], v = other[(i + 1) % n] - u;
            const double l2 = dot(v, v);
            const Point q = u + v * (l2 > 0 ? std::clamp(dot(p - u, v) / l2, 0.0, 1.0) : 0);
            if (const double d = distance(p, q); d < least)
              least = d, best = swapped ? std::pair(q, p) : std::pair(p, q);
          }
  };
  tryAll(a, b, false);
  tryAll(b, a, true);
  return best;
}

/// Moves the second letter (and all behind it) up to the first.
void closeUp(std::vector<SetGlyph>& glyphs, size_t first, double cap_mm) {
  const SetGlyph &a = glyphs[first], &b = glyphs[first + 1];
  const double gap = Profile(a.outline, cap_mm / 60).gapTo(Profile(b.outline, cap_mm / 60));
  const double lap = kLap * cap_mm;
  if (gap > -lap && gap + lap <= kMostClosing * cap_mm)
    for (size_t i = first + 1; i < glyphs.size(); ++i) moveBy(glyphs[i], -(gap + lap));
}

/// Adds a stroke to an outline from one of its points to one beyond it.
void bridge(Area& outline, std::pair<Point, Point> way, double cap_mm) {
  const Point lap = unit(way.second - way.first) * (kLap * cap_mm);
  const std::vector<Point> line{way.first - lap, way.second + lap};
  outline = united(outline, widened(line, kBridge * cap_mm, LineEnd::Round));
}

/// Neighbours that do not meet, or only in a sliver, get a bridge.
void bridgeNeighbours(SetGlyph& a, const SetGlyph& b, double cap_mm) {
  const Area shared = intersection(a.outline, b.outline);
  if (!grown(shared, -kSliver * cap_mm).empty()) return;
  if (shared.empty()) return bridge(a.outline, shortestWay(a.outline, b.outline), cap_mm);
  const Point c = boundsOf(shared).centre();
  const Box box = boundsOf(shared);
  const Point across = box.width() > box.height() ? Point{0, 1} : Point{1, 0};
  bridge(a.outline, {c - across * (0.02 * cap_mm), c + across * (0.02 * cap_mm)}, cap_mm);
}

bool isLetter(const SetGlyph& g) {
  const auto c = static_cast<unsigned char>(g.text[0]);
  return c >= 0x80 || std::isalpha(c) != 0;
}

/// Which letter a part of a word belongs to; -1 for points, commas and the like.
int letterOf(const std::vector<SetGlyph>& glyphs, size_t first, size_t end, const Area& part) {
  for (size_t i = first; i < end; ++i)
    for (Point p : part[0])
      if (isLetter(glyphs[i]) && boundsOf(glyphs[i].outline).grown(1e-3).contains(p) &&
          contains(grown(glyphs[i].outline, 0.01), p))
        return static_cast<int>(i);
  return -1;
}

/// Bridges the parts of a word that do not meet, but for dots: what stays high above the baseline.
void bridgeParts(std::vector<SetGlyph>& glyphs, size_t first, size_t end, double cap_mm) {
  for (size_t tries = first; tries < end + 4; ++tries) {  // each bridge makes one part fewer
    std::vector<Area> letters;
    for (size_t i = first; i < end; ++i)
      if (isLetter(glyphs[i])) letters.push_back(glyphs[i].outline);
    const Area word = united(letters);
    std::vector<Area> parts;
    for (Area& part : separated(grown(word, -kSliver * cap_mm)))
      if (boundsOf(part).bottom > -kDotsAbove * cap_mm) parts.push_back(std::move(part));
    if (parts.size() < 2) return;
    // the part that stands first is joined to the nearest of the others
    std::sort(parts.begin(), parts.end(),
              [](const Area& a, const Area& b) { return boundsOf(a).left < boundsOf(b).left; });
    Area others;
    for (size_t i = 1; i < parts.size(); ++i)
      others.insert(others.end(), parts[i].begin(), parts[i].end());
    const auto [p, q] = shortestWay(parts[0], others);
    const int owner = letterOf(glyphs, first, end, parts[0]);
    if (owner < 0) return;
    bridge(glyphs[static_cast<size_t>(owner)].outline, {p, q}, cap_mm);
  }
}

void bridgeDrawing(std::vector<SetGlyph>& glyphs, size_t first, size_t end, double cap_mm) {
  for (size_t i = first; i + 1 < end; ++i)
    if (isLetter(glyphs[i]) && isLetter(glyphs[i + 1]))
      bridgeNeighbours(glyphs[i], glyphs[i + 1], cap_mm);
  bridgeParts(glyphs, first, end, cap_mm);
}

void joinNeighbours(std::vector<SetGlyph>& glyphs, double cap_mm) {
  for (size_t i = 0; i + 1 < glyphs.size(); ++i) {
    if (glyphs[i].word != glyphs[i + 1].word) continue;
    if (glyphs[i].outline.empty())
      bridgeStrokes(glyphs[i], glyphs[i + 1]);
    else if (isLetter(glyphs[i]) && isLetter(glyphs[i + 1]))
      closeUp(glyphs, i, cap_mm);
  }
  std::vector<std::pair<size_t, size_t>> drawings;
  for (size_t first = 0; first < glyphs.size(); first = drawingEnd(glyphs, first))
    if (!glyphs[first].outline.empty()) drawings.emplace_back(first, drawingEnd(glyphs, first));
  // each changes its own letters only: two at a time
  sideBySide(drawings.size(), [&](size_t w) {
    bridgeDrawing(glyphs, drawings[w].first, drawings[w].second, cap_mm);
  });
  for (const auto& [first, end] : drawings)  // and long words from one to the next
    if (end < glyphs.size() && glyphs[end].word == glyphs[first].word &&
        isLetter(glyphs[end - 1]) && isLetter(glyphs[end]))
      bridgeNeighbours(glyphs[end - 1], glyphs[end], cap_mm);
}

}  // namespace

size_t drawingEnd(const std::vector<SetGlyph>& glyphs, size_t first) {
  size_t end = first + 1;
  while (end < glyphs.size() && glyphs[end].word == glyphs[first].word &&
         end - first < kLongestDrawing)
    ++end;
  return end;
}

SetLine setLine(const std::u32string& text, const Face& face, const LetterOptions& options,
                size_t first_gap) {
  SetLine line = face.outlines ? setOutlines(text, face, options, first_gap)
                               : StrokeSetter(face, options).set(text, first_gap);
  if (face.joins) joinNeighbours(line.glyphs, options.height_mm);
  if (!line.glyphs.empty()) {
    const double shift = -(line.glyphs.front().left + line.glyphs.back().right) / 2;
    for (SetGlyph& g : line.glyphs) moveBy(g, shift);
  }
  return line;
}

}  // namespace rt
