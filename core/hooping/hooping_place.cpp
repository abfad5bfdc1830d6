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

namespace {

/// A to Z, then AA, AB, …
std::string letterOf(size_t n) {
  std::string out;
  for (++n; n > 0; n = (n - 1) / 26) out.insert(out.begin(), static_cast<char>('A' + (n - 1) % 26));
  return out;
}

}  // namespace

std::vector<Mark> expectedMarks(const Hooping& hooping, double error_mm) {
  const Transform to = intendedPlace(hooping.settings.front());
  std::vector<Mark> marks;
  auto add = [&](Point layout) {
    marks.push_back({letterOf(marks.size()), layout, to(layout), error_mm});
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

Pattern onMeasuredCloth(const Hooping& hooping, size_t setting, const Fit& lies) {
  const Transform first = intendedPlace(hooping.settings.front());
  const Transform own = intendedPlace(hooping.settings[setting]);
  // layout to the first field, as found; from there on as the frame carries it
  const Transform onCloth = lies.toHoop * first;
  const Transform carried = own * first.inverse().value_or(Transform{});
  return transformed(hooping.settings[setting].pattern, carried * onCloth);
}

double roomIn(const Field& field, std::span<const Point> places) {
  const double a = field.width_mm / 2, b = field.height_mm / 2;
  double room = INFINITY;
  for (Point p : places)
    room = std::min(room, field.shape == HoopShape::Oval
                              ? (1 - std::hypot(p.x / a, p.y / b)) * std::min(a, b)
                              : std::min(a - std::abs(p.x), b - std::abs(p.y)));
  return room;
}

double roomIn(const Field& field, const Pattern& rows) {
  std::vector<Point> ends;
  forEachSegment(rows, [&](Point from, Point to, size_t) {
    ends.push_back(from);
    ends.push_back(to);
  });
  return roomIn(field, ends);
}

namespace {

struct Leaving {
  double over_mm = 0;
  Point at;
};
/// The stitch that leaves the field farthest; none where all stay inside.
std::optional<Leaving> leaving(const Pattern& pattern, const Field& field) {
  std::optional<Leaving> worst;
  for (const Stitch& s : pattern.stitches) {
    if (s.op != Op::Stitch || field.contains(s.at)) continue;
    const double by =
        std::max(std::abs(s.at.x) - field.width_mm / 2, std::abs(s.at.y) - field.height_mm / 2);
    if (const double over = std::max(0.1, by); !worst || over > worst->over_mm)
      worst = Leaving{over, s.at};
  }
  return worst;
}

}  // namespace

void holdInField(Alignment& alignment, const Hooping& hooping, const Field& field) {
  for (size_t s = 0; s < hooping.settings.size(); ++s) {
    const auto out = leaving(onMeasuredCloth(hooping, s, alignment.fit), field);
    if (!out) continue;
    AlignmentNote note;
    note.what = AlignmentNote::What::SewingLeaves, note.weight = Readiness::Rehoop;
    note.value = out->over_mm, note.at = out->at;
    alignment.status = Readiness::Rehoop;
    alignment.notes.insert(alignment.notes.begin(), note);  // before all that matters less
    return;
  }
}

Pattern inMachine(const Hooping& hooping, size_t setting, const Fit& lies, const Field& field) {
  Pattern sewn = onMeasuredCloth(hooping, setting, lies);
  if (const auto out = leaving(sewn, field))
    throw Error("as the cloth lies, the sewing leaves the field by " +
                    formatNumber(out->over_mm, 1) + " mm",
                "hooping " + std::to_string(hooping.index) + " at (" + formatNumber(out->at.x, 0) +
                    ", " + formatNumber(out->at.y, 0) + ") mm in the hoop",
                "hoop the cloth again nearer to where it was meant to lie");
  return sewn;
}

}  // namespace rt
