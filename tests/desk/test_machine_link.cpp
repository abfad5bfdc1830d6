#include <QProcess>
#include <QSignalSpy>
#include <QTcpServer>
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "machine_link.h"
#include "random_pattern.h"
#include "run.h"

namespace test_machine_link {

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

MachineLoad loadOf(Pattern rows, const Field& field = kField) {
  return {QStringLiteral("d"), QStringLiteral("job 1-1"), {}, std::move(rows), field, 700, {}};
}

}  // namespace

class TestMachineLink : public QObject {
  Q_OBJECT
 private slots:
  void init() { qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN " --free"); }

  void sewsAndReports() {
    MachineLink link;
    QSignalSpy traced(&link, &MachineLink::traced);
    link.connectMachine();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Idle; }));
    link.load(loadOf(line(300), kField));
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Loaded; }));
    QCOMPARE(link.stitches(), 300);
    link.trace();
    QVERIFY(traced.wait(testing::kLongest_ms));
    QCOMPARE(traced[0][0].value<QVector<QPointF>>().size(), 5);
    link.setSpeedUp(1000);
    link.sew(0);
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Done; }));
    QCOMPARE(link.stitch(), 300);
    QCOMPARE(link.row(), size_t{301});
  }
  /// Two machines stay on under names of their owner; each link finds the one it means.
  void machinesAreFoundByNameAndKeptApart() {
    QTemporaryDir folder;
    QProcess reed, mere;
    for (auto [process, name] : {std::pair{&reed, "Reed"}, {&mere, "Mere"}}) {
      process->start(RT_STANDIN, {"--free", "--stay", "--name", name, "--id",
                                  QString("id-%1").arg(name), "--announce", folder.path()});
      QVERIFY(process->waitForStarted(testing::kLongest_ms));
      QVERIFY(process->waitForReadyRead(15000));
    }
    QVERIFY(testing::comes([&] { return machinesIn(folder.path()).size() == 2; }));
    const QVector<MachineFound> found = machinesIn(folder.path());
    QCOMPARE(found[0].name, QString("Mere"));
    QCOMPARE(found[1].name, QString("Reed"));
    MachineLink one, two;
    one.connectTo(found[0]);
    two.connectTo(found[1]);
    QVERIFY(
        testing::comes([&] { return one.phase() == Phase::Idle && two.phase() == Phase::Idle; }));
    QCOMPARE(one.machineId(), QString("id-Mere"));
    QCOMPARE(two.machineName(), QString("Reed"));
    one.load(loadOf(line(20)));
    QVERIFY(testing::comes([&] { return one.phase() == Phase::Loaded; }));
    QSignalSpy listed(&two, &MachineLink::listed);
    two.listFiles(false);
    QVERIFY(listed.wait(testing::kLongest_ms));
    QVERIFY(listed[0][0].value<QVector<rt::MachineFile>>().isEmpty());  // it went to the other one
    two.leave();
    QVERIFY(testing::comes([&] { return two.phase() == Phase::Away; }));
    // a notice that speaks of another machine than the one that answers
    MachineFound wrong = found[1];
    wrong.id = "id-Mere";
    QSignalSpy failed(&two, &MachineLink::failed);
    two.connectTo(wrong);
    QVERIFY(failed.wait(testing::kLongest_ms));
    QVERIFY(two.phase() == Phase::Away);
    reed.kill(), mere.kill();  // cut off, not shut down: their notices stay
    QVERIFY(reed.waitForFinished(testing::kLongest_ms) &&
            mere.waitForFinished(testing::kLongest_ms));
    QCOMPARE(QDir(folder.path()).entryList({"*.json"}).size(), 2);
    QVERIFY(machinesIn(folder.path()).isEmpty());
  }
  void noticesThatAreNoneArePassedOver() {
    QTemporaryDir folder;
    const auto put = [&](const char* name, const QByteArray& text) {
      QFile file(folder.filePath(name));
      QVERIFY(file.open(QIODevice::WriteOnly));
      file.write(text);
    };
    put("a.json", "{\"port\":70000,\"key\":\"k\",\"id\":\"x\"}");
    put("b.json", "[1,2");
    put("c.json", QByteArray(10000, '{'));
    put("d.json", "{\"port\":4000,\"id\":\"x\"}");
    put("e.json", "{\"port\":4000,\"key\":\"k\",\"id\":\"x\",\"machine\":\"M\"}");
    put("f.json", "{\"port\":4001,\"key\":\"k\",\"id\":\"x\",\"machine\":\"N\"}");
    put("g.txt", "{\"port\":4001,\"key\":\"k\",\"id\":\"y\",\"machine\":\"N\"}");
    const QVector<MachineFound> found = machinesIn(folder.path());
    QCOMPARE(found.size(), 1);
    QCOMPARE(found[0].port, quint16{4000});
    QVERIFY(machinesIn(folder.filePath("not there")).isEmpty());
  }
  void pausesAndGoesOn() {
    MachineLink link;
    link.connectMachine();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Idle; }));
    link.load(loadOf(line(2000), kField));
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Loaded; }));
    link.setSpeedUp(2);
    link.sew(0);
    QVERIFY(testing::comes([&] { return link.stitch() > 10; }));
    link.pause();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Paused; }));
    const int at = link.stitch();
    link.setSpeedUp(1000);
    link.goOn();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Done; }));
    QVERIFY(at < 2000);
    QCOMPARE(link.stitch(), 2000);
  }
  void aHoopingThatDoesNotFitIsRefused() {
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Idle; }));
    link.load(loadOf(line(10), {50, 50, HoopShape::Rectangle}));
    QVERIFY(failed.wait(testing::kLongest_ms));
    QVERIFY(failed[0][0].toString().contains("field"));
    QCOMPARE(link.phase(), Phase::Idle);
  }
  void aMachineThatIsNotThereIsTold() {
    qputenv("RAPT_THIMBLE_STANDIN", "/no/such/program");
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(failed.size() > 0 || failed.wait(testing::kLongest_ms));
    QCOMPARE(link.phase(), Phase::Away);
  }
  /// A machine of this test's own, that says what it is told to.
  void sayingsThatCannotBeEndTheConnection() {
    const QStringList sayings{R"({"event":"progress","row":9e44,"stitch":1})",
                              R"({"event":"progress","row":-1,"stitch":1})",
                              R"({"event":"progress","row":5,"stitch":9e9})",
                              R"({"event":"dance","row":1,"stitch":1})",
                              R"({"event":"progress","row":1,"stitch":1,"clock_s":-4})",
                              R"({"ok":true,"re":"trace","way_mm":[[]]})",
                              R"({"ok":true,"re":"trace","way_mm":[[1e300,0]]})",
                              R"({"ok":true,"re":"select","stitches":9e44})",
                              R"([1,2])",
                              "\x01\x02 rubbish"};
    for (const QString& saying : sayings) {
      QTemporaryDir dir;
      QFile script(dir.filePath("liar"));
      QVERIFY(script.open(QIODevice::WriteOnly));
      QTcpServer server;
      QVERIFY(server.listen(QHostAddress::LocalHost));
      script.write(QStringLiteral("#!/bin/sh\necho '{\"key\":\"k\",\"port\":%1}'\nexec sleep 60\n")
                       .arg(server.serverPort())
                       .toUtf8());
      script.close();
      script.setPermissions(QFile::ExeOwner | QFile::ReadOwner);
      qputenv("RAPT_THIMBLE_STANDIN", dir.filePath("liar").toUtf8());
      MachineLink link;
      QSignalSpy failed(&link, &MachineLink::failed);
      link.connectMachine();
      QVERIFY(testing::comes([&] { return server.hasPendingConnections(); }));
      QTcpSocket* wire = server.nextPendingConnection();
      wire->write("{\"ok\":true,\"re\":\"hello\",\"protocol\":2}\n");
      QVERIFY(testing::comes([&] { return link.phase() == Phase::Idle; }));
      link.load(loadOf(line(20), kField));
      wire->write(saying.toUtf8() + "\n");
      QVERIFY2(testing::comes([&] { return link.phase() == Phase::Away; }), qPrintable(saying));
      QCOMPARE(failed.size(), 1);
    }
  }
  void leavingEndsQuietly() {
    MachineLink link;
    QSignalSpy failed(&link, &MachineLink::failed);
    link.connectMachine();
    QVERIFY(testing::comes([&] { return link.phase() == Phase::Idle; }));
    link.leave();
    QCOMPARE(link.phase(), Phase::Away);
    for (int i = 0; i < 20; ++i) QCoreApplication::processEvents();
    QCOMPARE(failed.size(), 0);
  }
};

RT_TEST(TestMachineLink)

}  // namespace test_machine_link
#include "test_machine_link.moc"
