#include "measured.h"

#include <algorithm>

#include "error.h"
#include "hooping_place.h"

namespace rt {
namespace {

/// Marks that the scan in force should show and that nobody has found.
std::vector<LeftOut> unseen(const ScanRead* read, const std::vector<Mark>& have, size_t expected) {
  std::vector<LeftOut> out;
  if (!read) return out;
  for (const std::string& id : read->missing)
    if (std::none_of(have.begin(), have.end(), [&](const Mark& m) { return m.id == id; }))
      out.push_back({id});
  // points that a person matched stand for themselves
  if (out.size() == expected) out.clear();
  return out;
}

}  // namespace

Measured measuredCloth(const Work& work, const MadePlan& plan, const Hooping& hooping,
                       const Field& field, const ShapeLimits& limits) {
  Measured out;
  const SettingKey key = keyOf(plan, hooping);
  const ScanRead* read = work.record.lastReading(key);
  std::vector<Mark> marks = work.record.marks(key);
  out.marks = marks.size();
  if (read && !read->problem.empty()) {
    out.problem = read->problem;
    out.unread = true;
    return out;
  }
  if (marks.empty()) return out;
  AlignmentSetup setup;
  setup.field = field;
  setup.tolerance_mm = work.job.tolerance_mm;
  setup.limits = limits;
  const Transform meant = intendedPlace(hooping.settings.front());
  const std::vector<LeftOut> missing = unseen(read, marks, expectedMarks(hooping).size());
  for (Mark& m : marks) m.layout = meant(m.layout);
  try {
    Alignment a = align(marks, setup);
    holdMissing(a, missing);
    if (std::all_of(marks.begin(), marks.end(),
                    [](const Mark& m) { return m.id.starts_with(kOneTag); }))
      holdSingle(a);
    holdInField(a, hooping, setup.field);
    out.alignment = std::move(a);
  } catch (const Error& problem) {
    out.problem = problem.problem();
  }
  return out;
}

}  // namespace rt
