// Runs told from the ledger's lines.
#include <QtTest>

#include "random_pattern.h"
#include "run.h"
#include "run_story.h"

namespace test_run_story {

using namespace rt;

class TestRunStory : public QObject {
  Q_OBJECT
  int clock_ = 0;

  LedgerEntry line(const char* event, const char* job, int hooping) {
    LedgerEntry e;
    e.event = event;
    e.job_id = job;
    e.job_title = std::string("title of ") + job;
    e.hooping = hooping;
    e.time = "2031-05-02T10:00:" + std::to_string(10 + clock_++) + ".000Z";
    return e;
  }

 private slots:
  void init() { clock_ = 0; }

  void whatHappenedBelongsToItsRun() {
    std::vector<LedgerEntry> all{line("plan", "a", 0), line("align", "a", 1)};
    all.back().status = "ready", all.back().worst_mm = 0.21, all.back().rotation_deg = -1.4;
    all.push_back(line("sew-start", "a", 1));
    all.push_back(line("sew-start", "b", 1));  // another station of the shop
    all.push_back(line("break", "a", 1));
    all.push_back(line("fold", "b", 1));
    all.push_back(line("bobbin-missed", "a", 1));
    all.push_back(line("resume", "a", 1));
    all.push_back(line("done", "a", 1));
    all.push_back(line("run", "a", 1));
    all.back().figures = {{"predicted_s", 600}, {"taken_s", 660}};
    all.push_back(line("outcome", "a", 0));
    all.back().status = "fine";
    const std::vector<RunStory> told = storiesIn(all);
    QCOMPARE(told.size(), size_t{2});
    const RunStory& a = told[0];
    QVERIFY(a.breaks == 1 && a.bobbins == 1 && a.folds == 0 && !a.ended.empty());
    QVERIFY(a.aligned == "ready" && a.worst_mm == 0.21 && a.rotation_deg == -1.4);
    QVERIFY(a.planned_s == 600 && a.taken_s == 660 && a.outcome == "fine" && !a.overruled);
    QVERIFY(told[1].folds == 1 && told[1].ended.empty() && told[1].aligned.empty());
  }

  void aSecondTryIsARunOfItsOwn() {
    std::vector<LedgerEntry> all{line("overrule", "a", 0),  line("sew-start", "a", 2),
                                 line("break", "a", 2),     line("lost", "a", 2),
                                 line("sew-start", "a", 2), line("done", "a", 2)};
    const std::vector<RunStory> told = storiesIn(all);
    QCOMPARE(told.size(), size_t{2});
    QVERIFY(told[0].overruled && !told[1].overruled);  // it holds for what it was said of
    QVERIFY(told[0].breaks == 1 && told[0].lost == 1 && told[0].ended.empty());
    QVERIFY(told[1].breaks == 0 && !told[1].ended.empty());
  }

  void nothingIsCountedTwiceWhateverTheOrder() {
    std::mt19937 random = testing::seeded(441);
    const char* const events[] = {"sew-start", "break", "fold", "done", "align", "lost", "back"};
    for (int round = 0; round < 50; ++round) {
      std::vector<LedgerEntry> all;
      int breaks = 0, starts = 0;
      for (int i = 0; i < 60; ++i) {
        all.push_back(line(events[random() % 7], random() % 2 ? "a" : "b",
                           1 + static_cast<int>(random() % 3)));
        starts += all.back().event == "sew-start";
      }
      for (size_t i = 0; i < all.size(); ++i) {
        if (all[i].event != "break") continue;
        for (size_t k = 0; k < i; ++k)  // one that was begun before it
          if (all[k].event == "sew-start" && all[k].job_id == all[i].job_id &&
              all[k].hooping == all[i].hooping) {
            ++breaks;
            break;
          }
      }
      int told = 0;
      const std::vector<RunStory> stories = storiesIn(all);
      for (const RunStory& s : stories) told += s.breaks;
      QCOMPARE(static_cast<int>(stories.size()), starts);
      QCOMPARE(told, breaks);
    }
  }
};

RT_TEST(TestRunStory)

}  // namespace test_run_story
#include "test_run_story.moc"
