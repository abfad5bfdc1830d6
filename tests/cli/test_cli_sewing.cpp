// The command line's sewing commands: letters of outline faces, sizing, remedies, order, threads.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <random>

#include "comes.h"
#include "run.h"

namespace test_cli_sewing {

class TestCliSewing : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Answer {
    int code = -1;
    QJsonObject json;
    QByteArray error;
    double number(const char* key) const { return json[QLatin1String(key)].toDouble(); }
    QString text(const char* key) const { return json[QLatin1String(key)].toString(); }
    QJsonArray list(const char* key) const { return json[QLatin1String(key)].toArray(); }
  };

  Answer run(QStringList words) {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    p.start(RT_CLI, words << "--json");
    p.waitForFinished(rt::testing::kLongest_ms);
    Answer a;
    a.code = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -2;
    a.json = QJsonDocument::fromJson(p.readAllStandardOutput()).object();
    a.error = p.readAllStandardError();
    return a;
  }

  void refused(QStringList words, int code) {
    const Answer a = run(words);
    QVERIFY2(a.code == code, (QByteArray::number(a.code) + " " + a.error).constData());
    QVERIFY(a.json.isEmpty());
    QVERIFY2(a.error.startsWith("error: "), a.error.constData());
  }

  void write(const QString& name, const QByteArray& text) {
    QFile f(dir_.filePath(name));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(text);
  }

  /// Level rows to and fro.
  static QByteArray rows(double x, double y, double w, double h, double spacing,
                         const char* thread) {
    QByteArray out;
    bool right = true, first = true;
    for (double v = y; v <= y + h + 1e-9; v += spacing, right = !right)
      for (int k = 0; k <= 10; ++k) {
        const double u = x + w * (right ? k : 10 - k) / 10;
        out += QByteArray::number(u, 'f', 2) + "," + QByteArray::number(v, 'f', 2) +
               (first ? ",jump," : ",stitch,") + thread + "\n";
        first = false;
      }
    return out + "0,0,trim," + thread + "\n";
  }

  QJsonObject box(const QString& file) { return run({"info", file}).json["bounds"].toObject(); }

 private slots:
  void initTestCase() {
    const QByteArray head = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";
    write("two.csv", head + rows(0, 0, 40, 30, 0.2, "#203040") +
                         rows(15, 10, 12, 12, 0.2, "#c0d0e0") + "0,0,end,#203040\n");
    QByteArray mixed = head;
    for (int i = 0; i < 6; ++i)
      mixed += rows(i * 20, 0, 10, 10, 0.4, i % 2 ? "#ff0000" : "#0000ff");
    write("mixed.csv", mixed + "0,0,end,#0000ff\n");
    write("threads.csv", "code,name,colour\nA,red,#d00000\nB,blue,#0000d0\n");
    write("art.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' width='60mm' height='30mm' viewBox='0 0 60 "
          "30'><path d='M2 2h20v26h-20z' fill='#ff2010'/><path d='M40 3l3 0 2 24-7 0z' "
          "fill='#1020ff'/></svg>");
  }

  void outlineFacesAreListedAndSewn() {
    int outline = 0, joining = 0;
    for (const QJsonValue& v : run({"faces"}).list("faces")) {
      const QJsonObject f = v.toObject();
      const bool stroke = f["file"].toString().endsWith(".jhf");
      outline += !stroke;
      joining += f["joins"].toBool();
      QVERIFY(f["min_height_mm"].toDouble() < f["max_height_mm"].toDouble());
      QVERIFY(!f["licence"].toString().isEmpty());
      const Answer a =
          run({"letter", "Reed", "--face", f["id"].toString(), "--height", "20", "-o", "l.csv"});
      QVERIFY2(a.code == 0, a.error.constData());
      QCOMPARE(a.list("glyphs").size(), 4);
      QVERIFY(a.number("stitches") > 100);
      QVERIFY(a.number("longest_stitch_mm") <= 12);
    }
    QVERIFY(outline >= 4 && joining >= 2);
  }

  void lettersTurnAndGap() {
    const Answer plain =
        run({"letter", "FEN", "--face", "sans-bold", "--height", "20", "-o", "l.csv"});
    const Answer wide = run(
        {"letter", "FEN", "--face", "sans-bold", "--height", "20", "--gap", "2.5", "-o", "l.csv"});
    QVERIFY(std::abs(wide.number("width_mm") - plain.number("width_mm") - 5) < 0.05);
    const Answer turned = run(
        {"letter", "FEN", "--face", "sans-bold", "--height", "20", "--turn", "-90", "-o", "l.csv"});
    QVERIFY(std::abs(turned.number("height_mm") - plain.number("width_mm")) < 0.05);
    for (const QJsonValue& g : turned.list("glyphs"))
      QCOMPARE(g.toObject()["angle_deg"].toDouble(), -90.0);
  }

