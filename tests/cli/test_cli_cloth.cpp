// Cloth that moves, and lists placed in the hoop, by the command line.
#include <cmath>

#include "cli_folder.h"
#include "run.h"

namespace test_cli_cloth {

class TestCliCloth : public QObject, rt::testing::CliFolder {
  Q_OBJECT
  Answer done(const QStringList& words) {
    const Answer a = run(QStringList{"--shipped"} + words + QStringList{"--json"});
    if (a.code != 0) qWarning("%s", a.error.constData());
    return a;
  }
  /// Fields of the data lines.
  QList<QList<QByteArray>> rows(const QString& name) {
    QList<QList<QByteArray>> out;
    for (const QByteArray& line : read(name).split('\n'))
      if (!line.isEmpty() && !line.startsWith('#')) out << line.split(',');
    if (!out.isEmpty()) out.removeFirst();
    return out;
  }

 private slots:
  void initTestCase() {
    write("setup.json",
          R"({"hoop": {"id": "f", "field_mm": [100, 100], "tag_size_mm": 12, "tags": []}})");
    QCOMPARE(done({"cloth", "swatch", "--fabric", "jersey", "-o", "swatch.csv"}).code, 0);
    QCOMPARE(done({"cloth", "learn", "--fabric", "jersey", "-o", "start.json"}).code, 0);
  }

  void theSwatchSaysWhatItHolds() {
    const Answer a = done({"cloth", "swatch", "--size", "50x70", "-o", "other.csv"});
    QCOMPARE(a.code, 0);
    QVERIFY(a.json["minutes"].toDouble() > 1 && a.json["minutes"].toDouble() < 6);
    for (const QJsonValue& s : a.json["shapes"].toArray()) {
      const QJsonArray at = s["at_mm"].toArray();
      QVERIFY(std::abs(at[0].toDouble()) + s["width_mm"].toDouble() / 2 <= 25);
      QVERIFY(std::abs(at[1].toDouble()) + s["height_mm"].toDouble() / 2 <= 35);
      QVERIFY(!s["name"].toString().isEmpty() && !s["kind"].toString().isEmpty());
    }
    QCOMPARE(a.json["marks"].toArray().size(), 8);
    for (const auto& row : rows("other.csv"))
      QVERIFY(std::abs(row[0].toDouble()) <= 25 && std::abs(row[1].toDouble()) <= 35);
    refused({"cloth", "swatch", "--size", "10x10", "-o", "x.csv"}, 1, "40 mm or more");
    refused({"cloth", "swatch", "--size", "wide", "-o", "x.csv"}, 1, "no size");
    refused({"cloth", "swatch", "--fabric", "tin", "-o", "x.csv"}, 1, "tin");
    refused({"cloth", "swatch"}, 2, "-o");
    QVERIFY(!QFile::exists(dir_.filePath("x.csv")));
  }

  void withoutPlacesTheStartingValuesStand() {
    const Answer a = done({"cloth", "learn", "--fabric", "jersey", "-o", "again.json"});
    QCOMPARE(a.json["learned_from"].toInt(-1), 0);
    QVERIFY(a.json["parameters"].toArray().size() >= 10);
    for (const QJsonValue& p : a.json["parameters"].toArray())
      QVERIFY(p["sigma"].toDouble() > 0 && p.toObject().contains("unit"));
    QVERIFY(!a.json["warnings"].toArray().isEmpty());
    QCOMPARE(read("again.json"), read("start.json"));
    refused({"cloth", "learn", "--fabric", "tin", "-o", "x.json"}, 1, "tin");
  }

