// The plan by hand: fields dragged, held, added, taken in another order; pieces kept whole and
// freed; what small changes would save; a search that is ended.
#include <QListWidget>

#include "comes.h"
#include "demo.h"
#include "planner.h"
#include "run.h"
#include "window_driver.h"

namespace test_hoopings_view {

using namespace rt;

class TestHoopingsView : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Job banner_;
  Desk& desk() { return *d_->desk; }
  const Job& job() { return desk().job(); }

  std::vector<Point> origins() {
    std::vector<Point> out;
    for (const Hooping& h : desk().plan()->hoopings) out.push_back(h.origin);
    return out;
  }
  size_t stitches() {
    size_t sum = 0;
    for (const Hooping& h : desk().plan()->hoopings) sum += h.stitches();
    return sum;
  }
  bool has(Point origin) {
    for (Point p : origins())
      if (distance(p, origin) < 0.3) return true;
    return false;
  }

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
    banner_ = demoJob(desk().bench(), "hide-banner");
  }
  void init() {
    desk().take(banner_, {});
    d_->window->cloth().fitAll();
    desk().settle();
    d_->key(Qt::Key_4);
    desk().makePlan();
    desk().settle();
    QVERIFY(desk().planCurrent() && desk().plan()->hoopings.size() > 2);
    d_->click("toolplanTool");
  }
  void cleanupTestCase() { d_.reset(); }

  void hoopingsAreSewnInAPersonsOrder() {
    const std::vector<Point> planned = origins();
    const size_t before = stitches();
    desk().setHooping(1);
    d_->click("hoopLater");
    desk().settle();
    QVERIFY(desk().planCurrent());
    std::vector<Point> wanted = planned;
    std::swap(wanted[0], wanted[1]);
    for (size_t i = 0; i < wanted.size(); ++i) QVERIFY(distance(origins()[i], wanted[i]) < 0.3);
    QCOMPARE(stitches(), before);
    desk().setHooping(3);
    d_->click("hoopSooner");
    desk().settle();
    QVERIFY(distance(origins()[1], wanted[2]) < 0.3);
    d_->click("hoopAsPlanned");
    desk().settle();
    for (size_t i = 0; i < planned.size(); ++i) QVERIFY(distance(origins()[i], planned[i]) < 0.3);
    QTest::keyClick(d_->window.get(), Qt::Key_Z, Qt::ControlModifier);  // a wish like any other
    QVERIFY(!job().plan_settings.order_by_hand.empty());
  }

  void aFieldIsDraggedAndHeld() {
    desk().setHooping(1);
    const Hooping first = desk().plan()->hoopings[0];
    const Box field = first.settings[0].field.box;
    const size_t before = stitches();
    const Point edge{field.left, field.centre().y + 11};
    d_->drag(edge, edge + Point{-14, 6});
    desk().settle();
    QCOMPARE(job().plan_settings.pinned.size(), size_t{1});
    const Point held = job().plan_settings.pinned[0].origin;
    QVERIFY(distance(held, first.origin + Point{-14, 6}) < 4.5);  // it may snap
    QVERIFY(desk().planCurrent());
    QVERIFY(has(held));
    QCOMPARE(stitches(), before);
    for (const Hooping& h : desk().plan()->hoopings)  // let go
      if (distance(h.origin, held) < 0.3) desk().setHooping(h.index);
    d_->click("pinField");
    desk().settle();
    QVERIFY(job().plan_settings.pinned.empty());
  }

  void aFieldIsAddedWhereOneLooks() {
    d_->click("addField");
    desk().settle();
    QCOMPARE(job().plan_settings.pinned.size(), size_t{1});
    QVERIFY(distance(job().plan_settings.pinned[0].origin, d_->window->cloth().seenMiddle()) < 1);
    QVERIFY(desk().planCurrent());
    QVERIFY(has(job().plan_settings.pinned[0].origin));
  }

  void aPieceIsKeptWholeAndFreed() {
    d_->click("toolbetterTool");
    // fields in which the larger pieces just have room, and are cut
    Job smaller = job();
    smaller.plan_settings.more_hoops.clear();
    smaller.plan_settings.hoop = "field-240x160";
    desk().change("frame", smaller);
    desk().makePlan();
    desk().settle();
    std::string kept;
    for (const std::string& name : desk().canBeWhole()) {
      if (!kept.empty()) break;
      kept = name;
      d_->clickText(QString("Keep %1 whole").arg(QString::fromStdString(name)));
    }
    desk().settle();
    QVERIFY(desk().planCurrent());
    QVERIFY(!kept.empty());
    const auto& crossings = desk().plan()->crossings;
    QVERIFY(std::find(crossings.begin(), crossings.end(), kept) == crossings.end());
    d_->clickText(QString("Let %1 be cut").arg(QString::fromStdString(kept)));
    desk().settle();
    QVERIFY(job().plan_settings.keep.empty());
    QVERIFY(desk().planCurrent());
  }

  void aCutIsAskedForAndTakenAway() {
    d_->click("toolbetterTool");
    const std::vector<Point> planned = origins();
    const size_t before = stitches();
    const Box border = boundsOf(job().pieces.front());
    const double at = border.centre().x + 7;
    d_->click("askForCut");
    for (Point end : {Point{at, border.top - 3}, Point{at + 4, border.top + 22}})
      QTest::mouseClick(&d_->window->cloth(), Qt::LeftButton, {}, d_->px(end));
    desk().settle();
    QCOMPARE(job().plan_settings.cuts.size(), size_t{1});
    QVERIFY(distance(job().plan_settings.cuts[0].from, {at, border.top - 3}) < 1);
    QVERIFY(desk().planCurrent());
    QCOMPARE(stitches(), before);
    d_->clickText("Take cut 1 away");
    desk().settle();
    QVERIFY(job().plan_settings.cuts.empty());
    for (size_t i = 0; i < planned.size(); ++i) QVERIFY(distance(origins()[i], planned[i]) < 0.3);
  }

  void theClothIsMovedUnderTheFrameInPlay() {
    d_->click("playHoopings");
    const Point middle = desk().plan()->hoopings[0].settings[0].field.box.centre();
    QVERIFY(testing::comes([&] { return distance(d_->window->cloth().seenMiddle(), middle) < 1; }));
    d_->click("playHoopings");
    d_->window->cloth().fitAll();
  }

  void aSearchThatIsEndedGivesAPlan() {
    PlanSettings wider = job().plan_settings;
    wider.overlap_mm = 12;
    Job other = job();
    other.plan_settings = wider;
    desk().change("overlap", other);
    desk().makePlan();
    QVERIFY(desk().planning());
    d_->click("planButton");  // it reads "Enough" now
    desk().settle();
    QVERIFY(desk().planCurrent());
    size_t wanted = 0;
    for (const Stitch& s : desk().layout().stitches)
      wanted += s.op == Op::Stitch && s.kind != Kind::Tie;
    QCOMPARE(stitches(), wanted);
    if (endedEarly(*desk().plan())) {
      desk().makePlan();  // asked again, it is sought to the end
      desk().settle();
      QVERIFY(!endedEarly(*desk().plan()));
    }
  }
};

RT_TEST(TestHoopingsView)

}  // namespace test_hoopings_view
#include "test_hoopings_view.moc"
