// The plane and the lens by the corners of tags alone, against the cameras that saw them.
#include <QtTest>

#include "camera_at_hand.h"
#include "error.h"
#include "plane.h"
#include "run.h"

namespace test_plane {

using namespace rt;
using testing::between;

namespace {

constexpr int kCameras = 300;
constexpr double kCorner_px = 0.012;  // one sigma of a tag that is well seen

/// Whose lens sits askew, or only bends inward or outward.
Camera held(bool askew, std::mt19937& random) {
  Camera c = testing::heldByHand(random, 20, 0.02);
  c.width = 2000, c.height = 1500;
  c.distance_mm = between(random, 400, 480);
  if (!askew) return c;
  c.looks = {between(random, -0.012, 0.012), between(random, -0.012, 0.012)};
  c.p1 = between(random, -0.001, 0.001), c.p2 = between(random, -0.001, 0.001);
  return c;
}

std::vector<Plane::Sight> corners(const Camera& c, double noise_px, std::mt19937& random) {
  std::normal_distribution<double> noise(0, noise_px);
  std::vector<Plane::Sight> out;
  for (const TagPlace& tag : testing::frameTags())
    for (Point k : cornersOf(tag, 12))
      out.push_back(
          {k, seenAt(c, k) + Point{noise(random), noise(random)}, std::max(0.001, noise_px)});
  return out;
}

/// How far a place is off, mm.
double offAt(const Plane& plane, const Camera& c, Point at) {
  return distance(plane.toPlane(seenAt(c, at)), at);
}
/// The most over places of the field.
double offOf(const Plane& plane, const Camera& c) {
  double out = 0;
  for (int i = 0; i < 4; ++i)
    for (double part : {0.5, 1.0})
      out = std::max(out, offAt(plane, c, Box::around({0, 0}, 200, 140).corner(i) * part));
  return out;
}

struct Tally {
  double within = 0, median_mm = 0, most_mm = 0;
};
Tally tally(bool askew, std::mt19937& random) {
  std::vector<double> off;
  Tally out;
  for (int i = 0; i < kCameras; ++i) {
    const Camera c = held(askew, random);
    const Plane plane(corners(c, kCorner_px, random), c.width, c.height);
    off.push_back(offOf(plane, c));
    const Point any{between(random, -100, 100), between(random, -70, 70)};
    out.within += offAt(plane, c, any) <= within95_mm(plane.covarianceAt(any)) ? 1.0 / kCameras : 0;
  }
  std::sort(off.begin(), off.end());
  out.median_mm = off[off.size() / 2], out.most_mm = off.back();
  qInfo("askew %d: within %.1f %%, median %.4f mm, most %.4f mm", askew, out.within * 100,
        out.median_mm, out.most_mm);
  return out;
}

}  // namespace

class TestPlane : public QObject {
  Q_OBJECT
 private slots:
  void thereAndBackIsTheSamePlace() {
    std::mt19937 random = testing::seeded(331);
    for (int i = 0; i < 60; ++i) {
      const Camera c = held(true, random);
      const Plane plane(corners(c, kCorner_px, random), c.width, c.height);
      const Point at{between(random, -130, 130), between(random, -90, 90)};
      QVERIFY(distance(plane.toPlane(plane.toPhoto(at)), at) < 1e-6);
    }
  }
  /// Its terms are not asked for by the data, and cost next to nothing.
  void aLensThatBendsOnlyOutwardIsLeftStraight() {
    std::mt19937 random = testing::seeded(332);
    const Tally t = tally(false, random);
    QVERIFY(t.within > 0.92 && t.median_mm < 0.006 && t.most_mm < 0.04);
  }
  void aLensThatSitsAskewIsFitted() {
    std::mt19937 random = testing::seeded(333);
    const Tally t = tally(true, random);
    QVERIFY(t.within > 0.75 && t.median_mm < 0.018 && t.most_mm < 0.05);
  }
  /// Without noise all of it is found.
  void whatIsSeenWithoutNoiseIsFoundWhole() {
    std::mt19937 random = testing::seeded(334);
    for (int i = 0; i < 40; ++i) {
      const Camera c = held(true, random);
      const Plane plane(corners(c, 0, random), c.width, c.height);
      QVERIFY2(offOf(plane, c) < 0.01, qPrintable(QString::number(offOf(plane, c))));
    }
  }
  /// What a photo says of the lens, and how surely, without what was known before.
  void thePhotoSaysHowItsLensBends() {
    std::mt19937 random = testing::seeded(335);
    int within = 0;
    for (int i = 0; i < 100; ++i) {
      const Camera c = held(false, random);
      const LensPrior own = Plane(corners(c, kCorner_px, random), c.width, c.height).lensByItself();
      within += std::abs(own.k1 - c.k1) < 2 * own.sigma;
      QVERIFY2(own.sigma < 0.01, qPrintable(QString::number(own.sigma)));
    }
    QVERIFY2(within > 85, qPrintable(QString::number(within)));
  }
  void tooFewCornersAreAnError() { QVERIFY_THROWS_EXCEPTION(Error, Plane({}, 2000, 1500)); }
};

RT_TEST(TestPlane)

}  // namespace test_plane
#include "test_plane.moc"
