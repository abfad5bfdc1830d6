#include "tags.h"

#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>

#include <algorithm>
#include <optional>

#include "line_fit.h"
#include "side_by_side.h"
#include "tag_fit.h"

namespace rt {
namespace {

constexpr double kDecimateFrom = 4e6;  // pixels; larger photos are searched at half their size
constexpr float kLeastMargin = 25;     // of the decoded bits, in grey levels
constexpr double kEdgeInset = 0.12;    // of a side, left out at each corner
constexpr double kEdgesAlone = 3;      // modules beside an edge pull it where the photo is coarse
constexpr double kLeastSigma_px = 0.02, kLeastFit_px = 0.005;

struct Line {
  Point at, way;     // a point and a unit direction
  double sigma = 0;  // of its place across, px
};

/// Where brightness steps across a line from outside (light) to inside (dark), to a part of a
/// pixel: the middle of the steepest rise, as the mean of the gradient's place.
std::optional<double> stepAcross(const Photo& photo, Point at, Point across, double reach) {
  constexpr double kFine = 0.25;
  const int n = static_cast<int>(reach / kFine);
  std::vector<double> profile;
  for (int k = -n; k <= n; ++k) profile.push_back(photo.grey(at + across * (k * kFine)));
  double most = 0;
  int peak = -1;
  for (int k = 1; k + 1 < static_cast<int>(profile.size()); ++k) {
    const double g = profile[static_cast<size_t>(k - 1)] - profile[static_cast<size_t>(k + 1)];
    if (g > most) most = g, peak = k;
  }
  if (peak < 0 || most < 8) return std::nullopt;
  const int half = static_cast<int>(1.75 / kFine);
  double sum = 0, weight = 0;
  for (int k = std::max(1, peak - half);
       k <= std::min<int>(static_cast<int>(profile.size()) - 2, peak + half); ++k) {
    const double g =
        std::max(0.0, profile[static_cast<size_t>(k - 1)] - profile[static_cast<size_t>(k + 1)]);
    if (g < 0.15 * most) continue;
    sum += g * (k - n) * kFine;
    weight += g;
  }
  return sum / weight;
}

/// The edge between two rough corners: a line through its steps, far ones left out twice.
std::optional<Line> edgeLine(const Photo& photo, Point a, Point b, Point inside) {
  const double side = distance(a, b);
  const Point way = unit(b - a);
  Point across = quarterTurn(way);
  if (dot(across, inside - a) < 0) across = across * -1;  // from outside in
  const double reach = std::clamp(side * 0.06, 2.0, 6.0);
  std::vector<Point> steps;
  const int n = std::clamp(static_cast<int>(side * (1 - 2 * kEdgeInset)), 8, 160);
  for (int k = 0; k < n; ++k) {
    const Point at = mix(a, b, kEdgeInset + (1 - 2 * kEdgeInset) * (k + 0.5) / n);
    if (const auto off = stepAcross(photo, at, across, reach)) steps.push_back(at + across * *off);
  }
  const auto fit = fitLine(std::move(steps), 0.15, 3);
  if (!fit) return std::nullopt;
  return Line{fit->at, fit->way, fit->rms / std::sqrt(static_cast<double>(fit->places) / 4)};
}

std::optional<Point> meet(const Line& a, const Line& b) {
  const double d = cross(a.way, b.way);
  if (std::abs(d) < 0.2) return std::nullopt;
  return a.at + a.way * (cross(b.at - a.at, b.way) / d);
}

Point centreOf(const SeenTag& tag) {
  const Line first{tag.corners[0], unit(tag.corners[2] - tag.corners[0]), 0};
  const Line second{tag.corners[1], unit(tag.corners[3] - tag.corners[1]), 0};
  return meet(first, second).value_or(tag.centre);
}

/// What a tag of a family shows.
TagModules modulesOf(const apriltag_family_t& family, int id) {
  TagModules out{};
  const uint64_t code = family.codes[id];
  for (uint32_t i = 0; i < family.nbits; ++i)
    if (code >> (family.nbits - i - 1) & 1) out[family.bit_y[i] * 8 + family.bit_x[i]] = 1;
  return out;
}

/// By all of its pixels, where these agree.
void takeFit(const Photo& photo, const apriltag_family_t& family, const Bend& bend, SeenTag& tag) {
  const auto fit = fitTag(photo, tag.corners, modulesOf(family, tag.id), bend);
  if (!fit) return;
  tag.corners = fit->corners;
  tag.corner_px = std::max(kLeastFit_px, fit->corner_px);
  tag.centre = centreOf(tag);
}

/// By its edges, then by all of its pixels; where those do not agree the edges stand.
void refine(const Photo& photo, const apriltag_family_t& family, SeenTag& tag) {
  std::array<std::optional<Line>, 4> lines;
  for (size_t i = 0; i < 4; ++i)
    lines[i] = edgeLine(photo, tag.corners[i], tag.corners[(i + 1) % 4], tag.centre);
  double square = 0;
  for (size_t i = 0; i < 4; ++i) {
    const auto& before = lines[(i + 3) % 4];
    const auto& after = lines[i];
    if (!before || !after) {
      square += 0.09;
      continue;
    }
    const auto corner = meet(*before, *after);
    if (!corner || distance(*corner, tag.corners[i]) > 4) {
      square += 0.09;
      continue;
    }
    tag.corners[i] = *corner;
    square += (before->sigma * before->sigma + after->sigma * after->sigma) / 2;
  }
  tag.corner_px = std::max(kLeastSigma_px, std::sqrt(square / 4)) * kEdgesAlone;
  tag.centre = centreOf(tag);
  takeFit(photo, family, {}, tag);
}

}  // namespace

std::vector<SeenTag> findTags(const Photo& photo) {
  apriltag_family_t* family = tag36h11_create();
  apriltag_detector_t* detector = apriltag_detector_create();
  apriltag_detector_add_family_bits(detector, family, 2);
  detector->nthreads = 2;
  detector->quad_decimate =
      static_cast<double>(photo.width()) * photo.height() > kDecimateFrom ? 2.0F : 1.0F;
  image_u8_t image{photo.width(), photo.height(), photo.width(),
                   const_cast<uint8_t*>(photo.greyPixels())};
  zarray_t* found = apriltag_detector_detect(detector, &image);
  std::vector<SeenTag> out;
  for (int i = 0; i < zarray_size(found); ++i) {
    apriltag_detection_t* d = nullptr;
    zarray_get(found, i, &d);
    if (d->decision_margin < kLeastMargin) continue;
    SeenTag tag;
    tag.id = d->id;
    // the library counts from the first pixel's corner, and from the bottom left
    constexpr size_t kOrder[] = {3, 2, 1, 0};
    for (size_t c = 0; c < 4; ++c)
      tag.corners[c] = {d->p[kOrder[c]][0] - 0.5, d->p[kOrder[c]][1] - 0.5};
    tag.centre = {d->c[0] - 0.5, d->c[1] - 0.5};
    out.push_back(tag);
  }
  sideBySide(out.size(), [&](size_t i) { refine(photo, *family, out[i]); });
  apriltag_detections_destroy(found);
  apriltag_detector_destroy(detector);
  tag36h11_destroy(family);
  return out;
}

void refineTags(const Photo& photo, const Bend& bend, std::vector<SeenTag>& tags) {
  apriltag_family_t* family = tag36h11_create();
  sideBySide(tags.size(), [&](size_t i) { takeFit(photo, *family, bend, tags[i]); });
  tag36h11_destroy(family);
}

}  // namespace rt
