// Another thread for what is sewn in one: nothing else changes, and nothing forgets it.
#include <QtTest>
#include <set>

#include "actions.h"
#include "demo.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "thread_shelf.h"

namespace test_threads {

using namespace rt;

const Bench& bench() {
  static const Bench b = openBench();
  return b;
}

std::set<uint32_t> coloursOf(const Piece& piece) {
  std::set<uint32_t> out;
  for (const Stitch& s : piece.stitches->stitches) out.insert(piece.stitches->colourOf(s).rgb);
  return out;
}
std::set<uint32_t> coloursOf(const Job& job) {
  std::set<uint32_t> out;
  for (const Piece& p : job.pieces) out.merge(coloursOf(p));
  return out;
}

Colour anyOf(const std::set<uint32_t>& colours, std::mt19937& random) {
  auto it = colours.begin();
  std::advance(it, random() % colours.size());
  return {*it};
}

class TestThreads : public QObject {
  Q_OBJECT

 private slots:
  /// Needle points stay where they are; only what was sewn in the one is sewn in the other.
  void onlyTheThreadChanges() {
    std::mt19937 random = testing::seeded(2640);
    Job job = demoJob(bench(), "hide-banner");
    for (int run = 0; run < 12; ++run) {
      const Colour from = anyOf(coloursOf(job), random);
      const Colour to = random() % 2
                            ? bench().shop.threads[random() % bench().shop.threads.size()].colour
                            : Colour{static_cast<uint32_t>(random() & 0xffffff)};
      const std::optional<int> alone =
          random() % 3 ? std::nullopt
                       : std::optional<int>(job.pieces[random() % job.pieces.size()].id);
      Job next;
      try {
        next = actions::threadedAs(job, from, to, alone);
      } catch (const Error&) {  // that piece has none of it
        QVERIFY(alone && !coloursOf(actions::pieceOf(job, *alone)).contains(from.rgb));
        continue;
      }
      for (size_t i = 0; i < job.pieces.size(); ++i) {
        const Pattern &a = *job.pieces[i].stitches, &b = *next.pieces[i].stitches;
        QCOMPARE(a.stitches.size(), b.stitches.size());
        const bool changes = !alone || *alone == job.pieces[i].id;
        for (size_t row = 0; row < a.stitches.size(); ++row) {
          QVERIFY(a.stitches[row].at == b.stitches[row].at &&
                  a.stitches[row].op == b.stitches[row].op);
          const Colour was = a.colourOf(a.stitches[row]), is = b.colourOf(b.stitches[row]);
          QVERIFY(is == (changes && was == from ? to : was));
        }
        QVERIFY(next.pieces[i].place == job.pieces[i].place);
      }
      job = std::move(next);
    }
  }

  /// What is made again from its drawing or text comes back in the threads that it was given.
  void whatIsMadeAgainKeepsIt() {
    std::mt19937 random = testing::seeded(2641);
    Job job = demoJob(bench(), "hide-banner");
    for (int run = 0; run < 8; ++run)
      job =
          actions::threadedAs(job, anyOf(coloursOf(job), random),
                              bench().shop.threads[random() % bench().shop.threads.size()].colour);
    const Fabric cloth = clothOf(job, bench());
    for (const Piece& p : job.pieces)
      if (!std::holds_alternative<StitchSource>(p.source))
        QCOMPARE(coloursOf(remade(p, cloth, bench()).piece), coloursOf(p));
  }

  /// Two threads that became one are one from then on, for the drawing too.
  void threadsThatMeetStayTogether() {
    Job job = demoJob(bench(), "hide-banner");
    const auto art = std::find_if(job.pieces.begin(), job.pieces.end(), [](const Piece& p) {
      return std::holds_alternative<ArtworkSource>(p.source) && coloursOf(p).size() >= 2;
    });
    QVERIFY(art != job.pieces.end());
    const int id = art->id;
    const std::set<uint32_t> drawn = coloursOf(*art);
    const Colour a{*drawn.begin()}, b{*std::next(drawn.begin())}, c{0x123456};
    job = actions::threadedAs(job, a, b, id);
    QCOMPARE(coloursOf(actions::pieceOf(job, id)).size(), drawn.size() - 1);
    job = actions::threadedAs(job, b, c, id);
    const Piece& now = actions::pieceOf(job, id);
    const Piece again = remade(now, clothOf(job, bench()), bench()).piece;
    QCOMPARE(coloursOf(again), coloursOf(now));
    QVERIFY(coloursOf(now).contains(c.rgb) && !coloursOf(now).contains(b.rgb));
    // changed and changed back it is as it was drawn
    Job once = demoJob(bench(), "hide-banner");
    once = actions::threadedAs(actions::threadedAs(once, a, c, id), c, a, id);
    QCOMPARE(coloursOf(remade(actions::pieceOf(once, id), clothOf(once, bench()), bench()).piece),
             drawn);
  }

  void theOrderByHandFollows() {
    Job job = demoJob(bench(), "hide-banner");
    const std::set<uint32_t> all = coloursOf(job);
    std::vector<Colour> wish;
    for (uint32_t rgb : all) wish.push_back({rgb});
    job = actions::colouredAs(job, wish);
    const Colour to{0x010203};
    const Job next = actions::threadedAs(job, wish[1], to);
    QVERIFY(next.sequence.colours_by_hand[1] == to);
    QCOMPARE(next.sequence.colours_by_hand.size(), wish.size());
    // to the neighbour's thread: both are one
    QCOMPARE(actions::threadedAs(job, wish[1], wish[2]).sequence.colours_by_hand.size(),
             wish.size() - 1);
    QVERIFY_THROWS_EXCEPTION(Error, actions::threadedAs(job, Colour{0x0a0b0c}, to));
  }

  void threadsAreCalledByNameOrCode() {
    const auto& shelf = bench().shop.threads;
    for (const ShelfThread& t : shelf) {
      QVERIFY(threadNamed(shelf, t.code) == t.colour || !t.code.size());
      QCOMPARE(threadNamed(shelf, t.colour.hex()).rgb, t.colour.rgb);
    }
    QVERIFY_THROWS_EXCEPTION(Error, threadNamed(shelf, "no such thread"));
    QVERIFY_THROWS_EXCEPTION(Error, threadNamed(shelf, "#12345"));
    const auto near = byNearness(shelf, shelf.back().colour);
    QCOMPARE(near.size(), shelf.size());
    QVERIFY(near.front().thread->colour == shelf.back().colour);
    for (size_t i = 1; i < near.size(); ++i) QVERIFY(near[i - 1].difference <= near[i].difference);
  }
};

RT_TEST(TestThreads)

}  // namespace test_threads

#include "test_threads.moc"
