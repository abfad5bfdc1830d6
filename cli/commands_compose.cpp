// digitise, faces, letter, arc
#include "artwork.h"
#include "commands.h"
#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "length.h"
#include "making_words.h"
#include "monogram.h"
#include "stitch_file.h"
#include "thread_list.h"

namespace rt::cli {
namespace {

/// What is sewn on and with, where spacings and pull are to follow from it.
struct ClothWords {
  std::string fabric;
  int thread = 40;
};

/// Spacings, pull and least column of a fabric and a thread; those of every cloth without a fabric.
Fabric clothFrom(const ClothWords& words, const ShopData& shop) {
  Fabric bare;
  bare.pull_compensation_mm = FillOptions{}.pull_mm;
  bare.least_column_mm = DigitiseOptions{}.least_column_mm;
  const Fabric& fabric = words.fabric.empty() ? bare : fabricById(shop.fabrics, words.fabric);
  Materials m;
  m.backing = fabric.backing;
  m.topper = !fabric.topper.empty();
  m.thread_weight = words.thread;
  return withFactors(fabric, factorsFor(fabric, m, shop.materials));
}

void addCloth(CLI::App* c, ClothWords& words) {
  c->add_option("--fabric", words.fabric, "Spacing and pull as this fabric asks for");
  c->add_option("--thread-weight", words.thread, "12 to 100; 40 is usual, higher is finer")
      ->check(CLI::Range(12, 100));
}

struct DigitiseWords {
  std::string file, out, width, threads, underlay = "light";
  std::optional<double> row_spacing, pull;
  double stitch_length = 3.5, angle = 0;
  bool hasAngle = false;
  ClothWords cloth;
};

void requireRange(double value, double low, double high, const char* option) {
  if (!(value >= low) || !(value <= high))
    throw Error(formatNumber(value, 3) + " cannot be sewn", option,
                "give " + formatNumber(low, 2) + " to " + formatNumber(high, 2));
}

DigitiseOptions optionsFrom(const DigitiseWords& words, const SewingRules& rules,
                            const Fabric& cloth) {
  const double rows = words.row_spacing.value_or(cloth.spacing.rows_mm),
               pull = words.pull.value_or(cloth.pull_compensation_mm);
  requireRange(rows, 0.1, 10, "--row-spacing");
  requireRange(words.stitch_length, 1, 11, "--stitch-length");
  requireRange(pull, 0, 3, "--pull");
  DigitiseOptions o;
  o.satin.spacing_mm = cloth.spacing.satin_mm;
  o.least_column_mm = cloth.least_column_mm;
  o.satin.rule = rules.columns;
  o.ties = rules.ties;
  o.fill.row_spacing_mm = rows;
  o.fill.stitch_length_mm = words.stitch_length;
  o.fill.pull_mm = o.satin.pull_mm = pull;
  if (words.hasAngle) {
    requireRange(words.angle, -360, 360, "--angle");
    o.angle_deg = words.angle;
  }
  o.underlay = words.underlay == "none"   ? Underlay::None
               : words.underlay == "full" ? Underlay::Full
                                          : Underlay::Light;
  return o;
}

Json digitise(const DigitiseWords& words, const Session& session) {
  const ShopData shop = session.bench().shop;
  const DigitiseOptions options =
      optionsFrom(words, shop.practice.sewing, clothFrom(words.cloth, shop));
  const std::string text = readFile(words.file);
  if (kindOfFile(text) == FileKind::StitchDrawing)
    throw Error("this is a stitch drawing already", words.file, "open it as a stitch file");
  Artwork artwork = readArtwork(text, words.file);
  double width = 0;
  if (!words.width.empty()) {
    width = parseLength_mm(words.width);
    requireRange(width, 1, 5000, "--width");
  }
  placeArtwork(artwork, width);
  const std::vector<ShelfThread> shelf =
      words.threads.empty() ? std::vector<ShelfThread>{} : readThreads(words.threads);
  Digitised made =
      digitiseArtwork(artwork, options, std::filesystem::path(words.file).stem().string());
  made.pattern = onShelf(made.pattern, shelf);
  writeStitchFile(words.out, made.pattern);
  Json answer = infoOf(made.pattern, shop);
  Json shapes = Json::array();
  for (const SewnShape& s : made.shapes)
    shapes.push_back({{"element", s.element},
                      {"kind", s.kind == Kind::Unknown ? "unsewn" : std::string(name(s.kind))},
                      {"area_mm2", s.area_mm2}});
  answer["shapes"] = shapes;
  answer["warnings"] = made.warnings;
  return answer;
}

Json faces(const Session& session) {
  Json list = Json::array();
  for (const Face& f : listFaces(session.data))
    list.push_back({{"id", f.id},
                    {"name", f.name},
                    {"style", f.style},
                    {"joins", f.joins},
                    {"min_height_mm", f.min_height_mm},
                    {"max_height_mm", f.max_height_mm},
                    {"licence", f.licence},
                    {"file", f.file}});
  return {{"faces", list}};
}

struct LetterWords {
  std::string text, face, out, side;
  double height = 0, radius = 0, chord = 0, sagitta = 0, turn = 0, gap = 0;
  std::string monogram;
  std::optional<double> spacing, pull;
  ClothWords cloth;
  bool onArc = false, fromChord = false;
};

MonogramFrame frameNamed(const std::string& word) {
  return word == "circle"    ? MonogramFrame::Circle
         : word == "diamond" ? MonogramFrame::Diamond
         : word == "shield"  ? MonogramFrame::Shield
                             : MonogramFrame::Bare;
}

Json letterCommand(const LetterWords& words, const Session& session) {
  const ShopData shop = session.bench().shop;
  LetterOptions o;
  o.rules = shop.practice.sewing;
  const Fabric cloth = clothFrom(words.cloth, shop);
  o.spacing_mm = words.spacing.value_or(cloth.spacing.satin_mm);
  o.pull_mm = words.pull.value_or(cloth.pull_compensation_mm);
  o.least_column_mm =
      cloth.holes_tear ? cloth.least_column_mm : std::min(o.least_column_mm, cloth.least_column_mm);
  requireRange(o.spacing_mm, 0.1, 10, "--spacing");
  requireRange(o.pull_mm, 0, 3, "--pull");
  o.height_mm = words.height;
  o.turn_deg = words.turn;
  o.gap_mm = words.gap;
  o.arc_side = words.side == "outside" ? ArcSide::Outside : ArcSide::Inside;
  if (words.fromChord) o.arc_radius_mm = arcFromChord(words.chord, words.sagitta).radius_mm;
  if (words.onArc) {
    if (!(words.radius > 0))
      throw Error("an arc radius must be over 0 mm", "--arc-radius",
                  "leave it out for straight text");
    o.arc_radius_mm = words.radius;
  }
  const Face face = loadFace(session.data, words.face);
  const std::string text = composed(words.text);
  MonogramOptions framed = monogramOptions(shop.practice);
  framed.letters = o;
  framed.frame = frameNamed(words.monogram);
  const Lettering made =
      words.monogram.empty() ? letter(text, face, o) : monogram(text, face, framed);
  writeStitchFile(words.out, made.pattern);
  Json answer = infoOf(made.pattern, shop);
  answer["width_mm"] = answer["bounds"]["width_mm"];
  answer["height_mm"] = answer["bounds"]["height_mm"];
  answer["arc_radius_mm"] = o.arc_radius_mm > 0 ? Json(o.arc_radius_mm) : Json(nullptr);
  answer["span_deg"] = made.span_deg;
  Json glyphs = Json::array();
  for (const PlacedGlyph& g : made.glyphs)
    glyphs.push_back(
        {{"text", g.text},
         {"x_mm", g.at.x},
         {"y_mm", g.at.y},
         {"angle_deg", g.angle_deg},
         {"gap_to_next_mm", g.gap_to_next_mm ? Json(*g.gap_to_next_mm) : Json(nullptr)},
         {"joined_to_next", g.joined_to_next ? Json(*g.joined_to_next) : Json(nullptr)}});
  answer["glyphs"] = glyphs;
  answer["warnings"] = allInWords(made.warnings);
  return answer;
}

Point pointFrom(const std::string& text) {
  double x = 0, y = 0;
  char extra = 0;
  if (std::sscanf(text.c_str(), "%lf,%lf%c", &x, &y, &extra) != 2 || !std::isfinite(x + y))
    throw CLI::ValidationError("--points", "\"" + text + "\" is not a point like 12.5,-3");
  return {x, y};
}

}  // namespace

void addDigitise(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "digitise", "Artwork SVG into stitches");
  auto w = std::make_shared<DigitiseWords>();
  c->add_option("ART", w->file, "Artwork, SVG")->required();
  c->add_option("--width", w->width, "Finished width of the ink, mm (or with a unit)");
  c->add_option("--row-spacing", w->row_spacing, "Between thread lines of a fill, mm");
  c->add_option("--stitch-length", w->stitch_length, "Along a fill's rows, mm");
  CLI::Option* angle = c->add_option("--angle", w->angle, "Of fill rows, degrees clockwise");
  c->add_option("--threads", w->threads, "Thread list, CSV: colours go to the nearest thread");
  c->add_option("--underlay", w->underlay, "none, light or full")
      ->check(CLI::IsMember({"none", "light", "full"}));
  c->add_option("--pull", w->pull, "Pull compensation, mm in all");
  addCloth(c, w->cloth);
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback([&session, w, angle] {
    w->hasAngle = angle->count() > 0;
    session.run = [&session, w] { return digitise(*w, session); };
  });
}

