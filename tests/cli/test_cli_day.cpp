// The day by the command line: plans, the rest after an event, job files, and days that cannot be.

#include "cli_folder.h"
#include "run.h"

namespace test_cli_day {

const QByteArray kDay =
    R"({"from": "2027-03-02T08:00", "hours": [["08:00", "12:00"], ["12:30", "17:00"]],
 "days": 2, "hands": 1, "sews_alone": "breaks",
 "machines": [{"id": "left", "needles": ["#2f5d50", "#5f7f3a", null], "frames": ["big", "mid"], "pace": 1.0},
              {"id": "right", "needles": [null], "frames": ["mid"], "pace": 0.8}],
 "frames": {"big": 1, "mid": 3},
 "times": {"hoop_s": 300, "mount_s": 180, "thread_s": 60, "off_s": 60, "unhoop_s": 120},
 "stock": {"threads": [{"thread": "#2f5d50", "metres": 900}], "backing_mm2": 800000},
 "jobs": [{"id": "banner", "due": "2027-03-02T11:00", "weight": 2,
           "hoopings": [{"frame": "big", "sew": [{"thread": "#2F5D50", "s": 1600, "metres": 31.5}]}]},
          {"id": "tags", "due": "2027-03-03T12:00", "pieces": 3, "after": ["banner"],
           "hoopings": [{"frame": "mid", "backing_mm2": 40000,
                         "sew": [{"thread": "#2f5d50", "s": 600, "metres": 31.5},
                                 {"thread": "#5f7f3a", "s": 240, "metres": 9}]}]}]})";

class TestCliDay : public QObject, rt::testing::CliFolder {
  Q_OBJECT
  void refusedDay(const char* what, const char* with, const char* says) {
    QByteArray day = kDay;
    QVERIFY2(day.contains(what), what);
    write("bad.json", day.replace(what, with));
    refused({"day", "bad.json", "--seconds", "0", "--json"}, 1, says);
  }

 private slots:
  void initTestCase() { write("day.json", kDay); }

