#include "border.h"

#include <algorithm>

#include "clip.h"
#include "error.h"
#include "length.h"

namespace rt {
namespace {

struct SideFit {
  int count = 0;
  double stretch = 1;
};

/// Whole repeats over a side, stretched at most by the limit.
SideFit fitSide(double side_mm, double repeat_mm, const char* which) {
  SideFit best;
  for (int n : {static_cast<int>(std::floor(side_mm / repeat_mm)),
                static_cast<int>(std::ceil(side_mm / repeat_mm))}) {
    if (n < 1) continue;
    const double stretch = side_mm / (n * repeat_mm);
    if (best.count == 0 || std::abs(stretch - 1) < std::abs(best.stretch - 1)) best = {n, stretch};
  }
  if (best.count > 0 && std::abs(best.stretch - 1) <= kMostStretch + 1e-9) return best;
  const int n = std::max(1, static_cast<int>(std::lround(side_mm / repeat_mm)));
  throw Error(std::string("whole repeats do not close the ") + which + " side within 5 %", "border",
              "make the border " + formatNumber(n * repeat_mm - side_mm, 1) +
                  " mm longer there, or the band another height");
}

class BorderMaker {
 public:
  BorderMaker(const Piece& motif, const BorderOptions& o, int next_id)
      : motif_(motif), o_(o), next_id_(next_id), unit_(motif) {
    if (!(o.band_mm > 0) || !(o.width_mm > 2 * o.band_mm) || !(o.height_mm > 2 * o.band_mm))
      throw Error("a border of " + formatNumber(o.width_mm, 1) + " × " +
                      formatNumber(o.height_mm, 1) + " mm has no room for its band",
                  "border", "make the band narrower than half the border");
    unit_.place = {};
    unit_ = sizedToHeight(std::move(unit_), o.band_mm);
  }

  Border run() {
    const double taken = o_.corner == BorderCorner::Turned ? 2 * o_.band_mm : 0;
    const double across = o_.width_mm - taken, down = o_.height_mm - taken;
    const double length = boundsOf(unit_).width();
    const SideFit x = fitSide(across, length, "level"), y = fitSide(down, length, "upright");
    border_ = {{}, x.count, y.count, x.stretch, y.stretch};
    const double hx = (o_.width_mm - o_.band_mm) / 2, hy = (o_.height_mm - o_.band_mm) / 2;
    for (int side = 0; side < 4; ++side) {
      const bool level = side % 2 == 0;
      const SideFit& fit = level ? x : y;
      const double half = (level ? across : down) / 2, step = 2 * half / fit.count;
      const Transform turn = Transform::turning(side * 90.0);
      for (int i = 0; i < fit.count; ++i) {
        const Point at = turn(Point{-half + step * (i + 0.5), level ? -hy : -hx});
        add(laid(at, side * 90.0, fit.stretch), side);
      }
      if (o_.corner == BorderCorner::Turned)
        border_.pieces.push_back(
            corner({side < 2 ? hx : -hx, side == 0 || side == 3 ? -hy : hy}, side * 90.0 + 45));
    }
    return std::move(border_);
  }

 private:
  Piece laid(Point at, double turn_deg, double stretch) {
    Piece p = motif_;
    if (made_ > 0) {
      p.id = next_id_++;
      p.name = motif_.name + " " + std::to_string(made_ + 1);
    }
    ++made_;
    p.place = unit_.place;
    p.place.scale_x *= stretch;
    p.place.turn_deg = turn_deg;
    return anchoredAt(std::move(p), Anchor::Centre, o_.centre + at);
  }

  /// Turned by 45° the motif must stay within the corner's square.
  Piece corner(Point at, double turn_deg) {
    Piece p = laid(at, turn_deg, 1);
    const Box b = boundsOf(p);
    const double fit = o_.band_mm / std::max(b.width(), b.height());
    p.place.scale_x *= fit;
    p.place.scale_y *= fit;
    return anchoredAt(std::move(p), Anchor::Centre, o_.centre + at);
  }

  /// Adds a repeat of a side, cut on the diagonals of its two corners where it reaches over them.
  void add(Piece piece, int side) {
    if (o_.corner == BorderCorner::Mitred) {
      const std::array<HalfPlane, 2> planes{mitre(side, -1), mitre(side, 1)};
      const Box box = boundsOf(piece);
      bool crosses = false;
      for (const HalfPlane& plane : planes)
        for (int c = 0; c < 4; ++c) crosses |= plane.depth_mm(box.corner(c)) < -0.01;
      if (crosses && !cut(piece, planes)) return;
    }
    border_.pieces.push_back(std::move(piece));
  }

  /// The side's half of a corner: the diagonal goes from the outer corner inward at 45°.
  HalfPlane mitre(int side, int end) const {
    const Transform turn = Transform::turning(side * 90.0);
    const bool level = side % 2 == 0;
    const double half = (level ? o_.width_mm : o_.height_mm) / 2,
                 out = (level ? o_.height_mm : o_.width_mm) / 2;
    return {o_.centre + turn(Point{end * half, -out}), turn(Point{-1.0 * end, -1})};
  }

  /// Replaces the piece's stitches by those inside; false if nothing is left.
  static bool cut(Piece& piece, std::span<const HalfPlane> planes) {
    Pattern inside = clipped(laidOut(piece), planes);
    if (threadBounds(inside).empty()) return false;
    Piece left = pieceOf(std::move(inside), piece.name);
    left.id = piece.id;
    left.group = piece.group;
    piece = std::move(left);
    return true;
  }

  const Piece& motif_;
  const BorderOptions& o_;
  int next_id_, made_ = 0;
  Piece unit_;
  Border border_;
};

}  // namespace

Piece fused(const std::vector<Piece>& pieces, const std::string& name) {
  Pattern all = laidOut(pieces);
  all.pieces = {""};
  for (Stitch& s : all.stitches) s.piece = 0;
  Piece out = pieceOf(std::move(all), name);
  if (!pieces.empty()) out.id = pieces[0].id;
  return out;
}

Border borderOf(const Piece& motif, const BorderOptions& options, int next_id) {
  return BorderMaker(motif, options, next_id).run();
}

}  // namespace rt