  /// Places that a known cloth would give, by predict: learned from, predict gives them nearly
  /// back.
  void whatIsLearnedFromPointsForetells() {
    QByteArray cloth = read("start.json");
    QJsonObject made = QJsonDocument::fromJson(cloth).object();
    QJsonArray parameters = made["parameters"].toArray();
    for (QJsonValueRef p : parameters) {
      QJsonObject o = p.toObject();
      const QString name = o["name"].toString();
      if (name == "pull_x") o["value"] = 0.05;
      if (name == "edge_x_mm") o["value"] = 0.25;
      if (name == "stretch_ratio") o["value"] = 0.6;
      p = o;
    }
    made["parameters"] = parameters;
    write("made.json", QJsonDocument(made).toJson());
    const Answer truth = done({"cloth", "predict", "swatch.csv", "--cloth", "made.json", "--hoop",
                               "100x100", "-o", "lies.csv"});
    QCOMPARE(truth.code, 0);
    const auto lies = rows("lies.csv");
    QByteArray points = "row,x_mm,y_mm\n";
    for (qsizetype i = 0; i < lies.size(); i += 4)
      if (lies[i][2] == "stitch")
        points += QByteArray::number(i + 1) + ',' + lies[i][0] + ',' + lies[i][1] + '\n';
    write("points.csv", points);
    const Answer a = done({"cloth", "learn", "--points", "points.csv", "--sewn", "swatch.csv",
                           "--setup", "setup.json", "--fabric", "jersey", "-o", "learned.json"});
    QCOMPARE(a.code, 0);
    QCOMPARE(a.json["learned_from"].toInt(), 1);
    QVERIFY(a.json["after_mm"]["median"].toDouble() <
            0.3 * a.json["before_mm"]["median"].toDouble());
    QVERIFY(done({"cloth", "predict", "swatch.csv", "--cloth", "learned.json", "--hoop", "100x100",
                  "-o", "told.csv"})
                .code == 0);
    const auto told = rows("told.csv");
    QCOMPARE(told.size(), lies.size());
    double worst = 0;
    for (qsizetype i = 0; i < lies.size(); ++i)
      worst = std::max(worst, std::hypot(lies[i][0].toDouble() - told[i][0].toDouble(),
                                         lies[i][1].toDouble() - told[i][1].toDouble()));
    QVERIFY2(worst < 0.3 * truth.json["moved_mm"]["worst"].toDouble(),
             qPrintable(QString::number(worst)));
    const Answer second =
        done({"cloth", "learn", "--points", "points.csv", "--sewn", "swatch.csv", "--setup",
              "setup.json", "--from", "learned.json", "-o", "second.json"});
    QCOMPARE(second.json["learned_from"].toInt(), 2);

    const Answer c = done({"cloth", "compensate", "swatch.csv", "--cloth", "learned.json", "--hoop",
                           "100x100", "-o", "sewn.csv"});
    QCOMPARE(c.code, 0);
    QVERIFY(c.json["off_after_mm"]["median"].toDouble() <
            0.3 * c.json["off_before_mm"]["median"].toDouble());
    QVERIFY(c.json["bound_mm"].toDouble() > 0);
    const auto drawn = rows("swatch.csv"), sewn = rows("sewn.csv");
    QCOMPARE(sewn.size(), drawn.size());
    for (qsizetype i = 0; i < drawn.size(); ++i) QCOMPARE(sewn[i].mid(2), drawn[i].mid(2));
  }

  void placesThatCannotBeAreRefused() {
    const QStringList learn{"cloth",      "learn",   "--points",   "bad.csv", "--sewn",
                            "swatch.csv", "--setup", "setup.json", "-o",      "x.json"};
    const struct {
      const char *text, *says;
    } bad[] = {{"row,x_mm,y_mm\n999999,0,0\n", "not in the list"},
               {"row,x_mm,y_mm\n1,0,0\n", "no needle point"},
               {"row,x_mm,y_mm\n0,0,0\n", "not in the list"},
               {"row,x_mm,y_mm\n3,0,0\n3,0,0\n", "twice"},
               {"row,x_mm,y_mm\n3,70,0\n", "beyond the frame"},
               {"row,x_mm,y_mm\n3,nan,0\n", "x_mm"},
               {"row,x_mm\n3,1\n", "y_mm"},
               {"row,x_mm,y_mm\n", "no points"}};
    for (const auto& b : bad) {
      write("bad.csv", b.text);
      refused(learn, 1, b.says);
    }
    refused({"cloth", "learn", "--points", "bad.csv", "-o", "x.json"}, 2, "--sewn");
    refused({"cloth", "predict", "swatch.csv", "--cloth", "start.json", "--hoop", "50x50", "-o",
             "x.csv"},
            1, "leaves the field");
    refused({"cloth", "compensate", "swatch.csv", "--cloth", "start.json", "--hoop", "50x50", "-o",
             "x.csv"},
            1, "leaves the field");
    refused({"cloth", "predict", "swatch.csv", "--cloth", "setup.json", "--hoop", "90x90", "-o",
             "x.csv"},
            1, "fabric");
    QVERIFY(!QFile::exists(dir_.filePath("x.json")) && !QFile::exists(dir_.filePath("x.csv")));
  }

