#include <QtTest>

#include "error.h"
#include "nest.h"
#include "random_pattern.h"
#include "run.h"

namespace test_nest {

using namespace rt;
using testing::between;

namespace {

Hoop hoop(double w, double h, HoopShape shape = HoopShape::Rectangle) {
  Hoop out;
  out.id = "field";
  out.field = {w, h, shape};
  return out;
}

/// Pieces lie in a field, apart by the gap, as large as their kind.
void verify(const std::vector<NestPlace>& places, const std::vector<NestKind>& kinds,
            const Hoop& frame, double gap) {
  const std::vector<PlacedField> fields = fieldsOf(frame, 0);
  for (size_t i = 0; i < places.size(); ++i) {
    const NestPlace& p = places[i];
    const NestKind& k = kinds[p.kind];
    QVERIFY(std::abs(p.box.width() - (p.turned ? k.height_mm : k.width_mm)) < 1e-6);
    QVERIFY(std::abs(p.box.height() - (p.turned ? k.width_mm : k.height_mm)) < 1e-6);
    QVERIFY(std::any_of(fields.begin(), fields.end(), [&](const PlacedField& f) {
      return PlacedField{f.box.grown(1e-6), 0, f.shape}.holds(p.box);
    }));
    for (size_t j = 0; j < i; ++j) {
      const Box& q = places[j].box;
      const double dx = std::max(q.left - p.box.right, p.box.left - q.right),
                   dy = std::max(q.top - p.box.bottom, p.box.top - q.bottom);
      QVERIFY(std::max(dx, dy) >= gap - 1e-6);
    }
  }
}

}  // namespace

class TestNest : public QObject {
  Q_OBJECT
 private slots:
  void equalPiecesWithoutTurningFillRowsAndColumns() {
    const NestKind k{"tag", 40, 25, 1};
    const auto places = nestEqual(k, hoop(200, 140), {5, false});
    QCOMPARE(places.size(), size_t{4 * 4});  // (200 + 5) / 45, (140 + 5) / 30
    verify(places, {k}, hoop(200, 140), 5);
  }
  void turningFindsWhatShelvesMiss() {
    // known from the literature on loading pallets: no rows of one way round hold so many
    struct Case {
      double w, h, width, height;
      size_t most;
    };
    for (const Case& c : {Case{5, 3, 22, 16, 23}, Case{7, 3, 26, 17, 20}, Case{3, 2, 11, 7, 12},
                          Case{7, 4, 24, 14, 12}}) {
      const NestKind k{"", c.w, c.h, 1};
      const auto places = nestEqual(k, hoop(c.width, c.height), {0, true});
      QVERIFY2(places.size() >= c.most,
               qPrintable(QString("%1 x %2: %3").arg(c.w).arg(c.h).arg(places.size())));
      QVERIFY(places.size() * c.w * c.h <= c.width * c.height + 1e-6);
      verify(places, {k}, hoop(c.width, c.height), 0);
    }
  }
  void equalPiecesOverRandomSizes() {
    std::mt19937 random = testing::seeded(311);
    for (int i = 0; i < 30; ++i) {
      const NestKind k{"", between(random, 20, 90), between(random, 15, 60), 1};
      const Hoop frame = hoop(300, 200, i % 3 == 0 ? HoopShape::Oval : HoopShape::Rectangle);
      const double gap = i % 2 == 0 ? 0 : between(random, 0, 8);
      const auto flat = nestEqual(k, frame, {gap, false}),
                 turned = nestEqual(k, frame, {gap, true});
      verify(flat, {k}, frame, gap);
      verify(turned, {k}, frame, gap);
      QVERIFY(turned.size() >= flat.size());
      QVERIFY(fieldUse(turned, frame) <= 1);
    }
  }
  void mixturesPlaceEveryPieceOnce() {
    std::mt19937 random = testing::seeded(312);
    for (int i = 0; i < 20; ++i) {
      std::vector<NestKind> kinds;
      for (int k = 0; k < 6; ++k)
        kinds.push_back({"kind " + std::to_string(k), between(random, 15, 120),
                         between(random, 15, 80), 1 + static_cast<int>(random() % 12)});
      const Hoop frame = hoop(200, 140);
      NestOptions options{4, i % 2 == 0};
      const NestedBatch batch = nestMixed(kinds, frame, options);
      std::vector<int> placed(kinds.size());
      for (const auto& places : batch.hoopings) {
        verify(places, kinds, frame, options.gap_mm);
        for (const NestPlace& p : places) {
          QVERIFY(!p.turned || options.turn);
          ++placed[p.kind];
        }
      }
      for (size_t k = 0; k < kinds.size(); ++k) QCOMPARE(placed[k], kinds[k].count);
      QVERIFY(batch.lower_bound >= 1 &&
              batch.lower_bound <= static_cast<int>(batch.hoopings.size()));
    }
  }
  void ovalsHoldMixtures() {
    std::mt19937 random = testing::seeded(313);
    for (int i = 0; i < 10; ++i) {
      std::vector<NestKind> kinds;
      for (int k = 0; k < 5; ++k)
        kinds.push_back({"kind " + std::to_string(k), between(random, 15, 80),
                         between(random, 12, 60), 1 + static_cast<int>(random() % 5)});
      const Hoop frame = hoop(120, 90, HoopShape::Oval);
      const auto held = [&](double w, double h) {
        return PlacedField{Box::around({0, 0}, 120, 90), 0, HoopShape::Oval}.holds(
            Box::around({0, 0}, w, h));
      };
      std::erase_if(kinds, [&](const NestKind& k) {
        return !held(k.width_mm, k.height_mm) && !held(k.height_mm, k.width_mm);
      });
      if (kinds.empty()) continue;
      const NestedBatch batch = nestMixed(kinds, frame, {3, true});
      size_t placed = 0, wanted = 0;
      for (const auto& places : batch.hoopings)
        verify(places, kinds, frame, 3), placed += places.size();
      for (const NestKind& k : kinds) wanted += static_cast<size_t>(k.count);
      QCOMPARE(placed, wanted);
    }
  }
  void boundsAreProven() {
    // each fills more than half of either side: no two share a field
    const std::vector<NestKind> large{{"large", 110, 80, 7}};
    const NestedBatch batch = nestMixed(large, hoop(200, 140), {0, false});
    QCOMPARE(batch.lower_bound, 7);
    QCOMPARE(batch.hoopings.size(), size_t{7});
    // four quarters fill a field: 8 take two
    const NestedBatch quarters = nestMixed({{"quarter", 100, 70, 8}}, hoop(200, 140), {0, false});
    QCOMPARE(quarters.lower_bound, 2);
    QCOMPARE(quarters.hoopings.size(), size_t{2});
  }
  void framesOfSeveralSettingsHoldPiecesInEach() {
    Hoop frame = hoop(200, 110);
    frame.settings = {{0, -50, 0}, {0, 50, 180}};
    const NestKind k{"tag", 60, 50, 1};
    const auto places = nestEqual(k, frame, {0, false});
    verify(places, {k}, frame, 0);
    QCOMPARE(places.size(), size_t{12});
    QVERIFY(std::any_of(places.begin(), places.end(),
                        [](const NestPlace& p) { return p.setting == 2; }));
    QCOMPARE(clothOf_mm2(frame), (200.0 + 30) * (210.0 + 30));
  }
  void badBatchesAreNamed() {
    const Hoop frame = hoop(200, 140);
    QVERIFY_THROWS_EXCEPTION(Error, nestEqual({"", 210, 10, 1}, frame, {}));
    QVERIFY_THROWS_EXCEPTION(Error, nestEqual({"", 0, 10, 1}, frame, {}));
    QVERIFY_THROWS_EXCEPTION(Error, nestEqual({"", 10, 10, 1}, frame, {-1, false}));
    QVERIFY_THROWS_EXCEPTION(Error, nestMixed({}, frame, {}));
    QVERIFY_THROWS_EXCEPTION(Error, nestMixed({{"a", 10, 10, 0}}, frame, {}));
    QVERIFY_THROWS_EXCEPTION(Error, nestMixed({{"a", 150, 10, 1}}, hoop(100, 140), {0, false}));
    QCOMPARE(nestMixed({{"a", 140, 10, 1}}, hoop(100, 140), {0, true}).hoopings.size(), size_t{1});
  }
};

RT_TEST(TestNest)

}  // namespace test_nest
#include "test_nest.moc"
