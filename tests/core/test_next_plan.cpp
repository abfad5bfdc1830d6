// Plans that go on from thread on the cloth, and the law of what may be sewn.
#include <QtTest>

#include "clearance.h"
#include "hooping_place.h"
#include "next_plan.h"
#include "random_pattern.h"
#include "release_words.h"
#include "run.h"

namespace test_next_plan {

using namespace rt;
using testing::between;

namespace {

/// A square of row fill as a piece of its own.
void addSquare(Pattern& p, const std::string& name, const Box& box, uint32_t rgb) {
  const uint16_t thread = p.threadIndex({rgb}), piece = p.pieceIndex(name);
  if (!p.stitches.empty())
    p.stitches.push_back({p.stitches.back().at, 0, thread, piece, Op::Trim, Kind::Unknown});
  const Point at{box.left, box.top};
  p.stitches.push_back({at, 0, thread, piece, Op::Jump, Kind::Unknown});
  bool right = true;
  for (double y = 0; y <= box.height(); y += 1, right = !right)
    for (double x = 0; x <= box.width(); x += 4)
      p.stitches.push_back(
          {at + Point{right ? x : box.width() - x, y}, 0, thread, piece, Op::Stitch, Kind::Fill});
}

/// Squares on a lattice, so that none overlaps another.
Pattern squares(std::mt19937& random, int columns, int rows) {
  Pattern p;
  for (int i = 0; i < columns * rows; ++i) {
    const Point at{70.0 * (i % columns), 60.0 * (i / columns)};
    addSquare(p, "piece " + std::to_string(i),
              {at.x, at.y, at.x + between(random, 15, 50), at.y + between(random, 15, 40)},
              static_cast<uint32_t>(0x202020 * (1 + i % 5)));
  }
  return p;
}

PlanOptions optionsOf() {
  PlanOptions o;
  Hoop hoop;
  hoop.id = "200x140";
  hoop.field = {200, 140, HoopShape::Rectangle};
  o.hoops = {hoop};
  return o;
}

struct Shop {
  Work work;
  int plans = 0;
  std::string plan(const Pattern& layout) {
    NextPlan next = nextPlan(work, layout, optionsOf());
    const std::string number = std::to_string(++plans);
    return keepPlan(work, std::move(next), printOf(layout), {}, "plan-" + number,
                    "2031-01-01T00:00:0" + number + "Z");
  }
  const MadePlan& last() const { return *work.plans.back(); }
  void sew(int hooping, double part = 1) {
    const PlanSetting& s = last().plan.hoopings[static_cast<size_t>(hooping - 1)].settings.front();
    const size_t rows = s.pattern.stitches.size(),
                 row = part < 1 ? static_cast<size_t>(part * static_cast<double>(rows)) : rows;
    work.record.add(RowsSewn{keyOf(last(), s), "2031-01-02T00:00:00Z",
                             "run " + std::to_string(work.record.all().size()), 0, row,
                             part < 1 ? "break" : "done", part >= 1});
  }
  void find(int hooping) {
    const Hooping& h = last().plan.hoopings[static_cast<size_t>(hooping - 1)];
    for (const Mark& m : expectedMarks(h)) work.record.add(MarkFound{keyOf(last(), h), "t", m});
  }
  int done() const {
    int n = 0;
    for (const Hooping& h : last().plan.hoopings)
      n += work.record.sewn(keyOf(last(), h)).done ? 1 : 0;
    return n;
  }
};

ThreadBag bagOf(const HoopingPlan& plan) {
  ThreadBag bag;
  for (const Hooping& h : plan.hoopings)
    for (const PlanSetting& s : h.settings) bag.add(s.pattern);
  return bag;
}

/// Every thread of the layout is sewn exactly once by the plan.
void covers(const HoopingPlan& plan, const Pattern& layout) {
  ThreadBag want;
  want.add(layout);
  const ThreadBag have = bagOf(plan);
  QCOMPARE(have.without(want), size_t{0});
  QCOMPARE(want.without(have), size_t{0});
}

}  // namespace

class TestNextPlan : public QObject {
  Q_OBJECT
 private slots:
  void withoutSewingItIsAPlanFromNothing() {
    std::mt19937 random = testing::seeded(611);
    const Pattern layout = squares(random, 5, 3);
    Work work;
    QVERIFY(nextPlan(work, layout, optionsOf()).plan == planHoopings(layout, optionsOf()));
    QVERIFY(!planBegun(work));
    QVERIFY(threadOnCloth(work).empty());
  }
  /// A small addition in the clamping in hand leaves all that is done done.
  void anAdditionIsARunOfItsOwn() {
    std::mt19937 random = testing::seeded(612);
    for (int round = 0; round < 12; ++round) {
      const Pattern layout = squares(random, 5, 3);
      Shop shop;
      shop.plan(layout);
      const int all = static_cast<int>(shop.last().plan.hoopings.size());
      const int first = 1 + static_cast<int>(random() % static_cast<unsigned>(all));
      shop.sew(first);
      const Box field =
          shop.last().plan.hoopings[static_cast<size_t>(first - 1)].settings.front().field.box;
      Pattern more = layout;
      const Point at = field.centre() + Point{between(random, -40, 40), between(random, -30, 30)};
      addSquare(more, "line", {at.x, at.y, at.x + 8, at.y + 3}, 0xabcdef);
      const NextPlan next = nextPlan(shop.work, more, optionsOf());
      QCOMPARE(next.fresh_hoopings, size_t{0});
      QCOMPARE(next.added, std::vector<std::string>{"line"});
      covers(next.plan, more);
      shop.plan(more);
      QCOMPARE(static_cast<int>(shop.last().plan.hoopings.size()), all);
      for (const Hooping& h : shop.last().plan.hoopings)
        for (const PlanSetting& s : h.settings) {
          QCOMPARE(sewnAlready(shop.work, shop.last(), s), size_t{0});
          QCOMPARE(shop.work.record.sewn(keyOf(shop.last(), s)).done,
                   h.index == first && s.index == 1);
        }
      shop.plan(layout);  // undone, and planned again
      QCOMPARE(shop.done(), 1);
      covers(shop.last().plan, layout);
    }
  }
  /// Whatever is changed, moved or taken away: what is sewn is never sewn again, and all the rest
  /// is.
  void nothingIsSewnTwiceWhateverChanges() {
    std::mt19937 random = testing::seeded(613);
    for (int round = 0; round < 15; ++round) {
      const int columns = 4 + static_cast<int>(random() % 3);
      Pattern layout = squares(random, columns, 3);
      Shop shop;
      shop.plan(layout);
      const int all = static_cast<int>(shop.last().plan.hoopings.size());
      for (int h = 1; h <= all; ++h)
        if (random() % 2) shop.sew(h, random() % 3 == 0 ? 0.4 : 1);
      // another layout: some squares moved a little, one gone, one new far away
      Pattern next;
      const Pattern fresh = squares(random, columns, 3);
      const size_t gone = random() % 8;
      size_t index = 0;
      std::vector<Box> boxes;
      for (const Block& b : blocksOf(layout)) {
        Box box = b.bounds;
        if (index == gone) {
          ++index;
          continue;
        }
        if (random() % 3 == 0) box = box.moved({between(random, -8, 8), between(random, -8, 8)});
        addSquare(next, "piece " + std::to_string(index), box,
                  static_cast<uint32_t>(0x202020 * (1 + index % 5)));
        ++index;
      }
      addSquare(next, "new", {500, 300, 530, 320}, 0x123456);
      const ThreadBag on = threadOnCloth(shop.work);
      shop.plan(next);
      const HoopingPlan& plan = shop.last().plan;
      for (const Hooping& h : plan.hoopings)
        for (const PlanSetting& s : h.settings)
          QCOMPARE(sewnAlready(shop.work, shop.last(), s), size_t{0});
      // all thread of the layout is either on the cloth or in the plan
      ThreadBag want, sewn = bagOf(plan);
      want.add(next);
      QCOMPARE(want.without(sewn), size_t{0});
      QCOMPARE(threadOnCloth(shop.work).without(on), size_t{0});
      QCOMPARE(on.without(threadOnCloth(shop.work)), size_t{0});
      if (on.empty()) covers(plan, next);
    }
  }
  void whatLiesThereAndWasChangedIsCounted() {
    std::mt19937 random = testing::seeded(614);
    const Pattern layout = squares(random, 3, 2);
    Shop shop;
    shop.plan(layout);
    for (const Hooping& h : shop.last().plan.hoopings) shop.sew(h.index);
    QCOMPARE(sewnAndGone(shop.work, layout), size_t{0});
    Pattern smaller;
    for (size_t i = 0; i < 5; ++i) {
      const Block b = blocksOf(layout)[i];
      addSquare(smaller, "piece " + std::to_string(i), b.bounds,
                static_cast<uint32_t>(0x202020 * (1 + i % 5)));
    }
    const Block last = blocksOf(layout)[5];
    QCOMPARE(sewnAndGone(shop.work, smaller), last.stitches);
    QCOMPARE(nextPlan(shop.work, smaller, optionsOf()).lost_stitches, last.stitches);
  }
  void marksGoAlongWithASettingThatStays() {
    std::mt19937 random = testing::seeded(615);
    const Pattern layout = squares(random, 5, 3);
    Shop shop;
    shop.plan(layout);
    shop.sew(1);
    shop.find(2);
    const auto before = shop.work.record.marks(keyOf(shop.last(), shop.last().plan.hoopings[1]));
    QVERIFY(!before.empty());
    Pattern more = layout;
    addSquare(more, "line", {10, 2, 16, 4}, 0xabcdef);
    shop.plan(more);
    QCOMPARE(shop.work.record.marks(keyOf(shop.last(), shop.last().plan.hoopings[1])), before);
    // found anew under the later plan, they take the place of those before
    shop.work.record.add(MarksCleared{keyOf(shop.last(), shop.last().plan.hoopings[1]), "t"});
    QVERIFY(shop.work.record.marks(keyOf(shop.last(), shop.last().plan.hoopings[1])).empty());
  }
  void anotherClothHasNothingOnIt() {
    std::mt19937 random = testing::seeded(616);
    const Pattern layout = squares(random, 3, 2);
    Shop shop;
    shop.plan(layout);
    shop.sew(1);
    shop.find(1);
    shop.work.record.add(ClothReplaced{"t"});
    QVERIFY(threadOnCloth(shop.work).empty());
    QVERIFY(!shop.work.record.anythingSewn());
    QVERIFY(!shop.work.record.sewn(keyOf(shop.last(), shop.last().plan.hoopings[0])).begun);
    QVERIFY(shop.work.record.marks(keyOf(shop.last(), shop.last().plan.hoopings[0])).empty());
    QVERIFY(!planBegun(shop.work));
  }

