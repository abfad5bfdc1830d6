// The contract that every ledger store meets.
#include <QTemporaryDir>
#include <QtTest>
#include <thread>

#include "database.h"
#include "error.h"
#include "file_io.h"
#include "ledger_charts.h"
#include "ledger_entries.h"
#include "ledger_files.h"
#include "ledger_json.h"
#include "ledger_store.h"
#include "pending_entries.h"
#include "random_pattern.h"
#include "run.h"

namespace test_ledger {

using namespace rt;
using testing::allOf;
using testing::ledgerEntry;

class TestLedger : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::filesystem::path at(const char* name) { return dir_.filePath(name).toStdString(); }

 private slots:
  void entriesComeBackAsTheyWere() {
    std::vector<LedgerEntry> some;
    for (int i = 0; i < 20; ++i) some.push_back(ledgerEntry(i));
    QCOMPARE(openLedgerFile(at("a.sqlite"))->add(some), size_t{20});
    const auto again = openLedgerFile(at("a.sqlite"));
    QVERIFY(allOf(*again) == some);
    QVERIFY(again->sound());
    for (const LedgerEntry& e : some) QVERIFY(ledgerEntryFrom(ledgerJson(e)) == e);
  }
  /// Whatever stands in a note, CSV carries it out and in again.
  void notesOfEveryFormGoThroughCsv() {
    std::mt19937 random = testing::seeded(1831);
    std::vector<LedgerEntry> some;
    for (int i = 0; i < 60; ++i) {
      LedgerEntry e = ledgerEntry(i);
      e.note.clear();
      for (size_t k = random() % 400; k > 0; --k) e.note += "ab ,;\"\n\r#\t"[random() % 10];
      some.push_back(e);
    }
    some.push_back(ledgerEntry(99));
    for (int line = 0; line < 1000; ++line) some.back().note += "line\n";
    exportLedger(some, at("notes.csv"));
    const std::vector<LedgerEntry> back = readExportedLedger(at("notes.csv"));
    QCOMPARE(back.size(), some.size());
    for (size_t i = 0; i < some.size(); ++i) QVERIFY2(back[i] == some[i], some[i].note.c_str());
  }
  void timesAreReadStrictly() {
    QCOMPARE(utcTime("2027-03-02"), std::string("2027-03-02T00:00:00.000Z"));
    QCOMPARE(utcTime("2027-03-02T08:05Z"), std::string("2027-03-02T08:05:00.000Z"));
    QCOMPARE(utcTime("2027-03-02T08:05:06.5+02:00"), std::string("2027-03-02T06:05:06.500Z"));
    for (const char* none : {"", "yesterday-ish", "2027-13-02", "2027-3-2", "2027-03-02T25:00Z",
                             "2027-03-02 and more", "T08:00"})
      QCOMPARE(utcTime(none), std::string());
  }
  void timesNeverGoBack() {
    std::string last = nowUtc();
    for (int i = 0; i < 2000; ++i) {
      const std::string now = nowUtc();
      QVERIFY(now >= last);
      last = now;
    }
  }
  void aBackUpIsAFileOfItsOwn() {
    std::filesystem::create_symlink(at("target.sqlite"), at("link.sqlite"));
    QCOMPARE(backUpLedger({ledgerEntry(1)}, at("link.sqlite")), size_t{1});
    QVERIFY(std::filesystem::is_symlink(at("link.sqlite")));
    QCOMPARE(allOf(*openLedgerFile(at("target.sqlite"))).size(), size_t{1});
    QVERIFY_THROWS_EXCEPTION(Error, backUpLedger({ledgerEntry(1)}, "/dev/null"));
    for (const auto& file : std::filesystem::directory_iterator(at("target.sqlite").parent_path()))
      QVERIFY2(file.path().string().find(".part-") == std::string::npos, file.path().c_str());
  }
  void theSameEntryIsKeptOnce() {
    const auto store = openLedgerFile(at("b.sqlite"));
    QCOMPARE(store->add({ledgerEntry(1), ledgerEntry(2)}), size_t{2});
    QCOMPARE(store->add({ledgerEntry(2), ledgerEntry(3)}), size_t{1});
    QCOMPARE(allOf(*store).size(), size_t{3});
  }
  void onlyWhatIsNewIsHanded() {
    const auto one = openLedgerFile(at("c.sqlite")), other = openLedgerFile(at("c.sqlite"));
    int64_t place = 0;
    one->add({ledgerEntry(1)});
    QCOMPARE(one->since(place).size(), size_t{1});
    QVERIFY(one->since(place).empty());
    other->add({ledgerEntry(2)});  // what another program adds is seen
    QCOMPARE(one->since(place).size(), size_t{1});
  }
  void manyAddAtOnceAndNothingIsLost() {
    openLedgerFile(at("d.sqlite"));
    std::vector<std::thread> writers;
    for (int w = 0; w < 4; ++w)
      writers.emplace_back([this, w] {
        const auto store = openLedgerFile(at("d.sqlite"));
        for (int i = 0; i < 25; ++i) store->add({ledgerEntry(1000 * w + i)});
      });
    for (std::thread& t : writers) t.join();
    const auto store = openLedgerFile(at("d.sqlite"));
    QCOMPARE(allOf(*store).size(), size_t{100});
  }
  void aForeignOrNewerFileIsRefused() {
    writeFile(at("text.sqlite"), std::string(5000, 'x'));
    QVERIFY_THROWS_EXCEPTION(StoreError, openLedgerFile(at("text.sqlite")));
    {
      Database other(at("other.sqlite"));
      other.run("CREATE TABLE recipes(id)");
    }
    try {
      openLedgerFile(at("other.sqlite"));
      QFAIL("opened");
    } catch (const StoreError& e) {
      QCOMPARE(e.trouble(), Trouble::Foreign);
    }
    openLedgerFile(at("newer.sqlite"));
    {
      Database db(at("newer.sqlite"));
      db.run("UPDATE ledger_meta SET value=7 WHERE key='format'");
    }
    QVERIFY_THROWS_EXCEPTION(StoreError, openLedgerFile(at("newer.sqlite")));
  }
  void aDamagedPageLosesOnlyItself() {
    std::vector<LedgerEntry> some;
    for (int i = 0; i < 400; ++i) some.push_back(ledgerEntry(i));
    openLedgerFile(at("torn.sqlite"))->add(some);
    std::string bytes = readFile(at("torn.sqlite"));
    const size_t page = bytes.size() / 4096 / 2;
    for (size_t k = 0; k < 4096; ++k) bytes[page * 4096 + k] = static_cast<char>(k * 7 + 1);
    writeFile(at("torn.sqlite"), bytes);
    QVERIFY_THROWS_EXCEPTION(StoreError, openLedgerFile(at("torn.sqlite")));
    const Salvage saved = salvageLedgerFile(at("torn.sqlite"));
    QVERIFY2(saved.entries.size() > 300, qPrintable(QString::number(saved.entries.size())));
    QCOMPARE(saved.lost, 400 - static_cast<int64_t>(saved.entries.size()));
    QVERIFY(std::filesystem::exists(saved.aside));
    const auto fresh = openLedgerFile(at("torn.sqlite"));
    QCOMPARE(fresh->add(saved.entries), saved.entries.size());
  }
  void theLedgerOfFormat1IsTakenOnce() {
    std::filesystem::copy_file(RT_FIXTURES "/format-1-ledger.sqlite", at("old.sqlite"));
    const auto all = allOf(*openLedgerFile(at("old.sqlite")));
    QCOMPARE(all.size(), size_t{5});
    QCOMPARE(all[0].event, std::string("align"));
    QCOMPARE(all[0].rotation_deg, 1.25);
    QVERIFY(all[0].time.ends_with("Z"));
    QCOMPARE(all[1].stitch, 41);
    const auto felt = outcomesIn(all, "felt", OutcomeOf::Density);
    QCOMPARE(felt.size(), size_t{1});
    QCOMPARE(felt[0].outcome, Outcome::Puckered);
    QCOMPARE(felt[0].factor, 0.9);
    QCOMPARE(outcomesIn(all, "felt", OutcomeOf::Column).size(), size_t{1});
    QCOMPARE(runsIn(all).size(), size_t{1});
    QCOMPARE(runsIn(all)[0].taken_s, 660.0);
    QVERIFY(allOf(*openLedgerFile(at("old.sqlite"))) == all);
  }
  void chartsAndSearchesShowWhatHappened() {
    std::vector<LedgerEntry> all;
    Alignment a;
    a.status = Readiness::Ready;
    a.error_worst_mm = 0.2;
    all.push_back(entryFor(a, 1));
    a.status = Readiness::Rehoop;
    a.error_worst_mm = 1.4;
    all.push_back(entryFor(a, 2));
    all.push_back(entryFor(RunEntry{"job", 1, 600, 660}));
    all.push_back(entryFor(RunEntry{"job", 2, 600, 1200}));
    all.push_back(entryFor(PracticeScore{true, 0.1, true, 92}, 1, 2, "stretched"));
    const Chart aligned = alignmentChart(all, 0.5);
    QCOMPARE(aligned.points.size(), size_t{2});
    QCOMPARE(aligned.points[1].y, 1.4);
    QCOMPARE(aligned.points[1].mark, 2);
    QCOMPARE(aligned.line, std::optional<double>(0.5));
    const Chart minutes = minutesChart(all, 0.25);
    QCOMPARE(minutes.points[0].x, 10.0);
    QCOMPARE(minutes.points[0].y, 11.0);
    QCOMPARE(minutes.points[0].mark, 0);
    QCOMPARE(minutes.points[1].mark, 1);
    QCOMPARE(practiceChart(all).points.size(), size_t{1});
    QCOMPARE(practicePoints(all), std::vector<int>{92});
    QCOMPARE(searched(all, "", "align").size(), size_t{2});
    QCOMPARE(searched(all, "REHOOP", "").size(), size_t{1});
    QVERIFY(searched(all, "no such thing", "").empty());
  }
  void whatWaitsOutlivesTheProgram() {
    const std::filesystem::path store = at("waiting.sqlite");
    {
      PendingEntries pending(store);
      pending.add(ledgerEntry(1));
      pending.add(ledgerEntry(2));
    }
    // its writer is gone: the file of another process number is taken over
    for (const auto& file : std::filesystem::directory_iterator(dir_.path().toStdString()))
      if (file.path().string().find("waiting.sqlite.pending-") != std::string::npos)
        std::filesystem::rename(file, store.string() + ".pending-999999");
    PendingEntries again(store);
    QCOMPARE(again.entries().size(), size_t{2});
    again.clear();
    QVERIFY(PendingEntries(store).empty());
  }
  void csvHasALineForEach() {
    const std::vector<LedgerEntry> both{ledgerEntry(1), ledgerEntry(2)};
    const std::string csv = csvOf(both);
    QVERIFY(csv.find("\"\"quoted\"\"") != std::string::npos);
    QVERIFY(csv.starts_with("id,time,"));
    // what the window hands on is read back whole
    const std::filesystem::path file = dir_.filePath("handed-on.csv").toStdString();
    writeFile(file, csv);
    QVERIFY(readExportedLedger(file) == both);
  }
};

RT_TEST(TestLedger)

}  // namespace test_ledger
#include "test_ledger.moc"
