// Batches: equal pieces and pieces by name, nested, planned, proofed.
#include <QtTest>

#include "batch.h"
#include "demo.h"
#include "error.h"
#include "planner.h"
#include "proof_words.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "work.h"

namespace test_batch {

using namespace rt;

class TestBatch : public QObject {
  Q_OBJECT
  Bench bench_;
  Job tag_;

  /// Bounds of each copy, its outline too.
  static std::vector<Box> copiesOf(const Job& job) {
    std::map<int, Box> boxes;
    for (const Piece& p : job.pieces) boxes[p.group].add(boundsOf(p));
    std::vector<Box> out;
    for (const auto& [group, box] : boxes) out.push_back(box);
    return out;
  }

 private slots:
  void initTestCase() {
    bench_ = openBench();
    tag_ = demoJob(bench_, "tally-tags");
  }

  void everyPieceLiesInAFrameAndNoneOnAnother() {
    std::mt19937 random = testing::seeded(512);
    for (int round = 0; round < 6; ++round) {
      BatchWish wish;
      wish.count = 1 + static_cast<int>(random() % 30);
      wish.hoop = round % 2 ? "field-200x140" : "300x200";
      wish.gap_mm = testing::between(random, 0, 9);
      wish.turn = round % 3 == 0;
      wish.baste = round % 2 == 1;
      const Batch b = batchOf(tag_, wish, bench_);
      QCOMPARE(b.hoopings * b.per_hooping - b.free_places, wish.count);
      Job job = b.job;
      job.id = "batch";
      job = checked(std::move(job));
      const std::vector<Box> copies = copiesOf(job);
      QCOMPARE(static_cast<int>(copies.size()), wish.count);
      for (size_t i = 0; i < copies.size(); ++i)
        for (size_t k = i + 1; k < copies.size(); ++k)
          QVERIFY(!copies[i]
                       .grown(wish.gap_mm / 2 - 0.01)
                       .overlaps(copies[k].grown(wish.gap_mm / 2 - 0.01)));
      const Hoop hoop = planOptionsOf(job, bench_).hoops.at(0);
      for (const Box& copy : copies) {
        int held = 0;
        for (const PinnedFrame& pin : job.plan_settings.pinned)
          for (const PlacedField& f : fieldsOf(hoop, pin.turn_deg))
            held += f.box.moved(pin.origin).grown(0.01).contains(copy);
        QCOMPARE(held, 1);
      }
    }
  }

  void itIsPlannedAsItWasNested() {
    BatchWish wish;
    wish.count = 20;
    const Batch b = batchOf(tag_, wish, bench_);
    const HoopingPlan plan = planHoopings(sewnLayout(b.job), planOptionsOf(b.job, bench_));
    QCOMPARE(static_cast<int>(plan.hoopings.size()), b.hoopings);
    QVERIFY(plan.crossings.empty());
    size_t stitches = 0, wanted = 0;
    for (const Hooping& h : plan.hoopings) stitches += h.stitches();
    for (const Stitch& s : sewnLayout(b.job).stitches)
      wanted += s.op == Op::Stitch && s.kind != Kind::Tie;
    QCOMPARE(stitches, wanted);
    // colours are joined over a hooping: no more changes than a single piece has
    QVERIFY(statisticsOf(plan.hoopings[0].settings[0].pattern, {}).colour_changes <=
            statisticsOf(sewnLayout(tag_), {}).colour_changes);
  }

  void eachNameIsSewnOnceAndReadBack() {
    BatchWish wish;
    wish.names = {"Q24", "Q25", "Q26", "QUILLFEN 1", "R7"};
    const Batch b = batchOf(tag_, wish, bench_);
    QCOMPARE(b.pieces, 5);
    std::vector<std::string> sewn;
    for (const Piece& p : b.job.pieces)
      if (const auto* t = std::get_if<TextSource>(&p.source)) sewn.push_back(t->text);
    QCOMPARE(sewn, wish.names);
    Job job = b.job;
    QVERIFY2(proofOf(job).empty(), proofOf(job).c_str());
    std::get<TextSource>(
        std::find_if(job.pieces.begin(), job.pieces.end(),
                     [](const Piece& p) { return std::holds_alternative<TextSource>(p.source); })
            ->source)
        .text = "Q42";
    QVERIFY(!proofOf(job).empty());          // a slip in one of them is seen
    for (const Box& copy : copiesOf(b.job))  // a longer name is no longer than the place
      QVERIFY(copy.width() <= threadBounds(laidOut(tag_.pieces)).width() + 0.3);
  }