  // ---- the law

  Clearance asked(const Shop& shop, const Pattern& layout, const DensityReport* weighed,
                  int hooping = 1) {
    ReleaseFacts known{shop.work};
    known.layout_print = printOf(layout);
    known.plan = shop.work.plans.empty() ? nullptr : &shop.last();
    known.planned = !shop.work.plans.empty();
    known.hooping = hooping;
    known.setting = 1;
    known.weighed = weighed;
    known.field = {200, 140, HoopShape::Rectangle};
    return clearanceOf(known);
  }
  static const ClearanceLine* lineOf(const Clearance& c, ClearanceLine::What what) {
    for (const ClearanceLine& l : c.lines)
      if (l.what == what) return &l;
    return nullptr;
  }
  void eachThingThatIsMissingBars() {
    using What = ClearanceLine::What;
    std::mt19937 random = testing::seeded(617);
    const Pattern layout = squares(random, 5, 3);
    DensityReport fine;
    Shop shop;
    QCOMPARE(asked(shop, layout, &fine).against()->what, What::NoPlan);
    shop.plan(layout);
    QCOMPARE(asked(shop, layout, nullptr).against()->what, What::BeingWeighed);
    QCOMPARE(asked(shop, layout, &fine).against()->what, What::ClothNotMeasured);
    shop.find(1);
    QVERIFY(asked(shop, layout, &fine).given());
    DensityReport stop;
    stop.verdict = Verdict::Stop;
    stop.findings.emplace_back();
    stop.findings.back().severity = Verdict::Stop;
    QCOMPARE(asked(shop, layout, &stop).against()->what, What::DensityStop);
    shop.work.record.add(Overruled{"noon", "density", {}, printOf(layout), "scrap"});
    const Clearance overruled = asked(shop, layout, &stop);
    QVERIFY(overruled.given());
    QCOMPARE(lineOf(overruled, What::DensityOverruled)->reason, std::string("scrap"));
    QCOMPARE(lineOf(overruled, What::DensityOverruled)->time, std::string("noon"));
    for (const ClearanceLine& l : overruled.lines) QVERIFY(!inWords(l, overruled).empty());
  }
  /// A photo that cannot be read takes the measurement before it out of force, until the photo is
  /// thrown away or something is found anew.
  void aPhotoThatCannotBeReadLeavesNothingMeasured() {
    using What = ClearanceLine::What;
    std::mt19937 random = testing::seeded(618);
    const Pattern layout = squares(random, 5, 3);
    DensityReport fine;
    Shop shop;
    shop.plan(layout);
    shop.find(1);
    const SettingKey key = keyOf(shop.last(), shop.last().plan.hoopings[0]);
    shop.work.record.add(ScanRead{key, "t", "s1", "r1", "no tag is seen"});
    const Clearance c = asked(shop, layout, &fine);
    QCOMPARE(c.against()->what, What::PhotoNotRead);
    QCOMPARE(c.against()->reason, std::string("no tag is seen"));
    QVERIFY(!c.cloth.alignment);
    Shop thrown = shop;
    thrown.work.record.add(ScanDropped{key, "t", "s1"});
    QVERIFY(asked(thrown, layout, &fine).given());
    // one point found after it does not bring the others back
    Shop needled = shop;
    needled.work.record.add(MarkFound{key, "t", expectedMarks(shop.last().plan.hoopings[0])[0]});
    QCOMPARE(asked(needled, layout, &fine).against()->what, What::ClothNotMeasured);
    needled.find(1);
    QVERIFY(asked(needled, layout, &fine).given());
  }
  void missingMarksHoldTheDecision() {
    std::mt19937 random = testing::seeded(619);
    const Pattern layout = squares(random, 5, 3);
    DensityReport fine;
    Shop shop;
    shop.plan(layout);
    const Hooping& h = shop.last().plan.hoopings[0];
    const SettingKey key = keyOf(shop.last(), h);
    std::vector<Mark> marks = expectedMarks(h);
    QVERIFY(marks.size() >= 3);
    shop.work.record.add(ScanRead{key, "t", "s1", "r1", "", {marks[2].id}});
    for (size_t i = 0; i < 2; ++i) shop.work.record.add(MarkFound{key, "t", marks[i], "r1"});
    const Clearance c = asked(shop, layout, &fine);
    QVERIFY(c.cloth.alignment);
    QVERIFY(c.cloth.alignment->status != Readiness::Ready);
    QCOMPARE(c.against()->what, ClearanceLine::What::ClothNotReady);
    shop.work.record.add(Overruled{"t", "alignment", key, 0, "felt sits still"});
    QVERIFY(asked(shop, layout, &fine).given());
    shop.work.record.add(MarkFound{key, "t", marks[0]});  // measured anew: judged anew
    QVERIFY(!asked(shop, layout, &fine).given());
  }
  void whatIsSewnIsNotSentAgain() {
    using What = ClearanceLine::What;
    std::mt19937 random = testing::seeded(620);
    const Pattern layout = squares(random, 5, 3);
    DensityReport fine;
    Shop shop;
    shop.plan(layout);
    shop.find(1);
    shop.sew(1);
    QCOMPARE(asked(shop, layout, &fine).against()->what, What::SewnThrough);
    QVERIFY(lineOf(asked(shop, layout, &fine, 2), What::EarlierUnsewn) == nullptr);
    // a plan by an earlier program that knows nothing of what was sewn before
    Shop old = shop;
    auto another = std::make_shared<MadePlan>(old.last());
    another->id = "another";
    addPlan(old.work, another);
    const Clearance c = asked(old, layout, &fine);
    QCOMPARE(c.against()->what, What::SewnAlready);
    QCOMPARE(c.against()->count, old.last().plan.hoopings[0].settings[0].stitches);
    old.work.record.add(Overruled{"t", "sewn-already", c.of, 0, "twice for cover"});
    QVERIFY(lineOf(asked(old, layout, &fine), What::SewnOverruled));
  }
};

RT_TEST(TestNextPlan)

}  // namespace test_next_plan
#include "test_next_plan.moc"
