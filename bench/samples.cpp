#include "samples.h"

namespace rt::bench {

Pattern fills(size_t stitches) {
  constexpr double kSide_mm = 60, kStep_mm = 3, kRow_mm = 0.4;
  Pattern p;
  p.stitches.reserve(stitches + 100);
  for (size_t square = 0; p.stitches.size() < stitches; ++square) {
    const Point at{static_cast<double>(square % 12) * 62, static_cast<double>(square / 12) * 62};
    const uint16_t thread =
        p.threadIndex({static_cast<uint32_t>(0x304050 + 0x151311 * (square % 9))});
    const uint16_t piece = p.pieceIndex("square " + std::to_string(square));
    if (!p.stitches.empty())
      p.stitches.push_back({p.stitches.back().at, 0, thread, piece, Op::Trim, Kind::Unknown});
    p.stitches.push_back({at, 0, thread, piece, Op::Jump, Kind::Unknown});
    bool right = true;
    for (double y = 0; y <= kSide_mm; y += kRow_mm, right = !right)
      for (double x = 0; x <= kSide_mm; x += kStep_mm)
        p.stitches.push_back(
            {at + Point{right ? x : kSide_mm - x, y}, 1, thread, piece, Op::Stitch, Kind::Fill});
  }
  return p;
}

}  // namespace rt::bench
