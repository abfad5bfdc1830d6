// Edits on job files, files on links, devices and full disks, and input that means no good.
#include <sys/stat.h>

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <csignal>

#include "comes.h"
#include "run.h"

namespace test_cli_job {

class TestCliJob : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Answer {
    int code = -1;
    QJsonObject json;
    QByteArray out, error;
  };
  Answer run(const QStringList& words, const QString& out_file = {}) {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    if (!out_file.isEmpty()) p.setStandardOutputFile(out_file);
    // two gigabytes of address space are more than any of this may take; the sanitizers take more
    const QString limit =
        RT_LIMIT_KB > 0 ? QStringLiteral("ulimit -v %1; ").arg(RT_LIMIT_KB) : QString();
    p.start("/bin/sh", QStringList{"-c", limit + "exec \"$0\" \"$@\"", RT_CLI} + words);
    p.waitForFinished(rt::testing::kLongest_ms);
    Answer a;
    a.code = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -2;
    a.out = p.readAllStandardOutput();
    a.error = p.readAllStandardError();
    a.json = QJsonDocument::fromJson(a.out).object();
    return a;
  }
  Answer job(const QStringList& words) {
    return run(QStringList{"job", "j.rapt"} + words + QStringList{"--json"});
  }
  /// Rows of a small fill, so far to the right.
  static QByteArray stitches(int right) {
    QByteArray out = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";
    out += QByteArray::number(right) + ",0,jump,#2f5d50\n";
    for (int y = 0; y < 20; ++y)
      for (int x = 0; x <= 5; ++x)
        out += QByteArray::number(right + (y % 2 ? 20 - 4 * x : 4 * x)) + "," +
               QByteArray::number(y) + ",stitch,#2f5d50\n";
    return out + "0,0,end,#2f5d50\n";
  }
  void write(const QString& name, const QByteArray& text) {
    QFile f(dir_.filePath(name));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(text);
  }
  QByteArray read(const QString& name) {
    QFile f(dir_.filePath(name));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  void refused(const Answer& a, int code = 1) {
    QVERIFY2(a.code == code, (QByteArray::number(a.code) + " " + a.error).constData());
    QVERIFY(a.out.isEmpty());
    QVERIFY2(a.error.startsWith("error: "), a.error.constData());
    QCOMPARE(a.error.count('\n'), 1);
  }
  static QByteArray list(const std::vector<std::pair<double, double>>& points) {
    QByteArray text = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";
    for (const auto& [x, y] : points)
      text += QByteArray::number(x) + "," + QByteArray::number(y) + ",stitch,#2f5d50\n";
    return text + "0,0,end,#2f5d50\n";
  }

 private slots:
  void unknownWordsAreNamed() {
    const Answer a = run({"frobnicate"});
    QCOMPARE(a.code, 2);
    QVERIFY2(a.error.contains("frobnicate"), a.error);
    QCOMPARE(run({"--version"}).code, 0);
    QVERIFY(run({"--version"}).out.startsWith("rapt-thimble-cli "));
    QCOMPARE(run({"--help"}, "/dev/full").code, 1);
    write("o.stitches.csv",
          "# rapt-stitches 1\nx_mm,y_mm,op,thread\n0,0,jump,#2f5d50\n"
          "0,3,stitch,#2f5d50\n3,3,stitch,#2f5d50\n0,0,end,#2f5d50\n");
    QCOMPARE(run({"order", "o.stitches.csv"}).code, 0);
    QCOMPARE(run({"order", "o.stitches.csv", "-o", ""}).code, 1);
    QCOMPARE(run({"ledger", "list", "--store", "none.sqlite", "--since", "yesterday-ish"}).code, 2);
  }
  /// Verbs on one file wait for one another: each finds what those before it wrote.
  void verbsOnOneFileWaitForOneAnother() {
    QCOMPARE(run({"job", "many.rapt", "new", "--title", "many"}).code, 0);
    std::vector<std::unique_ptr<QProcess>> all;
    for (int i = 0; i < 8; ++i) {
      all.push_back(std::make_unique<QProcess>());
      all.back()->setWorkingDirectory(dir_.path());
      all.back()->start(
          RT_CLI, {"job", "many.rapt", "zone", QString("z%1").arg(i), "--box", "0", "0", "5", "5"});
    }
    for (auto& p : all) QVERIFY(p->waitForFinished(rt::testing::kLongest_ms) && p->exitCode() == 0);
    QCOMPARE(run({"job", "many.rapt", "show", "--json"}).json["zones"].toArray().size(), 8);
  }
  /// From the layout to sewn cloth without a window, by the same law.
  void aJobIsPlannedAlignedAndSewn() {
    const auto verb = [&](QStringList words) {
      return run(QStringList{"job", "law.rapt"} + words + QStringList{"--json"});
    };
    QCOMPARE(verb({"new", "--title", "law", "--fabric", "canvas"}).code, 0);
    write("a.stitches.csv", stitches(0));
    QCOMPARE(verb({"add", "a.stitches.csv"}).code, 0);
    QCOMPARE(verb({"release"}).json["against"].toString(), QString("no-plan"));
    Answer plan = verb({"plan"});
    QCOMPARE(plan.code, 0);
    QCOMPARE(plan.json["hoopings"].toArray().size(), 1);
    QCOMPARE(verb({"release"}).json["against"].toString(), QString("cloth-not-measured"));
    QCOMPARE(verb({"sewn", "--hooping", "1"}).code, 1);  // nobody cleared it
    write("p.csv",
          "name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\n"
          "A,-80,0,-80,0\nB,80,0,80,0\nC,0,50,0,50\n");
    Answer aligned = verb({"align", "--hooping", "1", "--points", "p.csv"});
    QCOMPARE(aligned.code, 0);
    QVERIFY(aligned.json["alignment"].isObject());
    if (!aligned.json["given"].toBool())
      QCOMPARE(verb({"overrule", "alignment", "--hooping", "1", "--reason", "trial"}).code, 0);
    QVERIFY(verb({"release"}).json["given"].toBool());
    QCOMPARE(verb({"sewn", "--hooping", "1"}).code, 0);
    QCOMPARE(verb({"release", "--hooping", "1"}).json["against"].toString(),
             QString("sewn-through"));
    QCOMPARE(verb({"sewn", "--hooping", "1"}).code, 1);  // it would lie there twice
    // an addition is a run of its own; what is done stays done
    write("b.stitches.csv", stitches(30));
    QCOMPARE(verb({"add", "b.stitches.csv"}).code, 0);
    QCOMPARE(verb({"release", "--hooping", "1"}).json["against"].toString(),
             QString("plan-out-of-date"));
    plan = verb({"plan"});
    QVERIFY(plan.json["goes_on_from"].isString());
    QCOMPARE(plan.json["added"].toArray().size(), 1);
    const QJsonArray settings = plan.json["hoopings"].toArray()[0].toObject()["settings"].toArray();
    QCOMPARE(settings.size(), 2);
    QVERIFY(settings[0].toObject()["done"].toBool() && !settings[1].toObject()["done"].toBool());
    QCOMPARE(verb({"new-cloth"}).json["anything_sewn"].toBool(), false);
    QCOMPARE(verb({"release", "--hooping", "9"}).code, 1);
  }
  /// The shop's own limits judge here as they do in the window; what ships can be asked for.
  void theShopsOwnValuesCount() {
    QVERIFY(QDir(dir_.path()).mkpath("shop"));
    write("shop/shop-limits.json",
          R"({"fabrics":{"woven-cotton":{"density_mm_per_mm2":{"check":0.2,"stop":0.3},)"
          R"("holes_per_mm2":{"check":6.5,"stop":9},"note":"trial"}}})");
    write("d.stitches.csv", stitches(0));
    const QString own =
        run({"density", "d.stitches.csv", "--shop", "shop", "--json"}).json["verdict"].toString();
    const QString ships =
        run({"density", "d.stitches.csv", "--shipped", "--json"}).json["verdict"].toString();
    QCOMPARE(own, QString("stop"));
    QVERIFY(ships != own);
    QCOMPARE(run({"density", "d.stitches.csv", "--shop", "nowhere"}).code, 1);
  }
  void initTestCase() {
    std::vector<std::pair<double, double>> rows;
    for (int r = 0; r < 120; ++r)
      for (int k = 0; k <= 60; ++k)
        rows.emplace_back((r % 2 ? 60 - k : k) * 5.0 - 150, r * 0.4 - 24);
    write("fill.stitches.csv", list(rows));
  }

  void aJobIsMadeEditedAndShown() {
    Answer a = job(
        {"new", "--title", "Reed bag", "--fabric", "canvas", "--width", "400", "--height", "200"});
    QVERIFY2(a.code == 0, a.error.constData());
    QCOMPARE(a.json["fabric"].toString(), QString("canvas"));
    a = job({"add", "fill.stitches.csv"});
    QCOMPARE(a.json["pieces"].toArray().size(), 1);
    a = job({"letter", "REED", "--height", "20"});
    QCOMPARE(a.json["pieces"].toArray().size(), 2);
    a = job({"move", "2", "--to", "--x", "12", "--y", "-60"});
    const QJsonArray centre = a.json["pieces"][1].toObject()["centre_mm"].toArray();
    QVERIFY(std::abs(centre[0].toDouble() - 12) < 0.01 &&
            std::abs(centre[1].toDouble() + 60) < 0.01);
    a = job({"move", "1", "2", "--x", "-5"});
    QVERIFY(std::abs(a.json["pieces"][1].toObject()["centre_mm"].toArray()[0].toDouble() - 7) <
            0.01);
    a = job({"size", "2", "--width", "90"});
    QVERIFY(std::abs(a.json["pieces"][1].toObject()["width_mm"].toDouble() - 90) < 0.05);
    a = job({"turn", "2", "--to", "12"});
    QCOMPARE(a.json["pieces"][1].toObject()["turn_deg"].toDouble(), 12.0);
    a = job({"text", "2", "--text", "REEDS"});
    QCOMPARE(a.json["pieces"][1].toObject()["text"].toString(), QString("REEDS"));
    QCOMPARE(job({"order", "REEDS"}).json["proof_accepted"].toBool(), false);
    QCOMPARE(job({"accept-proof"}).json["proof_accepted"].toBool(), true);
    QCOMPARE(job({"customer", "Mere Lane\n4"}).json["customer"].toString(),
             QString("Mere Lane\n4"));
    const auto thread = [](const Answer& of) {
      return of.json["pieces"][1].toObject()["threads"].toArray()[0].toString();
    };
    const QString was = thread(job({"show"}));
    QVERIFY(was.startsWith('#'));
    QCOMPARE(thread(job({"thread", was, "#123456"})), QString("#123456"));
    QCOMPARE(thread(job({"thread", "#123456", was})), was);
    QCOMPARE(job({"zone", "zip", "--box", "-10", "50", "20", "5"}).json["zones"].toArray().size(),
             1);
    QCOMPARE(job({"no-zone", "zip"}).json["zones"].toArray().size(), 0);
    a = job({"group", "1", "2"});
    QVERIFY(a.json["pieces"][0].toObject()["group"].toInt() > 0);
    QCOMPARE(job({"sew-at", "2", "1"}).json["pieces"][0].toObject()["id"].toInt(), 2);
    QVERIFY(job({"weigh"}).json.contains("verdict"));
    a = job({"export", "-o", "all.stitches.csv"});
    QVERIFY(a.json["stitches"].toInt() > 7000);
    QCOMPARE(run({"info", "all.stitches.csv", "--json"}).code, 0);
    QCOMPARE(job({"remove", "2"}).json["pieces"].toArray().size(), 1);
    QVERIFY(job({"show"}).json["edits"].toInt() > 10);
  }
  void piecesAreLaidOutAsInTheWindow() {
    const auto layout = [this](const QStringList& words) {
      Answer a = run(QStringList{"job", "l.rapt"} + words + QStringList{"--json"});
      return a.code == 0 ? a.json["pieces"].toArray() : QJsonArray{QString(a.error)};
    };
    const auto box = [](const QJsonValue& piece) {
      const QJsonObject o = piece.toObject();
      const QJsonArray c = o["centre_mm"].toArray();
      return QRectF(c[0].toDouble() - o["width_mm"].toDouble() / 2,
                    c[1].toDouble() - o["height_mm"].toDouble() / 2, o["width_mm"].toDouble(),
                    o["height_mm"].toDouble());
    };
    layout({"new", "--width", "300", "--height", "200"});
    layout({"letter", "E", "--height", "12"});
    QJsonArray all = layout({"anchor", "1", "--at", "top-left"});
    QVERIFY(std::abs(box(all[0]).left() + 150) < 0.02 && std::abs(box(all[0]).top() + 100) < 0.02);
    all = layout({"repeat", "1", "--columns", "3", "--gap", "8"});
    QCOMPARE(all.size(), 3);
    for (int i = 1; i < 3; ++i)
      QVERIFY(std::abs(box(all[i]).left() - box(all[i - 1]).right() - 8) < 0.02);
    layout({"move", "2", "--x", "3", "--y", "11"});
    all = layout({"flush", "1", "2", "3", "--with", "2", "--edge", "bottom"});
    for (const QJsonValue& p : all)
      QVERIFY(std::abs(box(p).bottom() - box(all[1]).bottom()) < 0.02);
    all = layout({"spread", "1", "2", "3"});
    QVERIFY(std::abs((box(all[1]).left() - box(all[0]).right()) -
                     (box(all[2]).left() - box(all[1]).right())) < 0.02);
    layout({"size", "3", "--height", "25"});
    all = layout({"match", "1", "--like", "3", "--by-height"});
    QVERIFY(std::abs(box(all[0]).height() - 25) < 0.3);
    all = layout({"baste", "1"});
    QCOMPARE(all.size(), 4);
    QVERIFY(box(all[0]).contains(box(all[1])));  // around it, and sewn before all else
    all = layout({"border", "2", "--width", "280", "--height", "180", "--band", "12"});
    QVERIFY2(all.size() > 20, qPrintable(all[0].toString()));
    QRectF edge;
    for (const QJsonValue& p : all)
      if (p.toObject()["group"].toInt() > 0) edge |= box(p);
    QVERIFY(std::abs(edge.width() - 280) < 1.5 && std::abs(edge.height() - 180) < 1.5);
    refused(run({"job", "l.rapt", "match", "1", "--like", "9999", "--json"}));
    refused(run({"job", "l.rapt", "anchor", "1", "--at", "roof", "--json"}), 2);
  }
  void designsFromFilesAreParted() {
    const auto design = [this](const QStringList& words) {
      return run(QStringList{"job", "d.rapt"} + words + QStringList{"--json"});
    };
    write("two.stitches.csv",
          "# rapt-stitches 1\nx_mm,y_mm,op,thread\n0,0,stitch,#2f5d50\n9,0,stitch,#2f5d50\n"
          "9,9,stitch,#2f5d50\n9,9,trim,#2f5d50\n40,0,jump,#8a5a2b\n40,0,stitch,#8a5a2b\n"
          "49,0,stitch,#8a5a2b\n49,9,stitch,#8a5a2b\n49,9,end,#8a5a2b\n");
    design({"new"});
    design({"add", "two.stitches.csv"});
    const Answer a = design({"apart", "1", "--by", "colour"});
    QVERIFY2(a.code == 0, a.error.constData());
    QCOMPARE(a.json["pieces"].toArray().size(), 2);
    QCOMPARE(design({"block", "1", "--number", "1", "--is", "run"}).code, 0);
    refused(design({"block", "1", "--number", "9", "--is", "run"}));
  }
  void settingsAreChangedAsInTheWindow() {
    const auto set = [this](const QStringList& words) {
      return run(QStringList{"job", "s.rapt"} + words + QStringList{"--json"});
    };
    set({"new"});
    set({"letter", "FEN"});
    QCOMPARE(set({"brief", "--item", "bag", "--width", "90"}).json["item"].toString(),
             QString("bag"));
    QJsonObject o = set({"sequence", "--colours", "fewest", "--hidden", "1", "--needles", "6"})
                        .json["sequence"]
                        .toObject();
    QVERIFY(o["fewest_colours"].toBool() && o["needles"].toInt() == 6);
    QCOMPARE(o["hidden_margin_mm"].toDouble(), 1.0);
    o = set({"wait", "1", "--note", "lay the patch"}).json["sequence"].toObject();
    QCOMPARE(o["waits"].toArray()[0].toObject()["note"].toString(), QString("lay the patch"));
    o = set({"plan-by", "--hoop", "300x200", "--style", "chain", "--marks", "tags"})
            .json["plan"]
            .toObject();
    QVERIFY(o["hoop"] == "300x200" && o["style"] == "chain" && o["marks"] == "tags");
    QCOMPARE(set({"tolerance", "0.3"}).json["tolerance_mm"].toDouble(), 0.3);
    refused(set({"tolerance", "99"}));
    refused(set({"sequence", "--hidden", "0.1"}));
    refused(set({"sequence", "--needles", "0"}));
    refused(set({"brief", "--width", "-1"}));
  }
  void badEditsLeaveTheFile() {
    const QByteArray before = read("j.rapt");
    refused(job({"move", "77", "--x", "1"}));
    refused(job({"size", "1", "--width", "-4"}));
    refused(job({"fabric", "moon cloth"}));
    refused(job({"add", "none.svg"}));
    refused(job({"new"}));  // it is there already
    refused(job({"sew-at", "1", "9"}));
    refused(job({"dance"}), 2);
    refused(run({"job", "none.rapt", "show"}));
    QCOMPARE(read("j.rapt"), before);
  }

  void aPlanLeavesNoOlderOneInItsFolder() {
    QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "100x100", "-o", "plan"}).code, 0);
    const int many = QDir(dir_.filePath("plan")).entryList({"hooping-*"}).size();
    QVERIFY(many >= 4);
    write("plan/notes.txt", "mine");
    for (int i = 0; i < 2; ++i) {  // among other files, and alone
      QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "360x200", "-o", "plan"}).code, 0);
      QCOMPARE(QDir(dir_.filePath("plan")).entryList({"hooping-*"}).size(), 1);
      QCOMPARE(QDir(dir_.filePath("plan")).entryList({"plan.json"}).size(), 1);
      if (i == 0) {
        QCOMPARE(read("plan/notes.txt"), QByteArray("mine"));
        QFile::remove(dir_.filePath("plan/notes.txt"));
        QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "100x100", "-o", "plan"}).code, 0);
      }
    }
    QCOMPARE(QDir(dir_.path()).entryList({"*.part-*"}), QStringList());
    refused(run({"plan", "fill.stitches.csv", "--hoop", "100x100", "-o", ""}));
    refused(run({"plan", "fill.stitches.csv", "--hoop", "100x100", "-o", "fill.stitches.csv"}));
  }
  void aKilledPlanLeavesAWholeFolder() {
    QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "360x200", "-o", "kept"}).code, 0);
    for (int i = 0; i < 8; ++i) {
      QProcess p;
      p.setWorkingDirectory(dir_.path());
      p.start(RT_CLI, {"plan", "fill.stitches.csv", "--hoop", "100x100", "-o", "kept"});
      QVERIFY(p.waitForStarted(rt::testing::kLongest_ms));
      // killed when its first files are there, or through
      QVERIFY(rt::testing::comes([&] {
        return p.state() == QProcess::NotRunning ||
               QDir(dir_.path()).entryList({"kept.part-*"}).size() > i % 2;
      }));
      p.kill();
      p.waitForFinished(rt::testing::kLongest_ms);
      const QJsonArray named =
          QJsonDocument::fromJson(read("kept/plan.json")).object()["hoopings"].toArray();
      QVERIFY(!named.isEmpty());
      QCOMPARE(QDir(dir_.filePath("kept")).entryList({"hooping-*"}).size(), named.size());
    }
    QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "360x200", "-o", "kept"}).code, 0);
    QCOMPARE(QDir(dir_.path()).entryList({"*.part-*"}), QStringList());
  }
  void linksAndDevicesStayWhatTheyAre() {
    QDir(dir_.path()).mkdir("far");
    write("far/out.csv", "old");
    QVERIFY(QFile::link(dir_.filePath("far/out.csv"), dir_.filePath("link.csv")));
    QCOMPARE(run({"resize", "fill.stitches.csv", "--scale", "1.05", "-o", "link.csv"}).code, 0);
    QVERIFY(QFileInfo(dir_.filePath("link.csv")).isSymLink());
    QVERIFY(read("far/out.csv").startsWith("# rapt-stitches"));
    QCOMPARE(run({"resize", "fill.stitches.csv", "--scale", "1.05", "-o", "/dev/null"}).code, 0);
    struct stat facts {};
    QVERIFY(::stat("/dev/null", &facts) == 0 && S_ISCHR(facts.st_mode));
    refused(run({"resize", "fill.stitches.csv", "--scale", "1.05", "-o", ""}));
    refused(run({"resize", "fill.stitches.csv", "--scale", "1.05", "-o", "/dev/full"}));
  }
  void aFullDiskOnStandardOutputIsNoSuccess() {
    const Answer a = run({"info", "fill.stitches.csv", "--json"}, "/dev/full");
    QCOMPARE(a.code, 1);
    QVERIFY(a.error.startsWith("error: "));
  }
  void anEndBySignalLeavesNoPart() {
    for (int signal : {SIGTERM, SIGINT}) {
      QProcess p;
      p.setWorkingDirectory(dir_.path());
      p.start(RT_CLI, {"resize", "fill.stitches.csv", "--scale", "1.3", "-o", "sized.csv"});
      QVERIFY(p.waitForStarted(rt::testing::kLongest_ms));
      ::kill(static_cast<pid_t>(p.processId()), signal);
      p.waitForFinished(rt::testing::kLongest_ms);
      QCOMPARE(QDir(dir_.path()).entryList({"*.part-*"}), QStringList());
    }
  }

  void deepAndWideDrawingsAreRefused() {
    const QByteArray head =
        "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' "
        "width='90mm' height='90mm' viewBox='0 0 90 90'>";
    QByteArray deep = head, points = head + "<path d='M0 0",
               bomb = head + "<defs><g id='a0'><rect width='3' height='3'/></g>";
    for (int i = 0; i < 20000; ++i) deep += "<g>";
    deep += "<rect width='9' height='9'/>";
    for (int i = 0; i < 20000; ++i) deep += "</g>";
    for (qint64 i = 0; i < 1000000; ++i)
      points +=
          "L" + QByteArray::number((i * 7919) % 90) + " " + QByteArray::number((i * 104729) % 90);
    for (int i = 1; i < 9; ++i) {
      bomb += "<g id='a" + QByteArray::number(i) + "'>";
      for (int k = 0; k < 10; ++k)
        bomb += "<use xlink:href='#a" + QByteArray::number(i - 1) + "'/>";
      bomb += "</g>";
    }
    write("deep.svg", deep + "</svg>");
    write("points.svg", points + "z'/></svg>");
    write("bomb.svg", bomb + "</defs><use xlink:href='#a8'/></svg>");
    write("wide.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' width='90m' height='90000mm' viewBox='0 0 90000 "
          "90000'><rect width='90000' height='90000' fill='#224466'/></svg>");
    write("wide-mm.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' width='90000mm' height='90000mm' viewBox='0 0 "
          "90 90'><rect width='80' height='80' fill='#224466'/></svg>");
    for (const char* file : {"deep.svg", "points.svg", "bomb.svg", "wide-mm.svg"})
      refused(run({"digitise", file, "-o", "x.csv"}));
    QVERIFY(run({"digitise", "wide.svg", "-o", "x.csv"}).code != -2);
    write("deep-stitches.svg", QByteArray(deep).replace("<svg ", "<svg data-rapt='stitches' "));
    refused(run({"info", "deep-stitches.svg"}));
    write("odd-arc.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' data-rapt='stitches' viewBox='0 0 9 9'><path "
          "stroke='#000000' d='M0 0A1e-300 1e-300 0 0 1 5 5'/><path stroke='#000000' d='M3e38 0L1 "
          "1'/></svg>");
    refused(run({"info", "odd-arc.svg"}));
  }
  void farStitchesAndManyMarksEndSoon() {
    write("far.csv", list({{-100000, 0}, {-99999, 0}, {0, 0}, {5, 0}, {99999, 0}, {100000, 0}}));
    refused(run({"density", "far.csv"}));
    QByteArray points = "name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\n";
    for (int i = 0; i < 2000; ++i)
      points +=
          QStringLiteral("M%1,%2,%3,%2,%3\n").arg(i).arg(i % 180 - 90).arg(i % 97 - 48).toUtf8();
    write("many.csv", points);
    write("setup.json", R"({"hoop":{"id":"h","field_mm":[200,140]}})");
    refused(run({"align", "--setup", "setup.json", "--points", "many.csv"}));
    write("one-place.csv",
          "name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\nA,0,0,7,7\nB,80,0,7,7\n");
    for (const char* fit : {"rigid", "similarity"})
      refused(run({"align", "--setup", "setup.json", "--points", "one-place.csv", "--fit", fit}));
  }
};

RT_TEST(TestCliJob)

}  // namespace test_cli_job
#include "test_cli_job.moc"
