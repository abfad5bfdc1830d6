#include "monogram.h"

#include <algorithm>

#include "error.h"
#include "polygon.h"

namespace rt {
namespace {

constexpr double kGap = 0.10;  // between neighbours' thread, of the largest initial's height

std::vector<std::string> initialsOf(const std::string& text) {
  std::vector<std::string> out;
  for (char32_t c : decodeUtf8(text)) {
    if (c == U' ' || c == U'.' || c == U'\t' || c == U'\n' || c == U'\r') continue;
    if (c >= 0x300 && c <= 0x36F && !out.empty())
      out.back() += encodeUtf8(c);
    else
      out.push_back(encodeUtf8(c));
  }
  if (out.size() != 2 && out.size() != 3)
    throw Error("a monogram has two or three initials, not " + std::to_string(out.size()), "text",
                "type two or three letters");
  return out;
}

/// Appends rows behind a cut.
void appendCut(Pattern& head, const Pattern& tail) {
  cutThread(head);
  append(head, tail);
}

void move(Lettering& made, Point by) {
  made.pattern = transformed(std::move(made.pattern), Transform::moving(by));
  for (PlacedGlyph& g : made.glyphs) g.at = g.at + by;
}

/// Initials set side by side by their thread, middles on one line.
Lettering setInitials(const std::vector<std::string>& initials, const Face& face,
                      const MonogramOptions& o) {
  Lettering out;
  double pen = 0, middle = 0;
  for (size_t i = 0; i < initials.size(); ++i) {
    const bool large = initials.size() == 2 || i == 1;
    LetterOptions one = o.letters;
    one.arc_radius_mm = one.turn_deg = 0;
    if (!large) one.height_mm /= o.centre_factor;
    Lettering made = letter(initials[i], face, one);
    const Box box = threadBounds(made.pattern);
    move(made, {pen - box.left, (one.height_mm - o.letters.height_mm) / 2});
    pen += box.width() + kGap * o.letters.height_mm + o.letters.gap_mm;
    if (large) middle = threadBounds(made.pattern).centre().x;
    appendCut(out.pattern, made.pattern);
    out.glyphs.insert(out.glyphs.end(), made.glyphs.begin(), made.glyphs.end());
    for (LetterWarning& w : made.warnings)
      if (std::find(out.warnings.begin(), out.warnings.end(), w) == out.warnings.end())
        out.warnings.push_back(std::move(w));
  }
  move(out, {initials.size() == 2 ? -threadBounds(out.pattern).centre().x : -middle, 0});
  return out;
}

/// A cubic from the last point of a line, in steps.
void curveTo(std::vector<Point>& line, Point c1, Point c2, Point to) {
  const Point from = line.back();
  for (int k = 1; k <= 24; ++k) {
    const double t = k / 24.0, u = 1 - t;
    line.push_back(from * (u * u * u) + c1 * (3 * u * u * t) + c2 * (3 * u * t * t) +
                   to * (t * t * t));
  }
}

std::vector<Point> shieldLine() {
  std::vector<Point> line{{-0.92, -0.80}};
  curveTo(line, {-0.55, -0.80}, {-0.2, -0.86}, {0, -1});
  curveTo(line, {0.2, -0.86}, {0.55, -0.80}, {0.92, -0.80});
  curveTo(line, {1.0, 0.05}, {0.78, 0.62}, {0, 1});
  curveTo(line, {-0.78, 0.62}, {-1.0, 0.05}, {-0.92, -0.80});
  return line;
}

/// The smallest frame that leaves room around all thread, its centre at `centre`.
double frameSize(const Pattern& letters, Point centre, const MonogramOptions& o) {
  std::vector<Point> points;
  forEachSegment(letters, [&](Point a, Point b, size_t) {
    points.push_back(a - centre);
    points.push_back(b - centre);
  });
  auto holds = [&](double size) {
    const Area inner = grown(Area{frameLine(o.frame, size)}, -(o.room_mm + o.frame_mm / 2));
    return !inner.empty() &&
           std::all_of(points.begin(), points.end(), [&](Point p) { return contains(inner, p); });
  };
  double low = 0, high = 10;
  while (!holds(high) && high < 1e5) low = high, high *= 2;
  for (int k = 0; k < 30 && high - low > 0.01; ++k)
    (holds((low + high) / 2) ? high : low) = (low + high) / 2;
  return high;
}

}  // namespace

std::vector<Point> frameLine(MonogramFrame frame, double size_mm) {
  std::vector<Point> line;
  if (frame == MonogramFrame::Diamond) line = {{0, -1}, {1, 0}, {0, 1}, {-1, 0}, {0, -1}};
  if (frame == MonogramFrame::Shield) line = shieldLine();
  if (line.empty())
    for (int k = 0; k <= 96; ++k) line.push_back(Transform::turning(k * 360.0 / 96)(Point{0, -1}));
  for (Point& p : line) p = p * (size_mm / 2);
  line.back() = line.front();
  return line;
}

Lettering monogram(const std::string& initials, const Face& face, const MonogramOptions& o) {
  Lettering out = setInitials(initialsOf(initials), face, o);
  if (o.frame != MonogramFrame::Bare) {
    const Point centre{0, -o.letters.height_mm / 2};
    std::vector<Point> line = frameLine(o.frame, frameSize(out.pattern, centre, o));
    for (Point& p : line) p = p + centre;
    ColumnSewing how;
    how.satin.spacing_mm = o.letters.spacing_mm;
    how.satin.pull_mm = o.letters.pull_mm;
    how.satin.rule = o.letters.rules.columns;
    how.width_mm = o.frame_mm;
    how.least_column_mm = std::min(o.letters.least_column_mm, o.frame_mm);
    const ColumnGraph graph = columnGraph({line}, 0.05, o.frame_mm / 2, o.frame_mm);
    Pattern frame;
    appendStrands(frame, sewColumns(graph, how, line.front(), line.front()),
                  {o.letters.colour, "frame", o.letters.rules.ties});
    appendCut(out.pattern, frame);
  }
  return turned(std::move(out), o.letters.turn_deg);
}

}  // namespace rt
