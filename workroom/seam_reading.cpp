#include "seam_reading.h"

#include <algorithm>

#include "error.h"
#include "hooping_place.h"
#include "length.h"
#include "sewn_shift.h"

namespace rt {
namespace {

constexpr double kWindow_mm = 150;  // about a seam's place: what is clamped together moved together
constexpr double kReach_mm = 2;     // farther off nobody needs a photo to see it

class SeamReader {
 public:
  SeamReader(const SeamQuestion& q, const Photo& photo, const PhotoAlignment& found)
      : q_(q), photo_(photo), plane_(*found.plane) {
    const Hooping& h = hooping(q.hooping);
    inSight_ = Box::around({0, 0}, q.setup.base.field.width_mm, q.setup.base.field.height_mm);
    toHoop_ = found.alignment.fit.toHoop * intendedPlace(h.settings.front());
  }

  SeamAnswer run(const Watch& watch) {
    SeamAnswer out;
    size_t both = 0;
    for (const Seam& seam : q_.made->seams) {
      if (!seam.meets || (seam.first != q_.hooping && seam.second != q_.hooping)) continue;
      if (!sewn(seam.first, seam.first_setting) || !sewn(seam.second, seam.second_setting))
        continue;
      ++both;
      watched(watch, 0.6, "measuring seams");
      if (const auto seen = measured(seam))
        out.seams.push_back(*seen);
      else
        ++out.not_told;
    }
    if (both == 0)
      throw Error("no seam of hooping " + std::to_string(q_.hooping) + " is sewn on both sides",
                  "seams", "sew its neighbour first, then take a scan before it leaves the frame");
    return out;
  }

 private:
  const Hooping& hooping(int index) const {
    return q_.made->hoopings.at(static_cast<size_t>(index) - 1);
  }
  bool sewn(int h, int s) const {
    return std::find(q_.sewn.begin(), q_.sewn.end(), std::pair(h, s)) != q_.sewn.end();
  }

  /// Thread of a setting about a place, on the plane of the hoop.
  std::vector<LaidStroke> threadOf(int h, int s, const Box& about) const {
    const Pattern& p = hooping(h).settings.at(static_cast<size_t>(s) - 1).pattern;
    std::vector<LaidStroke> out;
    forEachSegment(p, [&](Point a, Point b, size_t row) {
      Box own;
      own.add(a), own.add(b);
      if (own.overlaps(about))
        out.push_back({toHoop_(a), toHoop_(b), static_cast<int>(p.stitches[row].thread)});
    });
    return out;
  }

  std::optional<SeamSeen> measured(const Seam& seam) const {
    const Box about = Box::around(seam.at, kWindow_mm, kWindow_mm);
    const auto first = threadOf(seam.first, seam.first_setting, about.grown(kReach_mm));
    const auto second = threadOf(seam.second, seam.second_setting, about.grown(kReach_mm));
    const Point here = toHoop_(seam.at);
    const Box window = Box::around(here, kWindow_mm, kWindow_mm).intersection(inSight_);
    const auto one = shiftOfSewn(photo_, plane_, first, second, window, here, kReach_mm);
    const auto two = shiftOfSewn(photo_, plane_, second, first, window, here, kReach_mm);
    if (!one || !two) return std::nullopt;
    SeamSeen out;
    out.planned = seam;
    const Transform back = toHoop_.inverse().value_or(Transform{});
    out.gap = back(two->by) - back(one->by);
    out.gap_mm = length(out.gap);
    out.certain_mm = within95_mm(one->covariance + two->covariance);
    return out;
  }

  const SeamQuestion& q_;
  const Photo& photo_;
  const Plane& plane_;
  Transform toHoop_;
  Box inSight_;  // the first field: beyond it the frame hides the cloth
};

std::string sideOf(int hooping, int setting, bool several) {
  return std::to_string(hooping) + (several ? "." + std::to_string(setting) : "");
}

}  // namespace

std::string SeamSeen::inWords() const {
  const bool several = planned.first_setting > 1 || planned.second_setting > 1;
  return "seam of " + sideOf(planned.first, planned.first_setting, several) + " and " +
         sideOf(planned.second, planned.second_setting, several) + ": " + formatNumber(gap_mm, 2) +
         " mm off, ± " + formatNumber(certain_mm, 2) + "; up to " +
         formatNumber(planned.error_mm, 2) + " was predicted";
}

SeamAnswer readSeams(const SeamQuestion& q, const Watch& watch) {
  watched(watch, 0, "reading the scan");
  const Scan& scan = q.scan->scan;
  const Photo photo = Photo::fromBytes(
      {reinterpret_cast<const uint8_t*>(scan.bytes->data()), scan.bytes->size()}, scan.name);
  watched(watch, 0.2, "looking for tags");
  const PhotoReading reading = readPhoto(photo, q.setup);
  if (reading.problem) throw *reading.problem;
  return SeamReader(q, photo, reading.found).run(watch);
}

}  // namespace rt
