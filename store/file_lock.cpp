#include "file_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <chrono>
#include <thread>

#include "error.h"

namespace rt {
namespace {

constexpr std::chrono::milliseconds kLook{20}, kPatience{15'000};

/// Whether the name still means what was opened: a saving puts another file in its place.
bool sameFile(int fd, const std::filesystem::path& file) {
  struct stat open {
  }, named{};
  return ::fstat(fd, &open) == 0 && ::stat(file.c_str(), &named) == 0 &&
         open.st_ino == named.st_ino && open.st_dev == named.st_dev;
}

}  // namespace

FileLock::FileLock(const std::filesystem::path& file) {
  const auto until = std::chrono::steady_clock::now() + kPatience;
  while (true) {
    fd_ = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
    if (fd_ < 0) return;
    if (::flock(fd_, LOCK_EX | LOCK_NB) == 0) {
      if (sameFile(fd_, file)) return;
    } else if (errno != EWOULDBLOCK && errno != EINTR) {
      return;  // a file system without locks
    } else if (std::chrono::steady_clock::now() > until) {
      ::close(fd_);
      fd_ = -1;
      throw Error("another program is changing the file", file.string(),
                  "wait until it is through, or end it, and try again");
    } else {
      std::this_thread::sleep_for(kLook);
    }
    ::close(fd_);
    fd_ = -1;
  }
}

FileLock::~FileLock() {
  if (fd_ >= 0) ::close(fd_);
}

AliveMark::AliveMark(std::filesystem::path file) : file_(std::move(file)) {
  fd_ = ::open(file_.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  if (fd_ >= 0) ::flock(fd_, LOCK_EX | LOCK_NB);
}

AliveMark::~AliveMark() {
  if (fd_ < 0) return;
  ::unlink(file_.c_str());
  ::close(fd_);
}

bool AliveMark::held(const std::filesystem::path& file) {
  const int fd = ::open(file.c_str(), O_RDWR | O_CLOEXEC);
  if (fd < 0) return false;
  const bool free = ::flock(fd, LOCK_EX | LOCK_NB) == 0;
  ::close(fd);
  return !free;
}

}  // namespace rt
