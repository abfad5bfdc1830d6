#include "recent_jobs.h"

#include <algorithm>

#include "error.h"
#include "file_io.h"

namespace rt {
namespace {

constexpr size_t kMost = 12;

std::vector<std::filesystem::path> listed(const std::filesystem::path& list) {
  std::vector<std::filesystem::path> out;
  try {
    const std::string text = readFile(list);
    for (size_t from = 0; from < text.size();) {
      const size_t end = std::min(text.find('\n', from), text.size());
      if (end > from) out.emplace_back(text.substr(from, end - from));
      from = end + 1;
    }
  } catch (const Error&) {
    out.clear();
  }
  return out;
}

}  // namespace

std::vector<std::filesystem::path> recentJobs(const std::filesystem::path& list) {
  std::vector<std::filesystem::path> out = listed(list);
  std::error_code problem;
  std::erase_if(out, [&](const auto& p) { return !std::filesystem::is_regular_file(p, problem); });
  if (out.size() > kMost) out.resize(kMost);
  return out;
}

void noteRecentJob(const std::filesystem::path& list, const std::filesystem::path& job) {
  std::error_code problem;
  const std::filesystem::path own = std::filesystem::absolute(job, problem);
  if (problem || own.string().find('\n') != std::string::npos) return;
  std::vector<std::filesystem::path> all = listed(list);
  std::erase(all, own);
  all.insert(all.begin(), own);
  std::string text;
  for (size_t i = 0; i < std::min(kMost, all.size()); ++i) text += all[i].string() + "\n";
  try {
    writeFile(list, text);
  } catch (const Error&) {
  }
}

}  // namespace rt
