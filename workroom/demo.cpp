#include "demo.h"

#include <cctype>
#include <nlohmann/json.hpp>

#include "border.h"
#include "error.h"
#include "file_io.h"
#include "measured_curve.h"
#include "order.h"

namespace rt {
namespace {

using Json = nlohmann::json;

Placement placementFrom(const Json& p) {
  Placement place;
  if (p.contains("at_mm"))
    place.at = {p["at_mm"].at(0).get<double>(), p["at_mm"].at(1).get<double>()};
  place.turn_deg = p.value("turn_deg", 0.0);
  place.mirrored = p.value("mirrored", false);
  return place;
}

TextSource textFrom(const Json& p) {
  TextSource t;
  t.text = p.at("text").get<std::string>();
  t.face = p.value("face", t.face);
  t.height_mm = p.value("height_mm", t.height_mm);
  t.arc_side = p.value("arc_side", "outside") == "inside" ? ArcSide::Inside : ArcSide::Outside;
  t.gap_mm = p.value("gap_mm", 0.0);
  if (p.contains("spacing_mm")) t.spacing_mm = p["spacing_mm"].get<double>();
  bendTo(t, p.value("arc_radius_mm", 0.0));
  t.colour.rgb = static_cast<uint32_t>(
      std::stoul(p.value("colour", std::string("#8a5a2b")).substr(1), nullptr, 16));
  return t;
}

Piece pieceFrom(const Json& p, const Fabric& fabric, const Bench& bench) {
  Made made;
  if (p.contains("text")) {
    made = pieceFromText(textFrom(p), fabric, bench);
  } else {
    made = pieceFromFile(bench.data / "demo" / p.at("file").get<std::string>(), fabric, bench);
    if (auto* art = std::get_if<ArtworkSource>(&made.piece.source)) {
      art->width_mm = p.value("width_mm", 0.0);
      if (p.contains("row_spacing_mm")) art->row_spacing_mm = p["row_spacing_mm"].get<double>();
      if (p.contains("angle_deg")) art->angle_deg = p["angle_deg"].get<double>();
      made = remade(made.piece, fabric, bench);
    }
  }
  made.piece.name = p.value("name", made.piece.name);
  if (p.contains("border")) {
    const Json& b = p["border"];
    BorderOptions o{
        b.at("width_mm").get<double>(),
        b.at("height_mm").get<double>(),
        b.at("band_mm").get<double>(),
        {},
        b.value("corner", "") == "mitred" ? BorderCorner::Mitred : BorderCorner::Turned};
    made.piece = fused(borderOf(made.piece, o, 1).pieces, made.piece.name);
    // stem by stem, then leaf by leaf: a colour change for each repeat would take hours
    made.piece.stitches =
        std::make_shared<const Pattern>(orderColours(*made.piece.stitches).pattern);
  }
  made.piece.place.at = made.piece.place.at + placementFrom(p).at;
  made.piece.place.turn_deg = placementFrom(p).turn_deg;
  made.piece.place.mirrored = placementFrom(p).mirrored;
  return made.piece;
}

void readBrief(const Json& b, Job& job) {
  job.brief.item = b.value("item", "");
  job.brief.fabric = b.value("fabric", job.brief.fabric);
  job.brief.backing = b.value("backing", job.brief.backing);
  job.brief.order_text = b.value("order_text", "");
  job.brief.customer = b.value("customer", "");
  job.brief.place_width_mm = b.value("place_width_mm", job.brief.place_width_mm);
  job.brief.place_height_mm = b.value("place_height_mm", job.brief.place_height_mm);
  job.plan_settings.hoop = b.value("hoop", job.plan_settings.hoop);
}

}  // namespace

std::vector<std::string> demoJobs(const Bench& bench) {
  const Json index = Json::parse(readFile(bench.data / "demo" / "jobs.json"));
  return index.at("jobs").get<std::vector<std::string>>();
}

Job demoJob(const Bench& bench, const std::string& name) {
  const std::filesystem::path file = bench.data / "demo" / (name + ".job.json");
  const std::string text = readFile(file);
  try {
    const Json root = Json::parse(text);
    Job job;
    job.id = "demo-" + name;
    job.title = root.at("title").get<std::string>();
    readBrief(root.at("brief"), job);
    const Fabric& fabric = fabricById(bench.shop.fabrics, job.brief.fabric);
    for (const Json& p : root.at("pieces")) {
      job.pieces.push_back(pieceFrom(p, fabric, bench));
      job.pieces.back().id = job.next_piece_id++;
    }
    for (const Json& z : root.value("zones", Json::array())) {
      Zone zone{z.at("name").get<std::string>(),
                z.at("kind") == "thick" ? ZoneKind::Thick : ZoneKind::KeepOut,
                {},
                z.value("layers", 2),
                0};
      for (const Json& p : z.at("polygon_mm"))
        zone.polygon_mm.push_back({p.at(0).get<double>(), p.at(1).get<double>()});
      job.zones.push_back(std::move(zone));
    }
    return job;
  } catch (const Json::exception& problem) {
    throw Error(std::string("the demo job cannot be read: ") + problem.what(), file.string(),
                "install the program again");
  }
}

std::filesystem::path demoScan(const Bench& bench, const Job& job, int hooping) {
  std::string name;
  for (char c : job.title)
    if (std::isalnum(static_cast<unsigned char>(c)))
      name += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    else if (!name.empty() && name.back() != '-')
      name += '-';
  return bench.data / "demo" / "scans" / (name + "-" + std::to_string(hooping) + ".jpg");
}

}  // namespace rt
