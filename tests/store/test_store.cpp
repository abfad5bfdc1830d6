#include <QDir>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "database.h"
#include "demo.h"
#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "random_pattern.h"
#include "recovery.h"
#include "run.h"
#include "sewn_journal.h"

namespace test_store {

using namespace rt;

namespace {

Job sample() {
  Job job = demoJob(openBench(), "wardens-gilet");
  job.zones.push_back({"zip", ZoneKind::KeepOut, {{0, 0}, {5, 0}, {5, 9}}, 2, 1.5});
  return job;
}

Work sampleWork() {
  Work work;
  work.job = sample();
  PlanOptions options;
  options.hoops = {{"200x140", "", {200, 140, HoopShape::Rectangle}}};
  auto made = std::make_shared<MadePlan>();
  made->id = "plan-a";
  made->time = "2031-02-03T04:05:06.007Z";
  made->plan = planHoopings(laidOut(work.job.pieces), options);
  made->layout_print = printOf(laidOut(work.job.pieces));
  made->settings = work.job.plan_settings;
  addPlan(work, made);
  const SettingKey first = keyOf(*made, made->plan.hoopings[0]);
  work.record.add(MarkFound{first, "t", {"A", {1, 2}, {3, 4}, 0.15}});
  work.record.add(RowsSewn{first, "t", "run", 0, 77, "break", false});
  work.record.add(Overruled{"t", "density", {}, made->layout_print, "trial piece"});
  work.edits = 41;
  return work;
}

}  // namespace

class TestStore : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::filesystem::path at(const char* name) { return dir_.filePath(name).toStdString(); }

