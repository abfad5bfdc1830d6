#include "json_text.h"

#include <algorithm>

#include "error.h"

namespace rt {
namespace {

constexpr int kDeepest = 32;

/// How deep brackets stand in one another, those within words aside.
int depthOf(const std::string& text) {
  int depth = 0, most = 0;
  bool word = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (word && c == '\\')
      ++i;
    else if (c == '"')
      word = !word;
    else if (!word && (c == '{' || c == '['))
      most = std::max(most, ++depth);
    else if (!word && (c == '}' || c == ']'))
      --depth;
  }
  return most;
}

}  // namespace

Json parsedPart(const std::string& text) {
  if (depthOf(text) > kDeepest)
    throw Error("a part of the job is nested too deeply", "job file", "open the autosaved copy");
  try {
    return Json::parse(text);
  } catch (const Json::exception& problem) {
    throw Error(std::string("a part of the job cannot be read: ") + problem.what(), "job file",
                "open the autosaved copy");
  }
}

}  // namespace rt
