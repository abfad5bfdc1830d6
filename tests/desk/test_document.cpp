// The job document, the ledger keeper and the shop: nothing that was made is lost.
#include <QTemporaryDir>
#include <QtTest>

#include "actions.h"
#include "comes.h"
#include "demo.h"
#include "desk.h"
#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "run.h"

namespace test_document {

using namespace rt;

class TestDocument : public QObject {
  Q_OBJECT
  std::unique_ptr<QTemporaryDir> dir_;
  std::filesystem::path at(const char* name) { return dir_->filePath(name).toStdString(); }
  static Work named(const char* title) {
    Work work;
    work.job.id = "job-1";
    work.job.title = title;
    return work;
  }
  static Job titled(Job job, const QString& title) {
    job.title = title.toStdString();
    return job;
  }

 private slots:
  void init() { dir_ = std::make_unique<QTemporaryDir>(); }

  void stepsGoBackAndForth() {
    JobDocument d(at("recovery"));
    d.take(named("a"), {});
    for (const char* title : {"b", "c", "d"}) d.change("title", titled(d.job(), title));
    QCOMPARE(d.history().count(), 3);
    d.history().setIndex(1);
    QCOMPARE(d.job().title, std::string("b"));
    d.history().redo();
    QCOMPARE(d.job().title, std::string("c"));
    d.change("title", titled(d.job(), "x"));  // the branch that was undone is gone
    QVERIFY(!d.history().canRedo());
    QCOMPARE(d.history().count(), 3);
    d.save(at("j.rapt"));
    QVERIFY(d.history().isClean() && !d.dirty());
    d.history().undo();
    QVERIFY(!d.history().isClean() && d.dirty());
    d.change("title", titled(d.job(), "y"));
    QVERIFY(!d.history().isClean());  // what was saved lies in the branch that went
  }
  /// Saved, changed, saved again: the file stays the job's.
  void aSecondSavingKeepsTheFile() {
    JobDocument d(at("recovery"));
    d.take(named("a"), {});
    d.save(at("j.rapt"));
    for (int i = 0; i < 4; ++i) {
      d.change("title", titled(d.job(), QString::number(i)));
      d.save(d.path());
      QCOMPARE(d.path(), at("j.rapt"));
      QVERIFY(!d.dirty());
      QCOMPARE(loadJob(at("j.rapt")).title, std::to_string(i));
    }
  }
  /// Two windows on one file: the second saving is refused, and both states can be kept.
  void twoWindowsNeverWriteOverEachOther() {
    JobDocument a(at("recovery")), b(at("recovery"));
    a.take(named("both"), {});
    a.save(at("j.rapt"));
    QVERIFY(!b.open(at("j.rapt")));
    a.change("title", titled(a.job(), "of a"));
    b.change("title", titled(b.job(), "of b"));
    QVERIFY(a.autosave() && b.autosave());
    a.save(a.path());
    QVERIFY_THROWS_EXCEPTION(FileChanged, b.save(b.path()));
    QCOMPARE(loadJob(at("j.rapt")).title, std::string("of a"));
    // b's copy is still there: it is not a's to forget
    int copies = 0;
    for (const auto& file : std::filesystem::directory_iterator(at("recovery")))
      copies += file.path().extension() == ".rapt";
    QCOMPARE(copies, 1);
    b.add(Overruled{"t", "density", {}, 7, "of b"});
    b.takeTheirs();
    QCOMPARE(b.job().title, std::string("of a"));
    QVERIFY(b.work().record.overruledDensity(7));
    b.history().redo();
    QCOMPARE(b.job().title, std::string("of b"));
    b.save(b.path());
    QCOMPARE(loadJob(at("j.rapt")).title, std::string("of b"));
    QVERIFY_THROWS_EXCEPTION(FileChanged, a.save(a.path()));
    a.save(a.path(), JobDocument::Over::Replace);
    QCOMPARE(loadJob(at("j.rapt")).title, std::string("of a"));
  }
  /// The window that was killed comes back whatever another one saved meanwhile.
  void aCopyBesideAnotherSavingIsBroughtBack() {
    {
      JobDocument a(at("recovery"));
      a.take(named("first"), {});
      a.save(at("j.rapt"));
      a.change("title", titled(a.job(), "never saved"));
      QVERIFY(a.autosave());
      JobDocument b(at("recovery"));
      QVERIFY(!b.open(at("j.rapt")));  // a is open: its copy is its own
      b.change("title", titled(b.job(), "saved by b"));
      b.change("title", titled(b.job(), "saved by b twice"));
      b.save(b.path());
    }
    JobDocument c(at("recovery"));
    QVERIFY(c.open(at("j.rapt")));
    QVERIFY(c.diverged());
    QCOMPARE(c.job().title, std::string("never saved"));
    c.history().undo();
    QCOMPARE(c.job().title, std::string("saved by b twice"));
  }
  void aRunOfTypingIsOneStep() {
    JobDocument d(at("recovery"));
    d.take(named(""), {});
    for (const char* text : {"q", "qu", "qui"}) d.change("order", titled(d.job(), text), "order");
    QCOMPARE(d.history().count(), 1);
    d.history().endRun();
    d.change("order", titled(d.job(), "quil"), "order");
    QCOMPARE(d.history().count(), 2);
    d.history().undo();
    QCOMPARE(d.job().title, std::string("qui"));
    d.history().undo();
    QCOMPARE(d.job().title, std::string(""));
  }
  /// What could be saved and never opened is refused when it is made.
  void anEditThatCouldNotBeOpenedIsRefused() {
    JobDocument d(at("recovery"));
    d.take(named("a"), {});
    QStringList told;
    connect(&d, &JobDocument::failed, this, [&](const QString& words) { told << words; });
    Job next = d.job();
    next.title = std::string(200'000, 'x');
    d.change("title", next);
    QCOMPARE(told.size(), 1);
    QCOMPARE(d.job().title, std::string("a"));
    d.save(at("j.rapt"));
    QCOMPARE(loadJob(at("j.rapt")).title, std::string("a"));
  }
  void whatHappenedIsNotUndone() {
    JobDocument d(at("recovery"));
    d.take(named("a"), {});
    d.change("title", titled(d.job(), "b"));
    d.add(RowsSewn{{"p", "h1"}, "t", "r", 0, 5, "break", false});
    d.history().undo();
    QCOMPARE(d.work().record.sewn({"p", "h1"}).row, size_t{5});
  }
  void steadyWorkIsKeptToo() {
    JobDocument d(at("recovery"));
    d.take(named("a"), {});
    int edits = 0;
    // one edit after another, without a pause in which a timer could run out
    QVERIFY(testing::comes([&] {
      d.change("title", titled(d.job(), QString::number(++edits)));
      for (const auto& file : std::filesystem::directory_iterator(at("recovery")))
        if (file.path().extension() == ".rapt") return true;
      return false;
    }));
    QVERIFY(edits > 5);
  }
  void leavingWithoutACopyIsRefused() {
    writeFile(at("blocked"), "a file where the folder should be");
    JobDocument d(at("blocked"));
    d.take(named("a"), {});
    QStringList told;
    connect(&d, &JobDocument::failed, this, [&](const QString& words) { told << words; });
    QVERIFY(d.autosave());  // nothing to keep
    d.change("title", titled(d.job(), "b"));
    QVERIFY(!d.autosave());
    QCOMPARE(told.size(), 1);
    QVERIFY(d.dirty());
  }
  void editsBroughtBackAreAStepOverTheFile() {
    const std::filesystem::path file = at("j.rapt");
    {
      JobDocument d(at("recovery"));
      d.take(named("saved"), {});
      d.save(file);
      d.change("title", titled(d.job(), "not saved"));
      QVERIFY(d.autosave());
    }
    JobDocument d(at("recovery"));
    QVERIFY(d.open(file));
    QCOMPARE(d.job().title, std::string("not saved"));
    d.history().undo();
    QCOMPARE(d.job().title, std::string("saved"));
  }
  void theLedgerIsThereWithoutItsFile() {
    writeFile(at("blocked"), "a file where the folder should be");
    const std::filesystem::path file = at("blocked") / "ledger.sqlite";
    LedgerKeeper keeper(file);
    QStringList told;
    connect(&keeper, &LedgerKeeper::told, this, [&](const QString& words) { told << words; });
    LedgerEntry e;
    e.event = "break";
    keeper.add(e);
    QVERIFY(testing::comes([&] { return !keeper.trouble().isEmpty(); }));
    keeper.add(e);
    keeper.settle();
    QCOMPARE(keeper.entries().size(), size_t{2});
    QCOMPARE(told.size(), 1);  // said once, whatever comes
    std::filesystem::remove(at("blocked"));
    keeper.add(e);
    QVERIFY(testing::comes([&] { return keeper.trouble().isEmpty() && keeper.waiting() == 0; }));
    const auto store = openLedgerFile(file);
    int64_t place = 0;
    QCOMPARE(store->since(place).size(), size_t{3});
    QCOMPARE(told.size(), 2);
  }
  void aTornLedgerIsMendedByItself() {
    const std::filesystem::path file = at("ledger.sqlite");
    {
      const auto store = openLedgerFile(file);
      std::vector<LedgerEntry> some;
      for (int i = 0; i < 400; ++i) {
        LedgerEntry e;
        e.id = newId();
        e.time = nowUtc();
        e.event = "note";
        e.note = std::string(60, 'n');
        some.push_back(e);
      }
      store->add(some);
    }
    std::string bytes = readFile(file);
    const size_t page = bytes.size() / 4096 / 2;
    for (size_t k = 0; k < 4096; ++k) bytes[page * 4096 + k] = static_cast<char>(k * 7 + 1);
    writeFile(file, bytes);
    QStringList told;
    LedgerKeeper keeper(file);
    connect(&keeper, &LedgerKeeper::told, this, [&](const QString& words) { told << words; });
    QVERIFY(testing::comes([&] { return keeper.loaded() && keeper.entries().size() > 300; }));
    QVERIFY(told.join(' ').contains("could not be"));
    QVERIFY(openLedgerFile(file)->sound());
  }
  void anUnknownFabricOrBadLimitsKeepNobodyOut() {
    writeFile(at("shop-limits.json"), R"({"fabrics":{"felt":{"density_mm_per_mm2":"six"}}})");
    Work work = named("from another shop");
    work.job.brief.fabric = "moon cloth";
    saveWork(work, at("m.rapt"));
    Desk desk(openBench(), {dir_->path().toStdString()});
    QStringList told;
    connect(&desk, &Desk::failed, this, [&](const QString& words) { told << words; });
    desk.open(at("m.rapt"));
    QVERIFY(testing::comes([&] { return !told.isEmpty(); }));
    QVERIFY(!desk.fabric().id.empty());
    desk.settle();
  }
  void copiesOfOneNameAreCuredToo() {
    Desk desk(openBench(), {dir_->path().toStdString()});
    Job job = demoJob(desk.bench(), "binocular-strap");
    for (Piece& p : job.pieces) p.name = "feather";  // copies keep the name of what they are of
    desk.take(job, {});
    desk.settle();
    desk.seekCures(0);
    desk.settle();
    QVERIFY(!desk.cures().empty());
  }
  void aCureLeavesWhatWasEditedSince() {
    Job base;
    base.id = "j";
    for (int id : {1, 2}) {
      Piece p;
      p.id = id;
      p.name = "piece";
      p.stitches = std::make_shared<const Pattern>();
      base.pieces.push_back(p);
    }
    base.next_piece_id = 3;
    Job cured = base, now = base;
    cured.pieces[0].place.at = {5, 0};
    cured.brief.backing = "cut-away";
    now.title = "renamed meanwhile";
    now.brief.item = "bag";
    now.pieces[1].place.at = {0, 9};
    const Job both = actions::merged(base, cured, now);
    QCOMPARE(both.pieces[0].place.at, (Point{5, 0}));
    QCOMPARE(both.pieces[1].place.at, (Point{0, 9}));
    QCOMPARE(both.brief.backing, std::string("cut-away"));
    QCOMPARE(both.brief.item, std::string("bag"));
    QCOMPARE(both.title, now.title);
    now.pieces[0].place.at = {1, 1};
    QVERIFY_THROWS_EXCEPTION(Error, actions::merged(base, cured, now));
  }
};

RT_TEST(TestDocument)

}  // namespace test_document
#include "test_document.moc"