void addFaces(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "faces", "The faces that ship with the program");
  c->callback([&session] { session.run = [&session] { return faces(session); }; });
}

void addLetter(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "letter", "One line of text into stitches");
  auto w = std::make_shared<LetterWords>();
  c->add_option("TEXT", w->text, "The text")->required();
  c->add_option("--face", w->face, "Face id")->required();
  c->add_option("--height", w->height, "Cap height, mm")->required();
  CLI::Option* radius = c->add_option("--arc-radius", w->radius, "Baseline radius, mm");
  c->add_option("--arc-side", w->side, "inside or outside")
      ->check(CLI::IsMember({"inside", "outside"}));
  CLI::Option* chord = c->add_option("--chord", w->chord, "Chord of the baseline, mm");
  CLI::Option* sagitta = c->add_option("--sagitta", w->sagitta, "Its sagitta, mm");
  chord->needs(sagitta)->excludes(radius);
  sagitta->needs(chord);
  c->add_option("--turn", w->turn, "Turn of the whole text, degrees clockwise");
  c->add_option("--gap", w->gap, "Added to every gap, mm");
  c->add_option("--spacing", w->spacing, "Of satin, between two points on one edge, mm");
  c->add_option("--pull", w->pull, "Pull compensation, mm in all");
  addCloth(c, w->cloth);
  c->add_option("--monogram", w->monogram,
                "Two or three initials, the middle one largest, in a frame: none, circle, diamond "
                "or shield")
      ->check(CLI::IsMember({"none", "circle", "diamond", "shield"}))
      ->excludes(radius)
      ->excludes(chord);
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback([&session, w, radius, chord] {
    w->onArc = radius->count() > 0;
    w->fromChord = chord->count() > 0;
    session.run = [&session, w] { return letterCommand(*w, session); };
  });
}

