#include "sewing_preview.h"

#include "density_map.h"
#include "error.h"
#include "length.h"
#include "statistics.h"

namespace rt {
namespace {

void within(std::optional<double> mm, double low, double high, const char* what) {
  if (mm && !(*mm >= low && *mm <= high))
    throw Error(formatNumber(*mm, 3) + " mm cannot be sewn", what,
                "give " + formatNumber(low, 1) + " to " + formatNumber(high, 1) + " mm");
}

}  // namespace

void requireSewable(const PieceSource& source) {
  if (const auto* art = std::get_if<ArtworkSource>(&source)) {
    within(art->row_spacing_mm, 0.1, 10, "rows apart");
    within(art->satin_spacing_mm, 0.1, 10, "satin spacing");
    within(art->stitch_length_mm, 1, 11, "stitch length");
    within(art->pull_mm, 0, 3, "wider against pull");
  }
  if (const auto* text = std::get_if<TextSource>(&source)) {
    within(text->spacing_mm, 0.1, 10, "satin spacing");
    within(text->pull_mm, 0, 3, "wider against pull");
  }
}

SewnFigures sewnFigures(const Pattern& pattern, const Bench& bench) {
  const Statistics s = statisticsOf(pattern, bench.shop.time);
  const DensitySummary d = summaryOf(pattern);
  return {s.stitches, s.thread_mm, s.sewing_time_s / 60, d.mean_mm_per_mm2, d.peak_mm_per_mm2};
}

SewingPreview sewingPreview(const Piece& piece, const PieceSource& source, const Fabric& fabric,
                            const Bench& bench) {
  Piece then = piece;
  then.source = source;
  then = remade(then, fabric, bench).piece;
  return {sewnFigures(laidOut(piece), bench), sewnFigures(laidOut(then), bench)};
}

}  // namespace rt
