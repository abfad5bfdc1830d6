#include "json_text.h"

#include "error.h"

namespace rt {
namespace {

constexpr int kDeepest = 32;

}  // namespace

Json parsedPart(const std::string& text) {
  try {
    Json out = Json::parse(text, [](int depth, Json::parse_event_t, Json&) {
      if (depth > kDeepest)
        throw Error("a part of the job is nested too deeply", "job file",
                    "open the autosaved copy");
      return true;
    });
    return out;
  } catch (const Json::exception& problem) {
    throw Error(std::string("a part of the job cannot be read: ") + problem.what(), "job file",
                "open the autosaved copy");
  }
}

}  // namespace rt
