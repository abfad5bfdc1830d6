// Two stations of a shop with one ledger on a server.
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "desk.h"
#include "ledger_server.h"
#include "run.h"

namespace test_shared_ledger {

using namespace rt;

namespace {

LedgerEntry line(const char* note) {
  LedgerEntry e;
  e.event = "note";
  e.note = note;
  return e;
}

bool has(const Desk& desk, const std::string& note) {
  const auto& all = desk.ledger().all();
  return std::any_of(all.begin(), all.end(), [&](const LedgerEntry& e) { return e.note == note; });
}

}  // namespace

class TestSharedLedger : public QObject {
  Q_OBJECT
  testing::LedgerServer server_;
  QTemporaryDir near_, far_;

 private slots:
  void initTestCase() {
    QVERIFY(server_.start());
    qputenv("PGPASSWORD", "thimble");
  }
  void stationsShareALedgerAndWorkOnWithoutIt() {
    const std::string url = server_.makeDatabase("shop");
    Desk one(openBench(), {near_.path().toStdString()}),
        other(openBench(), {far_.path().toStdString()});
    one.note(line("before there was a server"));
    one.ledger().settle();
    one.setLedgerStore(url);
    other.setLedgerStore(url);
    one.note(line("from one"));
    QVERIFY(testing::comes([&] { return has(other, "from one"); }));
    other.note(line("from the other"));
    QVERIFY(testing::comes([&] { return has(one, "from the other"); }));
    server_.stop();
    one.note(line("while it was away"));
    QVERIFY(testing::comes([&] { return !one.ledger().trouble().isEmpty(); }));
    QVERIFY(has(one, "while it was away"));
    QVERIFY(one.ledger().waiting() > 0);
    QVERIFY(server_.resume());
    QVERIFY(testing::comes([&] { return has(other, "while it was away"); }));
    QVERIFY(testing::comes([&] { return one.ledger().waiting() == 0; }));
    // nothing twice, whoever asks
    std::set<std::string> ids;
    for (const LedgerEntry& e : other.ledger().all()) QVERIFY(ids.insert(e.id).second);
    // and back to the own file, where the first line still is
    one.setLedgerStore({});
    QVERIFY(testing::comes([&] { return has(one, "before there was a server"); }));
    QVERIFY(!has(one, "from one"));
  }
  void whatWaitsOutlivesTheProgram() {
    const std::string url = server_.makeDatabase("later");
    server_.stop();
    {
      Desk desk(openBench(), {near_.path().toStdString()});
      desk.setLedgerStore(url);
      desk.note(line("told to a wall"));
      QVERIFY(testing::comes([&] { return !desk.ledger().trouble().isEmpty(); }));
    }
    QVERIFY(server_.resume());
    Desk desk(openBench(), {near_.path().toStdString()});
    QVERIFY(desk.ledger().storeName().startsWith("postgresql://"));
    QVERIFY(testing::comes(
        [&] { return has(desk, "told to a wall") && desk.ledger().waiting() == 0; }));
    QVERIFY_THROWS_EXCEPTION(Error, desk.setLedgerStore("nonsense://x"));
  }
};

RT_TEST(TestSharedLedger)

}  // namespace test_shared_ledger
#include "test_shared_ledger.moc"
