#include "recovery.h"

#include <QCryptographicHash>

#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "part_file.h"

namespace rt {

namespace fs = std::filesystem;

namespace {

/// Files of format 1 did not count edits: of two such, a copy that differs is the later.
bool laterThan(const Work& copy, const Work& saved) {
  if (copy == saved) return false;
  return copy.edits > saved.edits || (copy.edits == 0 && saved.edits == 0);
}

}  // namespace

Recovery::Recovery(fs::path folder) : folder_(std::move(folder)) {
  std::error_code ignored;
  fs::create_directories(folder_, ignored);
  removeStalePartsIn(folder_);
}

fs::path Recovery::copyOf(const std::string& job_id, const fs::path& saved_as) const {
  std::error_code ignored;
  const std::string place =
      saved_as.empty() ? "" : fs::weakly_canonical(saved_as, ignored).string();
  const QByteArray hash = QCryptographicHash::hash(QByteArray::fromStdString(job_id + '\n' + place),
                                                   QCryptographicHash::Sha1);
  return folder_ / (hash.toHex().left(16).toStdString() + ".rapt");
}

void Recovery::keep(const Work& work, const fs::path& saved_as) const {
  const fs::path copy = copyOf(work.job.id, saved_as);
  writeFile(copy.string() + ".name", saved_as.string());
  saveWork(work, copy);
}

void Recovery::forget(const std::string& job_id, const fs::path& saved_as) const {
  std::error_code ignored;
  const fs::path copy = copyOf(job_id, saved_as);
  fs::remove(copy, ignored);
  fs::remove(copy.string() + ".name", ignored);
}

std::optional<Recovery::Found> Recovery::load(const fs::path& copy) const {
  try {
    Found found{loadWork(copy), {}};
    std::error_code ignored;
    if (fs::exists(copy.string() + ".name", ignored))
      found.saved_as = readFile(copy.string() + ".name");
    return found;
  } catch (const Error&) {
    return std::nullopt;  // a copy that cannot be read must not keep the program from starting
  }
}

std::optional<Recovery::Found> Recovery::find(const Work& saved, const fs::path& path) const {
  std::error_code ignored;
  const fs::path copy = copyOf(saved.job.id, path);
  if (!fs::exists(copy, ignored)) return std::nullopt;
  std::optional<Found> found = load(copy);
  if (!found || found->work.job.id != saved.job.id) return std::nullopt;
  if (laterThan(found->work, saved)) return found;
  forget(saved.job.id, path);
  return std::nullopt;
}

std::optional<Recovery::Found> Recovery::newest() const {
  std::vector<std::pair<fs::file_time_type, fs::path>> copies;
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder_, ignored))
    if (entry.path().extension() == ".rapt")
      copies.emplace_back(entry.last_write_time(ignored), entry.path());
  std::sort(copies.rbegin(), copies.rend());
  for (const auto& [time, copy] : copies) {
    std::optional<Found> found = load(copy);
    if (!found) continue;
    if (found->saved_as.empty() || !fs::exists(found->saved_as, ignored)) return found;
    try {
      const Work saved = loadWork(found->saved_as);
      if (saved.job.id != found->work.job.id || laterThan(found->work, saved)) return found;
      forget(saved.job.id, found->saved_as);
    } catch (const Error&) {
      return found;  // its own file cannot be read: the copy is all there is
    }
  }
  return std::nullopt;
}

}  // namespace rt
