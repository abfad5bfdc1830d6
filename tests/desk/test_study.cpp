#include <QSemaphore>
#include <QtTest>

#include "comes.h"
#include "run.h"
#include "study.h"

namespace test_study {

using namespace rt;

class TestStudy : public QObject {
  Q_OBJECT
 private slots:
  void aQuestionIsAnsweredOnce() {
    std::atomic<int> asked{0};
    Study<int, int> twice([&](const int& n, const Watch&) {
      ++asked;
      return 2 * n;
    });
    QCOMPARE(twice.state(), StudyState::Empty);
    twice.ask(21);
    QCOMPARE(twice.state(), StudyState::Running);
    twice.ask(21);
    QVERIFY(testing::comes([&] { return !twice.running(); }));
    QCOMPARE(*twice.last(), 42);
    twice.ask(21);
    QCOMPARE(twice.state(), StudyState::Ready);
    QCOMPARE(asked.load(), 1);
    QVERIFY(twice.resultFor(21) && !twice.resultFor(22));
  }
  void lateAnswersAreDropped() {
    QSemaphore go;
    Study<int, int> slow([&](const int& n, const Watch& watch) {
      while (n == 1 && !go.tryAcquire(1, 5))
        if (stopAsked(watch, 0.5, "waiting")) throw Stopped();
      return n;
    });
    QList<int> seen;
    connect(&slow, &StudyBase::changed, this, [&] {
      if (slow.state() == StudyState::Ready) seen << *slow.last();
    });
    slow.ask(1);
    slow.ask(2);  // the first is told to stop and never answers
    QVERIFY(testing::comes([&] { return slow.state() == StudyState::Ready; }));
    QCOMPARE(*slow.last(), 2);
    slow.ask(1);
    slow.stop();
    QCOMPARE(slow.state(), StudyState::Empty);
    slow.ask(3);
    QVERIFY(testing::comes([&] { return slow.state() == StudyState::Ready; }));
    QCOMPARE(seen, (QList<int>{2, 3}));
    slow.reset();
    QVERIFY(!slow.last());
  }
  void backToTheLastAnswerWhileAnotherRuns() {
    QSemaphore go;
    Study<int, int> slow([&](const int& n, const Watch& watch) {
      while (n == 9 && !stopAsked(watch, 0, "")) QThread::yieldCurrentThread();
      return n;
    });
    slow.ask(1);
    QVERIFY(testing::comes([&] { return slow.state() == StudyState::Ready; }));
    slow.ask(9);
    slow.ask(1);
    QCOMPARE(slow.state(), StudyState::Ready);
    QCOMPARE(*slow.last(), 1);
  }
  void whatIsThrownIsTold() {
    Study<int, int> fails([](const int& n, const Watch&) -> int {
      if (n == 1) throw Error("no hoop", "hoop 7", "choose another");
      if (n == 2) throw std::bad_alloc();
      throw std::runtime_error("odd");
    });
    for (int n : {1, 2, 3}) {
      fails.ask(n);
      QVERIFY(testing::comes([&] { return fails.state() == StudyState::Failed; }));
      QVERIFY(fails.error());
    }
    QVERIFY(fails.error()->problem().find("odd") != std::string::npos);
    fails.ask(1);
    QVERIFY(!fails.error());  // it is asked again after a failure
    QVERIFY(testing::comes([&] { return fails.state() == StudyState::Failed; }));
    QCOMPARE(fails.error()->where(), std::string("hoop 7"));
  }
  void progressIsSeen() {
    QSemaphore seen, go;
    Study<int, int> slow([&](const int& n, const Watch& watch) {
      watched(watch, 0.25, "first");
      go.acquire();
      return n;
    });
    connect(&slow, &StudyBase::progressed, this, [&] { seen.release(); });
    slow.ask(4);
    QVERIFY(testing::comes([&] { return seen.available() > 0; }));
    QCOMPARE(slow.progress().part, 0.25);
    go.release();
    QVERIFY(testing::comes([&] { return !slow.running(); }));
  }
  void enoughGivesTheBestSoFar() {
    Study<int, int> better([](const int& n, const Watch& watch) {
      int best = n;
      while (!enoughAsked(watch, {0.5, "bettering", best})) ++best;
      return best;
    });
    better.ask(4);
    QVERIFY(testing::comes([&] { return better.progress().best > 4; }));
    better.enough();
    QVERIFY(testing::comes([&] { return !better.running(); }));
    QVERIFY(better.state() == StudyState::Ready);
    QVERIFY(*better.last() > 4);
    better.enough();  // nothing runs: nothing happens
    QVERIFY(better.state() == StudyState::Ready);
  }
  void itMayGoWhileItWorks() {
    auto slow = std::make_unique<Study<int, int>>([](const int& n, const Watch& watch) {
      while (!stopAsked(watch, 0, "")) QThread::yieldCurrentThread();
      return n;
    });
    slow->ask(1);
    slow.reset();  // waits for the worker, which was told to stop
    QCoreApplication::processEvents();
  }
};

RT_TEST(TestStudy)

}  // namespace test_study
#include "test_study.moc"
