#include <QtTest>

#include "error.h"
#include "fabric.h"
#include "random_pattern.h"
#include "run.h"

namespace test_materials {

using namespace rt;

class TestMaterials : public QObject {
  Q_OBJECT
 private slots:
  void eachExtraLayerTakesFifteenPercentToHalfAtMost() {
    const double want[] = {1, 1, 0.85, 0.7, 0.55, 0.5, 0.5};
    for (int layers = 0; layers < 7; ++layers)
      QVERIFY(std::abs(limitFactor(layers) - want[layers]) < 1e-12);
  }
  void theThickestZoneCounts() {
    const Zone two{"a", ZoneKind::Thick, {{0, 0}, {10, 0}, {10, 10}, {0, 10}}, 2, 0};
    const Zone four{"b", ZoneKind::Thick, {{5, 0}, {15, 0}, {15, 10}, {5, 10}}, 4, 0};
    const Zone out{"c", ZoneKind::KeepOut, {{0, 0}, {20, 0}, {20, 20}, {0, 20}}, 9, 0};
    const std::vector<Zone> zones{two, four, out};
    QCOMPARE(limitFactorAt(zones, {2, 5}), 0.85);
    QCOMPARE(limitFactorAt(zones, {7, 5}), 0.55);
    QCOMPARE(limitFactorAt(zones, {12, 5}), 0.55);
    QCOMPARE(limitFactorAt(zones, {17, 15}), 1.0);  // keep-out is no thickness
    QCOMPARE(limitFactorAt({}, {0, 0}), 1.0);
  }
  void zonesThatCrossThemselvesAreEvenOdd() {
    const Zone bow{"bow", ZoneKind::Thick, {{0, 0}, {10, 10}, {10, 0}, {0, 10}}, 3, 0};
    QCOMPARE(limitFactorAt({bow}, {9, 5}), 0.7);
    QCOMPARE(limitFactorAt({bow}, {1, 5}), 0.7);
    QCOMPARE(limitFactorAt({bow}, {5, 1}), 1.0);
  }
  void unknownFabricsNameTheKnown() {
    Fabric f;
    f.id = "felt";
    try {
      fabricById({f}, "silk");
      QFAIL("was found");
    } catch (const Error& e) {
      QVERIFY(e.remedy().find("felt") != std::string::npos);
    }
    QCOMPARE(fabricById({f}, "felt").id, std::string("felt"));
  }
};

RT_TEST(TestMaterials)

}  // namespace test_materials
#include "test_materials.moc"
