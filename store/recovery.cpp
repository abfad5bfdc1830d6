#include "recovery.h"

#include <QCryptographicHash>
#include <algorithm>

#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "ledger_entry.h"
#include "part_file.h"

namespace rt {

namespace fs = std::filesystem;

namespace {

constexpr size_t kHash = 16;  // letters of a job and file, before the window's name
constexpr const char *kName = ".name", *kAlive = ".window";

std::string hashOf(const std::string& job_id, const fs::path& saved_as) {
  std::error_code ignored;
  const std::string place =
      saved_as.empty() ? "" : fs::weakly_canonical(saved_as, ignored).string();
  return QCryptographicHash::hash(QByteArray::fromStdString(job_id + '\n' + place),
                                  QCryptographicHash::Sha1)
      .toHex()
      .left(kHash)
      .toStdString();
}

/// The file that a copy is of, and that file's stamp when it was last read or written.
struct Notes {
  std::string saved_as, stamp;
};
Notes notesOf(const fs::path& copy) {
  std::error_code ignored;
  if (!fs::exists(copy.string() + kName, ignored)) return {};
  const std::string text = readFile(copy.string() + kName);
  const size_t line = text.find('\n');
  if (line == std::string::npos) return {text, {}};
  return {text.substr(0, line), text.substr(line + 1)};
}

}  // namespace

Recovery::Recovery(fs::path folder) : folder_(std::move(folder)), window_(newId().substr(0, 8)) {
  std::error_code ignored;
  fs::create_directories(folder_, ignored);
  removeStalePartsIn(folder_);
  std::vector<fs::path> gone;
  for (const auto& entry : fs::directory_iterator(folder_, ignored))
    if (entry.path().extension() == kAlive && !AliveMark::held(entry.path()))
      gone.push_back(entry.path());
  for (const fs::path& mark : gone) fs::remove(mark, ignored);
  alive_ = std::make_unique<AliveMark>(folder_ / (window_ + kAlive));
}

Recovery::~Recovery() = default;

std::string Recovery::newStamp() const {
  return window_ + ":" + newId();
}

fs::path Recovery::copyOf(const std::string& job_id, const fs::path& saved_as) const {
  return folder_ / (hashOf(job_id, saved_as) + "-" + window_ + ".rapt");
}

void Recovery::keep(const Work& work, const fs::path& saved_as, const std::string& stamp) const {
  const fs::path copy = copyOf(work.job.id, saved_as);
  writeFile(copy.string() + kName, saved_as.string() + "\n" + stamp);
  saveWork(work, copy);
}

void Recovery::remove(const fs::path& copy) const {
  std::error_code ignored;
  fs::remove(copy, ignored);
  fs::remove(copy.string() + kName, ignored);
}

void Recovery::forget(const std::string& job_id, const fs::path& saved_as) const {
  remove(copyOf(job_id, saved_as));
}

/// Copies whose window is gone, and our own; newest first.
std::vector<Recovery::Copy> Recovery::orphans() const {
  std::vector<std::pair<fs::file_time_type, Copy>> copies;
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder_, ignored)) {
    if (entry.path().extension() != ".rapt") continue;
    const std::string stem = entry.path().stem().string();
    const std::string window = stem.size() > kHash + 1 ? stem.substr(kHash + 1) : std::string();
    if (!window.empty() && window != window_ && AliveMark::held(folder_ / (window + kAlive)))
      continue;
    copies.emplace_back(entry.last_write_time(ignored), Copy{entry.path(), window});
  }
  std::sort(copies.begin(), copies.end(), [](const auto& a, const auto& b) {
    return a.first != b.first ? a.first > b.first : a.second.file > b.second.file;
  });
  std::vector<Copy> out;
  for (auto& [time, copy] : copies) out.push_back(std::move(copy));
  return out;
}

std::optional<Recovery::Found> Recovery::load(const Copy& copy) const {
  try {
    return Found{loadWork(copy.file), notesOf(copy.file).saved_as};
  } catch (const Error&) {
    return std::nullopt;  // a copy that cannot be read must not keep the program from starting
  }
}

/// Whether the job's own file holds all that the copy does. Files of format 1 did not count edits:
/// of two such, a copy that differs is the later.
bool Recovery::outlived(Found& found, const Copy& copy, const Work& saved) const {
  if (found.work == saved) return true;
  const std::string now = savedStamp(found.saved_as), then = notesOf(copy.file).stamp;
  const bool byItself = copy.window.empty() || now.starts_with(copy.window + ":");
  found.diverged = !then.empty() && then != now && !byItself;
  if (found.diverged) return false;
  return found.work.edits < saved.edits ||
         (found.work.edits == saved.edits && found.work.edits != 0);
}

/// It is this window's from now on.
void Recovery::adopt(const Copy& copy, const Found& found) const {
  const fs::path own = copyOf(found.work.job.id, found.saved_as);
  if (own == copy.file) return;
  std::error_code ignored;
  fs::rename(copy.file.string() + kName, own.string() + kName, ignored);
  fs::rename(copy.file, own, ignored);
}

std::optional<Recovery::Found> Recovery::find(const Work& saved, const fs::path& path) const {
  const std::string begins = hashOf(saved.job.id, path);
  for (const Copy& copy : orphans()) {
    if (!copy.file.filename().string().starts_with(begins)) continue;
    std::optional<Found> found = load(copy);
    if (!found || found->work.job.id != saved.job.id) continue;
    found->saved_as = path;
    if (outlived(*found, copy, saved)) {
      remove(copy.file);
      continue;
    }
    adopt(copy, *found);
    return found;
  }
  return std::nullopt;
}

std::optional<Recovery::Found> Recovery::newest() const {
  std::error_code ignored;
  for (const Copy& copy : orphans()) {
    std::optional<Found> found = load(copy);
    if (!found) continue;
    if (!found->saved_as.empty() && fs::exists(found->saved_as, ignored)) {
      try {
        const Work saved = loadWork(found->saved_as);
        if (saved.job.id == found->work.job.id && outlived(*found, copy, saved)) {
          remove(copy.file);
          continue;
        }
      } catch (const Error&) {
        // its own file cannot be read: the copy is all there is
      }
    }
    adopt(copy, *found);
    return found;
  }
  return std::nullopt;
}

}  // namespace rt
