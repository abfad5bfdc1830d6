#include "sewn_journal.h"

#include <fcntl.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <sstream>

#include "error.h"
#include "file_io.h"
#include "job_codec.h"

namespace rt {

SewnJournal::SewnJournal(std::filesystem::path folder) : folder_(std::move(folder)) {
  std::error_code ignored;
  std::filesystem::create_directories(folder_, ignored);
}

SewnJournal::~SewnJournal() {
  if (fd_ >= 0) ::close(fd_);
}

std::filesystem::path SewnJournal::fileOf(const std::string& plan) const {
  // ids come from files: the name is made of them, never taken from them
  const QByteArray hash =
      QCryptographicHash::hash(QByteArray::fromStdString(plan), QCryptographicHash::Sha1);
  return folder_ / (hash.toHex().left(24).toStdString() + ".sewn");
}

bool SewnJournal::add(const RowsSewn& fact) {
  if (open_ != fact.of.plan || fd_ < 0) {
    if (fd_ >= 0) ::close(fd_);
    fd_ = ::open(fileOf(fact.of.plan).c_str(), O_RDWR | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
    open_ = fact.of.plan;
    if (fd_ < 0) return false;
    char last = '\n';  // a line that was torn off is ended, so that the next one stands alone
    const off_t size = ::lseek(fd_, 0, SEEK_END);
    if (size > 0 && ::pread(fd_, &last, 1, size - 1) == 1 && last != '\n' &&
        ::write(fd_, "\n", 1) != 1)
      return false;
  }
  const std::string line = happeningJson(fact) + "\n";
  if (::write(fd_, line.data(), line.size()) != static_cast<ssize_t>(line.size())) return false;
  return fact.event.empty() || ::fdatasync(fd_) == 0;
}

std::vector<RowsSewn> SewnJournal::of(const std::string& plan) const {
  std::vector<RowsSewn> out;
  std::string text;
  try {
    text = readFile(fileOf(plan));
  } catch (const Error&) {
    return out;  // nothing was sewn from it
  }
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);) {
    try {
      const Happening h = happeningFrom("sewn", line);
      if (const auto& fact = std::get<RowsSewn>(h); fact.of.plan == plan) out.push_back(fact);
    } catch (const std::exception&) {
      // torn off by an end of the power
    }
  }
  return out;
}

}  // namespace rt
