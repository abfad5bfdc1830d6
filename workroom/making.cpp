#include "making.h"

#include "artwork.h"
#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "length.h"
#include "making_words.h"
#include "resize.h"
#include "stitch_file.h"
#include "stitch_svg.h"

namespace rt {
namespace {

std::string shortName(const std::filesystem::path& path) {
  std::string name = path.stem().string();
  if (const size_t dot = name.find('.'); dot != std::string::npos && dot > 0) name.resize(dot);
  return name.empty() ? "piece" : name;
}

void sewArtwork(Made& made, const ArtworkSource& source, const Fabric& fabric, const Bench& bench) {
  Artwork artwork = readArtwork(source.svg, source.file);
  placeArtwork(artwork, source.width_mm);
  sizeArtwork(artwork, source.scale_x, source.scale_y);
  DigitiseOptions o;
  o.fill.row_spacing_mm = source.row_spacing_mm.value_or(fabric.spacing.rows_mm);
  o.satin.spacing_mm = source.satin_spacing_mm.value_or(fabric.spacing.satin_mm);
  o.fill.stitch_length_mm = source.stitch_length_mm;
  o.fill.pull_mm = o.satin.pull_mm = source.pull_mm.value_or(fabric.pull_compensation_mm);
  o.least_column_mm = fabric.least_column_mm;
  o.angle_deg = source.angle_deg;
  o.underlay = source.underlay;
  o.satin.rule = bench.shop.practice.sewing.columns;
  o.ties = bench.shop.practice.sewing.ties;
  Digitised done = digitiseArtwork(artwork, o, made.piece.name);
  made.warnings = done.warnings;
  Pattern sewn = rethreaded(std::move(done.pattern), [&](Colour drawn) {
    for (const ThreadSwap& swap : source.threads)
      if (swap.drawn == drawn) return swap.sewn;
    return drawn;
  });
  made.piece.stitches = std::make_shared<const Pattern>(std::move(sewn));
}

/// Letters are sewn in finer columns than drawings, but not where every hole stays.
double leastColumn_mm(const Fabric& fabric) {
  return fabric.holes_tear ? fabric.least_column_mm : std::min(0.8, fabric.least_column_mm);
}

LetterOptions optionsOf(const TextSource& source, const Fabric& fabric, const Bench& bench) {
  LetterOptions o;
  o.height_mm = source.height_mm;
  o.arc_radius_mm = source.arc_radius_mm;
  o.arc_side = source.arc_side;
  o.gap_mm = source.gap_mm;
  o.gaps_mm = source.gaps_mm;
  o.line_spacing = source.line_spacing;
  o.least_column_mm = leastColumn_mm(fabric);
  o.spacing_mm = source.spacing_mm.value_or(fabric.spacing.satin_mm);
  o.pull_mm = source.pull_mm.value_or(fabric.pull_compensation_mm);
  o.colour = source.colour;
  o.rules = bench.shop.practice.sewing;
  return o;
}

void sewText(Made& made, const TextSource& source, const Fabric& fabric, const Bench& bench) {
  Lettering done = letteringOf(source, fabric, bench);
  made.warnings = allInWords(done.warnings);
  if (source.height_mm < fabric.least_letter_mm)
    made.warnings.push_back("letters of " + formatNumber(source.height_mm, 1) +
                            " mm are under the " + formatNumber(fabric.least_letter_mm, 1) +
                            " mm that this shop saw hold on " + fabric.name);
  if (source.stretch != 1) {
    RespaceOptions wider;
    wider.scale_x = source.stretch;
    wider.least_column_mm = leastColumn_mm(fabric);
    done.pattern = resizeRespacing(done.pattern, wider).pattern;
  }
  made.piece.stitches = std::make_shared<const Pattern>(std::move(done.pattern));
}

}  // namespace

Bench openBench() {
  Bench bench;
  bench.data = dataFolder();
  bench.shop = readShopData(bench.data);
  return bench;
}

LimitFactors limitFactorsOf(const Brief& brief, const Bench& bench) {
  const Materials m{brief.backing, brief.topper, static_cast<double>(brief.needle_nm),
                    static_cast<double>(brief.thread_weight)};
  return factorsFor(fabricById(bench.shop.fabrics, brief.fabric), m, bench.shop.materials);
}

PlanOptions planOptionsOf(const Job& job, const Bench& bench) {
  const PlanSettings& settings = job.plan_settings;
  PlanOptions options;
  options.hoops = {hoopFor(bench.shop.hoops, settings.hoop)};
  options.overlap_mm = settings.overlap_mm;
  options.turn = settings.turn;
  for (const std::string& hoop : settings.more_hoops)
    if (hoop != settings.hoop) options.hoops.push_back(hoopFor(bench.shop.hoops, hoop));
  options.style = settings.style;
  options.order = settings.order;
  options.order_by_hand = settings.order_by_hand;
  options.cuts = settings.cuts;
  options.mark_error_mm = markError_mm(settings.school, bench.shop.practice.marks);
  options.rule = bench.shop.practice.hooping;
  // a name that is no longer in the layout asks for nothing
  for (const std::string& keep : settings.keep)
    if (std::any_of(job.pieces.begin(), job.pieces.end(),
                    [&](const Piece& p) { return p.name == keep; }))
      options.keep.push_back(keep);
  for (const PinnedFrame& p : settings.pinned)
    if (std::any_of(options.hoops.begin(), options.hoops.end(),
                    [&](const Hoop& h) { return h.id == p.hoop; }))
      options.pinned.push_back(p);
  for (const Zone& z : job.zones)
    if (z.kind == ZoneKind::KeepOut) options.keep_out.push_back({z.name, z.polygon_mm});
  return options;
}

Fabric clothOf(const Brief& brief, const Bench& bench) {
  return withFactors(fabricById(bench.shop.fabrics, brief.fabric), limitFactorsOf(brief, bench));
}

Fabric sewnOn(Fabric cloth, const SequenceSettings& settings) {
  if (settings.cloth && settings.cloth->learned_from > 0) cloth.pull_compensation_mm = 0;
  return cloth;
}

Fabric clothOf(const Job& job, const Bench& bench) {
  return sewnOn(clothOf(job.brief, bench), job.sequence);
}

Made pieceFromFile(const std::filesystem::path& path, const Fabric& fabric, const Bench& bench) {
  Made made;
  made.piece.name = shortName(path);
  const std::string text = readFile(path);
  if (kindOfFile(text) == FileKind::Artwork) {
    ArtworkSource source;
    source.file = path.filename().string();
    source.svg = text;
    made.piece.source = source;
    return remade(made.piece, fabric, bench);
  }
  ReadResult read = readStitchFile(path);
  made.warnings = read.warnings;
  made.piece.source = StitchSource{path.filename().string(), nullptr, 1, 1, 1};
  if (!read.pattern.title.empty()) made.piece.name = read.pattern.title;
  if (threadBounds(read.pattern).empty())
    throw Error("the file holds no sewn thread", path.string(), "choose a file with stitches");
  made.piece.place.at = centre(read.pattern);
  made.piece.stitches = std::make_shared<const Pattern>(std::move(read.pattern));
  return made;
}

Made pieceFromText(const TextSource& source, const Fabric& fabric, const Bench& bench) {
  Made made;
  made.piece.name = source.text;
  made.piece.source = source;
  return remade(made.piece, fabric, bench);
}

Lettering letteringOf(const TextSource& source, const Fabric& fabric, const Bench& bench) {
  const Face face = loadFace(bench.data, source.face);
  const LetterOptions options = optionsOf(source, fabric, bench);
  if (!source.monogram) return letter(composed(source.text), face, options);
  MonogramOptions o = monogramOptions(bench.shop.practice);
  o.letters = options;
  o.frame = source.frame;
  o.frame_mm = std::max(o.frame_mm, fabric.least_column_mm);
  return monogram(composed(source.text), face, o);
}

Made remade(const Piece& piece, const Fabric& fabric, const Bench& bench) {
  Made made{piece, {}};
  if (const auto* art = std::get_if<ArtworkSource>(&piece.source))
    sewArtwork(made, *art, fabric, bench);
  if (const auto* text = std::get_if<TextSource>(&piece.source))
    sewText(made, *text, fabric, bench);
  return made;
}

}  // namespace rt
