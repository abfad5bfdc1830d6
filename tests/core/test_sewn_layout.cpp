// How the pieces of a job become one sewing.
#include <QtTest>

#include "drawn_blocks.h"
#include "job.h"
#include "making_words.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_sewn_layout {

using namespace rt;
using testing::between;

namespace {

Piece square(int id, Point at, double side, uint32_t rgb) {
  testing::BlockMaker make;
  make.colour = {rgb};
  make.fill({-side / 2, -side / 2, side / 2, side / 2}, 0.4, 3);
  Piece p;
  p.id = id;
  p.name = "square " + std::to_string(id);
  p.place.at = at;
  p.stitches = std::make_shared<const Pattern>(make.pattern);
  return p;
}

/// Red and blue in turn, none over another.
Job checkers(int count) {
  Job job;
  for (int i = 0; i < count; ++i)
    job.pieces.push_back(square(i + 1, {i * 20.0, 0}, 10, i % 2 ? 0xcc0000 : 0x0000cc));
  return job;
}

Statistics sewn(const Job& job) {
  return statisticsOf(sewnLayout(job), {});
}

}  // namespace

class TestSewnLayout : public QObject {
  Q_OBJECT
 private slots:
  void plainSettingsChangeNothing() {
    const Job job = checkers(5);
    QVERIFY(sewnLayout(job) == laidOut(job.pieces));
    QVERIFY(sewnLayout({}).stitches.empty());
  }

  void coloursAreGatheredWhereNothingForbidsIt() {
    Job job = checkers(8);
    QCOMPARE(sewn(job).colour_changes, size_t{7});
    job.sequence.fewest_colours = true;
    QCOMPARE(sewn(job).colour_changes, size_t{1});
    QCOMPARE(sewn(job).stitches, statisticsOf(laidOut(job.pieces), {}).stitches);
  }

  void waysGetShorterButEveryStitchStays() {
    Job job = checkers(8);
    std::swap(job.pieces[0], job.pieces[6]);
    std::swap(job.pieces[1], job.pieces[5]);
    job.sequence.fewest_colours = true;
    Job shorter = job;
    shorter.sequence.shortest_travel = true;
    const Pattern a = sewnLayout(job), b = sewnLayout(shorter);
    QCOMPARE(statisticsOf(b, {}).stitches, statisticsOf(a, {}).stitches);
    QCOMPARE(statisticsOf(b, {}).colour_changes, statisticsOf(a, {}).colour_changes);
    auto ways = [](const Pattern& p) {
      double sum = 0;
      const std::vector<Block> blocks = blocksOf(p);
      for (size_t k = 1; k < blocks.size(); ++k)
        sum += distance(blocks[k - 1].exit, blocks[k].entry);
      return sum;
    };
    QVERIFY(ways(b) <= ways(a));
  }

  /// A fill under lettering stays whole and is thinned; under anything else it loses what is
  /// hidden.
  void fillsUnderLetteringAreThinnedInstead() {
    Job job;
    job.pieces = {square(1, {0, 0}, 40, 0x2f5d50), square(2, {0, 0}, 16, 0x8a5a2b)};
    TextSource text;
    text.text = "I";
    job.pieces[1].source = text;
    job.sequence.hidden_margin_mm = 1;
    const size_t cut = sewn(job).stitches;
    job.sequence.thin_under_letters = 1.4;
    const Pattern kept = sewnLayout(job);
    const std::vector<Block> blocks = blocksOf(kept);
    QCOMPARE(blocks.size(), size_t{2});
    QVERIFY(std::abs(blocks[0].bounds.width() - 40) < 0.5);  // whole
    const double before = blocksOf(laidOut(job.pieces))[0].thread_mm;
    QVERIFY2(std::abs(blocks[0].thread_mm / before - 1 / job.sequence.thin_under_letters) < 0.06,
             qPrintable(QString("%1 of %2").arg(blocks[0].thread_mm).arg(before)));
    QVERIFY(cut > 0);
    job.pieces[1].source = StitchSource{};  // no lettering: hidden stitches go as ever
    QCOMPARE(sewn(job).stitches, cut);
  }

