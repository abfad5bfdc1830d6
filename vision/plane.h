// From the photo to a plane in millimetres.
#pragma once

#include <optional>

#include "fit.h"
#include "tag_place.h"
#include "tags.h"

namespace rt {

/// Corners of a tag in its frame, in the order of SeenTag::corners.
std::array<Point, 4> cornersOf(const TagPlace& tag, double size_mm);

/// What is known of a lens before a photo is looked at, one sigma: common lenses bend little.
struct LensPrior {
  double k1 = 0, sigma = 0.03;
  friend bool operator==(const LensPrior&, const LensPrior&) = default;
};

/// Plane to photo: a homography, then a lens that bends straight lines: a place at u from the
/// picture's middle, as a part of half its diagonal, is seen at u (1 + k1 |u|²).
class Plane {
 public:
  struct Sight {
    Point plane, px;
    double sigma_px = 0.1;
  };
  /// Least squares over corners of known tags; the lens is held near what is known of it, so that
  /// few corners do not bend it. Throws Error with fewer than `least`.
  Plane(const std::vector<Sight>& sights, int width, int height, size_t least = 8,
        const LensPrior& lens = {});

  Point toPhoto(Point plane) const;
  Point toPlane(Point px) const;
  double k1() const { return parameters_[8]; }
  /// What the photo alone says of the lens, without what was known before; sigma is infinite where
  /// it says nothing.
  LensPrior lensByItself() const;
  double rms_px() const { return rms_; }
  /// One sigma of a pixel in the corners' places, from how they fit.
  double noise_px() const { return noise_; }
  /// How far a photo's pixel reaches on the plane there, mm.
  double mmPerPixel(Point plane) const;
  /// What the plane itself is uncertain by at a place, mm².
  PlaceCovariance covarianceAt(Point plane) const;
  /// The same as errors that all places share: by how much each is off, mm, where one of them is
  /// one sigma.
  std::vector<Point> errorsAt(Point plane) const;
  /// The same view of a plane that lies `down_mm` farther from the camera.
  Plane lowered(double down_mm) const;

 private:
  Plane() = default;
  using Parameters = std::array<double, 9>;
  Point project(const Parameters& p, Point plane) const;
  void solve(const std::vector<Sight>& sights);
  void measureNoise(const std::vector<Sight>& sights);

  Parameters parameters_{};
  std::array<double, 81> covariance_{};
  Point middle_, origin_;
  double half_ = 1, scale_ = 1, rms_ = 0, noise_ = 0.1;
  LensPrior lens_;
};

}  // namespace rt
