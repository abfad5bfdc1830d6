#include "cloth_reading.h"

#include <optional>

#include "error.h"
#include "sewn_places.h"

namespace rt {
namespace {

constexpr size_t kLeastFound = 8;
constexpr SewnSearch kFar{0.9, 1.2}, kNear{0.45, 0.5};

/// Symmetric 2 x 2.
struct Information {
  double xx = 0, xy = 0, yy = 0;
  Point slope;
  void add(const SewnPlace& p) {
    const PlaceCovariance& c = p.covariance;
    const double det = c.xx * c.yy - c.xy * c.xy;
    const double ixx = c.yy / det, ixy = -c.xy / det, iyy = c.xx / det;
    xx += ixx, xy += ixy, yy += iyy;
    slope = slope + Point{ixx * p.by.x + ixy * p.by.y, ixy * p.by.x + iyy * p.by.y};
  }
  PlaceCovariance covariance() const {
    const double det = xx * yy - xy * xy;
    return {yy / det, -xy / det, xx / det};
  }
};

Plane planeOf(const Photo& photo, const std::string& name, const PhotoSetup& setup) {
  const PhotoReading reading = readPhoto(photo, setup);
  if (reading.found.plane) return *reading.found.plane;
  const Error& problem = *reading.problem;
  throw Error(problem.problem(), name, problem.remedy());
}

/// Looks for the elements in all photos.
class ClothReader {
 public:
  ClothReader(const Pattern& sewn, const ClothPhotos& photos)
      : sewn_(sewn), photos_(photos), elements_(sewnElements(sewn)), shapes_(shapesOfRows(sewn)) {
    PhotoSetup frame = photos.setup;  // what lies on the cloth has moved: it tells no frame
    frame.cloth_tags.clear(), frame.crosses.clear(), frame.lines.clear();
    for (size_t i = 0; i < photos.photos.size(); ++i)
      planes_.push_back(planeOf(photos.photos[i], photos.names[i], frame));
  }
  size_t sought() const { return elements_.size(); }
  const std::vector<size_t>& found() const { return found_; }

  /// `moved`: by row, how far the cloth is thought to have brought it.
  std::vector<ClothSight> look(const std::vector<Point>& moved, const SewnSearch& search) {
    const Pattern thought = movedRows(sewn_, moved);
    std::vector<SewnElement> there = elements_;
    for (SewnElement& e : there) e.window = e.window.moved(meanOf(moved, e.rows));
    std::vector<std::optional<Information>> known(there.size());
    found_.clear();
    for (size_t i = 0; i < planes_.size(); ++i) {
      const auto places = sewnPlaces(photos_.photos[i], planes_[i], thought, there, search);
      if (places.size() < std::min(kLeastFound, there.size()) || places.empty())
        throw Error("the sewn thread cannot be found in the photo", photos_.names[i],
                    "photograph the swatch as it was sewn, in its frame, sharp and in even light");
      found_.push_back(places.size());
      for (const SewnPlace& p : places) {
        if (!known[p.element]) known[p.element].emplace();
        known[p.element]->add(p);
      }
    }
    return sightsOf(known, moved);
  }

 private:
  static Point meanOf(const std::vector<Point>& of, const std::vector<size_t>& rows) {
    Point sum;
    for (size_t row : rows) sum = sum + of[row];
    return sum * (1.0 / static_cast<double>(rows.size()));
  }

  std::vector<ClothSight> sightsOf(const std::vector<std::optional<Information>>& known,
                                   const std::vector<Point>& moved) const {
    std::vector<ClothSight> out;
    for (size_t e = 0; e < known.size(); ++e) {
      if (!known[e]) continue;
      const PlaceCovariance c = known[e]->covariance();
      const Point s = known[e]->slope, by{c.xx * s.x + c.xy * s.y, c.xy * s.x + c.yy * s.y};
      out.push_back({elements_[e].rows, by + meanOf(moved, elements_[e].rows), c,
                     shapes_[elements_[e].rows.front()]});
    }
    return out;
  }

  const Pattern& sewn_;
  const ClothPhotos& photos_;
  std::vector<SewnElement> elements_;
  std::vector<size_t> shapes_;
  std::vector<Plane> planes_;
  std::vector<size_t> found_;
};

}  // namespace

ClothPhotoLesson learnedFromPhotos(const ClothKnown& before, const Pattern& sewn,
                                   const ClothPhotos& photos,
                                   const std::vector<ClothSight>& besides, const Watch& watch) {
  requireWithin(sewn, photos.setup.base.field);
  ClothReader reader(sewn, photos);
  const Field& field = photos.setup.base.field;
  const auto learn = [&](std::vector<ClothSight> sights) {
    sights.insert(sights.end(), besides.begin(), besides.end());
    return learned(before, sewn, field, sights, watch);
  };
  const std::vector<Point> still(sewn.stitches.size());
  ClothPhotoLesson out;
  out.sought = reader.sought();
  const ClothLesson first = learn(reader.look(still, kFar));
  const ClothMotion motion = clothMotion(sewn, first.known.law, field);
  const std::vector<ClothSight> sights = reader.look(motion.moved, kNear);
  out.found = reader.found();
  out.sights = sights.size() + besides.size();
  out.lesson = learn(sights);
  return out;
}

}  // namespace rt
