// Cures as the window offers them: each does what its words say.
#include <QtTest>

#include "cures.h"
#include "demo.h"
#include "random_pattern.h"
#include "run.h"

namespace test_cures {

using namespace rt;

class TestCures : public QObject {
  Q_OBJECT
  Bench bench_ = openBench();

  Weighing weighed(const Job& job) const {
    return weigh(sewnLayout(job), clothOf(job.brief, bench_), job.zones);
  }
  static Piece bar(int id, Point at, double width, double height, double spacing,
                   const char* name) {
    Pattern p;
    Strand s;
    bool right = true;
    for (double y = 0; y <= height; y += spacing, right = !right)
      for (int k = 0; k <= 6; ++k) s.add({width * (right ? k : 6 - k) / 6, y}, Kind::Fill);
    appendStrands(p, std::vector{s}, {{0x2f5d50}, name});
    Piece piece;
    piece.id = id;
    piece.name = name;
    piece.source = StitchSource{name, nullptr, 1, 1, 1};
    piece.place.at = centre(p) * 0 + at;
    piece.stitches = std::make_shared<const Pattern>(std::move(p));
    return piece;
  }
  const Finding* findingOf(const Weighing& w, FindingKind kind) const {
    for (const Finding& f : w.report.findings)
      if (f.kind == kind) return &f;
    return nullptr;
  }

 private slots:
  /// A piece over a zip is moved off it, by the shortest way, and not into the next zone.
  void aKeepOutZoneIsLeftByTheShortestWay() {
    std::mt19937 random = testing::seeded(481);
    for (int i = 0; i < 12; ++i) {
      Job job;
      const double deep = testing::between(random, 1, 8);
      job.pieces = {bar(1, {0, 0}, 30, 16, 0.4, "reed")};
      // the zone reaches so deep into the piece from the right
      job.zones = {{"zip",
                    ZoneKind::KeepOut,
                    {{15 - deep, -40}, {60, -40}, {60, 40}, {15 - deep, 40}},
                    1,
                    0}};
      const Weighing w = weighed(job);
      const Finding* f = findingOf(w, FindingKind::KeepOut);
      QVERIFY(f);
      const std::vector<Cure> cures = curesFor(job, *f, bench_);
      QCOMPARE(cures.size(), size_t{1});
      QVERIFY(!findingOf(weighed(cures[0].job), FindingKind::KeepOut));
      const double went = distance(cures[0].job.pieces[0].place.at, job.pieces[0].place.at);
      QVERIFY2(went < deep + 0.8, qPrintable(QString("%1 for %2").arg(went).arg(deep)));
      QVERIFY(cures[0].title.find("reed") != std::string::npos);
    }
  }
  void twoZonesLeaveNoWayIntoEachOther() {
    Job job;
    job.pieces = {bar(1, {0, 0}, 20, 10, 0.4, "reed")};
    job.zones = {{"zip", ZoneKind::KeepOut, {{8, -30}, {30, -30}, {30, 30}, {8, 30}}, 1, 0},
                 {"hem", ZoneKind::KeepOut, {{-40, -30}, {-12, -30}, {-12, 30}, {-40, 30}}, 1, 0}};
    const Finding* f = nullptr;
    const Weighing w = weighed(job);
    f = findingOf(w, FindingKind::KeepOut);
    QVERIFY(f);
    const std::vector<Cure> cures = curesFor(job, *f, bench_);
    for (const Cure& c : cures) QVERIFY(!findingOf(weighed(c.job), FindingKind::KeepOut));
    QVERIFY(!cures.empty());
  }
  /// Whatever is offered on the demo jobs is as light as it says, or lighter.
  void everyCureKeepsItsPromise() {
    for (const char* name : {"binocular-strap", "tally-tags"}) {
      const Job job = demoJob(bench_, name);
      const Weighing w = weighed(job);
      for (const Finding& f : w.report.findings) {
        if (f.kind != FindingKind::Density) continue;
        for (const Cure& c : curesFor(job, f, bench_)) {
          QVERIFY(!c.title.empty() && !c.detail.empty());
          QVERIFY(!(c.job == job));
          const Weighing after = weighed(c.job);
          Verdict worst = Verdict::Sew;
          for (const Finding& g : after.report.findings)
            if (g.kind == FindingKind::Density && g.bounds.grown(1).overlaps(f.bounds.grown(1)) &&
                g.cause.pieces == f.cause.pieces)
              worst = std::max(worst, g.severity);
          QVERIFY2(worst <= c.verdict, c.title.c_str());
        }
      }
    }
  }
  void aBackingRaisesTheLimitByItsFactor() {
    Job job = demoJob(bench_, "binocular-strap");
    const double before = clothOf(job.brief, bench_).density_mm_per_mm2.stop;
    job.brief.backing = "cut-away";
    const double after = clothOf(job.brief, bench_).density_mm_per_mm2.stop;
    QVERIFY(std::abs(after / before - 1.1) < 1e-9);
    // a layout between the two limits is offered the backing
    Job light;
    light.brief = demoJob(bench_, "binocular-strap").brief;
    light.pieces = {bar(1, {0, 0}, 30, 20, 1 / 10.4, "band")};
    const Weighing w = weighed(light);
    const Finding* f = findingOf(w, FindingKind::Density);
    QVERIFY(f && f->severity == Verdict::Stop);
    bool offered = false;
    for (const Cure& c : curesFor(light, *f, bench_)) {
      if (c.job.brief.backing != "cut-away") continue;
      offered = true;
      const Weighing then = weighed(c.job);
      for (const Finding& g : then.report.findings)
        QVERIFY2(g.kind != FindingKind::Density || g.severity < Verdict::Stop,
                 qPrintable(QString("%1 of %2, promised %3, was %4 in %5 places")
                                .arg(g.value)
                                .arg(g.limit)
                                .arg(c.result)
                                .arg(f->value)
                                .arg(f->places.size())));
    }
    QVERIFY(offered);
  }
};

RT_TEST(TestCures)

}  // namespace test_cures
#include "test_cures.moc"
