// Sewn thread in a photo, against where it was meant: rendered with known truth.
#include <QtTest>

#include "camera_at_hand.h"
#include "photo_marks.h"
#include "run.h"
#include "sewn_shift.h"

namespace test_sewn_shift {

using namespace rt;
using testing::between;

class TestSewnShift : public QObject {
  Q_OBJECT

  /// Columns and runs about a middle, as thread that was meant to lie there.
  static std::vector<LaidStroke> motif(std::mt19937& random, Point middle, int colour) {
    std::vector<LaidStroke> out;
    for (int part = 0; part < 3; ++part) {
      const Point at = middle + Point{between(random, -7, 7), between(random, -7, 7)};
      const double turn = radians(between(random, 0, 180)), wide = between(random, 2, 5);
      const Point along{std::cos(turn), std::sin(turn)}, across{-along.y, along.x};
      Point last = at;
      for (double s = 0; s < between(random, 6, 12); s += 0.2) {
        const Point next =
            at + along * s + across * (static_cast<int>(s / 0.2) % 2 ? wide / 2 : -wide / 2);
        out.push_back({last, next, colour});
        last = next;
      }
    }
    return out;
  }
  static void lay(Scene& scene, const std::vector<LaidStroke>& strokes, Point by,
                  const uint8_t (&bgr)[3]) {
    for (const LaidStroke& s : strokes)
      scene.threads.push_back({s.from + by, s.to + by, {bgr[0], bgr[1], bgr[2]}});
  }
  static Camera held(std::mt19937& random) {
    Camera c = testing::heldByHand(random, 15, 0.015);
    c.width = 1600, c.height = 1200;
    c.distance_mm = 430;
    c.noise = between(random, 1, 4);
    c.blur_px = between(random, 0, 1);
    return c;
  }
  static Plane planeOf(const Photo& photo, const Scene& scene) {
    PhotoSetup setup;
    setup.base.field = {200, 140, HoopShape::Rectangle};
    setup.hoop_tags = scene.hoop_tags;
    setup.hoop_tag_mm = scene.hoop_tag_mm;
    return *readPhoto(photo, setup).found.plane;
  }

 private slots:
  /// Two motifs side by side, each off by an amount of its own: the gap between them is found, and
  /// the stated bound is honest.
  void theGapOfASeamIsMeasured() {
    std::mt19937 random = testing::seeded(471);
    std::vector<double> errors;
    int within = 0, seen = 0;
    for (int round = 0; round < 10; ++round) {
      Scene scene;
      scene.hoop_tags = testing::frameTags();
      const Point middle{between(random, -60, 60), between(random, -40, 40)};
      const std::vector<LaidStroke> first = motif(random, middle - Point{9, 0}, 0);
      const std::vector<LaidStroke> second = motif(random, middle + Point{9, 0}, 0);
      const Point one{between(random, -0.6, 0.6), between(random, -0.6, 0.6)};
      const Point two{between(random, -0.6, 0.6), between(random, -0.6, 0.6)};
      lay(scene, first, one, {60, 90, 30});
      lay(scene, second, two, {40, 40, 150});
      scene.shadow = round % 3 == 0 ? 0.3 : 0;
      const Photo photo = takePhoto(scene, held(random), random);
      const Plane plane = planeOf(photo, scene);
      const Box window = Box::around(middle, 44, 36);
      const auto a = shiftOfSewn(photo, plane, first, second, window, middle, 2);
      const auto b = shiftOfSewn(photo, plane, second, first, window, middle, 2);
      if (!a || !b) continue;
      ++seen;
      const double off = distance(b->by - a->by, two - one);
      errors.push_back(off);
      within += off <= within95_mm(a->covariance + b->covariance);
    }
    QVERIFY2(seen >= 9, qPrintable(QString::number(seen)));
    std::sort(errors.begin(), errors.end());
    qInfo("gap: median %.3f, worst %.3f mm, %d of %d within the bound", errors[errors.size() / 2],
          errors.back(), within, seen);
    QVERIFY(errors[errors.size() / 2] < 0.05);
    QVERIFY(errors.back() < 0.2);
    QVERIFY(within >= seen * 85 / 100);
  }

  void bareClothHasNoShift() {
    std::mt19937 random = testing::seeded(472);
    for (int round = 0; round < 4; ++round) {
      Scene scene;
      scene.hoop_tags = testing::frameTags();
      const Photo photo = takePhoto(scene, held(random), random);
      const std::vector<LaidStroke> meant = motif(random, {0, 0}, 0);
      QVERIFY(!shiftOfSewn(photo, planeOf(photo, scene), meant, {}, Box::around({0, 0}, 40, 40), {},
                           2));
    }
  }

  void threadUnderOtherThreadIsNotGuessedAt() {
    std::mt19937 random = testing::seeded(473);
    Scene scene;
    scene.hoop_tags = testing::frameTags();
    const std::vector<LaidStroke> under = motif(random, {0, 0}, 0);
    lay(scene, under, {}, {60, 90, 30});
    lay(scene, under, {0.3, 0}, {40, 40, 150});
    const Photo photo = takePhoto(scene, held(random), random);
    const Plane plane = planeOf(photo, scene);
    QVERIFY(!shiftOfSewn(photo, plane, {}, under, Box::around({0, 0}, 40, 40), {}, 2));
    std::vector<LaidStroke> wide = under;  // everything near is somebody else's
    for (double y = -20; y < 20; y += 1) wide.push_back({{-20, y}, {20, y}, 1});
    QVERIFY(!shiftOfSewn(photo, plane, under, wide, Box::around({0, 0}, 40, 40), {}, 2));
  }
};

RT_TEST(TestSewnShift)

}  // namespace test_sewn_shift
#include "test_sewn_shift.moc"
