#include "pending_entries.h"

#include <fcntl.h>
#include <unistd.h>

#include <sstream>

#include "error.h"
#include "file_io.h"
#include "ledger_json.h"

namespace rt {
namespace {

/// Each program has a file of its own: two never write one line between them.
std::filesystem::path ownFile(const std::filesystem::path& store) {
  return store.string() + ".pending-" + std::to_string(::getpid());
}

}  // namespace

PendingEntries::PendingEntries(const std::filesystem::path& store_file)
    : file_(ownFile(store_file)) {
  const std::string begins = store_file.filename().string() + ".pending-";
  std::error_code ignored;
  for (const auto& found : std::filesystem::directory_iterator(store_file.parent_path(), ignored)) {
    const std::string name = found.path().filename().string();
    if (!name.starts_with(begins)) continue;
    const long writer = std::strtol(name.c_str() + begins.size(), nullptr, 10);
    if (writer > 0 && writer != ::getpid() &&
        ::access(("/proc/" + std::to_string(writer)).c_str(), F_OK) == 0)
      continue;  // somebody else's, and alive
    try {
      std::istringstream lines(readFile(found.path()));
      for (std::string line; std::getline(lines, line);) {
        try {
          entries_.push_back(ledgerEntryFrom(line));
        } catch (const std::exception&) {
          // torn off by an end of the power
        }
      }
      if (found.path() != file_ && !entries_.empty()) {
        for (const LedgerEntry& e : std::exchange(entries_, {})) add(e);
        std::filesystem::remove(found.path(), ignored);
      }
    } catch (const Error&) {
      // not ours to read
    }
  }
}

void PendingEntries::add(const LedgerEntry& entry) {
  entries_.push_back(entry);
  const int fd = ::open(file_.c_str(), O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
  if (fd < 0) return;  // the memory has it
  const std::string line = ledgerJson(entry) + "\n";
  if (::write(fd, line.data(), line.size()) == static_cast<ssize_t>(line.size())) ::fdatasync(fd);
  ::close(fd);
}

void PendingEntries::clear() {
  entries_.clear();
  std::error_code ignored;
  std::filesystem::remove(file_, ignored);
}

}  // namespace rt