  void aDayIsPlanned() {
    const Answer a = run({"day", "day.json", "--seconds", "0.2", "-o", "plan.json", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    for (const char* key :
         {"tasks", "late", "late_minutes", "ends", "thread_tasks", "waiting_minutes", "lower_bound",
          "needs_you", "stock", "left_out", "warnings"})
      QVERIFY2(a.json.contains(key), key);
    QCOMPARE(a.json["late_minutes"].toDouble(), 0.0);
    const QJsonArray tasks = a.json["tasks"].toArray();
    int sewn = 0, hands = 0;
    QString before;
    for (const QJsonValue& v : tasks) {
      const QJsonObject t = v.toObject();
      QVERIFY(t["from"].toString() >= before);
      before = t["from"].toString();
      sewn += t["what"] == "sew";
      hands += t.contains("hand");
      if (t["what"] == "sew") QVERIFY(t.contains("step") && !t.contains("hand"));
      if (t["what"] == "thread") QVERIFY(t.contains("needle") && t.contains("thread"));
      if (t["what"] == "hoop") QVERIFY(!t.contains("machine"));
    }
    QCOMPARE(sewn, 7);
    QCOMPARE(a.json["needs_you"].toArray().size(), hands);
    const QJsonObject green = a.json["stock"].toArray()[0].toObject();
    QCOMPARE(green["what"].toString(), QString("#2f5d50"));
    QCOMPARE(green["needed"].toDouble(), 4 * 31.5);
    QCOMPARE(green["there"].toDouble(), 900.0);
    QVERIFY(a.json["stock"].toArray()[1].toObject()["there"].isNull());
    QFile plan(dir_.filePath("plan.json"));
    QVERIFY(plan.open(QIODevice::ReadOnly));
    QCOMPARE(QJsonDocument::fromJson(plan.readAll()).object(), a.json);
  }

  void theRestGoesOnFromWhatWasDone() {
    const QJsonObject first = run({"day", "day.json", "--seconds", "0.1", "--json"}).json;
    QJsonArray done;
    for (const QJsonValue& v : first["tasks"].toArray())
      if (v.toObject()["from"].toString() < "2027-03-02T08:30:00") done.append(v);
    QVERIFY(done.size() >= 3);
    write("done.json", QJsonDocument(QJsonObject{{"tasks", done}}).toJson());
    const Answer a = run({"day", "day.json", "--after", "2027-03-02T08:30", "--done", "done.json",
                          "--seconds", "0.1", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    const QJsonArray tasks = a.json["tasks"].toArray();
    for (const QJsonValue& v : done) QVERIFY(tasks.contains(v));
    QCOMPARE(tasks.size(), first["tasks"].toArray().size());
    // the needle's first thread is kept, and what was begun twice is refused
    done.append(done[0]);
    write("twice.json", QJsonDocument(QJsonObject{{"tasks", done}}).toJson());
    refused({"day", "day.json", "--after", "2027-03-02T08:30", "--done", "twice.json"}, 1, "done:");
    refused({"day", "day.json", "--after", "2027-03-02T08:00", "--done", "done.json"}, 1,
            "begins at the time");
    refused({"day", "day.json", "--after", "2027-03-02T08:30"}, 1, "go together");
    refused({"day", "day.json", "--after", "noon", "--done", "done.json"}, 1, "is no time");
  }

  void whatLacksIsLeftOutAndNamed() {
    QByteArray day = kDay;
    write("short.json", day.replace("\"metres\": 900", "\"metres\": 100"));
    const Answer a = run({"day", "short.json", "--seconds", "0.1", "--json"});
    QCOMPARE(a.code, 0);
    const QJsonArray out = a.json["left_out"].toArray();
    QCOMPARE(out.size(), 1);
    QCOMPARE(out[0].toObject()["job"].toString(), QString("tags"));
    QVERIFY(out[0].toObject()["why"].toString().contains("#2f5d50"));
    QVERIFY(a.json["stock"].toArray()[0].toObject()["short"].toDouble() > 25);
    day = kDay;
    write("none.json", day.replace("\"big\": 1", "\"big\": 0"));
    const Answer b = run({"day", "none.json", "--seconds", "0.1", "--json"});
    QCOMPARE(b.json["left_out"].toArray().size(), 4);  // the tags come after the banner
    QVERIFY(b.json["tasks"].toArray().isEmpty());
  }

  void daysThatCannotBeAreRefused() {
    refusedDay("\"frames\": [\"mid\"]", "\"frames\": []", "takes no frame");
    refusedDay("\"frames\": [\"mid\"]", "\"frames\": [\"odd\"]", "odd");
    refusedDay("[\"12:30\", \"17:00\"]", "[\"11:30\", \"17:00\"]", "hours cross");
    refusedDay("[\"12:30\", \"17:00\"]", "[\"22:00\", \"06:00\"]", "hours cross");
    refusedDay("\"weight\": 2", "\"after\": [\"tags\"]", "after itself");
    refusedDay("\"due\": \"2027-03-02T11:00\"", "\"due\": \"2027-03-01T11:00\"", "due before");
    refusedDay("\"days\": 2", "\"days\": 400", "days");
    refusedDay("\"pieces\": 3", "\"pieces\": 20000", "pieces");
    refusedDay("\"sews_alone\": \"breaks\"", "\"sews_alone\": \"often\"", "sews_alone");
    refusedDay("\"hands\": 1", "\"hands\": 0", "hands");
    refusedDay("\"needles\": [null]", "\"needles\": []", "no needle");
    refusedDay("\"needles\": [null]", "\"needles\": [\"green\"]", "#rrggbb");
    refusedDay("\"after\": [\"banner\"]", "\"after\": [\"flag\"]", "no job");
    refusedDay("\"id\": \"tags\"", "\"id\": \"banner\"", "banner");
    refusedDay("\"from\": \"2027-03-02T08:00\"", "\"from\": \"2027-02-30T08:00\"", "no time");
    refusedDay("\"hoopings\": [{\"frame\": \"big\"",
               "\"file\": \"none.rapt\", \"x\": [{\"frame\": \"big\"", "none.rapt");
    refusedDay("\"jobs\":",
               "\"closed\": [{\"machine\": \"left\", \"hand\": 1, \"from\": \"2027-03-02T09:00\", "
               "\"to\": \"2027-03-02T10:00\"}], \"jobs\":",
               "machine or a hand");
    refusedDay("\"jobs\":",
               "\"closed\": [{\"machine\": \"odd\", \"from\": \"2027-03-02T09:00\", \"to\": "
               "\"2027-03-02T10:00\"}], \"jobs\":",
               "odd");
    refused({"day", "not-there.json"}, 1, "not-there.json");
    write("torn.json", kDay.left(400));
    refused({"day", "torn.json"}, 1, "torn.json");
  }

  /// A job of a file: the hoopings of its plan, made with its own frame where there is none.
  void jobFilesAreHoopings() {
    const Answer made =
        run({"job", "tags.rapt", "new", "--title", "Tags", "--fabric", "felt", "--json"});
    QVERIFY2(made.code == 0, made.error.constData());
    QVERIFY(run({"job", "tags.rapt", "letter", "QUILL", "--face", "sans-bold", "--height", "12"})
                .code == 0);
    QByteArray day = kDay;
    const int from = static_cast<int>(day.indexOf("\"hoopings\": [{\"frame\": \"big\""));
    const int to = static_cast<int>(day.indexOf("]}]}", from)) + 3;
    day.replace(from, to - from, "\"file\": \"tags.rapt\"");
    day.replace("\"big\"", "\"field-200x140\"");
    write("file.json", day);
    const Answer a = run({"day", "file.json", "--seconds", "0.1", "--json"});
    QVERIFY2(a.code == 0, a.error.constData());
    QVERIFY(a.json["left_out"].toArray().isEmpty());
  }
};

RT_TEST(TestCliDay)

}  // namespace test_cli_day
#include "test_cli_day.moc"
