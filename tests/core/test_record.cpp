#include <QtTest>

#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "work.h"

namespace test_record {

using namespace rt;

namespace {

const SettingKey kHere{"plan-a", "h1"}, kThere{"plan-b", "h1"};

Job small() {
  Job job;
  job.id = "j";
  Piece p;
  p.id = 1;
  p.stitches = std::make_shared<const Pattern>(testing::patternFrom("#112233 jump 0,0 5,0 5,5"));
  job.pieces = {p};
  job.next_piece_id = 2;
  return job;
}

}  // namespace

class TestRecord : public QObject {
  Q_OBJECT
 private slots:
  void factsBelongToTheirPlanAlone() {
    Record r;
    r.add(RowsSewn{kHere, "t", "a", 0, 90, "done", true});
    r.add(MarkFound{kHere, "t", {"A", {0, 0}, {1, 1}, 0.1}});
    QVERIFY(r.sewn(kHere).done);
    QVERIFY(!r.sewn(kThere).begun);
    QVERIFY(r.marks(kThere).empty());
    QVERIFY(r.mentions("plan-a") && !r.mentions("plan-b"));
  }
  void aRunMovesAlongAndNeverFalls() {
    Record r;
    r.add(RowsSewn{kHere, "t", "a", 0, 0, "start", false});
    for (size_t row : {10, 30, 20, 40}) r.add(RowsSewn{kHere, "t", "a", 0, row, "", false});
    QCOMPARE(r.sewn(kHere).row, size_t{40});
    QCOMPARE(r.all().size(), size_t{2});  // the start, and where it is
    r.add(RowsSewn{kHere, "t", "a", 0, 41, "break", false});
    r.add(RowsSewn{kHere, "t", "b", 35, 36, "", false});  // goes on six stitches back
    QCOMPARE(r.sewn(kHere).row, size_t{41});              // what was sewn stays sewn
    const Record before = r;
    r.add(RowsSewn{kHere, "t", "b", 35, 36, "", false});  // the journal tells it once more
    r.add(RowsSewn{kHere, "t", "a", 0, 10, "", false});
    QVERIFY(r == before);
  }
  void aBobbinThatWasNotCaughtTakesRowsBack() {
    Record r;
    r.add(RowsSewn{kHere, "t1", "a", 0, 100, "colour", false});
    r.add(RowsSewn{kHere, "t2", "b", 100, 160, "", false});
    r.add(RowsSewn{kHere, "t3", "b", 100, 100, "bobbin-missed", false});
    QCOMPARE(r.sewn(kHere).row, size_t{100});
    r.add(RowsSewn{kHere, "t4", "c", 100, 130, "", false});
    QCOMPARE(r.sewn(kHere).row, size_t{130});
    const Record before = r;
    r.add(RowsSewn{kHere, "t3", "b", 100, 100, "bobbin-missed", false});  // told once more
    QVERIFY(r == before);
  }
  void aLaterScanReplacesAllOfAnEarlierOne() {
    Record r;
    r.add(MarkFound{kHere, "t", {"A", {0, 0}, {1, 1}, 0.1}, "scan-1"});
    r.add(MarkFound{kHere, "t", {"B", {5, 0}, {6, 1}, 0.1}, "scan-1"});
    r.add(MarkFound{kHere, "t", {"C", {5, 5}, {6, 6}, 0.1}});  // by the needle: it stays
    r.add(MarkFound{kHere, "t", {"A", {0, 0}, {2, 2}, 0.1}, "scan-2"});
    const auto marks = r.marks(kHere);
    QCOMPARE(marks.size(), size_t{2});
    QCOMPARE(marks[0].id, std::string("A"));
    QCOMPARE(marks[0].hoop, (Point{2, 2}));
    QCOMPARE(marks[1].id, std::string("C"));
  }
  void scansAreThrownAwayAndClothIsClampedAnew() {
    Record r;
    const auto picture = std::make_shared<const std::string>("bytes");
    r.add(ScanTaken{kHere, "t1", {"s1", "a.jpg", "", 10, 10, picture}});
    r.add(ScanTaken{kThere, "t1", {"s2", "b.jpg", "", 10, 10, picture}});
    QCOMPARE(r.scans().size(), size_t{2});
    QCOMPARE(r.scans(kHere).size(), size_t{1});
    r.add(ScanDropped{kHere, "t2", "s1"});
    QVERIFY(r.scans(kHere).empty());
    QCOMPARE(r.all().size(), size_t{3});
    QVERIFY(r.clampedSince(kHere, {kHere}).empty());
    r.add(MarksCleared{kHere, "t5"});
    QCOMPARE(r.clampedSince(kHere, {kHere}), std::string("t5"));
    const SettingKey next{"plan-a", "h2"};
    r.add(RowsSewn{next, "t7", "x", 0, 9, "done", true});
    QCOMPARE(r.clampedSince(kHere, {kHere}), std::string("t7"));
    QCOMPARE(r.clampedSince(kHere, {kHere, next}), std::string("t5"));  // another setting of it
  }
  void marksAreReplacedAndTakenBack() {
    Record r;
    r.add(MarkFound{kHere, "t", {"B", {0, 0}, {1, 1}, 0.1}});
    r.add(MarkFound{kHere, "t", {"A", {5, 0}, {6, 1}, 0.1}});
    r.add(MarkFound{kHere, "t", {"B", {0, 0}, {2, 2}, 0.1}});
    QCOMPARE(r.marks(kHere).size(), size_t{2});
    QCOMPARE(r.marks(kHere)[1].hoop, (Point{2, 2}));
    r.add(MarksCleared{kHere, "t"});
    QVERIFY(r.marks(kHere).empty());
    QCOMPARE(r.all().size(), size_t{4});  // only added to
  }
  void anOverruleHoldsForWhatWasJudged() {
    Record r;
    r.add(Overruled{"t", "density", {}, 71, "scrap"});
    QVERIFY(r.overruledDensity(71));
    QCOMPARE(r.overruledDensity(71)->reason, std::string("scrap"));
    QVERIFY(!r.overruledDensity(72));
    r.add(Overruled{"t", "alignment", kHere, 0, "close enough"});
    QVERIFY(r.overruledAlignment(kHere));
    r.add(MarkFound{kHere, "t", {"A", {5, 0}, {6, 1}, 0.1}});
    QVERIFY(!r.overruledAlignment(kHere));  // measured anew: judged anew
  }
  void plansThatWereSewnFromAreKept() {
    Work work;
    for (int i = 0; i < 12; ++i) {
      auto plan = std::make_shared<MadePlan>();
      plan->id = "p" + std::to_string(i);
      plan->layout_print = static_cast<size_t>(i % 3);
      if (i == 1) work.record.add(RowsSewn{{"p1", "h1"}, "t", "r", 0, 5, "", false});
      addPlan(work, plan);
    }
    QVERIFY(planById(work, "p1"));
    QVERIFY(!planById(work, "p0"));
    QCOMPARE(planFor(work, 2)->id, std::string("p11"));  // the latest for this layout
  }
  void jobsOfTheProgramPassTheCheck() {
    Job job = small();
    QVERIFY(checked(job) == job);
  }
  void everyFieldFromOutsideIsHeld() {
    const double inf = INFINITY, nan = NAN;
    std::vector<std::pair<const char*, std::function<void(Job&)>>> spoil{
        {"no id", [](Job& j) { j.id.clear(); }},
        {"piece id", [](Job& j) { j.pieces[0].id = 0; }},
        {"double id", [](Job& j) { j.pieces.push_back(j.pieces[0]); }},
        {"next id", [](Job& j) { j.next_piece_id = 1; }},
        {"no stitches", [](Job& j) { j.pieces[0].stitches.reset(); }},
        {"far", [=](Job& j) { j.pieces[0].place.at.x = inf; }},
        {"turn", [=](Job& j) { j.pieces[0].place.turn_deg = nan; }},
        {"flat", [](Job& j) { j.pieces[0].place.scale_x = 0; }},
        {"layers",
         [](Job& j) {
           j.zones = {{"z", ZoneKind::Thick, {{0, 0}, {1, 0}, {1, 1}}, -4, 0}};
         }},
        {"corners",
         [](Job& j) {
           j.zones = {{"z", ZoneKind::Thick, {{0, 0}}, 2, 0}};
         }},
        {"needles", [](Job& j) { j.sequence.needles = 0; }},
        {"margin", [=](Job& j) { j.sequence.hidden_margin_mm = -1; }},
        {"overlap", [=](Job& j) { j.plan_settings.overlap_mm = nan; }},
        {"place", [=](Job& j) { j.brief.place_width_mm = -3; }},
        {"tolerance", [](Job& j) { j.tolerance_mm = 0; }},
        {"letters",
         [](Job& j) {
           TextSource t;
           t.height_mm = -2;
           j.pieces[0].source = t;
         }},
        {"spacing",
         [](Job& j) {
           ArtworkSource a;
           a.row_spacing_mm = 0;
           j.pieces[0].source = a;
         }},
        {"thread", [](Job& j) {
           Pattern p = *j.pieces[0].stitches;
           p.stitches[0].thread = 900;
           j.pieces[0].stitches = std::make_shared<const Pattern>(p);
         }}};
    for (const auto& [what, change] : spoil) {
      Job job = small();
      change(job);
      try {
        checked(job);
        QFAIL(what);
      } catch (const Error& e) {
        QVERIFY2(!e.problem().empty(), what);
      }
    }
  }
  void rowsPastTheirHoopingAreRefused() {
    Work work;
    work.job = small();
    auto plan = std::make_shared<MadePlan>();
    plan->id = "plan-a";
    Hooping h;
    h.id = "h1";
    h.settings.emplace_back();
    h.settings[0].id = "h1";
    h.settings[0].field = {{0, 0, 100, 100}, 0, HoopShape::Rectangle};
    h.settings[0].pattern = *work.job.pieces[0].stitches;
    plan->plan.hoopings = {h};
    work.plans = {plan};
    work.record.add(RowsSewn{kHere, "t", "r", 0, h.settings[0].pattern.stitches.size(), "", false});
    QVERIFY(checked(work) == work);
    work.record.add(RowsSewn{kHere, "t", "r2", 0, 9'000, "", false});
    QVERIFY_THROWS_EXCEPTION(Error, checked(work));
  }
};

RT_TEST(TestRecord)

}  // namespace test_record
#include "test_record.moc"
