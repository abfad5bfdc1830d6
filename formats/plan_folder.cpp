#include "plan_folder.h"

#include <fcntl.h>
#include <linux/fs.h>
#include <stdio.h>
#include <unistd.h>

#include <csignal>

#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "file_limits.h"
#include "json_reading.h"
#include "part_file.h"
#include "stitch_file.h"
#include "stitch_limits.h"

namespace rt {
namespace {

namespace fs = std::filesystem;

/// Ctrl+C waits until the folder is whole.
class SignalsHeld {
 public:
  SignalsHeld() {
    sigset_t hold;
    sigemptyset(&hold);
    for (int s : {SIGINT, SIGTERM, SIGHUP}) sigaddset(&hold, s);
    pthread_sigmask(SIG_BLOCK, &hold, &before_);
  }
  ~SignalsHeld() { pthread_sigmask(SIG_SETMASK, &before_, nullptr); }

 private:
  sigset_t before_{};
};

/// A folder beside the target, gone unless it was put in its place.
class Staging {
 public:
  explicit Staging(const fs::path& target)
      : path_(target.string() + ".part-" + std::to_string(::getpid()) + "-0") {
    std::error_code problem;
    fs::remove_all(path_, problem);
    fs::create_directories(path_, problem);
    if (problem || !fs::is_directory(path_))
      throw Error("the folder cannot be made", target.string(),
                  "check the name and that you may write there");
  }
  ~Staging() {
    std::error_code ignored;
    fs::remove_all(path_, ignored);
  }
  const fs::path& path() const { return path_; }

 private:
  fs::path path_;
};

bool ofAPlan(const fs::path& file) {
  const std::string name = file.filename().string();
  return name == "plan.json" || (name.starts_with("hooping-") && name.ends_with(".stitches.csv"));
}

void renameOrThrow(const fs::path& from, const fs::path& to) {
  std::error_code problem;
  fs::rename(from, to, problem);
  if (problem)
    throw Error("the plan's files cannot be put in place: " + problem.message(), to.string(),
                "write it into another folder");
}

bool exchanged(const fs::path& staged, const fs::path& folder) {
  return ::renameat2(AT_FDCWD, staged.c_str(), AT_FDCWD, folder.c_str(), RENAME_EXCHANGE) == 0;
}

/// Other people's plain files of a folder stand in the staged one too, as the same files: then the
/// two can change places in one step, and an end by force leaves one plan or the other whole. False
/// where that cannot be done.
bool othersLinked(const fs::path& folder, const fs::path& staged) {
  std::error_code problem;
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (ofAPlan(entry.path())) continue;
    if (!entry.is_regular_file() || entry.is_symlink()) return false;
    fs::create_hard_link(entry.path(), staged / entry.path().filename(), problem);
    if (problem) return false;
  }
  return true;
}

void takeOthersBack(const fs::path& folder, const fs::path& staged) {
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder))
    if (!ofAPlan(entry.path())) fs::remove(staged / entry.path().filename(), ignored);
}

/// What came into the folder while the two changed places.
void bringLateComers(const fs::path& was, const fs::path& now) {
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(was))
    if (const fs::path to = now / entry.path().filename();
        !ofAPlan(entry.path()) && !fs::exists(to, ignored))
      fs::rename(entry.path(), to, ignored);
}

/// Where other people's folders or links lie in it: one by one, the list of them last.
void moveIn(const fs::path& staged, const fs::path& folder) {
  std::error_code ignored;
  fs::remove(folder / "plan.json", ignored);
  std::vector<fs::path> old;
  for (const auto& entry : fs::directory_iterator(folder))
    if (entry.is_regular_file() && ofAPlan(entry.path())) old.push_back(entry.path());
  for (const fs::path& file : old) fs::remove(file, ignored);
  for (const auto& entry : fs::directory_iterator(staged))
    if (entry.path().filename() != "plan.json")
      renameOrThrow(entry.path(), folder / entry.path().filename());
  renameOrThrow(staged / "plan.json", folder / "plan.json");
}

void replaceIn(const fs::path& staged, const fs::path& folder) {
  if (othersLinked(folder, staged) && exchanged(staged, folder))
    return bringLateComers(staged, folder);
  takeOthersBack(folder, staged);
  moveIn(staged, folder);
}

}  // namespace

std::string writePlanFolder(const fs::path& folder, const HoopingPlan& plan) {
  std::error_code ignored;
  fs::path target = folder;
  while (!target.empty() && target.filename().empty()) target = target.parent_path();  // "plan/"
  if (target.empty()) throw Error("the folder has no name", "folder to write", "give a name");
  if (fs::is_symlink(target, ignored)) target = fs::canonical(target, ignored);
  if (fs::exists(target, ignored) && !fs::is_directory(target, ignored))
    throw Error("the folder cannot be made", folder.string(),
                "a file of that name is in its place");
  if (target.has_parent_path()) fs::create_directories(target.parent_path(), ignored);
  removeStaleParts(target);
  const SignalsHeld held;
  const Staging staging(target);
  for (const Hooping& h : plan.hoopings)
    for (const PlanSetting& s : h.settings)
      writeStitchFile(staging.path() / settingFile(h, s), s.pattern);
  const std::string text = planJson(plan);
  writeFile(staging.path() / "plan.json", text + "\n");
  if (!fs::exists(target, ignored))
    renameOrThrow(staging.path(), target);
  else
    replaceIn(staging.path(), target);
  return text;
}

