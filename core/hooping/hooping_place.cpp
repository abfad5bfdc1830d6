#include "hooping_place.h"

#include "error.h"
#include "length.h"

namespace rt {

Transform intendedPlace(const PlanSetting& setting) {
  return Transform::turning(-setting.field.turn_deg) *
         Transform::moving(Point{} - setting.field.box.centre());
}

Pattern inHoop(const PlanSetting& setting) {
  return transformed(setting.pattern, intendedPlace(setting));
}

std::vector<Mark> expectedMarks(const Hooping& hooping) {
  const Transform to = intendedPlace(hooping.settings.front());
  std::vector<Mark> marks;
  char name = 'A';
  auto add = [&](Point layout) {
    marks.push_back({std::string(1, name++), layout, to(layout), kNeedleError_mm});
  };
  for (const PlanMark& m : hooping.marks) {
    if (!hooping.settings.front().field.holds(m.at)) continue;
    add(m.at);
    marks.back().id += " (" + m.id + ")";
  }
  // ends of the centre lines, as far out as the field reaches, when the planner's marks are few
  const Box room = hooping.settings.front().field.box.grown(-6);
  if (room.top <= 0 && room.bottom >= 0) {
    if (marks.size() < 3) add({room.left, 0});
    if (marks.size() < 3) add({room.right, 0});
  }
  if (room.left <= 0 && room.right >= 0) {
    if (marks.size() < 3) add({0, room.top});
    if (marks.size() < 3) add({0, room.bottom});
  }
  for (int corner = 0; marks.size() < 3 && corner < 4; ++corner) add(room.corner(corner));
  return marks;
}

void holdInField(Alignment& alignment, const Hooping& hooping, const Field& field) {
  try {
    for (size_t s = 0; s < hooping.settings.size(); ++s)
      inMachine(hooping, s, alignment.fit, field);
  } catch (const Error& leaves) {
    alignment.status = Readiness::Rehoop;
    alignment.advice.insert(alignment.advice.begin(), leaves.problem() + ": " + leaves.remedy());
    const size_t verdict = alignment.headline.rfind(": ");
    alignment.headline = alignment.headline.substr(0, verdict) + ": re-hoop, " + leaves.problem();
  }
}

Pattern inMachine(const Hooping& hooping, size_t setting, const Fit& lies, const Field& field) {
  const Transform first = intendedPlace(hooping.settings.front());
  const Transform own = intendedPlace(hooping.settings[setting]);
  // layout to the first field, as found; from there on as the frame carries it
  const Transform onCloth = lies.toHoop * first;
  const Transform carried = own * first.inverse().value_or(Transform{});
  Pattern out = transformed(hooping.settings[setting].pattern, carried * onCloth);
  double over = 0;
  Point worst;
  for (const Stitch& s : out.stitches) {
    if (s.op != Op::Stitch || field.contains(s.at)) continue;
    const double by =
        std::max(std::abs(s.at.x) - field.width_mm / 2, std::abs(s.at.y) - field.height_mm / 2);
    if (by >= over) over = by, worst = s.at;
  }
  if (over > 0 || worst != Point{})
    throw Error("as the cloth lies, the sewing leaves the field by " +
                    formatNumber(std::max(0.1, over), 1) + " mm",
                "hooping " + std::to_string(hooping.index) + " at (" + formatNumber(worst.x, 0) +
                    ", " + formatNumber(worst.y, 0) + ") mm in the hoop",
                "hoop the cloth again nearer to where it was meant to lie");
  return out;
}

}  // namespace rt