  /// p_hoop = R diag(sx, sy) K p + d, with what is not followed left out.
  void aListIsPlacedAsTheAlignmentSays() {
    write("a.csv",
          "# rapt-stitches 1\nx_mm,y_mm,op,thread\n0,0,jump,#2f5d50\n"
          "11.95,0,stitch,#2f5d50\n11.95,10,stitch,#2f5d50\n,,end,\n");
    const auto alignment = [&](const char* fit, const char* status) {
      QJsonObject a{{"status", status},   {"fit", fit},      {"dx_mm", 3},      {"dy_mm", -4},
                    {"rotation_deg", 30}, {"scale_x", 1.02}, {"scale_y", 0.99}, {"skew_deg", 2}};
      write("align.json", QJsonDocument(a).toJson());
    };
    const auto expected = [](QString fit, double x, double y) {
      const double sx = fit == "rigid" ? 1 : 1.02, sy = fit == "rigid" ? 1 : 0.99;
      const double skew = fit == "affine" ? std::tan(2 * M_PI / 180) : 0, a = M_PI / 6;
      const double u = sx * (x + skew * y), v = sy * y;
      return std::pair{std::cos(a) * u - std::sin(a) * v + 3,
                       std::sin(a) * u + std::cos(a) * v - 4};
    };
    for (const char* own : {"rigid", "similarity", "affine"})
      for (const char* asked : {"", "rigid", "similarity", "affine"}) {
        alignment(own, "ready");
        QStringList words{"place", "a.csv", "--alignment", "align.json", "-o", "placed.csv"};
        if (*asked) words << "--fit" << asked;
        const Answer a = done(words);
        QCOMPARE(a.code, 0);
        const QString fit = *asked ? asked : own;
        const auto placed = rows("placed.csv");
        const auto [x, y] = expected(fit, 11.95, 10);
        QVERIFY(std::abs(placed[2][0].toDouble() - x) < 0.006);
        QVERIFY(std::abs(placed[2][1].toDouble() - y) < 0.006);
        QCOMPARE(a.json["scale_x"].toDouble(), fit == "rigid" ? 1 : 1.02);
        QCOMPARE(a.json["skew_deg"].toDouble(), fit == "affine" ? 2.0 : 0.0);
        QCOMPARE(a.json["rotation_deg"].toDouble(), 30.0);
        // 11.95 mm of 1.02 is over what a stitch may have
        QVERIFY(std::abs(a.json["longest_stitch_mm"].toDouble() -
                         (fit == "rigid" ? 11.95 : 11.95 * 1.02)) < 0.01);
        QVERIFY(a.json["warnings"].toArray().size() >= (fit == "rigid" ? 0 : 1));
        if (fit == "rigid") QVERIFY(a.json["warnings"].toArray().isEmpty());
      }
    alignment("rigid", "rehoop");
    QVERIFY(done({"place", "a.csv", "--alignment", "align.json", "-o", "placed.csv"})
                .json["warnings"]
                .toArray()[0]
                .toString()
                .contains("re-hoop"));
    write("align.json", R"({"status": "ready", "fit": "rigid", "dx_mm": 1})");
    refused({"place", "a.csv", "--alignment", "align.json", "-o", "x.csv"}, 1, "dy_mm");
    write("align.json", "[1]");
    refused({"place", "a.csv", "--alignment", "align.json", "-o", "x.csv"}, 1, "no alignment");
    refused({"place", "a.csv", "-o", "x.csv"}, 2, "--alignment");
  }

  /// A job that follows its cloth sews other needle points, says so, and goes back as it was.
  void aJobFollowsItsCloth() {
    QCOMPARE(done({"job", "job.rapt", "new", "--fabric", "jersey"}).code, 0);
    QCOMPARE(done({"job", "job.rapt", "letter", "OWL", "--height", "20"}).code, 0);
    const auto laid = [&] {
      done({"job", "job.rapt", "export", "-o", "laid.csv"});
      return read("laid.csv");
    };
    const QByteArray drawn = laid();
    QVERIFY(!drawn.isEmpty());
    QCOMPARE(done({"job", "job.rapt", "cloth", "--as", "starting"}).code, 0);
    QVERIFY(laid() != drawn);
    QCOMPARE(done({"job", "job.rapt", "cloth", "--as", "drawn"}).code, 0);
    QCOMPARE(laid(), drawn);
    done({"cloth", "learn", "--fabric", "terry", "-o", "terry.json"});
    refused({"job", "job.rapt", "cloth", "--cloth", "terry.json"}, 1, "terry");
    refused({"job", "job.rapt", "cloth"}, 2, "--cloth");
  }
};

RT_TEST(TestCliCloth)

}  // namespace test_cli_cloth

#include "test_cli_cloth.moc"
