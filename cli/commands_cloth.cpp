// cloth swatch, learn, predict, compensate; place.
#include "cloth_compensation.h"
#include "cloth_file.h"
#include "cloth_reading.h"
#include "cloth_swatch.h"
#include "commands.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "length.h"
#include "placed_layout.h"
#include "shelf.h"
#include "statistics.h"
#include "stitch_file.h"

namespace rt::cli {
namespace {

constexpr const char* kUsualFabric = "woven-cotton";
constexpr double kFewPart = 0.4;  // of the elements, that a photo should show

struct MovingWords {
  std::string file, cloth, hoop, out, fabric, size = "60x60";
  std::string sewn, setup, points, from;
  std::vector<std::string> photos;
};

Json distancesJson(const Distances& d, bool worst) {
  Json out{{"median", d.median_mm}, {"p95", d.p95_mm}};
  if (worst) out["worst"] = d.worst_mm;
  return out;
}

Json swatchCommand(const MovingWords& w, const Session& session) {
  const std::string id = w.fabric.empty() ? kUsualFabric : w.fabric;
  const Fabric& fabric = fabricById(session.bench().shop.fabrics, id);
  const auto size = sizeFrom(w.size);
  if (!size) throw Error("\"" + w.size + "\" is no size", "--size", "give WxH in mm, like 60x60");
  const ClothSwatch swatch =
      clothSwatch(size->first, size->second, fabric.spacing.rows_mm, fabric.spacing.satin_mm);
  writeStitchFile(w.out, swatch.pattern);
  Json shapes = Json::array(), marks = Json::array();
  for (const SwatchShape& s : swatch.shapes)
    shapes.push_back({{"name", s.name},
                      {"kind", s.kind},
                      {"at_mm", pair(s.at)},
                      {"width_mm", s.width_mm},
                      {"height_mm", s.height_mm}});
  for (const SwatchMark& m : swatch.marks)
    marks.push_back({{"id", m.id}, {"x_mm", m.at.x}, {"y_mm", m.at.y}});
  return {{"fabric", id},
          {"shapes", shapes},
          {"marks", marks},
          {"minutes", sewingTime_s(swatch.pattern, session.bench().shop.time) / 60},
          {"stitches", countRows(swatch.pattern.stitches, Op::Stitch)}};
}

ClothKnown knownBefore(const MovingWords& w, const Session& session) {
  if (w.from.empty())
    return startingCloth(session.data, w.fabric.empty() ? kUsualFabric : w.fabric);
  ClothKnown known = readCloth(w.from, session.data);
  if (!w.fabric.empty() && w.fabric != known.fabric)
    throw Error("the cloth is of " + known.fabric + ", not of " + w.fabric, "--fabric",
                "leave --fabric out, or give that fabric's cloth");
  return known;
}

Json lessonJson(const ClothLesson& lesson, const MovingWords& w, Json warnings) {
  Json out = Json::parse(clothJson(lesson.known));
  const bool told = lesson.used > 0;
  out["before_mm"] = told ? distancesJson(lesson.before, false) : Json();
  out["after_mm"] = told ? distancesJson(lesson.after, false) : Json();
  out["photos"] = w.photos.size();
  out["places"] = lesson.used;
  out["warnings"] = std::move(warnings);
  return out;
}

void warnOfPhotos(const ClothPhotoLesson& read, const MovingWords& w, Json& warnings) {
  for (size_t i = 0; i < read.found.size(); ++i)
    if (static_cast<double>(read.found[i]) < kFewPart * static_cast<double>(read.sought))
      warnings.push_back(w.photos[i] + " shows " + std::to_string(read.found[i]) + " of " +
                         std::to_string(read.sought) +
                         " places; take it nearer, sharper and in even light");
}

/// By all photos and measured points that are given.
ClothLesson lessonOf(const MovingWords& w, const ClothKnown& before, Json& warnings) {
  const Pattern sewn = readPattern(w.sewn);
  ClothPhotos photos{{}, w.photos, {}};
  if (w.photos.empty())  // measured places ask for no tags
    photos.setup.base = readAlignmentSetup(w.setup);
  else
    photos.setup = readPhotoSetup(w.setup);
  const Field field = photos.setup.base.field;
  requireWithin(sewn, field);
  std::vector<ClothSight> points;
  if (!w.points.empty()) points = readClothPoints(w.points, sewn, field);
  if (w.photos.empty()) return learned(before, sewn, field, points);
  for (const std::string& file : w.photos) photos.photos.push_back(Photo::read(file));
  const ClothPhotoLesson read = learnedFromPhotos(before, sewn, photos, points);
  warnOfPhotos(read, w, warnings);
  return read.lesson;
}

Json learnCommand(const MovingWords& w, const Session& session) {
  const ClothKnown before = knownBefore(w, session);
  Json warnings = Json::array();
  ClothLesson lesson{before, {}, {}, 0, 0};
  if (w.photos.empty() && w.points.empty())
    warnings.push_back("nothing was measured: the starting values stand as they are");
  else
    lesson = lessonOf(w, before, warnings);
  if (lesson.outliers > 0)
    warnings.push_back(std::to_string(lesson.outliers) + " of " +
                       std::to_string(lesson.used + lesson.outliers) +
                       " places lie far from what the rest says; they count little");
  writeFile(w.out, clothJson(lesson.known) + "\n");
  return lessonJson(lesson, w, std::move(warnings));
}

struct MovingTask {
  Pattern pattern;
  ClothKnown known;
  Field field;
  Json warnings = Json::array();
};

MovingTask taskOf(const MovingWords& w, const Session& session) {
  MovingTask task{readPattern(w.file), readCloth(w.cloth, session.data),
                  hoopFor(session.bench().shop.hoops, w.hoop).field};
  requireWithin(task.pattern, task.field);
  if (task.known.learned_from == 0)
    task.warnings.push_back(
        "nothing was learned of this cloth yet: starting values; sew the swatch and learn from it");
  return task;
}

Json predictCommand(const MovingWords& w, const Session& session) {
  const MovingTask task = taskOf(w, session);
  const ClothMotion motion = clothMotion(task.pattern, task.known.law, task.field);
  writeStitchFile(w.out, asItWillLie(task.pattern, motion));
  return {{"moved_mm", distancesJson(movedBy(task.pattern, motion), true)},
          {"bound_mm", motionBound_mm(task.pattern, task.known.law, motion)},
          {"learned_from", task.known.learned_from},
          {"warnings", task.warnings}};
}

Json compensateCommand(const MovingWords& w, const Session& session) {
  MovingTask task = taskOf(w, session);
  const ClothCompensation c = compensated(task.pattern, task.known.law, task.field);
  writeStitchFile(w.out, c.sewn, Digits::AsRead);
  if (c.held_rows > 0)
    task.warnings.push_back(std::to_string(c.held_rows) +
                            " needle points could not go as far as the cloth asks: stitches would "
                            "become too long or too short");
  return {{"off_before_mm", distancesJson(c.before, true)},
          {"off_after_mm", distancesJson(c.after, true)},
          {"sewn_aside_mm", distancesJson(c.moved, true)},
          {"bound_mm", c.bound_mm},
          {"learned_from", task.known.learned_from},
          {"warnings", task.warnings}};
}

struct PlaceWords {
  std::string file, alignment, fit, out;
};

Json placeCommand(const PlaceWords& w, const Session& session) {
  const Pattern pattern = readPattern(w.file);
  LaidPlace place = readPlace(w.alignment);
  place = placedAs(place, w.fit.empty() ? place.kind : fitNamed(w.fit));
  const Pattern placed = transformed(pattern, place.toHoop());
  const double longest = statisticsOf(placed, session.bench().shop.time).longest_mm;
  Json warnings = Json::array();
  if (place.status != Readiness::Ready)
    warnings.push_back(place.status == Readiness::Rehoop
                           ? "the alignment says re-hoop: the stitches would land off their place"
                           : "the alignment says check before sewing");
  if (longest > kLongestStitch_mm)
    warnings.push_back("the longest stitch is " + formatNumber(longest, 2) + " mm; over " +
                       formatNumber(kLongestStitch_mm, 0) + " mm most machines make a move of it");
  const ShapeLimits limits = session.bench().shop.practice.shape;
  const double stretch = std::max(std::abs(place.scale_x - 1), std::abs(place.scale_y - 1));
  if (stretch > limits.stretch_rehoop)
    warnings.push_back("the stitches follow a stretch of " + formatNumber(100 * stretch, 1) +
                       " %; over " + formatNumber(100 * limits.stretch_rehoop, 1) +
                       " % hoop the cloth again");
  writeStitchFile(w.out, placed);
  return {{"dx_mm", place.dx_mm},
          {"dy_mm", place.dy_mm},
          {"rotation_deg", place.rotation_deg},
          {"scale_x", place.scale_x},
          {"scale_y", place.scale_y},
          {"skew_deg", place.skew_deg},
          {"longest_stitch_mm", longest},
          {"warnings", warnings}};
}

void addOut(CLI::App* c, std::string& out, const char* what) {
  c->add_option("-o", out, what)->required()->check(named);
}

void addLearn(CLI::App& group, Session& session) {
  CLI::App* c = command(group, session, "learn", "What a sewn swatch says of a cloth");
  auto w = std::make_shared<MovingWords>();
  auto* sewn = c->add_option("--sewn", w->sewn, "The list that was sewn");
  auto* setup = c->add_option("--setup", w->setup, "Alignment set-up of its frame, JSON");
  c->add_option("--photo", w->photos, "The sewn swatch in its frame; may be given again")
      ->take_all()
      ->expected(1)
      ->needs(sewn)
      ->needs(setup);
  c->add_option("--points", w->points, "Measured needle points, CSV: row,x_mm,y_mm")
      ->needs(sewn)
      ->needs(setup);
  c->add_option("--from", w->from, "What is known of the cloth already, JSON");
  c->add_option("--fabric", w->fabric, "The fabric, where no --from names it");
  addOut(c, w->out, "The cloth to write, JSON");
  c->callback([&session, w] {
    if (w->photos.empty() && w->points.empty() && !w->sewn.empty())
      throw CLI::RequiredError("--photo or --points");
    session.run = [&session, w] { return learnCommand(*w, session); };
  });
}

using MovingCommand = Json (*)(const MovingWords&, const Session&);

void addOnList(CLI::App& group, Session& session, const char* name, const char* what,
               const char* written, MovingCommand run) {
  CLI::App* c = command(group, session, name, what);
  auto w = std::make_shared<MovingWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--cloth", w->cloth, "What is known of the cloth, JSON")->required();
  c->add_option("--hoop", w->hoop, "Frame id, or field WxH in mm")->required();
  addOut(c, w->out, written);
  c->callback(
      [&session, w, run] { session.run = [&session, w, run] { return run(*w, session); }; });
}

}  // namespace

void addCloth(CLI::App& app, Session& session) {
  CLI::App* group = app.add_subcommand("cloth", "How cloth moves under thread");
  group->require_subcommand(1);
  CLI::App* c = command(*group, session, "swatch", "A swatch that shows how a cloth moves");
  auto w = std::make_shared<MovingWords>();
  c->add_option("--fabric", w->fabric, "Whose spacing it is sewn with");
  c->add_option("--size", w->size, "WxH in mm");
  addOut(c, w->out, "Stitch list to write");
  c->callback(
      [&session, w] { session.run = [&session, w] { return swatchCommand(*w, session); }; });
  addLearn(*group, session);
  addOnList(*group, session, "predict", "Where a list's thread will lie", "Stitch list to write",
            predictCommand);
  addOnList(*group, session, "compensate", "A list that will lie as it was drawn",
            "Stitch list to write", compensateCommand);
}

void addPlace(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "place", "A list where it has to be sewn in the hoop");
  auto w = std::make_shared<PlaceWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--alignment", w->alignment, "What align answered, JSON")->required();
  c->add_option("--fit", w->fit, "rigid, similarity or affine; else the alignment's own")
      ->check(CLI::IsMember({"rigid", "similarity", "affine"}));
  addOut(c, w->out, "Stitch list to write");
  c->callback([&session, w] { session.run = [&session, w] { return placeCommand(*w, session); }; });
}

}  // namespace rt::cli