 private slots:
  void jobsComeBackAsTheyWere() {
    const Job job = sample();
    saveJob(job, at("a.rapt"));
    QVERIFY(loadJob(at("a.rapt")) == job);
  }
  void coordinatesKeepEveryBit() {
    std::mt19937 random = testing::seeded(131);
    Job job = sample();
    job.pieces[0].stitches = std::make_shared<const Pattern>(testing::wander(random, 500, 33));
    saveJob(job, at("b.rapt"));
    QVERIFY(*loadJob(at("b.rapt")).pieces[0].stitches == *job.pieces[0].stitches);
  }
  void planAndRecordComeBackWithTheJob() {
    const Work work = sampleWork();
    saveWork(work, at("w.rapt"));
    const Work back = loadWork(at("w.rapt"));
    QVERIFY(back == work);
    QCOMPARE(back.edits, uint64_t{41});
    QVERIFY(planFor(back, work.plans[0]->layout_print));
    QCOMPARE(back.record.sewn({"plan-a", "h1"}).row, size_t{77});
  }
  void savingReplacesWhole() {
    Job job = sample();
    saveJob(job, at("c.rapt"));
    job.title = "second";
    saveJob(job, at("c.rapt"));
    QCOMPARE(loadJob(at("c.rapt")).title, std::string("second"));
    QCOMPARE(QDir(dir_.path()).entryList({"*part*"}), QStringList());
  }
  void aFailedSaveLeavesTheOldFile() {
    std::filesystem::create_directories(at("locked"));
    const std::filesystem::path file = at("locked") / "d.rapt";
    Job job = sample();
    saveJob(job, file);
    const std::string before = readFile(file);
    job.title = "lost";
    // a name that is too long for the part file beside it
    const std::filesystem::path longName = at("locked") / (std::string(250, 'n') + ".rapt");
    QVERIFY_THROWS_EXCEPTION(Error, saveJob(job, longName));
    QVERIFY_THROWS_EXCEPTION(Error, saveJob(job, at("no-folder") / "d.rapt"));
    QVERIFY_THROWS_EXCEPTION(Error, saveJob(job, at("locked")));  // a folder's name
    QVERIFY_THROWS_EXCEPTION(Error, saveJob(job, ""));
    QCOMPARE(readFile(file), before);
    QCOMPARE(QDir(QString::fromStdString(at("locked").string())).entryList(QDir::Files).size(), 1);
  }
  void linksStayLinks() {
    std::filesystem::create_directories(at("real"));
    saveJob(sample(), at("real") / "j.rapt");
    std::filesystem::create_symlink(at("real") / "j.rapt", at("link.rapt"));
    Job job = sample();
    job.title = "through the link";
    saveJob(job, at("link.rapt"));
    QVERIFY(std::filesystem::is_symlink(at("link.rapt")));
    QCOMPARE(loadJob(at("real") / "j.rapt").title, job.title);
  }
  void partsOfTheKilledAreTakenAway() {
    QFile left(dir_.filePath("p.rapt.part-999999-1"));  // no process has that number
    QVERIFY(left.open(QIODevice::WriteOnly));
    left.close();
    saveJob(sample(), at("p.rapt"));
    QVERIFY(!left.exists());
  }
  void partsOfANewerProgramAreKept() {
    saveWork(sampleWork(), at("n.rapt"));
    {
      Database db(at("n.rapt"));
      db.run("CREATE TABLE garment(id INTEGER PRIMARY KEY, size TEXT, \"odd \"\"name\" BLOB)");
      db.run("INSERT INTO garment VALUES(1,'it''s XL',x'00ff')");
      db.run("INSERT INTO garment VALUES(2,NULL,NULL)");
      db.run("INSERT INTO fact VALUES(900,'photo','{\"of\":\"tomorrow\"}')");
    }
    Work work = loadWork(at("n.rapt"));
    QVERIFY(work.unknown && work.unknown->statements.size() == 3);
    work.job.title = "edited here";
    saveWork(work, at("n2.rapt"));
    Database db(at("n2.rapt"));
    QStringList rows;
    db.each("SELECT id,size,hex(\"odd \"\"name\") FROM garment ORDER BY id", {},
            [&](const QSqlQuery& q) {
              rows << q.value(0).toString() + q.value(1).toString() + q.value(2).toString();
            });
    QCOMPARE(rows, (QStringList{"1it's XL00FF", "2"}));
    int photos = 0;
    db.each("SELECT 1 FROM fact WHERE kind='photo'", {}, [&](const QSqlQuery&) { ++photos; });
    QCOMPARE(photos, 1);
  }
  /// Columns, rows of settings, views and members of every JSON, each through an edit and a saving.
  void everythingOfANewerProgramIsKept() {
    saveWork(sampleWork(), at("m.rapt"));
    {
      Database db(at("m.rapt"));
      db.run("ALTER TABLE piece ADD COLUMN locked INTEGER");
      db.run("UPDATE piece SET locked=7");
      db.run("ALTER TABLE plan ADD COLUMN author TEXT");
      db.run("UPDATE plan SET author='it''s us'");
      db.run("INSERT INTO meta VALUES('weather','fair')");
      db.run("INSERT INTO settings VALUES('quilting','{\"a\":1}')");
      db.run("INSERT INTO concern VALUES('garment',3)");
      db.run("CREATE VIEW names AS SELECT name FROM piece");
      for (const char* sql :
           {"UPDATE piece SET source=json_set(source,'$.newer','s'), "
            "place=json_set(place,'$.newer','p')",
            "UPDATE zone SET body=json_set(body,'$.newer','z')",
            "UPDATE plan SET settings=json_set(settings,'$.newer','l'), "
            "body=json_set(body,'$.newer','b','$.hoopings[0].newer','h','$.hoopings[0].settings[0]."
            "newer','t')",
            "UPDATE fact SET body=json_set(body,'$.newer','f')",
            "UPDATE settings SET body=json_set(body,'$.newer','g') WHERE name='job'"})
        db.run(sql);
    }
    Work work = loadWork(at("m.rapt"));
    work.job.title = "edited here";
    ++work.edits;
    saveWork(work, at("m2.rapt"));
    saveWork(loadWork(at("m2.rapt")), at("m3.rapt"));
    Database db(at("m3.rapt"));
    const auto all = [&](const char* sql, int least) {
      int rows = 0;
      bool good = true;
      db.each(sql, {}, [&](const QSqlQuery& q) {
        ++rows;
        good = good && q.value(0).toBool();
      });
      return good && rows >= least;
    };
    QVERIFY(all("SELECT locked=7 FROM piece", 1));
    QVERIFY(all("SELECT author='it''s us' FROM plan", 1));
    QVERIFY(all("SELECT value='fair' FROM meta WHERE key='weather'", 1));
    QVERIFY(all("SELECT json_extract(body,'$.a')=1 FROM settings WHERE name='quilting'", 1));
    QVERIFY(all("SELECT version=3 FROM concern WHERE name='garment'", 1));
    QVERIFY(all("SELECT count(*)>0 FROM names", 1));
    QVERIFY(
        all("SELECT json_extract(source,'$.newer')='s' AND json_extract(place,'$.newer')='p' FROM "
            "piece",
            1));
    QVERIFY(all("SELECT json_extract(body,'$.newer')='z' FROM zone", 1));
    QVERIFY(
        all("SELECT json_extract(settings,'$.newer')='l' AND json_extract(body,'$.newer')='b' AND "
            "json_extract(body,'$.hoopings[0].newer')='h' AND "
            "json_extract(body,'$.hoopings[0].settings[0].newer')='t' FROM plan",
            1));
    QVERIFY(all("SELECT json_extract(body,'$.newer')='f' FROM fact", 1));
    QVERIFY(all("SELECT json_extract(body,'$.newer')='g' FROM settings WHERE name='job'", 1));
  }
  /// A table whose rows break its own rules opens, and the job can still be saved, more than once.
  void aTableThatBreaksItsRulesKeepsNothingFromBeingSaved() {
    saveWork(sampleWork(), at("r.rapt"));
    {
      Database db(at("r.rapt"));
      db.run("CREATE TABLE strict_one(id INTEGER, CHECK(id < 5))");
      db.run("INSERT INTO strict_one VALUES(3)");
      db.run("PRAGMA ignore_check_constraints=ON");
      db.run("INSERT INTO strict_one VALUES(9)");
    }
    Work work = loadWork(at("r.rapt"));
    for (int round = 0; round < 3; ++round) {
      ++work.edits;
      saveWork(work, at("r.rapt"));
      work = loadWork(at("r.rapt"));
    }
    Database db(at("r.rapt"));
    int aside = 0, rows = 0;
    db.each("SELECT statement FROM set_aside", {}, [&](const QSqlQuery& q) {
      ++aside;
      QVERIFY(q.value(0).toString().contains("9"));
    });
    db.each("SELECT id FROM strict_one", {}, [&](const QSqlQuery&) { ++rows; });
    QCOMPARE(aside, 1);
    QCOMPARE(rows, 1);
  }
  void aNewerVersionIsSaid() {
    saveWork(sampleWork(), at("v.rapt"));
    {
      Database db(at("v.rapt"));
      db.run("UPDATE concern SET version=9 WHERE name='plan'");
    }
    try {
      loadWork(at("v.rapt"));
      QFAIL("read");
    } catch (const Error& e) {
      QVERIFY(e.problem().find("newer") != std::string::npos);
    }
  }
  void endlessViewsAreNoTables() {
    saveWork(sampleWork(), at("views.rapt"));
    {
      Database db(at("views.rapt"));
      db.run("DROP TABLE piece");
      db.run(
          "CREATE VIEW piece AS WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x+1 FROM n) "
          "SELECT x AS position, x AS id, '' AS name, 0 AS group_no, '{}' AS source, '{}' AS "
          "place, x'' AS stitches FROM n");
    }
    QVERIFY_THROWS_EXCEPTION(Error, loadWork(at("views.rapt")));
  }
  void damageInTheMiddleIsNoShorterJob() {
    // a page of the piece table is overwritten: the job must not open with pieces missing
    std::mt19937 random = testing::seeded(133);
    Work work = sampleWork();
    const size_t pieces = work.job.pieces.size();
    saveWork(work, at("g.rapt"));
    const std::string good = readFile(at("g.rapt"));
    int opened = 0;
    for (int i = 0; i < 40; ++i) {
      std::string bad = good;
      const size_t page = 1 + random() % (good.size() / 4096 - 1);
      for (size_t k = 0; k < 4096; ++k) bad[page * 4096 + k] = static_cast<char>(random());
      writeFile(at("h.rapt"), bad);
      try {
        QCOMPARE(loadWork(at("h.rapt")).job.pieces.size(), pieces);
        ++opened;
      } catch (const Error&) {
      }
    }
    QVERIFY(opened < 40);
  }
  void jobsOfFormat1Open() {
    const Work work = loadWork(RT_FIXTURES "/format-1.rapt");
    QCOMPARE(work.job.title, std::string("Strap, as format 1 kept it"));
    QCOMPARE(work.job.pieces.size(), demoJob(openBench(), "binocular-strap").pieces.size());
    QCOMPARE(work.job.pieces[0].group, 3);
    QCOMPARE(work.job.tolerance_mm, 0.4);
    QVERIFY(proofAccepted(work.job));
    QVERIFY(work.job.sequence.fewest_colours);
    QCOMPARE(work.plans.size(), size_t{1});
    const MadePlan* plan = planFor(work, printOf(sewnLayout(work.job)));
    QVERIFY(plan);
    const SettingKey first = keyOf(*plan, plan->plan.hoopings[0]);
    QCOMPARE(work.record.sewn(first).row, size_t{77});
    QVERIFY(!work.record.sewn(first).done);
    QCOMPARE(work.record.marks(first).size(), size_t{2});
    QVERIFY(work.record.overruledDensity(1234));
    QCOMPARE(work.record.overruledDensity(1234)->reason, std::string("trial piece"));
    saveWork(work, at("migrated.rapt"));
    QVERIFY(loadWork(at("migrated.rapt")) == work);
  }
  void whatIsNoJobIsRefused() {
    QVERIFY_THROWS_EXCEPTION(Error, loadJob(at("none.rapt")));
    QVERIFY_THROWS_EXCEPTION(Error, loadJob("/"));
    writeFile(at("text.rapt"), "hello");
    QVERIFY_THROWS_EXCEPTION(Error, loadJob(at("text.rapt")));
    writeFile(at("empty.rapt"), "");
    QVERIFY_THROWS_EXCEPTION(Error, loadJob(at("empty.rapt")));
  }
  void damagedJobsAreRefusedOrRead() {
    std::mt19937 random = testing::seeded(132);
    saveJob(sample(), at("e.rapt"));
    const std::string good = readFile(at("e.rapt"));
    for (int i = 0; i < 60; ++i) {
      std::string text = good;
      for (int k = 0; k < 20; ++k)
        text[16 + random() % (text.size() - 16)] = static_cast<char>(random());
      if (i % 5 == 0) text.resize(random() % text.size());
      writeFile(at("f.rapt"), text);
      try {
        loadJob(at("f.rapt"));
      } catch (const Error& e) {
        QVERIFY(!e.problem().empty());
      }
    }
  }
  void recoveryBringsEditsBack() {
    Recovery recovery(at("recovery"));
    Work work = sampleWork();
    QVERIFY(!recovery.find(work, ""));
    recovery.keep(work, "/somewhere/job.rapt");
    work.job.title = "edited";
    ++work.edits;
    recovery.keep(work, "/somewhere/job.rapt");
    const Work saved = sampleWork();
    const auto found = recovery.find(saved, "/somewhere/job.rapt");
    QVERIFY(found && found->work == work);
    QCOMPARE(found->saved_as, std::filesystem::path("/somewhere/job.rapt"));
    QVERIFY(recovery.newest().has_value());
    recovery.forget(work.job.id, "/somewhere/job.rapt");
    QVERIFY(!recovery.find(saved, "/somewhere/job.rapt"));
    QVERIFY(!recovery.newest());
  }
  void aVariantHasACopyOfItsOwn() {
    Recovery recovery(at("variants"));
    Work original = sampleWork(), variant = sampleWork();
    original.job.title = "original";
    variant.job.title = "variant";
    original.edits = variant.edits = 50;
    recovery.keep(original, at("one.rapt"));
    recovery.keep(variant, at("two.rapt"));
    QCOMPARE(recovery.find(sampleWork(), at("one.rapt"))->work.job.title, std::string("original"));
    QCOMPARE(recovery.find(sampleWork(), at("two.rapt"))->work.job.title, std::string("variant"));
  }
  void aCopyThatTheFileOvertookStaysAway() {
    // killed between saving the job and forgetting the copy
    Recovery recovery(at("overtaken"));
    Work work = sampleWork();
    recovery.keep(work, at("o.rapt"));
    work.job.title = "saved later";
    ++work.edits;
    saveWork(work, at("o.rapt"));
    QVERIFY(!recovery.find(loadWork(at("o.rapt")), at("o.rapt")));
    recovery.keep(sampleWork(), at("o.rapt"));
    QVERIFY(!recovery.newest());
  }
  void anUnreadableCopyHidesNoOlderOne() {
    Recovery recovery(at("hidden"));
    recovery.keep(sampleWork(), "");
    writeFile(at("hidden") / "zz.rapt", "SQLite format 3 but no more");
    const auto soon = std::filesystem::file_time_type::clock::now() + std::chrono::hours(1);
    std::filesystem::last_write_time(at("hidden") / "zz.rapt", soon);
    QVERIFY(recovery.newest().has_value());
  }
  void sewnRowsOutliveATornLine() {
    const SettingKey key{"plan-x", "h1"};
    {
      SewnJournal journal(at("sewn"));
      QVERIFY(journal.add({key, "t", "r1", 0, 10, "start", false}));
      QVERIFY(journal.add({key, "t", "r1", 0, 25, "", false}));
      QVERIFY(journal.add({{"plan-y", "h1"}, "t", "r2", 0, 99, "", false}));
    }
    for (const auto& file : std::filesystem::directory_iterator(at("sewn")))
      std::filesystem::resize_file(file, std::filesystem::file_size(file) - 5);
    SewnJournal journal(at("sewn"));
    QVERIFY(journal.add({key, "t", "r1", 0, 31, "break", false}));
    const std::vector<RowsSewn> facts = journal.of("plan-x");
    QCOMPARE(facts.size(), size_t{2});
    QCOMPARE(facts.back().row, size_t{31});
    QVERIFY(journal.of("plan-y").empty());
  }
  void killedWhileSavingLeavesAReadableFile() {
    // a child saves over and over; it is killed at odd moments and the file must always open
    const std::string file = at("k.rapt").string();
    saveJob(sample(), file);
    for (int i = 0; i < 6; ++i) {
      QProcess child;
      child.start(QCoreApplication::applicationFilePath(),
                  {"--save-forever", QString::fromStdString(file)});
      QVERIFY(child.waitForStarted(testing::kLongest_ms));
      QVERIFY(child.waitForReadyRead(20000));
      QTest::qWait(20 + 13 * i);
      child.kill();
      child.waitForFinished(testing::kLongest_ms);
      QCOMPARE(loadJob(file).pieces.size(), sample().pieces.size());
    }
  }
};

static int saveForever(const QStringList& arguments) {
  const Job job = sample();
  std::printf("begun\n");
  std::fflush(stdout);
  while (true) saveJob(job, arguments[0].toStdString());
}
RT_CHILD("--save-forever", saveForever)
RT_TEST(TestStore)

}  // namespace test_store
#include "test_store.moc"
