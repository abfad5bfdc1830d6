#include "compose_actions.h"

#include <algorithm>

#include "error.h"
#include "faces.h"
#include "gauge.h"
#include "measured_curve.h"
#include "neckline.h"
#include "sizing.h"

namespace rt::actions {
namespace {

constexpr Colour kBasting{0xb0b0a8};

std::vector<Piece> copiesOf(const Job& job, const std::vector<int>& ids) {
  std::vector<Piece> out;
  for (int id : ids) out.push_back(pieceOf(job, id));
  return out;
}

/// Pieces of the job as they became.
Job withPieces(Job job, const std::vector<Piece>& changed) {
  for (const Piece& p : changed) pieceOf(job, p.id) = p;
  return job;
}

Job basted(Job job, const Box& box, const std::string& name, const ShopPractice& practice) {
  if (box.empty())
    throw Error("there is nothing to baste around", name, "choose a piece with stitches");
  Piece p = rt::pieceOf(
      bastingAround(box, practice.baste_stitch_mm, kBasting, practice.sewing.ties), name);
  p.id = job.next_piece_id++;
  job.pieces.insert(job.pieces.begin(), std::move(p));
  return job;
}

}  // namespace

Job exchanged(Job job, int id, std::vector<Piece> pieces) {
  const auto at = job.pieces.begin() + (&pieceOf(job, id) - job.pieces.data());
  for (const Piece& p : pieces) job.next_piece_id = std::max(job.next_piece_id, p.id + 1);
  job.pieces.insert(job.pieces.erase(at), std::make_move_iterator(pieces.begin()),
                    std::make_move_iterator(pieces.end()));
  return job;
}

Job anchored(Job job, int id, Anchor anchor) {
  const Box room = Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
  Piece& piece = pieceOf(job, id);
  piece = anchoredAt(piece, anchor, anchorOf(room, anchor));
  return job;
}

Job repeatedInGrid(Job job, int id, const RepeatOptions& options) {
  std::vector<Piece> all = rt::repeatedInGrid(pieceOf(job, id), options, job.next_piece_id);
  return exchanged(std::move(job), id, std::move(all));
}

Job repeatedToward(Job job, int id, Point to, int count) {
  std::vector<Piece> all = repeatedAlongLine(pieceOf(job, id), to, count, job.next_piece_id);
  return exchanged(std::move(job), id, std::move(all));
}

Job repeatedAround(Job job, int id, Point centre, double span_deg, int count) {
  std::vector<Piece> all =
      repeatedAlongArc(pieceOf(job, id), centre, span_deg, count, job.next_piece_id);
  return exchanged(std::move(job), id, std::move(all));
}

Job bordered(Job job, int id, const BorderOptions& options, Border* fit) {
  Border made = borderOf(pieceOf(job, id), options, job.next_piece_id);
  const int group = freeGroup(job);
  for (Piece& p : made.pieces) p.group = group;
  job = exchanged(std::move(job), id, made.pieces);
  if (fit) *fit = std::move(made);
  return job;
}

Job bastedAround(Job job, int id, const ShopPractice& practice) {
  const Piece& piece = pieceOf(job, id);
  const Box box = boundsOf(piece);
  const std::string name = "basting around " + piece.name;
  return basted(std::move(job), box.empty() ? box : box.grown(practice.baste_away_mm), name,
                practice);
}

Job bastedAroundPlace(Job job, const ShopPractice& practice) {
  const Box box = Box::around({0, 0}, job.brief.place_width_mm, job.brief.place_height_mm);
  return basted(std::move(job), box, "basting around the place", practice);
}

Job takenApart(Job job, int id, ApartBy by) {
  std::vector<Piece> parts = rt::takenApart(pieceOf(job, id), by, job.next_piece_id);
  return parts.size() < 2 ? job : exchanged(std::move(job), id, std::move(parts));
}

Job lassoed(Job job, int id, const Ring& ring, int* part) {
  if (part) *part = 0;
  if (ring.size() < 3) return job;
  std::vector<Piece> parts = cutOut(pieceOf(job, id), ring, job.next_piece_id);
  if (parts.size() < 2) return job;
  if (part) *part = parts.back().id;
  return exchanged(std::move(job), id, std::move(parts));
}

Job respaced(Job job, int id, const Bench& bench) {
  Piece& piece = pieceOf(job, id);
  piece = rt::respaced(piece, clothOf(job, bench));
  return job;
}

Job asRead(Job job, int id) {
  Piece& piece = pieceOf(job, id);
  piece = rt::asRead(piece);
  return job;
}

Job blockIs(Job job, int id, size_t block, Kind kind, const Bench& bench) {
  Piece& piece = pieceOf(job, id);
  const size_t blocks = knownBlocks(piece).size();
  if (block >= blocks)
    throw Error("there is no block " + std::to_string(block + 1), "piece " + std::to_string(id),
                blocks == 0 ? "choose a design that was read from a file"
                            : "give 1 to " + std::to_string(blocks));
  piece = withKind(piece, block, kind, clothOf(job, bench));
  return job;
}

Job followingCurve(Job job, int id, const NecklineFit& fit, const Bench& bench) {
  Piece piece = pieceOf(job, id);
  auto* text = std::get_if<TextSource>(&piece.source);
  if (!text)
    throw Error("the piece is no lettering", "piece " + std::to_string(id), "choose lettering");
  text->height_mm = fit.height_mm;
  bendTo(*text, fit.radius_mm);
  text->arc_side = fit.side;
  text->monogram = false;
  job = remadeAs(std::move(job), piece, bench);
  pieceOf(job, id).place = fit.place;
  return job;
}

LetterOptions gapsOf(const TextSource& text) {
  LetterOptions o;
  o.height_mm = text.height_mm;
  o.gap_mm = text.gap_mm;
  o.gaps_mm = text.gaps_mm;
  return o;
}

Job letteredAlong(Job job, int id, const std::vector<Point>& points, double away_mm, bool as_large,
                  const Bench& bench, NecklineFit* fit) {
  const auto* text = std::get_if<TextSource>(&pieceOf(job, id).source);
  if (!text)
    throw Error("the piece is no lettering", "piece " + std::to_string(id), "choose lettering");
  const std::optional<ArcGauge> arc = arcThrough(points);
  if (!arc)
    throw Error(std::to_string(points.size()) + " points make no curve", "points of a curve",
                "give three or more that do not lie on a line");
  NecklineOptions o;
  o.picked = {arc->first, arc->middle, arc->last};
  if (!as_large) o.height_mm = text->height_mm;
  o.away_mm = away_mm;
  o.centre_line_deg = job.brief.centre_line_deg;
  const NecklineFit fitted =
      fitNeckline(composed(text->text), loadFace(bench.data, text->face), gapsOf(*text), o);
  if (fit) *fit = fitted;
  job = followingCurve(std::move(job), id, fitted, bench);
  MeasuredCurve curve;
  curve.given = MeasuredCurve::Given::Points;
  curve.points_mm = points;
  curve.clear_mm = away_mm;
  std::get<TextSource>(pieceOf(job, id).source).curve = std::move(curve);
  return job;
}

Job flush(Job job, const std::vector<int>& ids, int lead, Edge edge) {
  const Box to = boundsOf(pieceOf(job, lead));
  for (int id : ids) {
    Piece& p = pieceOf(job, id);
    const Box b = boundsOf(p);
    const Point by[6] = {
        {to.left - b.left, 0}, {to.centre().x - b.centre().x, 0}, {to.right - b.right, 0},
        {0, to.top - b.top},   {0, to.centre().y - b.centre().y}, {0, to.bottom - b.bottom}};
    if (id != lead) p.place.at = p.place.at + by[static_cast<size_t>(edge)];
  }
  return job;
}

Job evenlySpread(Job job, const std::vector<int>& ids, Axis axis) {
  const std::vector<Piece> spread = distributed(copiesOf(job, ids), axis);
  return withPieces(std::move(job), spread);
}

Job asLargeAs(Job job, int id, int other, bool by_width, const Bench& bench) {
  const Box box = boundsOf(pieceOf(job, other));
  Piece& piece = pieceOf(job, id);
  piece = settled(by_width ? sizedToWidth(piece, box.width()) : sizedToHeight(piece, box.height()),
                  clothOf(job, bench), bench);
  return job;
}

Job scaledWhole(Job job, double factor, const Bench& bench) {
  Box all;
  for (const Piece& p : job.pieces) all.add(boundsOf(p));
  const std::vector<Piece> pieces = job.pieces;
  for (const Piece& p : pieces) {
    const Box box = boundsOf(p);
    const Point middle = all.centre() + (box.centre() - all.centre()) * factor;
    job = sized(std::move(job), p.id, box.width() * factor, 0, true, bench);
    job = centredAt(std::move(job), p.id, middle);
  }
  return job;
}

}  // namespace rt::actions
