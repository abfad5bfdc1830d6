#include "piece.h"

#include <set>

namespace rt {

Transform transformOf(const Placement& p) {
  return Transform::moving(p.at) * Transform::turning(p.turn_deg) *
         Transform::scaling(p.mirrored ? -p.scale_x : p.scale_x, p.scale_y);
}

bool operator==(const StitchSource& a, const StitchSource& b) {
  const bool same = a.bare == b.bare || (a.bare && b.bare && *a.bare == *b.bare);
  return same && a.file == b.file && a.scale_x == b.scale_x && a.scale_y == b.scale_y &&
         a.spacing_factor == b.spacing_factor;
}

bool operator==(const Piece& a, const Piece& b) {
  const bool same =
      a.stitches == b.stitches || (a.stitches && b.stitches && *a.stitches == *b.stitches);
  return same && a.id == b.id && a.name == b.name && a.source == b.source && a.place == b.place &&
         a.group == b.group;
}

Pattern laidOut(const Piece& piece) {
  Pattern out = transformed(*piece.stitches, transformOf(piece.place));
  out.pieces = {"", piece.name};
  for (Stitch& s : out.stitches) s.piece = 1;
  return out;
}

std::vector<std::string> namesIn(const std::vector<Piece>& pieces) {
  std::vector<std::string> out;
  std::set<std::string> taken;
  for (const Piece& piece : pieces) {
    std::string name = piece.name;
    for (int n = 2; !taken.insert(name).second; ++n) name = piece.name + " " + std::to_string(n);
    out.push_back(std::move(name));
  }
  return out;
}

Pattern laidOut(const std::vector<Piece>& pieces) {
  Pattern out;
  const std::vector<std::string> names = namesIn(pieces);
  uint32_t blocks = 0;
  for (size_t i = 0; i < pieces.size(); ++i) {
    Pattern one = laidOut(pieces[i]);
    one.pieces[1] = names[i];
    uint32_t most = 0;
    for (Stitch& s : one.stitches) {
      most = std::max(most, s.block);
      s.block += blocks;
    }
    blocks += most + 1;
    // pieces are cut apart even where the next begins in the same colour nearby
    cutThread(out);
    append(out, one);
  }
  return out;
}

Box boundsOf(const Piece& piece) {
  Box box;
  const Transform to = transformOf(piece.place);
  forEachSegment(*piece.stitches, [&](Point a, Point b, size_t) {
    box.add(to(a));
    box.add(to(b));
  });
  return box;
}

Piece pieceOf(Pattern laid, const std::string& name) {
  Piece piece;
  piece.name = name;
  piece.source = StitchSource{name, nullptr, 1, 1, 1};
  piece.place.at = centre(laid);
  piece.stitches = std::make_shared<const Pattern>(std::move(laid));
  return piece;
}

Point centre(Pattern& pattern) {
  const Box box = threadBounds(pattern);
  const Point middle = box.empty() ? Point{} : box.centre();
  for (Stitch& s : pattern.stitches) s.at = s.at - middle;
  return middle;
}

}  // namespace rt
