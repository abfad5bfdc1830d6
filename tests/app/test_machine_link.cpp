#include <QSignalSpy>
#include <QtTest>

#include "machine_link.h"
#include "random_pattern.h"

using namespace rt;
using Phase = MachineLink::Phase;

namespace {

const Field kField{200, 140, HoopShape::Rectangle};

Pattern line(int stitches) {
  Pattern p = testing::patternFrom("#112233 jump -50,0");
  for (int i = 1; i <= stitches; ++i) {
    Stitch s = p.stitches[0];
    s.op = Op::Stitch;
    s.at = {-50 + 100.0 * i / stitches, 0};
    p.stitches.push_back(s);
  }
  return p;
}

}  // namespace

class TestMachineLink : public QObject {
  Q_OBJECT
 private slots:
  void init() { qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN); }

  void sewsAndReports() {
    MachineLink link;
    QSignalSpy finished(&link, &MachineLink::finished), traced(&link, &MachineLink::traced);
    link.connectMachine();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Idle; }, 15000));
    link.load(line(300), kField, 700);
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Loaded; }));
    QCOMPARE(link.stitches(), 300);
    link.trace();
    QVERIFY(traced.wait(5000));
    QCOMPARE(traced[0][0].value<QVector<QPointF>>().size(), 5);
    link.setSpeedUp(1000);
    link.sew(0);
    QVERIFY(finished.wait(15000));
    QCOMPARE(link.stitch(), 300);
    QCOMPARE(link.row(), size_t{301});
  }
  void pausesAndGoesOn() {
    MachineLink link;
    link.connectMachine();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Idle; }, 15000));
    link.load(line(2000), kField, 700);
    link.setSpeedUp(20);
    link.sew(0);
    QVERIFY(QTest::qWaitFor([&] { return link.stitch() > 10; }, 10000));
    link.pause();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Paused; }));
    const int at = link.stitch();
    link.setSpeedUp(1000);
    link.goOn();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Done; }, 15000));
    QVERIFY(at < 2000);
    QCOMPARE(link.stitch(), 2000);
  }
  void aHoopingThatDoesNotFitIsRefused() {
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Idle; }, 15000));
    link.load(line(10), {50, 50, HoopShape::Rectangle}, 700);
    QVERIFY(failed.wait(5000));
    QVERIFY(failed[0][0].toString().contains("field"));
    QCOMPARE(link.phase(), Phase::Idle);
  }
  void aMachineThatIsNotThereIsTold() {
    qputenv("RAPT_THIMBLE_STANDIN", "/no/such/program");
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(failed.size() > 0 || failed.wait(5000));
    QCOMPARE(link.phase(), Phase::Away);
  }
  void leavingEndsQuietly() {
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(QTest::qWaitFor([&] { return link.phase() == Phase::Idle; }, 15000));
    link.leave();
    QCOMPARE(link.phase(), Phase::Away);
    QTest::qWait(50);
    QCOMPARE(failed.size(), 0);
  }
};

QTEST_GUILESS_MAIN(TestMachineLink)
#include "test_machine_link.moc"
