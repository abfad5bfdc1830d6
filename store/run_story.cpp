#include "run_story.h"

#include <algorithm>

namespace rt {
namespace {

/// The last story of a line's job and hooping; null before the first.
RunStory* storyOf(std::vector<RunStory>& stories, const LedgerEntry& e) {
  for (auto it = stories.rbegin(); it != stories.rend(); ++it)
    if (it->job_id == e.job_id && (e.hooping == 0 || it->hooping == e.hooping)) return &*it;
  return nullptr;
}

double figureOf(const LedgerEntry& e, const char* name) {
  const auto it = e.figures.find(name);
  return it == e.figures.end() ? 0 : it->second;
}

void count(RunStory& s, const LedgerEntry& e) {
  if (e.event == "break") ++s.breaks;
  if (e.event == "bobbin-missed" || e.event == "bobbin-empty") ++s.bobbins;
  if (e.event == "fold") ++s.folds;
  if (e.event == "lost") ++s.lost;
  if (e.event == "back") ++s.stepped_back;
  if (e.event == "skipped") ++s.skipped;
  // a clock may have been set back between two starts of the program
  if (e.event == "done") s.ended = std::max(s.began, e.time);
  if (e.event == "run") {
    s.planned_s = figureOf(e, "predicted_s");
    s.taken_s = figureOf(e, "taken_s");
  }
  if (e.event == "outcome" && s.outcome.empty()) s.outcome = e.status;
}

}  // namespace

std::vector<RunStory> storiesIn(const std::vector<LedgerEntry>& entries) {
  std::vector<RunStory> stories;
  std::map<std::pair<std::string, int>, LedgerEntry> aligned;
  std::map<std::string, bool> overruled;  // of a job, until its next sewing begins
  for (const LedgerEntry& e : entries) {
    const auto key = std::pair(e.job_id, e.hooping);
    if (e.event == "align") aligned[key] = e;
    if (e.event == "overrule") overruled[e.job_id] = true;
    if (e.event == "sew-start") {
      RunStory s;
      s.job_id = e.job_id, s.job_title = e.job_title;
      s.hooping = e.hooping;
      s.began = e.time;
      s.overruled = std::exchange(overruled[e.job_id], false);
      if (const auto a = aligned.find(key); a != aligned.end()) {
        s.aligned = a->second.status;
        s.rotation_deg = a->second.rotation_deg;
        s.worst_mm = a->second.worst_mm;
        s.rms_mm = a->second.rms_mm;
      }
      stories.push_back(std::move(s));
      continue;
    }
    if (RunStory* s = storyOf(stories, e)) count(*s, e);
  }
  return stories;
}

}  // namespace rt