  void letterRefusesWhatCannotBeSewn() {
    refused({"letter", "", "--face", "sans-bold", "--height", "20", "-o", "n.csv"}, 1);
    refused({"letter", "A", "--face", "sans-bold", "--height", "0", "-o", "n.csv"}, 1);
    refused({"letter", "שלום", "--face", "sans-bold", "--height", "20", "-o", "n.csv"}, 1);
    refused({"letter", "WARDEN OF THE MARSH", "--face", "sans-bold", "--height", "20",
             "--arc-radius", "20", "-o", "n.csv"},
            1);
    refused({"letter", "A", "--face", "sans-bold", "--height", "20", "-o", "no/where.csv"}, 1);
    QVERIFY(!QFile::exists(dir_.filePath("n.csv")));
  }

  void sizingDecidesByItself() {
    QCOMPARE(run({"resize", "two.csv", "--scale", "1.08", "-o", "r.csv"}).text("method"),
             QString("keep-stitches"));
    QCOMPARE(run({"resize", "two.csv", "--scale", "1.5", "-o", "r.csv"}).text("method"),
             QString("respace"));
    QCOMPARE(run({"resize", "two.csv", "--scale", "1.5", "--keep-stitches", "-o", "r.csv"})
                 .text("method"),
             QString("keep-stitches"));
    refused({"resize", "two.csv", "--scale", "1.5", "--keep-stitches", "--respace", "-o", "r.csv"},
            2);
  }

  void respacingKeepsSpacingAndSize() {
    for (double r : {0.5, 0.75, 1.25, 1.6, 2.0}) {
      const Answer a =
          run({"resize", "two.csv", "--scale", QString::number(r), "--respace", "-o", "r.csv"});
      QVERIFY2(a.code == 0, a.error.constData());
      QCOMPARE(a.list("blocks").size(), 2);
      for (const QJsonValue& v : a.list("blocks")) {
        const QJsonObject b = v.toObject();
        QCOMPARE(b["kind"].toString(), QString("fill"));
        QVERIFY(std::abs(b["spacing_after_mm"].toDouble() / b["spacing_before_mm"].toDouble() - 1) <
                0.05);
      }
      QVERIFY(std::abs(box("r.csv")["width_mm"].toDouble() - 40 * r) < 0.3);
      QVERIFY(std::abs(box("r.csv")["height_mm"].toDouble() - 30 * r) < 0.3);
    }
    const Answer y =
        run({"resize", "two.csv", "--scale", "1.5", "--scale-y", "0.8", "-o", "r.csv"});
    QCOMPARE(y.number("scale_y"), 0.8);
    QVERIFY(std::abs(box("r.csv")["height_mm"].toDouble() - 24) < 0.3);
    refused({"resize", "two.csv", "--scale", "1.5", "--scale-y", "0", "-o", "r2.csv"}, 1);
  }

  void densityAnswersForBothWaysOfSizing() {
    const double was = run({"density", "two.csv"}).number("mean_mm_per_mm2");
    const double kept = run({"density", "two.csv", "--scale", "0.5"}).number("mean_mm_per_mm2");
    const double again =
        run({"density", "two.csv", "--scale", "0.5", "--respace"}).number("mean_mm_per_mm2");
    QVERIFY(kept > 1.7 * was);
    QVERIFY(std::abs(again / was - 1) < 0.12);
  }

  void remediesCarryTheirFigures() {
    const Answer a = run({"density", "two.csv"});
    QCOMPARE(a.text("verdict"), QString("check"));
    bool found = false;
    for (const QJsonValue& v : a.list("findings")) {
      const QJsonObject f = v.toObject();
      if (f["kind"].toString() != "density") continue;
      QVERIFY(!f["cause"].toString().isEmpty());
      for (const QJsonValue& w : f["remedies"].toArray()) {
        const QJsonObject r = w.toObject();
        found = true;
        QVERIFY(!r["text"].toString().isEmpty() && r["value"].toDouble() > 0);
        QVERIFY(r["result"].toDouble() < f["value"].toDouble());
        if (r["kind"].toString() == "move") QCOMPARE(r["move_mm"].toArray().size(), 2);
      }
    }
    QVERIFY(found);
  }

  void zonesAreHeld() {
    write(
        "z.json",
        R"({"zones":[{"name":"zip","kind":"keep-out","polygon_mm":[[35,5],[45,5],[45,25],[35,25]]}]})");
    const Answer a = run({"density", "mixed.csv", "--zones", "z.json"});
    bool keptOut = false;
    for (const QJsonValue& v : a.list("findings"))
      keptOut |= v.toObject()["kind"].toString() == "keep-out";
    QVERIFY(keptOut);
    QCOMPARE(a.text("verdict"), QString("stop"));
    write("bad.json", R"({"zones":[{"name":"zip"}]})");
    refused({"density", "mixed.csv", "--zones", "bad.json"}, 1);
  }

