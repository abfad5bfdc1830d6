#include <QtTest>

#include "findings.h"
#include "layers.h"
#include "random_pattern.h"
#include "run.h"
#include "strand.h"

namespace test_causes {

using namespace rt;

namespace {

Fabric cotton() {
  Fabric f;
  f.id = "cotton";
  f.density_mm_per_mm2 = {6.5, 9.0};
  f.holes_per_mm2 = {100, 200};
  f.least_column_mm = 1.0;
  return f;
}

/// A square of rows, `spacing` apart.
Strand square(double spacing, Point at, Kind kind, double side = 12) {
  Strand s;
  bool right = true;
  for (double y = 0; y <= side; y += spacing, right = !right)
    for (int k = 0; k <= 4; ++k) s.add(at + Point{side * (right ? k : 4 - k) / 4, y}, kind);
  return s;
}

Pattern of(std::initializer_list<std::pair<Strand, std::string>> parts) {
  Pattern p;
  for (const auto& [strand, name] : parts)
    appendStrands(p, std::vector{strand}, {{0x2f5d50}, name});
  return p;
}

CauseKind worstCause(const Pattern& p, const std::vector<Zone>& zones = {}) {
  const Weighing w = weigh(p, cotton(), zones);
  for (const Finding& f : w.report.findings)
    if (f.kind == FindingKind::Density) return f.cause.kind;
  return CauseKind::Other;
}

}  // namespace

class TestCauses : public QObject {
  Q_OBJECT
 private slots:
  void aLightLayoutHasNone() {
    QCOMPARE(worstCause(of({{square(0.25, {}, Kind::Fill), "wing"}})), CauseKind::Other);
  }
  void oneCloseCover() {
    QCOMPARE(worstCause(of({{square(0.10, {}, Kind::Fill), "wing"}})), CauseKind::Close);
  }
  void piecesOnOneAnother() {
    const Pattern p = of({{square(0.25, {}, Kind::Fill), "wing"},
                          {square(0.25, {3, 3}, Kind::Fill), "reed"},
                          {square(0.25, {4, 4}, Kind::Fill), "eye"}});
    const Weighing w = weigh(p, cotton(), {});
    QVERIFY(!w.report.findings.empty());
    QCOMPARE(w.report.findings[0].cause.kind, CauseKind::Overlap);
    QCOMPARE(w.report.findings[0].cause.covers, 3);
  }
  void aThickZoneIsToBlame() {
    const Pattern p = of({{square(0.17, {}, Kind::Fill), "wing"}});
    QCOMPARE(worstCause(p), CauseKind::Other);
    const Zone thick{"seam", ZoneKind::Thick, {{-5, -5}, {20, -5}, {20, 20}, {-5, 20}}, 4, 0};
    QCOMPARE(worstCause(p, {thick}), CauseKind::ThickZone);
  }
  void shortStitches() {
    Strand s;
    for (int row = 0; row < 90; ++row)
      for (int k = 0; k <= 20; ++k) s.add({(row % 2 ? 20 - k : k) * 0.5, row * 0.10}, Kind::Fill);
    QCOMPARE(worstCause(of({{s, "dust"}})), CauseKind::ShortStitches);
  }
  void aNarrowColumn() {
    Strand s;
    for (int lane = 0; lane < 8; ++lane)  // too many narrow columns side by side
      for (int k = 0; k < 120; ++k)
        s.add({lane * 0.7 + (k % 2 ? 0.8 : 0.0), (lane % 2 ? 120 - k : k) * 0.09}, Kind::Satin);
    QCOMPARE(worstCause(of({{s, "stem"}})), CauseKind::NarrowColumn);
  }
  void tiesOnOneAnother() {
    Pattern p;
    for (int k = 0; k < 14; ++k) {
      Strand s;
      s.add({0.05 * k, 0}, Kind::Run);
      s.add(Point{0.05 * k, 0} + Transform::turning(25 * k)(Point{4, 0}), Kind::Run);
      appendStrands(p, std::vector{s}, {{0x2f5d50}, "star"});
    }
    QCOMPARE(worstCause(p), CauseKind::TiePile);
  }
  /// The look-up against a plain count over all blocks.
  void layersAgreeWithAPlainCount() {
    std::mt19937 random = testing::seeded(451);
    for (int i = 0; i < 10; ++i) {
      Pattern p;
      const int n = 2 + static_cast<int>(random() % 5);
      std::vector<Box> boxes;
      for (int k = 0; k < n; ++k) {
        const Point at{testing::between(random, 0, 15), testing::between(random, 0, 15)};
        appendStrands(p, std::vector{square(0.4, at, Kind::Fill)}, {{0x2f5d50}, "p"});
        boxes.push_back({at.x, at.y, at.x + 12, at.y + 12});
      }
      const Layers layers(p);
      for (int k = 0; k < 50; ++k) {
        const Point q{testing::between(random, 0, 25), testing::between(random, 0, 25)};
        size_t sure = 0, maybe = 0;
        for (const Box& b : boxes)
          sure += b.grown(-1.2).contains(q), maybe += b.grown(1.2).contains(q);
        const size_t got = layers.at(q).size();
        QVERIFY(got >= sure && got <= maybe);
      }
    }
  }
};

RT_TEST(TestCauses)

}  // namespace test_causes
#include "test_causes.moc"
