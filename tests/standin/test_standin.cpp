#include <QJsonArray>
#include <QJsonDocument>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "run.h"
#include "server.h"

namespace test_standin {

using namespace standin;

namespace {

std::vector<Row> rows(int n) {
  std::vector<Row> out{{0, 0, "jump", "#111111"}};
  for (int i = 1; i <= n; ++i)
    out.push_back({i * 0.1, 0, "stitch", i <= n / 2 ? "#111111" : "#222222"});
  return out;
}

}  // namespace

class TestStandin : public QObject {
  Q_OBJECT

  static QJsonObject ask(QTcpSocket& socket, const QJsonObject& request) {
    socket.write(QJsonDocument(request).toJson(QJsonDocument::Compact) + '\n');
    while (!socket.canReadLine())
      if (!rt::testing::comes([&] { return socket.canReadLine(); })) return {};
    return QJsonDocument::fromJson(socket.readLine()).object();
  }

 private slots:
  void stopsForEachColourThenEnds() {
    Machine m;
    QVERIFY(m.load(rows(100), 100, 100).isEmpty());
    QVERIFY(m.start(0));
    QCOMPARE(m.advance(1e6), Halt::ColourChange);
    QCOMPARE(m.stitch(), 50);
    QVERIFY(m.resume());
    QCOMPARE(m.advance(1e6), Halt::Done);
    QCOMPARE(m.stitch(), 100);
  }
  void sewsAtItsSpeed() {
    Machine m;
    m.load(rows(100), 100, 100);
    m.stitchesPerMinute = 600;
    m.start(0);
    m.advance(0.3 + 2.0);  // the jump, then 20 stitches at 10 a second
    QVERIFY(std::abs(m.stitch() - 20) <= 1);
  }
  void breaksWhereItIsTold() {
    Machine m;
    m.load(rows(100), 100, 100);
    m.start(0);
    m.strike(Fault::Break, 13);
    QCOMPARE(m.advance(1e6), Halt::ThreadBreak);
    QCOMPARE(m.stitch(), 13);
    QVERIFY(!m.running());
  }
  void goesOnFromARow() {
    Machine m;
    m.load(rows(100), 100, 100);
    QVERIFY(m.start(71));
    QCOMPARE(m.stitch(), 70);
    QCOMPARE(m.advance(1e6), Halt::Done);
    QVERIFY(!m.start(5000));
  }
  void refusesWhatDoesNotFit() {
    Machine m;
    QVERIFY(!m.load({}, 100, 100).isEmpty());
    QVERIFY(!m.load(rows(100), 10, 10).isEmpty());
    QVERIFY(!m.load({{NAN, 0, "stitch", "#000000"}}, 100, 100).isEmpty());
  }
  void wantsItsKey() {
    Server server;
    QVERIFY(server.listen());
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(rt::testing::comes([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    QCOMPARE(ask(socket, {{"do", "hello"}, {"protocol", 2}, {"key", "guess"}})["ok"].toBool(),
             false);
    QVERIFY(
        rt::testing::comes([&] { return socket.state() == QAbstractSocket::UnconnectedState; }));
  }
  void sewsOverTheWire() {
    Server server;
    QVERIFY(server.listen());
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(rt::testing::comes([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    QVERIFY(ask(socket, {{"do", "hello"}, {"protocol", 2}, {"key", server.key()}})["ok"].toBool());
    QVERIFY(!ask(socket, {{"do", "sew"}})["ok"].toBool());  // nothing loaded
    QJsonArray list;
    for (const Row& r : rows(60)) list.append(QJsonArray{r.x_mm, r.y_mm, r.op, r.thread});
    QCOMPARE(
        ask(socket, {{"do", "load"}, {"rows", list}, {"field_mm", QJsonArray{50, 50}}})["stitches"]
            .toInt(),
        60);
    QCOMPARE(ask(socket, {{"do", "trace"}})["way_mm"].toArray().size(), 5);
    QVERIFY(ask(socket, {{"do", "speed"}, {"times", 1000}})["ok"].toBool());
    QVERIFY(!ask(socket, {{"do", "sew"}, {"from_row", -3}})["ok"].toBool());
    socket.write("{\"do\":\"sew\"}\n");
    QString last;
    QVERIFY(rt::testing::comes([&] {
      while (socket.canReadLine()) {
        last = QJsonDocument::fromJson(socket.readLine()).object()["event"].toString();
        if (last == "colour") socket.write("{\"do\":\"go-on\"}\n");
        if (last == "done") return true;
      }
      return false;
    }));
    QVERIFY(!ask(socket, {{"do", "dance"}})["ok"].toBool());
  }
  void aRefusedLoadLeavesItSewing() {
    Machine m;
    QVERIFY(m.load(rows(100), 100, 100).isEmpty());
    m.start(0);
    m.advance(2);
    const int at = m.stitch();
    QVERIFY(!m.load(rows(10), 100, 100).isEmpty());
    QVERIFY(m.running());
    QCOMPARE(m.stitch(), at);
    QCOMPARE(m.advance(1e6), Halt::ColourChange);
    QVERIFY(!m.load({{1e300, 0, "stitch", "#000000"}}, 1e301, 1e301).isEmpty());
  }
  void whatFollowsAWrongKeyIsNotRead() {
    Server server(Clock::Free, {}, {});
    QVERIFY(server.listen());
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(rt::testing::comes([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    socket.write("{\"do\":\"hello\",\"key\":\"wrong\"}\n{\"do\":\"hello\",\"key\":\"" +
                 server.key().toUtf8() + "\"}\n{\"do\":\"trace\"}\n");
    QVERIFY(
        rt::testing::comes([&] { return socket.state() == QAbstractSocket::UnconnectedState; }));
    QCOMPARE(socket.readAll().count('\n'), 1);  // the refusal alone
  }
  void strangersCostLittleAndKeepNobodyOut() {
    Server server(Clock::Free, {}, {});
    QVERIFY(server.listen());
    std::vector<std::unique_ptr<QTcpSocket>> silent;
    for (int i = 0; i < 20; ++i) {
      silent.push_back(std::make_unique<QTcpSocket>());
      silent.back()->connectToHost("127.0.0.1", server.port());
      QVERIFY(rt::testing::comes(
          [&] { return silent.back()->state() == QAbstractSocket::ConnectedState; }));
      if (i % 2) silent.back()->write(QByteArray(9000, 'x'));  // a first line without end
    }
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(rt::testing::comes([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    QVERIFY(ask(socket, {{"do", "hello"}, {"protocol", 2}, {"key", server.key()}})["ok"].toBool());
    // and the one who is in stays in when others come and go
    silent.clear();
    QVERIFY(!ask(socket, {{"do", "sew"}})["ok"].toBool());
    QCOMPARE(socket.state(), QAbstractSocket::ConnectedState);
  }
  void itRemembersOverAnEndOfThePower() {
    QTemporaryDir dir;
    QJsonArray list;
    for (const Row& r : rows(60)) list.append(QJsonArray{r.x_mm, r.y_mm, r.op, r.thread});
    const QJsonObject load{
        {"do", "load"}, {"design", "p/h1"}, {"rows", list}, {"field_mm", QJsonArray{50, 50}}};
    for (int time = 0; time < 2; ++time) {
      Server server(Clock::Free, dir.filePath("memory"), dir.filePath("cloth"));
      QVERIFY(server.listen());
      QTcpSocket socket;
      socket.connectToHost("127.0.0.1", server.port());
      QVERIFY(
          ask(socket, {{"do", "hello"}, {"protocol", 2}, {"key", server.key()}})["ok"].toBool());
      QCOMPARE(ask(socket, load)["sewn_rows"].toInt(), time == 0 ? 0 : 31);
      if (time == 1) break;
      socket.write("{\"do\":\"speed\",\"times\":100}\n{\"do\":\"sew\"}\n");
      QVERIFY(
          rt::testing::comes([&] { return server.machine().row() == 31; }));  // waits for a colour
    }
    QFile cloth(dir.filePath("cloth"));
    QVERIFY(cloth.open(QIODevice::ReadOnly));
    QCOMPARE(cloth.readAll().count('\n'), 30);
  }
  void aFileShelfHasItsLimits() {
    FileShelf shelf(2, 100);
    QVERIFY(shelf.write({"a", QByteArray(40, 'x'), {}, 10, 10, {}}).isEmpty());
    QVERIFY(shelf.write({"b", QByteArray(40, 'x'), {}, 10, 10, {}}).isEmpty());
    QVERIFY(shelf.write({"c", "x", {}, 10, 10, {}}).contains("places"));
    QVERIFY(shelf.write({"b", QByteArray(90, 'x'), {}, 10, 10, {}}).contains("kB"));
    QCOMPARE(shelf.used(), qsizetype{80});  // what was refused changed nothing
    QVERIFY(!shelf.copy("a", "d").isEmpty());
    QVERIFY(!shelf.rename("a", "b").isEmpty() && !shelf.rename("z", "y").isEmpty());
    QVERIFY(shelf.rename("a", "d").isEmpty() && shelf.find("d") && !shelf.find("a"));
    QVERIFY(shelf.remove("d").isEmpty() && !shelf.remove("d").isEmpty());
    QVERIFY(shelf.copy("b", "e").isEmpty());
    QVERIFY(!shelf.write({"up/down", "x", {}, 1, 1, {}}).isEmpty());
  }
  void onlyTwentyFilesOfAStickAreSeen() {
    Server server(Clock::Free, {}, {});
    const auto say = [&](QJsonObject o) { return server.heard(QJsonDocument(o).toJson()); };
    for (int i = 0; i < 25; ++i)
      QVERIFY(say({{"do", "write"},
                   {"where", "stick"},
                   {"name", QString("f%1").arg(i)},
                   {"rows", QJsonArray{}},
                   {"field_mm", QJsonArray{10, 10}}})["ok"]
                  .toBool());
    QCOMPARE(say({{"do", "list"}, {"where", "stick"}})["files"].toArray().size(), 20);
    QCOMPARE(say({{"do", "list"}})["files"].toArray().size(), 0);
  }
  void aFileNeverGoesToTheWrongMachine() {
    Setup owner;
    owner.id = "near-window";
    Server server(owner);
    const auto say = [&](QJsonObject o) { return server.heard(QJsonDocument(o).toJson()); };
    QJsonObject file{{"do", "write"}, {"name", "f"}, {"rows", QJsonArray{}}, {"to", "other"}};
    QVERIFY(say(file)["error"].toString().contains("not the machine"));
    QCOMPARE(say({{"do", "list"}})["files"].toArray().size(), 0);
    file["to"] = "near-window";
    QVERIFY(say(file)["ok"].toBool());
  }
  void theWrongFrameAnOpenLockAndARaisedFootHinder() {
    Server server(Clock::Free, {}, {});
    const auto say = [&](QJsonObject o) { return server.heard(QJsonDocument(o).toJson()); };
    QJsonArray list;
    for (const Row& r : rows(60)) list.append(QJsonArray{r.x_mm, r.y_mm, r.op, r.thread});
    QVERIFY(say({{"do", "load"},
                 {"rows", list},
                 {"field_mm", QJsonArray{50, 50}},
                 {"frame", "large"}})["ok"]
                .toBool());
    say({{"do", "mount"}, {"frame", "small"}});
    QVERIFY(say({{"do", "sew"}})["error"].toString().contains("small"));
    say({{"do", "mount"}, {"frame", "large"}, {"locked", false}});
    QVERIFY(say({{"do", "sew"}})["error"].toString().contains("lock"));
    say({{"do", "mount"}, {"frame", "large"}});
    say({{"do", "foot"}, {"up", true}});
    QVERIFY(say({{"do", "sew"}})["error"].toString().contains("foot"));
    QVERIFY(say({{"do", "thread"}, {"needle", 1}, {"thread", "#111111"}})["ok"].toBool());
    say({{"do", "foot"}, {"up", false}});
    QVERIFY(!say({{"do", "thread"}, {"needle", 1}, {"thread", "#111111"}})["ok"].toBool());
    QVERIFY(say({{"do", "sew"}})["ok"].toBool());
    QVERIFY(!say({{"do", "thread"}, {"needle", 9}, {"thread", "#111111"}})["ok"].toBool());
  }
  void threadsOnNeedlesAreChangedWithoutAsking() {
    Machine m;
    m.needles = {"#111111", "#222222"};
    QVERIFY(m.load(rows(100), 100, 100).isEmpty());
    m.start(0);
    QCOMPARE(m.advance(1e6), Halt::Done);
    QCOMPARE(m.secondsByThread().size(), size_t{2});
  }
  void aBobbinThatWasNotCaughtLaysNothing() {
    Machine m;
    size_t laid = 0;
    m.sewn = [&](size_t, const Row& r) { laid += r.op == u"stitch"; };
    m.load(rows(100), 100, 100);
    m.start(11);
    m.strike(Fault::BobbinMissed, 20);
    QCOMPARE(m.advance(1e6), Halt::BobbinMissed);
    QCOMPARE(m.uncaughtFrom(), size_t{11});
    QCOMPARE(laid, size_t{0});
    m.start(11);
    QCOMPARE(m.advance(1e6), Halt::ColourChange);
    QCOMPARE(laid, size_t{40});
  }
  void theNeedleIsJoggedAndToldWhereItStands() {
    Server server(Clock::Free, {}, {});
    const auto say = [&](QJsonObject o) { return server.heard(QJsonDocument(o).toJson()); };
    QVERIFY(!say({{"do", "here"}})["ok"].toBool());
    QJsonArray list;
    for (const Row& r : rows(60)) list.append(QJsonArray{r.x_mm, r.y_mm, r.op, r.thread});
    say({{"do", "load"}, {"rows", list}, {"field_mm", QJsonArray{50, 50}}});
    QCOMPARE(say({{"do", "jog"}, {"x_mm", 3.5}, {"y_mm", -2}})["x_mm"].toDouble(), 3.5);
    QVERIFY(!say({{"do", "jog"}, {"x_mm", 300}})["ok"].toBool());
    QCOMPARE(say({{"do", "here"}})["y_mm"].toDouble(), -2.0);
    QVERIFY(say({{"do", "outline"}})["way_mm"].toArray().size() >= 3);
  }
  void protocolOneIsRefused() {
    Server server;
    QVERIFY(server.listen());
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    const QJsonObject reply = ask(socket, {{"do", "hello"}, {"key", server.key()}});
    QVERIFY(!reply["ok"].toBool());
    QVERIFY(reply["error"].toString().contains("protocol"));
  }
  void theSameSeedClampsTheSameWay() {
    VirtualCloth a, b;
    for (int level = 0; level < kLevels; ++level) {
      a.hoop(static_cast<Level>(level), 77, {});
      b.hoop(static_cast<Level>(level), 77, {});
      QVERIFY(a.lies() == b.lies());
      b.hoop(static_cast<Level>(level), 78, {});
      QVERIFY(!(a.lies() == b.lies()));
    }
  }
  void rubbishIsAnswered() {
    Server server;
    server.listen();
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(rt::testing::comes([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    socket.write("\xff\xfe nonsense\n");
    QVERIFY(rt::testing::comes([&] { return socket.canReadLine(); }));
    QVERIFY(!QJsonDocument::fromJson(socket.readLine()).object()["ok"].toBool());
  }
};

RT_TEST(TestStandin)

}  // namespace test_standin
#include "test_standin.moc"
