// The command line as a user meets it: every command, its keys, and its refusals.
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"
#include "run.h"

namespace test_cli {

class TestCli : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Answer {
    int code = -1;
    QJsonObject json;
    QByteArray out, error;
  };
  Answer run(QStringList words) {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    p.start(RT_CLI, words);
    p.waitForFinished(rt::testing::kLongest_ms);
    Answer a;
    a.code = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -2;
    a.out = p.readAllStandardOutput();
    a.error = p.readAllStandardError();
    a.json = QJsonDocument::fromJson(a.out).object();
    return a;
  }
  void write(const QString& name, const QByteArray& text) {
    QFile f(dir_.filePath(name));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(text);
  }
  void hasKeys(const QJsonObject& o, std::initializer_list<const char*> keys) {
    for (const char* k : keys) QVERIFY2(o.contains(QLatin1String(k)), k);
  }
  void refused(const Answer& a, int code) {
    QVERIFY2(a.code == code, (QByteArray::number(a.code) + " " + a.error).constData());
    QVERIFY(a.out.isEmpty());
    QVERIFY2(a.error.startsWith("error: "), a.error.constData());
    QCOMPARE(a.error.count('\n'), 1);
  }

 private slots:
  void initTestCase() {
    QByteArray fill = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";
    bool right = true;
    for (int r = 0; r <= 200; ++r, right = !right)
      for (int k = 0; k <= 50; ++k)
        fill += QByteArray::number((right ? k : 50 - k) * 4.0 - 100) + "," +
                QByteArray::number(r * 0.25 - 25) + ",stitch,#2F5D50\n";
    write("fill.stitches.csv", fill + "0,0,end,#2f5d50\n");
    write("art.svg",
          "<svg xmlns='http://www.w3.org/2000/svg' width='60mm' height='40mm' viewBox='0 0 60 "
          "40'><path d='M5 5h50v30h-50z M20 12h20v14h-20z' fill-rule='evenodd' "
          "fill='#884400'/></svg>");
    write("setup.json", R"({"hoop":{"id":"h","field_mm":[200,140]}})");
    write("points.csv",
          "name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\nA,-90,0,-88.5,-3\nB,90,0,91.4,3.2\nC,"
          "0,60,-0.6,60.1\n");
  }
  void info() {
    const Answer a = run({"info", "fill.stitches.csv", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json,
            {"stitches", "jumps", "trims", "colour_changes", "colours", "bounds",
             "thread_length_mm", "longest_stitch_mm", "shortest_stitch_mm", "sewing_time_s"});
    QCOMPARE(a.json["stitches"].toInt(), 201 * 51);
    QCOMPARE(a.json["bounds"].toObject()["width_mm"].toDouble(), 200.0);
    QCOMPARE(a.json["colours"].toArray()[0].toString(), QString("#2f5d50"));
  }
  void density() {
    const Answer a = run({"density", "fill.stitches.csv", "--map", "map.csv", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"fabric", "limit_mm_per_mm2", "mean_mm_per_mm2", "peak_mm_per_mm2",
                     "peak_at_mm", "covered_area_mm2", "over_limit_area_mm2",
                     "peak_penetrations_per_mm2", "thread_length_mm", "findings", "verdict"});
    QCOMPARE(a.json["verdict"].toString(), QString("sew"));
    QFile map(dir_.filePath("map.csv"));
    QVERIFY(map.open(QIODevice::ReadOnly));
    QCOMPARE(map.readLine(), QByteArray("x_mm,y_mm,density\n"));
    QCOMPARE(map.readAll().count('\n'), 808 * 208);
    QCOMPARE(run({"density", "fill.stitches.csv", "--scale", "0.3", "--json"})
                 .json["verdict"]
                 .toString(),
             QString("stop"));
  }
  void resize() {
    const Answer a =
        run({"resize", "fill.stitches.csv", "--width", "210 mm", "-o", "r.csv", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"scale_x", "scale_y", "stitches_before", "stitches_after", "blocks",
                     "warnings", "method"});
    QVERIFY(
        std::abs(run({"info", "r.csv", "--json"}).json["bounds"].toObject()["width_mm"].toDouble() -
                 210) < 0.02);
  }
  void digitise() {
    const Answer a = run({"digitise", "art.svg", "--width", "80", "-o", "d.csv", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"stitches", "shapes", "warnings", "bounds"});
    QVERIFY(std::abs(a.json["bounds"].toObject()["width_mm"].toDouble() - 80) < 0.6);
    refused(run({"digitise", "fill.stitches.csv", "-o", "x.csv"}), 1);
    QVERIFY(!QFile::exists(dir_.filePath("x.csv")));
  }
  void lettersAndFaces() {
    QVERIFY(run({"faces", "--json"}).json["faces"].toArray().size() >= 3);
    const Answer a = run({"letter", "WARDEN", "--face", "plain-stroke", "--height", "12", "--chord",
                          "200", "--sagitta", "30", "-o", "l.csv", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"width_mm", "height_mm", "arc_radius_mm", "span_deg", "glyphs", "warnings",
                     "stitches"});
    QVERIFY(std::abs(a.json["arc_radius_mm"].toDouble() - (200.0 * 200 / 240 + 15)) < 1e-6);
    QVERIFY(a.json["glyphs"].toArray().last().toObject()["gap_to_next_mm"].isNull());
    refused(run({"letter", "W", "--face", "none", "--height", "12", "-o", "l.csv"}), 1);
    refused(run({"letter", "W", "--face", "plain-stroke", "--height", "tall", "-o", "l.csv"}), 2);
  }
  void arc() {
    QCOMPARE(
        run({"arc", "--chord", "100", "--sagitta", "50", "--json"}).json["radius_mm"].toDouble(),
        50.0);
    QCOMPARE(run({"arc", "--points", "-3,0", "-1,2", "1,0", "--json"}).json["radius_mm"].toDouble(),
             2.0);
    refused(run({"arc", "--chord", "100"}), 2);
    refused(run({"arc"}), 2);
    refused(run({"arc", "--chord", "100", "--sagitta", "0"}), 1);
  }
  void plan() {
    const Answer a = run({"plan", "fill.stitches.csv", "--hoop", "130x100", "-o", "out", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    hasKeys(a.json, {"hoopings", "lower_bound", "crossings", "cut_stitches", "seams",
                     "worst_seam_error_mm", "interlock_mm", "plain_grid", "warnings"});
    hasKeys(a.json["plain_grid"].toObject(), {"hoopings", "crossings"});
    for (const QJsonValue& s : a.json["seams"].toArray())
      hasKeys(s.toObject(),
              {"first", "second", "first_setting", "second_setting", "at_mm", "error_mm"});
    int stitches = 0;
    for (const QJsonValue& h : a.json["hoopings"].toArray()) {
      hasKeys(h.toObject(), {"index", "hoop", "centre_mm", "turn_deg", "stitches",
                             "thread_length_mm", "file", "marks", "predicted_error_mm"});
      stitches += h.toObject()["stitches"].toInt();
      for (const QJsonValue& s : h.toObject()["settings"].toArray())
        hasKeys(s.toObject(),
                {"index", "centre_mm", "turn_deg", "stitches", "thread_length_mm", "file"});
      QCOMPARE(run({"info", "out/" + h.toObject()["file"].toString()}).code, 0);
    }
    QCOMPARE(stitches, 201 * 51);
    QCOMPARE(a.json["hoopings"].toArray().size(), 2);
    QVERIFY(QFile::exists(dir_.filePath("out/plan.json")));
    refused(run({"plan", "fill.stitches.csv", "--hoop", "big", "-o", "out2"}), 1);
    QVERIFY(!QFile::exists(dir_.filePath("out2")));
  }
  void framesOfTheShelf() {
    write("shelf.json", R"({"hoops": [{"id": "halves", "name": "Halves", "field_mm": [240, 40],
        "settings": [{"x_mm": 0, "y_mm": -15, "turn_deg": 0}, {"x_mm": 0, "y_mm": 15, "turn_deg": 180}]}]})");
    const Answer a = run({"plan", "fill.stitches.csv", "--shelf", "shelf.json", "--hoop", "halves",
                          "-o", "halves", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    QCOMPARE(a.json["hoopings"].toArray().size(), 1);
    const QJsonArray settings = a.json["hoopings"].toArray()[0].toObject()["settings"].toArray();
    QCOMPARE(settings.size(), 2);
    QCOMPARE(
        settings[0].toObject()["turn_deg"].toInt() + settings[1].toObject()["turn_deg"].toInt(),
        180);
    for (const QJsonValue& s : settings)
      QCOMPARE(run({"info", "halves/" + s.toObject()["file"].toString()}).code, 0);
    write("empty.json", R"({"hoops": []})");
    refused(run({"plan", "fill.stitches.csv", "--shelf", "empty.json", "-o", "x"}), 1);
    refused(run({"plan", "fill.stitches.csv", "--hoop", "130x100", "--keep", "nobody", "-o", "x"}),
            1);
    refused(run({"plan", "fill.stitches.csv", "-o", "x"}), 2);
    QVERIFY(!QFile::exists(dir_.filePath("x")));
  }
  void sheetsOfAPlan() {
    QCOMPARE(run({"plan", "fill.stitches.csv", "--hoop", "130x100", "-o", "planned"}).code, 0);
    const Answer a = run({"sheets", "planned", "--paper", "Letter", "-o", "sheets.pdf", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    QCOMPARE(a.json["pages"].toInt(), 2);
    QCOMPARE(a.json["hoopings"].toArray()[1].toObject()["page"].toInt(), 2);
    refused(run({"sheets", "nowhere", "-o", "x.pdf"}), 1);
    write("planned/plan.json", R"({"hoopings": [{"index": 1, "hoop": "a", "predicted_error_mm": 1,
        "marks": [], "settings": [{"index": 1, "turn_deg": 0, "centre_mm": [0, 0], "stitches": 1,
        "thread_length_mm": 1, "file": "../fill.stitches.csv"}]}]})");
    refused(run({"sheets", "planned", "-o", "x.pdf"}), 1);
    QVERIFY(!QFile::exists(dir_.filePath("x.pdf")));
  }
  void tags() {
    const Answer a = run(
        {"tags", "--first", "500", "--count", "40", "--size", "25", "-o", "tags.pdf", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    QCOMPARE(a.json["ids"].toArray().size(), 40);
    QCOMPARE(a.json["ids"].toArray().last().toInt(), 539);
    QVERIFY(a.json["pages"].toInt() >= 2);
    refused(run({"tags", "--first", "580", "--count", "40", "-o", "x.pdf"}), 1);
    refused(run({"tags", "--size", "0", "-o", "x.pdf"}), 1);
    refused(run({"tags", "--count", "many", "-o", "x.pdf"}), 2);
  }
  void nest() {
    const Answer a = run(
        {"nest", "--piece", "40x25", "--count", "30", "--hoop", "200x140", "--gap", "5", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"per_hooping", "hoopings", "positions", "field_use", "cloth_mm2"});
    QCOMPARE(a.json["per_hooping"].toInt(), 16);
    QCOMPARE(a.json["hoopings"].toInt(), 2);
    QCOMPARE(a.json["cloth_mm2"].toDouble(), 2.0 * 230 * 170);
    write("batch.csv", "name,width_mm,height_mm,count\nbadge,60,40,5\nlabel,90,20,7\n");
    const Answer b = run({"nest", "--list", "batch.csv", "--hoop", "200x140", "--turn", "--json"});
    QCOMPARE(b.code, 0);
    int placed = 0;
    for (const QJsonValue& h : b.json["hoopings"].toArray())
      placed += h.toObject()["pieces"].toArray().size();
    QCOMPARE(placed, 12);
    QVERIFY(b.json["lower_bound"].toInt() <= b.json["hoopings"].toArray().size());
    refused(run({"nest", "--piece", "400x25", "--count", "3", "--hoop", "200x140"}), 1);
    refused(run({"nest", "--piece", "40x25", "--hoop", "200x140"}), 2);
    refused(run({"nest", "--piece", "wide", "--count", "3", "--hoop", "200x140"}), 2);
    write("bad.csv", "name,width_mm,height_mm,count\nbadge,60,forty,5\n");
    refused(run({"nest", "--list", "bad.csv", "--hoop", "200x140"}), 1);
  }
  void machineCode() {
    const Answer a = run(
        {"export", "fill.stitches.csv", "--to", "gcode", "--step", "0.25", "-o", "f.g", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    hasKeys(a.json, {"moves", "stitches", "bounds"});
    QFile f(dir_.filePath("f.g"));
    QVERIFY(f.open(QIODevice::ReadOnly));
    int points = 0, threads = 0;
    for (const QByteArray& line : f.readAll().split('\n')) {
      threads += line.startsWith("M6 T");
      points += line.startsWith("G1 ");
      if (!line.startsWith("G")) continue;
      for (const QByteArray& w : line.split(' '))
        if (w.startsWith('X') || w.startsWith('Y')) {
          const double steps = w.mid(1).toDouble() / 0.25;
          QVERIFY2(std::abs(steps - std::round(steps)) < 1e-6, w.constData());
        }
    }
    QCOMPARE(points, a.json["stitches"].toInt());
    QCOMPARE(points, 201 * 51);
    QVERIFY(threads >= 1);
    refused(run({"export", "fill.stitches.csv", "--to", "gcode", "--step", "0", "-o", "x.g"}), 1);
    refused(run({"export", "fill.stitches.csv", "--to", "tape", "-o", "x.g"}), 2);
    QVERIFY(!QFile::exists(dir_.filePath("x.g")));
  }
  void quote() {
    write("rates.json", R"({"currency": "EUR", "labour_per_hour": 30, "machine_per_hour": 12,
        "top_thread_per_1000_m": 3, "bobbin_per_1000_m": 1, "backing_per_m2": 2, "hooping_min": 4,
        "setup_min": 15, "spoilage": 0.05})");
    const Answer a = run({"quote", "fill.stitches.csv", "--rates", "rates.json", "--pieces", "10",
                          "--blank", "7.5", "--margin", "0.25", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    double sum = 0;
    for (const QJsonValue& l : a.json["lines"].toArray()) {
      hasKeys(l.toObject(), {"what", "quantity", "unit", "cost"});
      sum += l.toObject()["cost"].toDouble();
    }
    const double cost = a.json["cost"].toDouble(), price = a.json["price"].toDouble();
    QVERIFY(std::abs(sum - cost) < 0.001);
    QVERIFY(std::abs(price - cost / 0.75) < 0.006);
    const double sewing_s =
        run({"info", "fill.stitches.csv", "--json"}).json["sewing_time_s"].toDouble();
    QVERIFY(std::abs(a.json["minutes"].toDouble() - (10 * sewing_s / 60 + 10 * 4 + 15)) < 1e-6);
    const Answer b =
        run({"quote", "fill.stitches.csv", "--rates", "rates.json", "--price", "200", "--json"});
    QVERIFY(std::abs(b.json["margin"].toDouble() - (200 - b.json["cost"].toDouble()) / 200) < 1e-9);
    refused(run({"quote", "fill.stitches.csv", "--margin", "1"}), 1);
    refused(run({"quote", "fill.stitches.csv", "--price", "5", "--margin", "0.2"}), 2);
    refused(run({"quote", "fill.stitches.csv", "--pieces", "0"}), 1);
    const Answer sets = run({"quote", "fill.stitches.csv", "--rates", "rates.json", "--pieces",
                             "12", "--set", "4", "--each", "60", "--json"});
    QCOMPARE(sets.json["sets"].toInt(), 3);
    QVERIFY(sets.json["break_even_pieces"].toInt() % 4 == 0);
    QVERIFY(sets.json["break_even_pieces"].toInt() > 0);
    refused(run({"quote", "fill.stitches.csv", "--pieces", "10", "--set", "4"}), 1);
    // a paper for the customer: quantities beside one another, each times its sets
    const Answer paper = run({"quote", "fill.stitches.csv", "--pieces", "4", "--set", "4",
                              "--beside", "10,4,100", "--customer", "Mere Lane", "--date",
                              "2032-02-29", "-o", "q.pdf", "--costs", "c.pdf", "--json"});
    QVERIFY2(paper.code == 0, paper.error.constData());
    const QJsonArray offers = paper.json["offers"].toArray();
    QCOMPARE(offers.size(), 3);
    for (const auto& [at, pieces] : {std::pair{0, 4}, {1, 12}, {2, 100}}) {
      const QJsonObject o = offers[at].toObject();
      hasKeys(o, {"pieces", "each", "together", "tax", "to_pay"});
      QCOMPARE(o["pieces"].toInt(), pieces);
      QVERIFY(std::abs(o["each"].toDouble() * pieces / 4 - o["together"].toDouble()) < 1e-6);
    }
    QCOMPARE(paper.json["pages"].toInt(), 1);
    QVERIFY(QFile::exists(dir_.filePath("q.pdf")) && QFile::exists(dir_.filePath("c.pdf")));
    refused(run({"quote", "fill.stitches.csv", "-o", "none.pdf", "--costs", "none.pdf"}), 1);
    refused(run({"quote", "fill.stitches.csv", "--date", "soon"}), 1);  // also where none is used
    for (const char* day : {"2032-02-30", "tomorrow", "2032-2-3x", "32-05-04"})
      refused(run({"quote", "fill.stitches.csv", "--date", day, "-o", "none.pdf"}), 1);
    refused(run({"quote", "fill.stitches.csv", "--beside", "0", "-o", "none.pdf"}), 1);
    QVERIFY(!QFile::exists(dir_.filePath("none.pdf")));
  }
  void ledger() {
    const Answer a = run({"ledger", "add", "--store", "log.sqlite", "--event", "break", "--note",
                          "a \"quoted\", note", "--job", "j1", "--hooping", "2", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    QVERIFY(!a.json["id"].toString().isEmpty());
    QCOMPARE(run({"ledger", "add", "--store", "log.sqlite", "--event", "done"}).code, 0);
    const QJsonArray all =
        run({"ledger", "list", "--store", "log.sqlite", "--json"}).json["records"].toArray();
    QCOMPARE(all.size(), 2);
    QCOMPARE(all[0].toObject()["note"].toString(), QString("a \"quoted\", note"));
    QCOMPARE(run({"ledger", "list", "--store", "log.sqlite", "--event", "done", "--json"})
                 .json["records"]
                 .toArray()
                 .size(),
             1);
    QCOMPARE(run({"ledger", "list", "--store", "log.sqlite", "--since", "2999-01-01", "--json"})
                 .json["records"]
                 .toArray()
                 .size(),
             0);
    for (const char* file : {"log.csv", "log.json"}) {
      QCOMPARE(run({"ledger", "export", "--store", "log.sqlite", "-o", file, "--json"})
                   .json["records"]
                   .toInt(),
               2);
      QCOMPARE(run({"ledger", "import", file, "--store", "log.sqlite", "--json"})
                   .json["records"]
                   .toInt(),
               0);
      const QString other = QString(file) + ".sqlite";
      QCOMPARE(run({"ledger", "import", file, "--store", other, "--json"}).json["records"].toInt(),
               2);
      const QJsonArray back =
          run({"ledger", "list", "--store", other, "--json"}).json["records"].toArray();
      QCOMPARE(back, all);
    }
    QCOMPARE(run({"ledger", "backup", "--store", "log.sqlite", "-o", "copy.sqlite", "--json"})
                 .json["records"]
                 .toInt(),
             2);
    QVERIFY(run({"ledger", "check", "--store", "copy.sqlite", "--json"}).json["sound"].toBool());
    write("junk.sqlite", "not a ledger");
    QCOMPARE(run({"ledger", "check", "--store", "junk.sqlite", "--json"}).code, 1);
    refused(run({"ledger", "list", "--store", "junk.sqlite"}), 1);
    refused(run({"ledger", "list", "--store", "none.sqlite"}), 1);
    refused(run({"ledger", "backup", "--store", "log.sqlite", "-o", "log.sqlite"}), 1);
    refused(run({"ledger", "add", "--store", "log.sqlite"}), 2);
    refused(run({"ledger"}), 2);
  }
  void align() {
    const Answer a = run({"align", "--setup", "setup.json", "--points", "points.csv", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    hasKeys(a.json, {"status", "fit", "dx_mm", "dy_mm", "rotation_deg", "scale_x", "scale_y",
                     "skew_deg", "rms_mm", "marks", "missing", "plane", "error_at_mm", "advice"});
    QVERIFY(std::abs(a.json["rotation_deg"].toDouble() - 1.97) < 0.2);
    refused(run({"align", "--setup", "setup.json"}), 2);
    refused(run({"align", "--setup", "fill.stitches.csv", "--points", "points.csv"}), 1);
  }
  void templates() {
    const Answer a = run(
        {"template", "fill.stitches.csv", "--paper", "A4", "--mirror", "-o", "t.pdf", "--json"});
    QCOMPARE(a.code, 0);
    hasKeys(a.json, {"pages", "tiles", "scale", "warnings"});
    QCOMPARE(a.json["scale"].toDouble(), 1.0);
    refused(run({"template", "fill.stitches.csv", "-o", "no/folder/t.pdf"}), 1);
  }
  void refusalsAreOneLine() {
    refused(run({}), 2);
    refused(run({"dance"}), 2);
    refused(run({"info"}), 2);
    refused(run({"info", "fill.stitches.csv", "--wide"}), 2);
    refused(run({"info", "missing.csv"}), 1);
    refused(run({"info", "."}), 1);
    refused(run({"info", "art.svg"}), 1);
    refused(run({"density", "fill.stitches.csv", "--scale", "0"}), 1);
    refused(run({"density", "fill.stitches.csv", "--scale", "-2"}), 1);
    refused(run({"density", "fill.stitches.csv", "--fabric", "silk"}), 1);
    refused(run({"resize", "fill.stitches.csv", "--scale", "nan", "-o", "x.csv"}), 1);
    refused(run({"resize", "fill.stitches.csv", "--scale", "big", "-o", "x.csv"}), 2);
    QVERIFY(!QFile::exists(dir_.filePath("x.csv")));
  }
};

RT_TEST(TestCli)

}  // namespace test_cli
#include "test_cli.moc"