  void severalWaitsStandWhereTheyBelong() {
    Job job = checkers(5);
    for (int id : {2, 4, 5}) job.sequence.stops.push_back({id, "wait"});
    const Pattern p = sewnLayout(job);
    QCOMPARE(statisticsOf(p, {}).stops, size_t{3});
    std::vector<std::string> after;
    for (size_t row = 0; row + 1 < p.stitches.size(); ++row)
      if (p.stitches[row].op == Op::Stop) after.push_back(p.pieces[p.stitches[row + 1].piece]);
    QVERIFY((after == std::vector<std::string>{"square 2", "square 4", "square 5"}));
  }

  void overlapsKeepTheirOrder() {
    Job job;
    job.sequence.fewest_colours = true;
    for (int i = 0; i < 4; ++i)  // each lies over the one before
      job.pieces.push_back(square(i + 1, {i * 4.0, 0}, 10, i % 2 ? 0xcc0000 : 0x0000cc));
    QCOMPARE(sewn(job).colour_changes, size_t{3});
  }

  void coveredStitchesGoButForTheMargin() {
    Job job;
    job.pieces = {square(1, {0, 0}, 60, 0x0000cc), square(2, {0, 0}, 40, 0xcc0000)};
    const double before = sewn(job).thread_mm;
    double last = 0;
    for (double margin : {0.5, 1.0, 3.0}) {
      job.sequence.hidden_margin_mm = margin;
      const double after = sewn(job).thread_mm;
      // the wider the margin, the more stays
      QVERIFY(after < before && after > last);
      const double hidden = (40 - 2 * margin) * (40 - 2 * margin) / 0.4;
      QVERIFY2(std::abs(before - after - hidden) < 0.25 * hidden + 20,
               qPrintable(QString("%1 for %2").arg(before - after).arg(hidden)));
      last = after;
    }
  }

  /// Whatever lies on whatever: taking hidden stitches out never makes the sewing longer.
  void takingHiddenStitchesOutNeverCosts() {
    std::mt19937 random = testing::seeded(4712);
    for (int round = 0; round < 25; ++round) {
      Job job;
      const int n = 2 + static_cast<int>(random() % 5);
      for (int i = 0; i < n; ++i)
        job.pieces.push_back(
            square(i + 1, {testing::between(random, -25, 25), testing::between(random, -25, 25)},
                   testing::between(random, 5, 50), static_cast<uint32_t>(0x333333 * (1 + i % 4))));
      const Statistics before = sewn(job);
      job.sequence.hidden_margin_mm = testing::between(random, 0.3, 3);
      const Statistics after = sewn(job);
      QVERIFY(after.sewing_time_s <= before.sewing_time_s + 1e-6);
      QVERIFY(after.stitches <= before.stitches);
    }
  }

  void aPlaceIsWeighedAsInTheWhole() {
    // what lies in a window is the same, wherever it is and whatever else is on the cloth
    std::mt19937 random = testing::seeded(4711);
    for (int round = 0; round < 6; ++round) {
      Job job;
      for (int i = 0; i < 9; ++i)
        job.pieces.push_back(
            square(i + 1, {testing::between(random, -40, 40), testing::between(random, -40, 40)},
                   testing::between(random, 8, 40), 0x0000cc + i % 3));
      job.sequence.hidden_margin_mm = 1;
      const Pattern whole = sewnLayout(job);
      const Point at{testing::between(random, -30, 30), testing::between(random, -30, 30)};
      const Box window = Box::around(at, 14, 9);
      const auto threadIn = [&](const Pattern& p) {
        std::vector<std::array<double, 4>> in;
        forEachSegment(p, [&](Point a, Point b, size_t row) {
          Box box;
          box.add(a), box.add(b);
          if (p.stitches[row].kind != Kind::Tie && window.overlaps(box))
            in.push_back({a.x, a.y, b.x, b.y});
        });
        std::sort(in.begin(), in.end());
        return in;
      };
      QVERIFY(threadIn(sewnNear(job, window)) == threadIn(whole));
    }
  }

