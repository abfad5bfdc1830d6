// info, density, resize
#include <charconv>
#include <cstdio>

#include "commands.h"
#include "density_png.h"
#include "density_words.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "findings.h"
#include "length.h"
#include "making_words.h"
#include "remedies.h"
#include "resize.h"
#include "stitch_file.h"

namespace rt::cli {
namespace {

constexpr size_t kMostCured = 6;  // findings that remedies are computed for, worst first

struct DensityWords {
  std::string file, fabric = "woven-cotton", zones, map, png;
  double scale = 1, cell = 0.25;
  bool respace = false;
  std::string backing;
  bool topper = false, noTopper = false;
  double needle_nm = 75, thread_weight = 40;
};

Json remedyJson(const Remedy& r) {
  Json out{{"kind", r.kind}, {"text", inWords(r)}, {"value", r.value}, {"result", r.result}};
  if (r.kind == "move") out["move_mm"] = pair(r.move_mm);
  if (r.block >= 0) out["block"] = r.block + 1;
  out["verdict"] = name(r.verdict);
  return out;
}

Json findingJson(const Finding& f, const Remedy* scale) {
  Json remedies = Json::array();
  for (const Remedy& r : f.remedies) remedies.push_back(remedyJson(r));
  if (scale && scale->value > 0 && (f.kind == FindingKind::Density || f.kind == FindingKind::Holes))
    remedies.push_back(remedyJson(*scale));
  return {{"kind", name(f.kind)},
          {"severity", name(f.severity)},
          {"at_mm", pair(f.at)},
          {"bounds", boundsJson(f.bounds)},
          {"area_mm2", f.area_mm2},
          {"value", f.value},
          {"limit", f.limit},
          {"cause", inWords(f)},
          {"cause_kind", name(f.cause.kind)},
          {"layers", f.cause.covers},
          {"remedies", remedies}};
}

std::string mapCsv(const Weighing& w) {
  std::string out = "x_mm,y_mm,density\n";
  char line[96];
  for (int64_t row = 0; row < w.frame.rows; ++row)
    for (int64_t column = 0; column < w.frame.columns; ++column) {
      const Point p = w.frame.lattice.sample(column, row);
      const int n = std::snprintf(line, sizeof line, "%.4f,%.4f,%.4f\n", p.x, p.y,
                                  w.map.density(column, row));
      out.append(line, static_cast<size_t>(n));
    }
  return out;
}

/// The fabric with what it is sewn with taken into its limits.
Fabric clothFor(const DensityWords& words, const ShopData& shop) {
  const Fabric& fabric = fabricById(shop.fabrics, words.fabric);
  if (!(words.needle_nm >= 50) || !(words.needle_nm <= 200))
    throw Error("a needle of size " + formatNumber(words.needle_nm, 0) + " is not to be had",
                "needle", "give hundredths of a millimetre, 60 to 110");
  if (!(words.thread_weight >= 5) || !(words.thread_weight <= 200))
    throw Error("thread of weight " + formatNumber(words.thread_weight, 0) + " is not to be had",
                "thread weight", "give the weight number, 12 to 60");
  Materials m{words.backing.empty() ? fabric.backing : words.backing,
              words.topper || (!words.noTopper && !fabric.topper.empty()), words.needle_nm,
              words.thread_weight};
  return withFactors(fabric, factorsFor(fabric, m, shop.materials));
}

Json density(const DensityWords& words, const Session& session) {
  const ShopData shop = session.bench().shop;
  const Fabric fabric = clothFor(words, shop);
  if (!(words.cell >= 0.05) || !(words.cell <= 1))
    throw Error("a cell of " + formatNumber(words.cell, 3) + " mm is no use for a disc of 1 mm",
                "cell", "give 0.05 to 1 mm; 0.25 is usual");
  if (!(words.scale > 0) || !(words.scale <= 100))
    throw Error("a scale of " + formatNumber(words.scale, 3) + " cannot be sewn", "scale",
                "give a scale over 0 and up to 100");
  const std::vector<Zone> zones =
      words.zones.empty() ? std::vector<Zone>{} : readZones(words.zones);
  Pattern pattern = readPattern(words.file);
  if (words.respace) {
    RespaceOptions o;
    o.scale_x = o.scale_y = words.scale;
    o.least_column_mm = fabric.least_column_mm;
    pattern = resizeRespacing(pattern, o).pattern;
  } else if (words.scale != 1) {
    pattern = transformed(std::move(pattern), Transform::scaling(words.scale, words.scale));
  }
  const Weighing w = weigh(pattern, fabric, zones, words.cell);
  if (!words.map.empty()) {
    if (w.frame.columns * w.frame.rows > 200'000'000)
      throw Error("the map would have over 200 million rows", "map", "take a larger --cell");
    writeFile(words.map, mapCsv(w));
  }
  if (!words.png.empty()) writeDensityPng(w, fabric.density_mm_per_mm2, words.png);
  const DensityReport& r = w.report;
  Remedy scale;
  const bool heavy = std::any_of(r.findings.begin(), r.findings.end(), [](const Finding& f) {
    return f.kind == FindingKind::Density || f.kind == FindingKind::Holes;
  });
  if (heavy && pattern.stitches.size() < 300'000) scale = remedyScale(pattern, fabric, zones);
  Json findings = Json::array();
  size_t cured = 0;
  for (Finding f : r.findings) {
    if (cured++ < kMostCured && pattern.stitches.size() < 300'000)
      f.remedies = remediesFor(pattern, f, fabric, zones);
    findings.push_back(findingJson(f, heavy ? &scale : nullptr));
  }
  return {{"fabric", fabric.id},
          {"limit_mm_per_mm2", r.limit_mm_per_mm2},
          {"mean_mm_per_mm2", r.summary.mean_mm_per_mm2},
          {"peak_mm_per_mm2", r.summary.peak_mm_per_mm2},
          {"peak_at_mm", pair(r.summary.peak_at)},
          {"covered_area_mm2", r.summary.covered_mm2},
          {"over_limit_area_mm2", r.over_limit_mm2},
          {"peak_penetrations_per_mm2", r.summary.peak_holes_per_mm2},
          {"thread_length_mm", statisticsOf(pattern, shop.time).thread_mm},
          {"findings", findings},
          {"verdict", name(r.verdict)}};
}

struct ResizeWords {
  std::string file, out;
  double scale = 0, scale_y = 0;
  std::string width, height, fabric = "woven-cotton";
  double pull = 0;
  bool keep = false, respace = false, hasScaleY = false;
};

double factor(const std::string& typed, double now, const char* what) {
  const double want = parseLength_mm(typed);
  if (!(now > 0)) throw Error(std::string("the design has no ") + what, what, "give a --scale");
  if (!(want > 0))
    throw Error(std::string("a ") + what + " of " + typed + " cannot be sewn", what,
                "give one over 0 mm");
  return want / now;
}

Resized resized(const ResizeWords& words, const Pattern& pattern, double sx, double sy,
                const Fabric& fabric, bool respace) {
  if (!respace) return resizeKeeping(pattern, sx, sy);
  RespaceOptions o;
  o.scale_x = sx;
  o.scale_y = sy;
  o.built_in_pull_mm = words.pull;
  o.least_column_mm = fabric.least_column_mm;
  return resizeRespacing(pattern, o);
}

Json resize(const ResizeWords& words, const Session& session) {
  const ShopData shop = session.bench().shop;
  const Fabric& fabric = fabricById(shop.fabrics, words.fabric);
  const Pattern pattern = readPattern(words.file);
  const Box bounds = threadBounds(pattern);
  double scale = words.scale;
  if (!words.width.empty()) scale = factor(words.width, bounds.width(), "width");
  if (!words.height.empty()) scale = factor(words.height, bounds.height(), "height");
  const double scaleY = words.hasScaleY ? words.scale_y : scale;
  const bool respace = words.respace || (!words.keep && respacingAdvised(scale, scaleY));
  const Resized r = resized(words, pattern, scale, scaleY, fabric, respace);
  writeStitchFile(words.out, r.pattern);
  Json blocks = Json::array();
  for (const ResizedBlock& b : r.blocks)
    blocks.push_back({{"kind", name(b.kind)},
                      {"spacing_before_mm", b.spacing_before_mm},
                      {"spacing_after_mm", b.spacing_after_mm},
                      {"stitches_before", b.stitches_before},
                      {"stitches_after", b.stitches_after}});
  return {{"scale_x", scale},
          {"scale_y", scaleY},
          {"method", respace ? "respace" : "keep-stitches"},
          {"stitches_before", statisticsOf(pattern, shop.time).stitches},
          {"stitches_after", statisticsOf(r.pattern, shop.time).stitches},
          {"machine_density_percent", machineDensity_percent(scale, scaleY)},
          {"blocks", blocks},
          {"warnings", allInWords(r.warnings)}};
}

}  // namespace

void addInfo(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "info", "What a stitch file amounts to");
  auto file = std::make_shared<std::string>();
  c->add_option("FILE", *file, "Stitch list or stitch drawing")->required();
  c->callback([&session, file] {
    session.run = [&session, file] { return infoOf(readPattern(*file), session.bench().shop); };
  });
}

void addDensity(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "density", "Thread and holes per area, findings and verdict");
  auto words = std::make_shared<DensityWords>();
  c->add_option("FILE", words->file, "Stitch list or stitch drawing")->required();
  c->add_option("--scale", words->scale, "Answer for the design scaled");
  c->add_flag("--respace", words->respace, "Sew it again at its own spacing at that scale");
  c->add_option("--fabric", words->fabric, "Fabric id");
  c->add_option("--needle", words->needle_nm, "Needle size, hundredths of a mm; 75 is usual");
  c->add_option("--thread-weight", words->thread_weight, "Thread's weight number; 40 is usual");
  c->add_option("--backing", words->backing, "Backing, if not the fabric's own: cut-away, none");
  CLI::Option* topper = c->add_flag("--topper", words->topper, "With a topper");
  c->add_flag("--no-topper", words->noTopper, "Without the fabric's usual topper")
      ->excludes(topper);
  c->add_option("--cell", words->cell, "Sample spacing, mm");
  c->add_option("--zones", words->zones, "Zones, JSON");
  c->add_option("--map", words->map, "Write every sample, CSV")->check(named);
  c->add_option("--png", words->png, "Write the map as a picture, PNG")->check(named);
  c->callback(
      [&session, words] { session.run = [&session, words] { return density(*words, session); }; });
}

void addResize(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "resize", "Scale a stitch file");
  auto words = std::make_shared<ResizeWords>();
  c->add_option("FILE", words->file, "Stitch list or stitch drawing")->required();
  CLI::Option_group* how = c->add_option_group("size", "How large");
  how->add_option("--scale", words->scale, "Factor");
  how->add_option("--width", words->width, "Finished width, mm (or with a unit)");
  how->add_option("--height", words->height, "Finished height, mm (or with a unit)");
  how->require_option(1);
  CLI::Option* y = c->add_option("--scale-y", words->scale_y, "Factor in y, if another");
  CLI::Option* keep = c->add_flag("--keep-stitches", words->keep, "Keep every stitch");
  c->add_flag("--respace", words->respace, "Sew it again at its own spacing")->excludes(keep);
  c->add_option("--fabric", words->fabric, "Fabric id, for the least width of columns");
  c->add_option("--pull", words->pull, "Pull compensation in the design, kept as it is, mm");
  c->add_option("-o", words->out, "File to write")->required()->check(named);
  c->callback([&session, words, y] {
    words->hasScaleY = y->count() > 0;
    session.run = [&session, words] { return resize(*words, session); };
  });
}

}  // namespace rt::cli
