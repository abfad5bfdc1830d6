#include "file_io.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>

#include "error.h"
#include "part_file.h"

namespace rt {
namespace {

constexpr off_t kLargestFile = off_t{4} << 30;  // more does not fit the memory of a workroom PC

class Descriptor {
 public:
  explicit Descriptor(int fd) : fd_(fd) {}
  ~Descriptor() {
    if (fd_ >= 0) ::close(fd_);
  }
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  int get() const { return fd_; }

 private:
  int fd_;
};

[[noreturn]] void failWriting(const std::filesystem::path& path) {
  throw Error(std::string("cannot write the file: ") + std::strerror(errno), path.string(),
              "check that the folder exists, is writable and has room");
}

}  // namespace

std::string readFile(const std::filesystem::path& path) {
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
  if (file.get() < 0)
    throw Error(std::string("cannot open the file: ") + std::strerror(errno), path.string(),
                "check the name and that you may read it");
  struct stat facts {};
  if (::fstat(file.get(), &facts) != 0 || S_ISDIR(facts.st_mode))
    throw Error("this is a folder, not a file", path.string(), "name a file in it");
  if (facts.st_size > kLargestFile)
    throw Error("the file is over 4 GiB", path.string(), "split it");
  std::string text;
  text.resize(static_cast<size_t>(std::max<off_t>(facts.st_size, 0)));
  size_t have = 0;
  while (true) {
    if (have == text.size()) text.resize(text.size() + (facts.st_size > 0 ? 4096 : 65536));
    const ssize_t n = ::read(file.get(), text.data() + have, text.size() - have);
    if (n < 0) throw Error("cannot read the file", path.string(), "check the disk");
    if (n == 0) break;
    have += static_cast<size_t>(n);
    if (have > static_cast<size_t>(kLargestFile))
      throw Error("the file is over 4 GiB", path.string(), "split it");
  }
  text.resize(have);
  return text;
}

namespace {

void writeAll(int fd, std::string_view content, const std::filesystem::path& path) {
  size_t done = 0;
  while (done < content.size()) {
    const ssize_t n = ::write(fd, content.data() + done, content.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) failWriting(path);
    done += static_cast<size_t>(n);
  }
}

/// A device, pipe or socket: written to as it stands, never replaced.
bool isStream(const std::filesystem::path& path) {
  struct stat facts {};
  return ::stat(path.c_str(), &facts) == 0 && !S_ISREG(facts.st_mode) && !S_ISDIR(facts.st_mode);
}

}  // namespace

void writeFile(const std::filesystem::path& path, std::string_view content) {
  if (isStream(path)) {
    const Descriptor stream(::open(path.c_str(), O_WRONLY | O_CLOEXEC));
    if (stream.get() < 0) failWriting(path);
    return writeAll(stream.get(), content, path);
  }
  PartFile part(path);
  {
    const Descriptor file(::open(part.path().c_str(), O_WRONLY | O_CLOEXEC));
    if (file.get() < 0) failWriting(path);
    writeAll(file.get(), content, path);
  }
  part.commit();
}

void requireUtf8(std::string_view text, const std::string& where) {
  auto fail = [&](size_t at) {
    const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<long>(at), '\n');
    throw Error("the text is not UTF-8", where + " line " + std::to_string(line),
                "save the file as UTF-8 text");
  };
  size_t i = 0;
  while (i < text.size()) {
    uint64_t eight;
    if (i + 8 <= text.size()) {
      std::memcpy(&eight, text.data() + i, 8);
      const bool plain = (eight & 0x8080808080808080ull) == 0;
      const bool zero = ((eight - 0x0101010101010101ull) & ~eight & 0x8080808080808080ull) != 0;
      if (plain && !zero) {
        i += 8;
        continue;
      }
    }
    const auto c = static_cast<unsigned char>(text[i]);
    if (c == 0) fail(i);
    const size_t extra = c < 0x80                ? 0
                         : c >= 0xC2 && c < 0xE0 ? 1
                         : (c & 0xF0) == 0xE0    ? 2
                         : c >= 0xF0 && c < 0xF5 ? 3
                                                 : 9;
    if (extra == 9 || i + extra >= text.size() + (extra == 0 ? 1 : 0)) fail(i);
    for (size_t k = 1; k <= extra; ++k)
      if ((static_cast<unsigned char>(text[i + k]) & 0xC0) != 0x80) fail(i);
    i += extra + 1;
  }
}

}  // namespace rt
