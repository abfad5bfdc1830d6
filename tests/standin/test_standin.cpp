#include <QJsonArray>
#include <QJsonDocument>
#include <QSignalSpy>
#include <QtTest>

#include "server.h"

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
      if (!QTest::qWaitFor([&] { return socket.canReadLine(); }, 5000)) return {};
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
    m.breakAfter(13);
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
    QVERIFY(QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    QCOMPARE(ask(socket, {{"do", "hello"}, {"key", "guess"}})["ok"].toBool(), false);
    QVERIFY(QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::UnconnectedState; }));
  }
  void sewsOverTheWire() {
    Server server;
    QVERIFY(server.listen());
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    QVERIFY(ask(socket, {{"do", "hello"}, {"key", server.key()}})["ok"].toBool());
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
    QVERIFY(QTest::qWaitFor(
        [&] {
          while (socket.canReadLine()) {
            last = QJsonDocument::fromJson(socket.readLine()).object()["event"].toString();
            if (last == "colour") socket.write("{\"do\":\"go-on\"}\n");
            if (last == "done") return true;
          }
          return false;
        },
        10000));
    QVERIFY(!ask(socket, {{"do", "dance"}})["ok"].toBool());
  }
  void rubbishIsAnswered() {
    Server server;
    server.listen();
    QTcpSocket socket;
    socket.connectToHost("127.0.0.1", server.port());
    QVERIFY(QTest::qWaitFor([&] { return socket.state() == QAbstractSocket::ConnectedState; }));
    socket.write("\xff\xfe nonsense\n");
    QVERIFY(QTest::qWaitFor([&] { return socket.canReadLine(); }));
    QVERIFY(!QJsonDocument::fromJson(socket.readLine()).object()["ok"].toBool());
  }
};

QTEST_GUILESS_MAIN(TestStandin)
#include "test_standin.moc"
