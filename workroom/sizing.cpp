#include "sizing.h"

#include <algorithm>

#include "density_map.h"
#include "measured_curve.h"
#include "resize.h"
#include "statistics.h"

namespace rt {
namespace {

constexpr double kRest = 0.02;  // what may be left to stretching, so that sizes come out exact

bool sized(const Placement& p) {
  return std::abs(p.scale_x - 1) > kRest || std::abs(p.scale_y - 1) > kRest;
}

/// Stretches what was made again by the last hundredths that a digitiser does not meet.
void meetExactly(Piece& made, double width_mm, double height_mm) {
  const Box got = threadBounds(*made.stitches);
  auto rest = [](double want, double have) {
    const double r = have > 0 ? want / have : 1;
    return std::abs(r - 1) <= kRest ? r : 1;
  };
  made.place.scale_x = rest(width_mm, got.width());
  made.place.scale_y = rest(height_mm, got.height());
}

std::shared_ptr<const Pattern> bareOf(const Piece& piece) {
  const auto& source = std::get<StitchSource>(piece.source);
  return source.bare ? source.bare : piece.stitches;
}

/// Scale of what is on the cloth against the stitches as read.
std::pair<double, double> scaleOf(const Piece& piece) {
  const auto& source = std::get<StitchSource>(piece.source);
  return {source.scale_x * piece.place.scale_x, source.scale_y * piece.place.scale_y};
}

RespaceOptions optionsFor(const Piece& piece, const Fabric& fabric, double spacing_factor) {
  RespaceOptions o;
  std::tie(o.scale_x, o.scale_y) = scaleOf(piece);
  o.spacing_factor = spacing_factor;
  o.built_in_pull_mm = fabric.pull_compensation_mm;
  o.least_column_mm = fabric.least_column_mm;
  return o;
}

double spacingOf(const Resized& r, bool after) {
  double spacing = 0;
  size_t most = 0;
  for (const ResizedBlock& b : r.blocks)
    if (b.kind != Kind::Run && b.stitches_before > most)
      most = b.stitches_before, spacing = after ? b.spacing_after_mm : b.spacing_before_mm;
  return spacing;
}

}  // namespace

Piece settled(const Piece& piece, const Fabric& fabric, const Bench& bench) {
  if (!sized(piece.place)) return piece;
  Piece next = piece;
  if (auto* art = std::get_if<ArtworkSource>(&next.source)) {
    art->scale_x *= piece.place.scale_x;
    art->scale_y *= piece.place.scale_y;
  } else if (auto* text = std::get_if<TextSource>(&next.source)) {
    const double s = piece.place.scale_y;
    text->height_mm *= s;
    if (text->curve.given == MeasuredCurve::Given::Radius) text->curve.radius_mm *= s;
    follow(*text);  // a curve that was measured on the item stays
    text->gap_mm *= s;
    for (double& gap : text->gaps_mm) gap *= s;
    text->stretch *= piece.place.scale_x / s;
    if (std::abs(text->stretch - 1) < 1e-6) text->stretch = 1;
  } else {
    return piece;
  }
  next.place.scale_x = next.place.scale_y = 1;
  const Box was = threadBounds(*piece.stitches);
  next = remade(next, fabric, bench).piece;
  meetExactly(next, was.width() * piece.place.scale_x, was.height() * piece.place.scale_y);
  return next;
}

Piece respaced(const Piece& piece, const Fabric& fabric, double spacing_factor) {
  if (!std::holds_alternative<StitchSource>(piece.source)) return piece;
  const RespaceOptions o = optionsFor(piece, fabric, spacing_factor);
  Piece next = piece;
  auto& source = std::get<StitchSource>(next.source);
  source.bare = bareOf(piece);
  source.scale_x = o.scale_x;
  source.scale_y = o.scale_y;
  source.spacing_factor = spacing_factor;
  next.stitches = std::make_shared<const Pattern>(resizeRespacing(*source.bare, o).pattern);
  next.place.scale_x = next.place.scale_y = 1;
  return next;
}

Piece asRead(const Piece& piece) {
  const auto* source = std::get_if<StitchSource>(&piece.source);
  if (!source || !source->bare) return piece;
  Piece next = piece;
  std::tie(next.place.scale_x, next.place.scale_y) = scaleOf(piece);
  next.stitches = source->bare;
  next.source = StitchSource{source->file, nullptr, 1, 1, 1};
  return next;
}

std::vector<KnownBlock> knownBlocks(const Piece& piece) {
  std::vector<KnownBlock> out;
  if (!std::holds_alternative<StitchSource>(piece.source)) return out;
  const Pattern laid = laidOut(piece);
  for (const Block& b : blocksOf(laid))
    out.push_back({recognisedBlock(laid, b), declaredKind(laid, b), b.stitches, b.bounds});
  return out;
}

Piece withKind(const Piece& piece, size_t block, Kind kind, const Fabric& fabric) {
  const auto* source = std::get_if<StitchSource>(&piece.source);
  if (!source) return piece;
  Pattern bare = source->bare ? *source->bare : *piece.stitches;
  const std::vector<Block> blocks = blocksOf(bare);
  if (block >= blocks.size()) return piece;
  for (size_t row = blocks[block].first; row < blocks[block].last; ++row) {
    Stitch& s = bare.stitches[row];
    if (s.op == Op::Stitch && s.kind != Kind::Tie && s.kind != Kind::Underlay) s.kind = kind;
  }
  Piece next = piece;
  auto shared = std::make_shared<const Pattern>(std::move(bare));
  if (!source->bare) {
    next.stitches = std::move(shared);
    return next;
  }
  std::get<StitchSource>(next.source).bare = std::move(shared);
  return respaced(next, fabric, source->spacing_factor);
}

SizingChoice sizingChoice(const Piece& piece, const Fabric& fabric, const Bench& bench) {
  SizingChoice c;
  if (!std::holds_alternative<StitchSource>(piece.source)) return c;
  const std::shared_ptr<const Pattern> bare = bareOf(piece);
  std::tie(c.scale_x, c.scale_y) = scaleOf(piece);
  const Resized kept = resizeKeeping(*bare, c.scale_x, c.scale_y);
  const Resized again = resizeRespacing(*bare, optionsFor(piece, fabric, 1));
  const Statistics a = statisticsOf(kept.pattern, bench.shop.time);
  const Statistics b = statisticsOf(again.pattern, bench.shop.time);
  c.stitches_kept = a.stitches;
  c.stitches_respaced = b.stitches;
  c.thread_kept_mm = a.thread_mm;
  c.thread_respaced_mm = b.thread_mm;
  c.minutes_kept = a.sewing_time_s / 60;
  c.minutes_respaced = b.sewing_time_s / 60;
  c.spacing_kept_mm = spacingOf(kept, true);
  c.spacing_respaced_mm = spacingOf(again, true);
  const DensitySummary now = summaryOf(kept.pattern), then = summaryOf(again.pattern);
  c.peak_kept = now.peak_mm_per_mm2;
  c.peak_respaced = then.peak_mm_per_mm2;
  c.holes_kept = now.peak_holes_per_mm2;
  c.holes_respaced = then.peak_holes_per_mm2;
  c.respacing_advised = respacingAdvised(c.scale_x, c.scale_y);
  c.machine_density_percent = machineDensity_percent(c.scale_x, c.scale_y);
  return c;
}

}  // namespace rt
