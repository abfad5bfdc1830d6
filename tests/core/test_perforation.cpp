#include <QtTest>

#include "findings.h"
#include "perforation.h"
#include "random_pattern.h"
#include "run.h"

namespace test_perforation {

using namespace rt;
using testing::between;

namespace {

Pattern holesAlong(Point from, Point to, double apart, const Transform& by = {}) {
  Pattern p;
  const uint16_t thread = p.threadIndex({0x202020});
  const int n = static_cast<int>(distance(from, to) / apart);
  for (int i = 0; i <= n; ++i)
    p.stitches.push_back({by(mix(from, to, static_cast<double>(i) / n)), 1, thread, 0,
                          i == 0 ? Op::Jump : Op::Stitch, Kind::Run});
  return p;
}

Fabric leather() {
  Fabric f;
  f.id = "leather";
  f.density_mm_per_mm2 = {4.8, 6};
  f.holes_per_mm2 = {1.2, 1.8};
  f.holes_tear = true;
  return f;
}

}  // namespace

class TestPerforation : public QObject {
  Q_OBJECT
 private slots:
  void aLineIsFoundInAnyDirection() {
    std::mt19937 random = testing::seeded(251);
    for (int i = 0; i < 40; ++i) {
      const double apart = between(random, 0.5, 1.1), length = between(random, 18, 60);
      const Transform by = Transform::moving({between(random, -50, 50), 3}) *
                           Transform::turning(between(random, 0, 360));
      const std::vector<HoleLine> lines = holeLines(holesAlong({0, 0}, {length, 0}, apart, by), {});
      QVERIFY(!lines.empty());
      // the first hole is the landing's, which is none
      QVERIFY(std::abs(lines[0].length_mm - length) < 1.3);
      QVERIFY(std::abs(lines[0].distance_mm() - apart) < 0.08);
    }
  }
  void wideHolesAndShortLinesDoNotTear() {
    QVERIFY(holeLines(holesAlong({0, 0}, {60, 0}, 2.5), {}).empty());
    QVERIFY(holeLines(holesAlong({0, 0}, {10, 0}, 0.6), {}).empty());
    QVERIFY(holeLines({}, {}).empty());
  }
  void aCurveIsNoLine() {
    Pattern p;
    const uint16_t thread = p.threadIndex({0});
    for (int i = 0; i < 200; ++i)
      p.stitches.push_back(
          {{8 * std::cos(i * 0.1), 8 * std::sin(i * 0.1)}, 1, thread, 0, Op::Stitch, Kind::Run});
    for (const HoleLine& line : holeLines(p, {})) QVERIFY(line.length_mm < 15);
  }
  void holesOfDifferentThreadsCountTogether() {
    Pattern p = holesAlong({0, 0}, {40, 0}, 1.8);
    Pattern q = holesAlong({0.9, 0}, {40.9, 0}, 1.8);
    QVERIFY(holeLines(p, {}).empty() && holeLines(q, {}).empty());
    q.threads = {{0xff0000}};
    append(p, q);
    QVERIFY(!holeLines(p, {}).empty());
  }
  void onlyWhereHolesTearItIsAFinding() {
    const Pattern p = holesAlong({0, 0}, {50, 0}, 0.8);
    auto torn = [&](const Fabric& f) {
      for (const Finding& g : weigh(p, f, {}).report.findings)
        if (g.kind == FindingKind::Perforation) return g.severity;
      return Verdict::Sew;
    };
    QCOMPARE(torn(leather()), Verdict::Stop);
    Fabric cotton = leather();
    cotton.holes_tear = false;
    QCOMPARE(torn(cotton), Verdict::Sew);
    Fabric tough = leather();
    tough.perforation.length_mm = {20, 90};
    QCOMPARE(torn(tough), Verdict::Check);
  }
};

RT_TEST(TestPerforation)

}  // namespace test_perforation
#include "test_perforation.moc"
