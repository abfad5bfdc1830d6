#include "part_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <climits>
#include <csignal>
#include <cstring>

#include "error.h"

namespace rt {
namespace {

namespace fs = std::filesystem;

constexpr const char* kMiddle = ".part-";

/// Paths that a signal handler takes away: it may neither allocate nor lock.
struct Slot {
  std::atomic<bool> taken{false}, live{false};
  char path[PATH_MAX]{};
};
std::array<Slot, 16> slots;

void removeAndEnd(int signal) {
  for (Slot& s : slots)
    if (s.live.load()) ::unlink(s.path);
  ::signal(signal, SIG_DFL);
  ::raise(signal);
}

int keptForSignals(const fs::path& path) {
  const std::string text = path.string();
  if (text.size() >= PATH_MAX) return -1;
  for (size_t i = 0; i < slots.size(); ++i) {
    bool free = false;
    if (!slots[i].taken.compare_exchange_strong(free, true)) continue;
    std::memcpy(slots[i].path, text.c_str(), text.size() + 1);
    slots[i].live = true;
    return static_cast<int>(i);
  }
  return -1;
}

void letGo(int slot) {
  if (slot < 0) return;
  slots[static_cast<size_t>(slot)].live = false;
  slots[static_cast<size_t>(slot)].taken = false;
}

[[noreturn]] void fail(const fs::path& target, int number) {
  throw Error(std::string("cannot write the file: ") + std::strerror(number), target.string(),
              "check that the folder exists, is writable and has room");
}

/// What a chain of links leads to, whether it exists or not.
fs::path resolved(fs::path path) {
  std::error_code ignored;
  for (int hop = 0; hop < 40 && fs::is_symlink(path, ignored); ++hop) {
    const fs::path to = fs::read_symlink(path, ignored);
    path = to.is_absolute() ? to : path.parent_path() / to;
  }
  return path;
}

fs::path folderOf(const fs::path& file) {
  return file.has_parent_path() ? file.parent_path() : fs::path(".");
}

/// The process number in a part file's name; 0 if it is none.
long writerOf(const std::string& name) {
  const size_t at = name.rfind(kMiddle);
  if (at == std::string::npos) return 0;
  return std::strtol(name.c_str() + at + std::strlen(kMiddle), nullptr, 10);
}

void flush(const fs::path& path, const fs::path& target) {
  const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (fd < 0) fail(target, errno);
  const int bad = ::fsync(fd) == 0 ? 0 : errno;
  ::close(fd);
  if (bad != 0) fail(target, bad);
}

}  // namespace

namespace {

void removeParts(const fs::path& folder, const std::string& begins) {
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder, ignored)) {
    const std::string name = entry.path().filename().string();
    const long writer = writerOf(name);
    if (writer <= 0 || !name.starts_with(begins)) continue;
    if (writer == ::getpid() || ::kill(static_cast<pid_t>(writer), 0) == 0 || errno == EPERM)
      continue;  // somebody is writing it
    fs::remove_all(entry.path(), ignored);
  }
}

}  // namespace

void removeStaleParts(const fs::path& target) {
  removeParts(folderOf(target), target.filename().string() + kMiddle);
}

void removeStalePartsIn(const fs::path& folder) {
  removeParts(folder, {});
}

void removePartsOnSignals() {
  for (int signal : {SIGINT, SIGTERM, SIGHUP}) ::signal(signal, removeAndEnd);
}

PartFile::PartFile(const fs::path& target) : target_(resolved(target)) {
  std::error_code ignored;
  if (target.empty())
    throw Error("the file has no name", "name of the file to write", "give a name");
  if (fs::is_directory(target_, ignored)) fail(target, EISDIR);
  removeStaleParts(target_);
  static std::atomic<int> count{0};
  part_ = target_.string() + kMiddle + std::to_string(::getpid()) + "-" + std::to_string(++count);
  slot_ = keptForSignals(part_);
  const int fd = ::open(part_.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
  if (fd < 0) {
    const int number = errno;
    letGo(slot_);
    fail(target, number);
  }
  struct stat facts {};
  if (::stat(target_.c_str(), &facts) == 0) ::fchmod(fd, facts.st_mode & 07777);
  ::close(fd);
}

PartFile::~PartFile() {
  if (!part_.empty()) ::unlink(part_.c_str());
  letGo(slot_);
}

GoneOnSignal::GoneOnSignal(fs::path file) : file_(std::move(file)), slot_(keptForSignals(file_)) {}

GoneOnSignal::~GoneOnSignal() {
  ::unlink(file_.c_str());
  letGo(slot_);
}

void PartFile::commit() {
  flush(part_, target_);
  if (::rename(part_.c_str(), target_.c_str()) != 0) fail(target_, errno);
  part_.clear();
  // the name is on the disk too, or may be the old one after a power cut: whole either way
  const int fd = ::open(folderOf(target_).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (fd >= 0) {
    ::fsync(fd);
    ::close(fd);
  }
}

}  // namespace rt
