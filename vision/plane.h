// From the photo to a plane in millimetres.
#pragma once

#include <optional>

#include "camera_lens.h"
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

/// Plane to photo: a homography, then a lens that bends straight lines (see Bend). Its terms are
/// held near what common lenses have, so that each is moved only as far as the data carry it. How
/// near is weighed by the photo itself (Bayesian model averaging, Hoeting and others 1999): from a
/// lens that only bends inward or outward about the picture's middle to one that sits askew.
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
  /// Where as many places as `out` holds are seen, `from` and one `step` after another: every few
  /// of them is projected, and those between lie on a parabola, off by less than 0.001 px over some
  /// millimetres.
  void toPhoto(Point from, Point step, std::vector<Point>& out) const;
  Point toPlane(Point px) const;
  CameraLens lens() const { return lensOf(parameters_); }
  double k1() const { return parameters_[kFlat]; }
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
  static constexpr size_t kFlat = 8;  // the homography's own
  static constexpr size_t kParameters = kFlat + Bend::kTerms;
  using Parameters = std::array<double, kParameters>;
  using Covariance = std::array<double, kParameters * kParameters>;
  using Known = std::array<LensPrior, Bend::kTerms>;  // of the terms of the lens
  /// What follows where the lens is held so near.
  struct Solved {
    Parameters parameters;
    Covariance covariance;
    double evidence;  ///< Logarithm of the chance of what is seen, but for a constant.
    double fitted;    ///< Parameters; one that is known as well before counts for none.
  };
  CameraLens lensOf(const Parameters& p) const;
  Point project(const Parameters& p, const CameraLens& lens, Point plane) const;
  struct Descent;
  void firstHomography(const std::vector<Sight>& sights);
  /// Takes the mean of all ways; returns how many parameters that fits, for measureNoise.
  double average(const std::vector<Solved>& ways);
  void measureNoise(const std::vector<Sight>& sights, double fitted);

  Parameters parameters_{};
  Covariance covariance_{};
  Point middle_, origin_;
  double half_ = 1, scale_ = 1, rms_ = 0, noise_ = 0.1;
  LensPrior lens_;
};

}  // namespace rt