  void leatherTearsAlongHoles() {
    QByteArray line = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n0,0,jump,#000000\n";
    for (int i = 0; i <= 60; ++i) line += QByteArray::number(i * 0.8) + ",0,stitch,#000000\n";
    write("line.csv", line + "48,0,end,#000000\n");
    auto torn = [&](const char* fabric) {
      for (const QJsonValue& v : run({"density", "line.csv", "--fabric", fabric}).list("findings"))
        if (v.toObject()["kind"].toString() == "perforation") return true;
      return false;
    };
    QVERIFY(torn("leather"));
    QVERIFY(!torn("canvas"));
  }

  void orderCountsAndKeepsEveryBlock() {
    const Answer a = run({"order", "mixed.csv", "-o", "o.csv"});
    QCOMPARE(a.code, 0);
    QCOMPARE(a.number("colour_changes_before"), 5.0);
    QCOMPARE(a.number("colour_changes_after"), 1.0);
    QCOMPARE(a.number("kept_overlaps"), 0.0);
    const QJsonObject was = run({"info", "mixed.csv"}).json, is = run({"info", "o.csv"}).json;
    QCOMPARE(is["stitches"].toInt(), was["stitches"].toInt());
    QVERIFY(std::abs(is["thread_length_mm"].toDouble() - was["thread_length_mm"].toDouble()) <
            1e-6);
    QCOMPARE(run({"order", "mixed.csv"}).number("colour_changes_after"), 1.0);
  }
  void whatIsOnlyPutInOrderKeepsItsDigits() {
    std::mt19937 random(77);
    QByteArray text = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";
    QStringList read;
    for (int block = 0; block < 6; ++block)
      for (int k = 0; k < 40; ++k) {
        const QString at =
            QStringLiteral("%1,%2")
                .arg(block * 30 + static_cast<int>(random() % 20000) / 1000.0, 0, 'f', 3)
                .arg(static_cast<int>(random() % 20000) / 1000.0, 0, 'f', 3);
        if (k == 0) text += at.toUtf8() + ",jump," + (block % 2 ? "#2f5d50" : "#8a5a2b") + "\n";
        text += at.toUtf8() + ",stitch," + (block % 2 ? "#2f5d50" : "#8a5a2b") + "\n";
        read << at;
      }
    QFile file(dir_.filePath("digits.csv"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(text + "0,0,end,#2f5d50\n");
    file.close();
    QCOMPARE(run({"order", "digits.csv", "-o", "ordered.csv"}).code, 0);
    QFile out(dir_.filePath("ordered.csv"));
    QVERIFY(out.open(QIODevice::ReadOnly));
    QStringList written;
    for (const QByteArray& line : out.readAll().split('\n')) {
      const QList<QByteArray> f = line.split(',');
      if (f.size() < 3 || f[2] != "stitch") continue;
      written << QStringLiteral("%1,%2")
                     .arg(f[0].toDouble(), 0, 'f', 3)
                     .arg(f[1].toDouble(), 0, 'f', 3);
    }
    read.sort(), written.sort();
    QCOMPARE(written, read);
  }

  void orderTakesHiddenStitchesAndGivesNeedles() {
    const Answer a = run({"order", "two.csv", "--hidden", "1", "--needles", "2", "-o", "h.csv"});
    QVERIFY2(a.code == 0, a.error.constData());
    const QJsonObject hidden = a.json["hidden"].toObject();
    QVERIFY(hidden["stitches_after"].toInt() < hidden["stitches_before"].toInt());
    QVERIFY(hidden["thread_saved_mm"].toDouble() > 200);
    QCOMPARE(a.list("needles").size(), 2);
    refused({"order", "two.csv", "--hidden", "0"}, 1);
    refused({"order", "two.csv", "--needles", "0"}, 1);
    refused({"order", "two.csv", "--needles", "many"}, 2);
  }

  void initialsInAFrame() {
    const Answer bare = run({"letter", "QF R", "--face", "sans-bold", "--height", "30",
                             "--monogram", "none", "-o", "m0.csv"});
    QCOMPARE(bare.code, 0);
    QCOMPARE(bare.list("glyphs").size(), qsizetype{3});
    for (const char* frame : {"circle", "diamond", "shield"}) {
      const Answer a = run({"letter", "QFR", "--face", "sans-bold", "--height", "30", "--monogram",
                            frame, "-o", "m.csv"});
      QCOMPARE(a.code, 0);
      QVERIFY(a.number("width_mm") > bare.number("width_mm") + 5);
      QVERIFY(a.number("height_mm") > bare.number("height_mm") + 5);
    }
    refused({"letter", "QFRS", "--face", "sans-bold", "--height", "30", "--monogram", "circle",
             "-o", "no.csv"},
            1);
    refused({"letter", "QF", "--face", "sans-bold", "--height", "30", "--monogram", "star", "-o",
             "no.csv"},
            2);
    QVERIFY(!QFile::exists(dir_.filePath("no.csv")));
  }
  void waysAndCutsOfAnOrder() {
    const Answer a =
        run({"order", "mixed.csv", "--travel", "--trim-sheet", "cuts.pdf", "-o", "t.csv"});
    QCOMPARE(a.code, 0);
    const QJsonObject travel = a.json["travel"].toObject();
    QVERIFY(travel["after_mm"].toDouble() <= travel["before_mm"].toDouble());
    QVERIFY(a.json["trim_sheet"].toObject()["cuts"].toInt() > 0);
    QFile pdf(dir_.filePath("cuts.pdf"));
    QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.read(4) == "%PDF");
    QCOMPARE(run({"info", "t.csv"}).number("stitches"),
             run({"info", "mixed.csv"}).number("stitches"));
  }
  void coloursAreSewnAsWishedUnlessOneLiesOnAnother() {
    const Answer a = run({"order", "mixed.csv", "--colours", "#ff0000", "#0000ff", "-o", "w.csv"});
    QCOMPARE(a.code, 0);
    QCOMPARE(a.number("colour_changes_after"), 1.0);
    QCOMPARE(run({"info", "w.csv"}).list("colours")[0].toString(), QString("#ff0000"));
    refused({"order", "two.csv", "--colours", "#c0d0e0", "#203040", "-o", "never.csv"}, 1);
    QVERIFY(!QFile::exists(dir_.filePath("never.csv")));
    refused({"order", "two.csv", "--colours", "blue"}, 1);
  }

  void needleThreadAndBackingMoveTheLimit() {
    const double usual = run({"density", "two.csv"}).number("limit_mm_per_mm2");
    QCOMPARE(usual, 12.0);
    QVERIFY(run({"density", "two.csv", "--thread-weight", "12"}).number("limit_mm_per_mm2") < 7);
    QVERIFY(run({"density", "two.csv", "--backing", "cut-away"}).number("limit_mm_per_mm2") > 13);
    const Answer a = run({"density", "two.csv"});
    const QJsonObject worst = a.list("findings")[0].toObject();
    QCOMPARE(worst["cause_kind"].toString(), QString("overlap"));
    QCOMPARE(worst["layers"].toInt(), 2);
    refused({"density", "two.csv", "--needle", "0"}, 1);
    refused({"density", "two.csv", "--thread-weight", "nan"}, 1);
  }
  void shapesGoByTheirNames() {
    write("named.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' "
          "width='80mm' height='60mm' viewBox='0 0 80 60'>"
          "<defs><circle id='berry' r='6'/><clipPath id='c'><rect x='40' y='30' width='12' "
          "height='12'/></clipPath></defs>"
          "<rect id='sky' x='2' y='2' width='30' height='20' fill='#336699'/>"
          "<g transform='translate(50 12)'><use id='left' xlink:href='#berry' fill='#a00'/>"
          "<use xlink:href='#berry' x='18' fill='#800'/></g>"
          "<rect id='cut' clip-path='url(#c)' x='36' y='26' width='30' height='30' fill='#060'/>"
          "<path d='M4 50 L30 50' stroke='#222' stroke-width='2' fill='none'/></svg>");
    const Answer a = run({"digitise", "named.svg", "-o", "named.csv"});
    QStringList names;
    for (const auto& s : a.list("shapes")) names << s.toObject()["element"].toString();
    QCOMPARE(names, (QStringList{"sky", "left", "use 3", "cut", "path 5"}));
  }
  void digitisedColoursGoToTheShelf() {
    const Answer a = run({"digitise", "art.svg", "--threads", "threads.csv", "-o", "d.csv"});
    QVERIFY2(a.code == 0, a.error.constData());
    for (const QJsonValue& c : a.list("colours"))
      QVERIFY(c.toString() == "#d00000" || c.toString() == "#0000d0");
    const QJsonArray shapes = a.list("shapes");
    QCOMPARE(shapes.size(), 2);
    QCOMPARE(shapes[0].toObject()["kind"].toString(), QString("fill"));
    QCOMPARE(shapes[1].toObject()["kind"].toString(), QString("satin"));
    refused({"digitise", "art.svg", "--threads", "none.csv", "-o", "d2.csv"}, 1);
    refused({"digitise", "art.svg", "--threads", "art.svg", "-o", "d2.csv"}, 1);
  }
};

RT_TEST(TestCliSewing)

}  // namespace test_cli_sewing
#include "test_cli_sewing.moc"