  void aStopComesJustBeforeItsPiece() {
    Job job = checkers(4);
    job.sequence.stops = {{3, "lay the topper"}};
    const Pattern p = sewnLayout(job);
    QCOMPARE(statisticsOf(p, {}).stops, size_t{1});
    size_t at = 0;
    while (p.stitches[at].op != Op::Stop) ++at;
    for (size_t row = 0; row < at; ++row) {
      const std::string& piece = p.pieces[p.stitches[row].piece];
      QVERIFY(piece == "square 1" || piece == "square 2");
    }
    QCOMPARE(p.pieces[p.stitches[at + 1].piece], std::string("square 3"));
  }

  void stopsForPiecesThatWentAreForgotten() {
    Job job = checkers(3);
    job.sequence.stops = {{99, "take the tag off"}};
    QCOMPARE(sewn(job).stops, size_t{0});
    job.sequence.stops = {{1, "before everything nobody has to wait"}};
    QCOMPARE(sewn(job).stops, size_t{0});
  }

  void aWaitCanComeInsideAPiece() {
    Job job = checkers(3);
    const Pattern plain = sewnLayout(job);
    const std::vector<Block> blocks = blocksOf(plain);
    for (const Block& b : blocks) {
      if (b.first == 0) continue;
      const std::optional<OperatorStop> stop = stopAt(job, plain, b.first);
      QVERIFY(stop.has_value());
      QVERIFY(!placeOf(job, *stop).empty());
      job.sequence.stops = {*stop};
      const Pattern p = sewnLayout(job);
      const auto at =
          static_cast<size_t>(std::find_if(p.stitches.begin(), p.stitches.end(),
                                           [](const Stitch& s) { return s.op == Op::Stop; }) -
                              p.stitches.begin());
      QCOMPARE(at, b.first);
    }
    QVERIFY(!stopAt(job, plain, plain.stitches.size()));
    QCOMPARE(placeOf(job, {99, "", 0}), std::string());
  }

  void coloursByHandAreSewnSo() {
    Job job = checkers(4);
    const std::vector<ColourRun> runs = colourRuns(sewnLayout(job));
    std::vector<Colour> wish;
    for (const ColourRun& r : runs) wish.push_back(r.colour);
    job.sequence.colours_by_hand = wish;
    QVERIFY(!coloursTried(job, wish).why);
    QVERIFY(sequencePrint(job) != sequencePrint(checkers(4)));
    const Statistics by = sewn(job), as = sewn(checkers(4));
    QCOMPARE(by.stitches, as.stitches);
    QVERIFY(by.colour_changes <= as.colour_changes);
  }

  void anOrderOfColoursIsAskedAgainWhenPiecesCameTogether() {
    Job job = checkers(2);
    const std::vector<Colour> wish{{0xcc0000}, {0x0000cc}};
    job.sequence.colours_by_hand = wish;
    QVERIFY(!coloursTried(job, wish).why);
    QVERIFY(colourRuns(sewnLayout(job))[0].colour == wish[0]);
    job.pieces[1].place.at = job.pieces[0].place.at;
    const auto why = coloursTried(job, wish).why;
    QVERIFY(why && why->lies_on);
    QCOMPARE(inWords(*why).find("square 2 in #cc0000 lies on square 1 in #0000cc"), size_t{0});
    QVERIFY(colourRuns(sewnLayout(job))[0].colour == wish[1]);  // no overlap is turned over
  }

  void aMoveByHandIsAnotherLayout() {
    Job job = checkers(3);
    const size_t before = printOf(sewnLayout(job));
    job.pieces[1].place.at.x += 0.01;
    QVERIFY(printOf(sewnLayout(job)) != before);
    job.pieces[1].place.at.x -= 0.01;
    QCOMPARE(printOf(sewnLayout(job)), before);
  }

  void jobsDifferByTheirSettings() {
    const Job a = checkers(2);
    Job b = a;
    b.sequence.needles = 6;
    QVERIFY(!(a == b));
    b = a;
    b.sequence.stops = {{1, "note"}};
    QVERIFY(!(a == b));
  }
};

RT_TEST(TestSewnLayout)

}  // namespace test_sewn_layout
#include "test_sewn_layout.moc"