namespace {

Point pointIn(const Json& object, const char* key, const std::string& where) {
  const Json& p = member(object, key, where);
  if (!p.is_array() || p.size() != 2 || !p[0].is_number() || !p[1].is_number() ||
      !(std::abs(p[0].get<double>()) <= kFarthest_mm) ||
      !(std::abs(p[1].get<double>()) <= kFarthest_mm))
    throw Error(std::string(key) + " is not [x, y]", where, "plan again");
  return {p[0].get<double>(), p[1].get<double>()};
}

int wholeIn(const Json& object, const char* key, const std::string& where) {
  const double n = numberIn(object, key, where);
  if (n != std::floor(n) || std::abs(n) > 1e6)
    throw Error(std::string(key) + " is no whole number", where, "plan again");
  return static_cast<int>(n);
}

/// A file beside plan.json, and nowhere else.
fs::path besidePlan(const fs::path& folder, const std::string& name, const std::string& where) {
  if (name.empty() || fs::path(name).filename().string() != name)
    throw Error("the file \"" + name + "\" is not in the plan's folder", where, "plan again");
  return folder / name;
}

PlanSetting settingIn(const fs::path& folder, const Json& s, Point size, HoopShape shape,
                      const std::string& where) {
  PlanSetting out;
  out.index = wholeIn(s, "index", where);
  const int turn = wholeIn(s, "turn_deg", where);
  if (turn != 0 && turn != 90 && turn != 180 && turn != 270)
    throw Error("the field is turned by " + std::to_string(turn) + " degrees", where, "plan again");
  const bool across = turn % 180 != 0;
  out.pattern = readStitchFile(besidePlan(folder, textIn(s, "file", where), where)).pattern;
  const Box sewn = threadBounds(out.pattern);
  const Point c = pointIn(s, "centre_mm", where);
  if (size == Point{}) size = {sewn.width(), sewn.height()};
  out.field = {Box::around(c, across ? size.y : size.x, across ? size.x : size.y), turn, shape};
  out.stitches = static_cast<size_t>(std::max(0, wholeIn(s, "stitches", where)));
  out.thread_mm = numberIn(s, "thread_length_mm", where);
  return out;
}

Hooping hoopingIn(const fs::path& folder, const Json& h, const std::string& where) {
  Hooping out;
  out.index = wholeIn(h, "index", where);
  out.id = "h" + std::to_string(out.index);
  out.hoop_id = textIn(h, "hoop", where);
  out.predicted_error_mm = numberIn(h, "predicted_error_mm", where);
  const Point size = h.contains("field_mm") ? pointIn(h, "field_mm", where) : Point{};
  if (size.x < 0 || size.y < 0)
    throw Error("the field is smaller than nothing", where, "plan again");
  const HoopShape shape =
      h.value("shape", Json("")) == Json("oval") ? HoopShape::Oval : HoopShape::Rectangle;
  const Json& settings = member(h, "settings", where);
  if (!settings.is_array() || settings.empty() || settings.size() > 64)
    throw Error("it has no settings", where, "plan again");
  for (const Json& s : settings) {
    out.settings.push_back(settingIn(folder, s, size, shape, where));
    out.settings.back().id = out.id + "." + std::to_string(out.settings.size());
  }
  out.turn_deg = out.settings.front().field.turn_deg;
  const Json& marks = member(h, "marks", where);
  if (!marks.is_array()) throw Error("its marks are no list", where, "plan again");
  for (const Json& m : marks) {
    const Point at{numberIn(m, "x_mm", where), numberIn(m, "y_mm", where)};
    out.marks.push_back({textIn(m, "id", where), textIn(m, "kind", where), at, true});
  }
  return out;
}

}  // namespace

HoopingPlan readPlanFolder(const fs::path& folder) {
  const fs::path list = folder / "plan.json";
  std::error_code ignored;
  if (!fs::is_directory(folder, ignored))
    throw Error("there is no such folder", folder.string(), "give the folder that plan wrote");
  if (!fs::exists(list, ignored))
    throw Error("there is no plan.json in it", folder.string(), "give the folder that plan wrote");
  const Json root = readJson(list);
  const Json& hoopings = member(root, "hoopings", list.string());
  if (!hoopings.is_array() || hoopings.empty() || hoopings.size() > 1000)
    throw Error("it lists no hoopings", list.string(), "plan again");
  HoopingPlan plan;
  for (const Json& h : hoopings)
    plan.hoopings.push_back(hoopingIn(
        folder, h, list.string() + " hooping " + std::to_string(plan.hoopings.size() + 1)));
  return plan;
}

}  // namespace rt
