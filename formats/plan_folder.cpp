#include "plan_folder.h"

#include <fcntl.h>
#include <linux/fs.h>
#include <stdio.h>
#include <unistd.h>

#include <csignal>

#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "part_file.h"
#include "stitch_file.h"

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

bool onlyPlanFiles(const fs::path& folder) {
  for (const auto& entry : fs::directory_iterator(folder))
    if (!entry.is_regular_file() || !ofAPlan(entry.path())) return false;
  return true;
}

void renameOrThrow(const fs::path& from, const fs::path& to) {
  std::error_code problem;
  fs::rename(from, to, problem);
  if (problem)
    throw Error("the plan's files cannot be put in place: " + problem.message(), to.string(),
                "write it into another folder");
}

/// Among other people's files: one by one, the list of them last.
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
  std::vector<std::string> files;
  for (const Hooping& h : plan.hoopings) {
    files.push_back("hooping-" + std::to_string(h.index) + ".stitches.csv");
    writeStitchFile(staging.path() / files.back(), h.pattern);
  }
  const std::string text = planJson(plan, files);
  writeFile(staging.path() / "plan.json", text + "\n");
  if (!fs::exists(target, ignored))
    renameOrThrow(staging.path(), target);
  else if (!onlyPlanFiles(target) || ::renameat2(AT_FDCWD, staging.path().c_str(), AT_FDCWD,
                                                 target.c_str(), RENAME_EXCHANGE) != 0)
    moveIn(staging.path(), target);
  return text;
}

}  // namespace rt
