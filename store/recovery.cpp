#include "recovery.h"

#include <QCryptographicHash>

#include "error.h"
#include "file_io.h"
#include "job_file.h"

namespace rt {

namespace fs = std::filesystem;

Recovery::Recovery(fs::path folder) : folder_(std::move(folder)) {
  std::error_code ignored;
  fs::create_directories(folder_, ignored);
}

fs::path Recovery::copyOf(const std::string& job_id) const {
  const QByteArray hash =
      QCryptographicHash::hash(QByteArray::fromStdString(job_id), QCryptographicHash::Sha1);
  return folder_ / (hash.toHex().left(16).toStdString() + ".rapt");
}

void Recovery::keep(const Job& job, const fs::path& saved_as) {
  const fs::path copy = copyOf(job.id);
  writeFile(copy.string() + ".name", saved_as.string());
  saveJob(job, copy);
}

void Recovery::forget(const Job& job) {
  std::error_code ignored;
  fs::remove(copyOf(job.id), ignored);
  fs::remove(copyOf(job.id).string() + ".name", ignored);
}

std::optional<Recovery::Found> Recovery::load(const fs::path& copy) const {
  try {
    Found found{loadJob(copy), {}};
    std::error_code ignored;
    if (fs::exists(copy.string() + ".name", ignored))
      found.saved_as = readFile(copy.string() + ".name");
    return found;
  } catch (const Error&) {
    return std::nullopt;  // a copy that cannot be read must not keep the program from starting
  }
}

std::optional<Recovery::Found> Recovery::find(const std::string& job_id) const {
  std::error_code ignored;
  return fs::exists(copyOf(job_id), ignored) ? load(copyOf(job_id)) : std::nullopt;
}

std::optional<Recovery::Found> Recovery::newest() const {
  fs::path best;
  fs::file_time_type when{};
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder_, ignored))
    if (entry.path().extension() == ".rapt" &&
        (best.empty() || entry.last_write_time(ignored) > when)) {
      best = entry.path();
      when = entry.last_write_time(ignored);
    }
  return best.empty() ? std::nullopt : load(best);
}

}  // namespace rt
