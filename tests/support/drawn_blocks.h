// Blocks of known making for tests: fills, satins, runs.
#pragma once

#include "pattern.h"

namespace rt::testing {

/// Adds rows of the pattern with a landing jump before and, if asked, a trim after.
struct BlockMaker {
  Pattern pattern;
  Colour colour{0x2f5d50};

  void sew(const std::vector<Point>& points, Kind kind, bool trim = true) {
    const uint16_t thread = pattern.threadIndex(colour);
    const auto block = static_cast<uint32_t>(++count_);
    pattern.stitches.push_back({points[0], block, thread, 0, Op::Jump, Kind::Unknown});
    for (const Point& p : points)
      pattern.stitches.push_back({p, block, thread, 0, Op::Stitch, kind});
    if (trim)
      pattern.stitches.push_back({points.back(), block, thread, 0, Op::Trim, Kind::Unknown});
  }
  /// Level rows over a box, to and fro, `step` apart, needle points every `stitch` along them.
  void fill(const Box& box, double step, double stitch, bool trim = true) {
    std::vector<Point> points;
    bool right = true;
    for (double y = box.top; y <= box.bottom + 1e-9; y += step, right = !right) {
      const int parts = std::max(1, static_cast<int>(std::ceil(box.width() / stitch)));
      for (int k = 0; k <= parts; ++k) {
        const double t = static_cast<double>(right ? k : parts - k) / parts;
        points.push_back({box.left + t * box.width(), y});
      }
    }
    sew(points, Kind::Fill, trim);
  }
  /// A level satin column: needle points on the same edge `spacing` apart.
  void satin(Point from, double length, double width, double spacing, bool trim = true) {
    std::vector<Point> points;
    const int rungs = static_cast<int>(length / (spacing / 2));
    for (int k = 0; k <= rungs; ++k)
      points.push_back(from + Point{k * spacing / 2, k % 2 == 0 ? -width / 2 : width / 2});
    sew(points, Kind::Satin, trim);
  }
  void run(const std::vector<Point>& line, bool trim = true) { sew(line, Kind::Run, trim); }

 private:
  size_t count_ = 0;
};

}  // namespace rt::testing