  /// A name that comes out below what its face can be sewn at is told, whatever is then done with
  /// it.
  void namesThatComeOutTooSmallAreTold() {
    BatchWish wish;
    wish.names = {"Q24", "the keeper of the western reed beds at Quillfen", "R7"};
    const Batch small = batchOf(tag_, wish, bench_);
    QCOMPARE(small.small.size(), size_t{1});
    QCOMPARE(small.small[0].name, wish.names[1]);
    QVERIFY(small.small[0].height_mm < small.small[0].least_mm);
    wish.long_names = BatchWish::Long::LeaveOut;
    const Batch without = batchOf(tag_, wish, bench_);
    QCOMPARE(without.pieces, 2);
    QCOMPARE(without.left_out, std::vector{wish.names[1]});
    QVERIFY(without.small.empty());
    QVERIFY(proofOf(without.job).empty());
    wish.long_names = BatchWish::Long::TwoLines;
    const Batch lines = batchOf(tag_, wish, bench_);
    QCOMPARE(lines.pieces, 3);
    QVERIFY(lines.small.empty() || lines.small[0].height_mm > small.small[0].height_mm);
    QVERIFY2(proofOf(lines.job).empty(), proofOf(lines.job).c_str());
    wish.names = {"the keeper of the western reed beds at Quillfen"};
    wish.long_names = BatchWish::Long::LeaveOut;
    QVERIFY_THROWS_EXCEPTION(Error, batchOf(tag_, wish, bench_));
  }
  /// However names differ in size, what was nested is what is planned.
  void namesOfAllSizesArePlannedAsNested() {
    std::mt19937 random = testing::seeded(930);
    for (int round = 0; round < 3; ++round) {
      BatchWish wish;
      const size_t n = 4 + random() % 24;
      for (size_t i = 0; i < n; ++i) {
        std::string name;
        for (size_t k = 1 + random() % 9; k > 0; --k) name += "WMjgQI1y"[random() % 8];
        wish.names.push_back(name);
      }
      const Batch b = batchOf(tag_, wish, bench_);
      const HoopingPlan plan = planHoopings(sewnLayout(b.job), planOptionsOf(b.job, bench_));
      QCOMPARE(static_cast<int>(plan.hoopings.size()), b.hoopings);
    }
  }
  void emptyLinesAreCounted() {
    int blank = 0;
    QCOMPARE(namesFrom("Q1\n\n  \nQ2\n", &blank).size(), size_t{2});
    QCOMPARE(blank, 2);
  }

  void namesComeFromListsAndTables() {
    QCOMPARE(namesFrom("Q1\n\n  Q2 \r\nWren, small\n"),
             (std::vector<std::string>{"Q1", "Q2", "Wren, small"}));
    QCOMPARE(namesFrom("nr,name,size\n1,Wren,S\n2,\"Heron\",M\n3,,L\n"),
             (std::vector<std::string>{"Wren", "Heron"}));
    QVERIFY_THROWS_EXCEPTION(Error, namesFrom("\n \n"));
    std::string many;
    for (int i = 0; i < 501; ++i) many += "n\n";
    QVERIFY_THROWS_EXCEPTION(Error, namesFrom(many));
  }

  void whatCannotBeIsSaid() {
    BatchWish wish;
    QVERIFY_THROWS_EXCEPTION(Error, batchOf({}, wish, bench_));
    wish.count = 0;
    QVERIFY_THROWS_EXCEPTION(Error, batchOf(tag_, wish, bench_));
    wish.count = 4;
    wish.hoop = "30x20";
    QVERIFY_THROWS_EXCEPTION(Error, batchOf(tag_, wish, bench_));
    wish.hoop = "no such frame";
    QVERIFY_THROWS_EXCEPTION(Error, batchOf(tag_, wish, bench_));
    wish = {};
    wish.names = {"Q1"};
    Job bare = tag_;
    std::erase_if(bare.pieces,
                  [](const Piece& p) { return std::holds_alternative<TextSource>(p.source); });
    QVERIFY_THROWS_EXCEPTION(Error, batchOf(bare, wish, bench_));
  }
};

RT_TEST(TestBatch)

}  // namespace test_batch
#include "test_batch.moc"