void addArc(CLI::App& app, Session& session) {
  CLI::App* c =
      command(app, session, "arc", "The circle of a chord and sagitta, or through three points");
  auto chord = std::make_shared<double>(0), sagitta = std::make_shared<double>(0);
  auto points = std::make_shared<std::vector<std::string>>();
  CLI::Option* byChord = c->add_option("--chord", *chord, "Chord, mm");
  CLI::Option* bySagitta = c->add_option("--sagitta", *sagitta, "Sagitta, mm");
  CLI::Option* byPoints = c->add_option("--points", *points, "Three points x,y")->expected(3);
  byChord->needs(bySagitta);
  bySagitta->needs(byChord);
  byPoints->excludes(byChord)->excludes(bySagitta);
  c->callback([&session, chord, sagitta, points, byPoints, byChord] {
    if (byPoints->count() + byChord->count() == 0)
      throw CLI::RequiredError("--chord and --sagitta, or --points");
    const bool three = byPoints->count() > 0;
    std::vector<Point> p;
    for (const std::string& text : *points) p.push_back(pointFrom(text));
    session.run = [chord, sagitta, p, three] {
      const Arc arc = three ? arcThrough(p[0], p[1], p[2]) : arcFromChord(*chord, *sagitta);
      return Json{{"radius_mm", arc.radius_mm},
                  {"span_deg", arc.span_deg},
                  {"arc_length_mm", arc.arc_length_mm},
                  {"centre_mm", pair(arc.centre)}};
    };
  });
}

}  // namespace rt::cli
