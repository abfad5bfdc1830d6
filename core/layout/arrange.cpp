#include "arrange.h"

#include <algorithm>

#include "error.h"
#include "length.h"

namespace rt {
namespace {

constexpr int kMostCopies = 2500;

void checkCount(int count) {
  if (count < 1 || count > kMostCopies)
    throw Error(std::to_string(count) + " copies cannot be laid", "repeat", "give 1 to 2,500");
}

Piece copyOf(const Piece& piece, int index, int& next_id) {
  Piece copy = piece;
  if (index == 0) return copy;
  copy.id = next_id++;
  copy.name = piece.name + " " + std::to_string(index + 1);
  return copy;
}

/// Exchanges left and right about the piece's own middle, upright as seen.
void mirror(Piece& piece) {
  piece.place.mirrored = !piece.place.mirrored;
  piece.place.turn_deg = wrapDegrees(-piece.place.turn_deg);
}

}  // namespace

Point anchorOf(const Box& box, Anchor anchor) {
  const int i = static_cast<int>(anchor);
  return {box.left + box.width() / 2 * (i % 3), box.top + box.height() / 2 * (i / 3)};
}

Piece anchoredAt(Piece piece, Anchor anchor, Point at) {
  piece.place.at = piece.place.at + (at - anchorOf(boundsOf(piece), anchor));
  return piece;
}

namespace {

Piece sizedBy(Piece piece, double want, double now, const char* what) {
  if (!(want > 0) || !(now > 0))
    throw Error(std::string("a ") + what + " of " + formatNumber(want, 2) + " mm cannot be made",
                piece.name, "give one over 0 mm");
  piece.place.scale_x *= want / now;
  piece.place.scale_y *= want / now;
  return piece;
}

}  // namespace

Piece sizedToWidth(Piece piece, double width_mm) {
  const double now = boundsOf(piece).width();
  return sizedBy(std::move(piece), width_mm, now, "width");
}

Piece sizedToHeight(Piece piece, double height_mm) {
  const double now = boundsOf(piece).height();
  return sizedBy(std::move(piece), height_mm, now, "height");
}

std::vector<Piece> distributed(std::vector<Piece> pieces, Axis axis) {
  if (pieces.size() < 3) return pieces;
  auto from = [&](const Piece& p) { return axis == Axis::X ? boundsOf(p).left : boundsOf(p).top; };
  auto size = [&](const Piece& p) {
    return axis == Axis::X ? boundsOf(p).width() : boundsOf(p).height();
  };
  std::vector<size_t> order(pieces.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return from(pieces[a]) < from(pieces[b]); });
  double room = from(pieces[order.back()]) + size(pieces[order.back()]) - from(pieces[order[0]]);
  for (const Piece& p : pieces) room -= size(p);
  const double gap = room / static_cast<double>(pieces.size() - 1);
  double at = from(pieces[order[0]]);
  for (size_t i : order) {
    const double by = at - from(pieces[i]);
    pieces[i].place.at = pieces[i].place.at + (axis == Axis::X ? Point{by, 0} : Point{0, by});
    at += size(pieces[i]) + gap;
  }
  return pieces;
}

std::vector<Piece> repeatedInGrid(const Piece& piece, const RepeatOptions& o, int next_id) {
  if (o.columns < 1 || o.rows < 1) checkCount(0);
  checkCount(o.columns > kMostCopies || o.rows > kMostCopies ? kMostCopies + 1
                                                             : o.columns * o.rows);
  const Box box = boundsOf(piece);
  std::vector<Piece> out;
  for (int r = 0; r < o.rows; ++r)
    for (int c = 0; c < o.columns; ++c) {
      Piece copy = copyOf(piece, r * o.columns + c, next_id);
      if (out.empty()) {
        out.push_back(std::move(copy));
        continue;
      }
      if (o.mirror_alternately && c % 2 == 1) mirror(copy);
      const Point at =
          box.centre() + Point{c * (box.width() + o.gap_x_mm), r * (box.height() + o.gap_y_mm)};
      out.push_back(anchoredAt(std::move(copy), Anchor::Centre, at));
    }
  return out;
}

std::vector<Piece> repeatedAlongLine(const Piece& piece, Point to, int count, int next_id) {
  checkCount(count);
  const Point from = boundsOf(piece).centre();
  std::vector<Piece> out;
  for (int i = 0; i < count; ++i)
    out.push_back(anchoredAt(copyOf(piece, i, next_id), Anchor::Centre,
                             mix(from, to, count > 1 ? static_cast<double>(i) / (count - 1) : 0)));
  return out;
}

std::vector<Piece> repeatedAlongArc(const Piece& piece, Point centre, double span_deg, int count,
                                    int next_id) {
  checkCount(count);
  const bool full = std::abs(span_deg) >= 360 - 1e-9;
  const double step = count > 1 ? span_deg / (full ? count : count - 1) : 0;
  std::vector<Piece> out;
  for (int i = 0; i < count; ++i) {
    Piece copy = copyOf(piece, i, next_id);
    const Transform turn = Transform::moving(centre) * Transform::turning(i * step) *
                           Transform::moving(Point{} - centre);
    copy.place.at = turn(copy.place.at);
    copy.place.turn_deg = wrapDegrees(copy.place.turn_deg + i * step);
    out.push_back(std::move(copy));
  }
  return out;
}

Pattern bastingAround(const Box& box, double stitch_mm, Colour colour, const TieRule& ties) {
  Strand strand;
  const std::vector<Point> line{box.corner(0), box.corner(1), box.corner(2), box.corner(3),
                                box.corner(0)};
  for (size_t i = 1; i < line.size(); ++i)
    runAlong(strand, std::span(line).subspan(i - 1, 2), stitch_mm, Kind::Basting);
  Pattern out;
  appendStrands(out, std::vector{strand}, {colour, "basting", ties});
  return out;
}

}  // namespace rt
