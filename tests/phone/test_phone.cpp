// Phones beside the window: what they are told is what is so, and what they send is what Align
// reads.
#include <QProcess>

#include "comes.h"
#include "phone_desk.h"
#include "run.h"

namespace test_phone {

using namespace rt;
using Phase = MachineLink::Phase;
using testing::HttpTalk;
using testing::PhoneDesk;

Transform turned(double deg, double dx, double dy) {
  return Transform::moving({dx, dy}) * Transform::turning(deg);
}

class TestPhone : public QObject {
  Q_OBJECT

 private slots:
  void theStateHasItsWords() {
    PhoneDesk d(RT_STANDIN);
    QJsonObject state = d.ask("GET", "/api/state").json();
    QVERIFY(state.value("hooping").isNull());
    d.plan();
    state = d.stateWhen([](const QJsonObject& s) { return s["hooping"].isObject(); });
    QCOMPARE(state.value("job")["title"].toString().toStdString(), d.desk->job().title);
    QCOMPARE(state.value("hooping")["index"].toInt(), d.desk->hooping());
    QCOMPARE(state.value("hooping")["of"].toInt(),
             static_cast<int>(d.desk->plan()->hoopings.size()));
    QCOMPARE(state.value("hooping")["frame"].toString(), QString("field-200x140"));
    QVERIFY(state.value("hooping")["verdict"].isNull());
    QVERIFY(state.value("machines").toArray().isEmpty() &&
            state.value("needs_you").toArray().isEmpty());
  }

  /// The photo becomes a scan of the job, its verdict is the one that every other screen has.
  void aScanIsWhatAlignHas() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    const auto said = d.scan(d.photoOf(1, turned(2, 1.1, -0.6)), "?hooping=1");
    QCOMPARE(said.status, 200);
    const QJsonObject v = said.json();
    const std::optional<Alignment> a = d.desk->alignmentOf(1);
    QVERIFY(a);
    QCOMPARE(v["status"].toString(), QString("ready"));
    QCOMPARE(v["rotation_deg"].toDouble(), a->fit.rotation_deg);
    QVERIFY(std::abs(v["rotation_deg"].toDouble() - 2) < 0.1);
    QVERIFY(std::abs(v["dx_mm"].toDouble() - 1.1) < 0.2 &&
            std::abs(v["dy_mm"].toDouble() + 0.6) < 0.2);
    QCOMPARE(v["worst_corner_mm"].toDouble(), a->error_worst_mm);
    QVERIFY(v["missing"].toArray().isEmpty());
    // the state that is asked for next is no older
    const QJsonObject state = d.ask("GET", "/api/state").json();
    QCOMPARE(state.value("hooping")["verdict"].toString(), QString("ready"));
    QCOMPARE(state.value("hooping")["sentence"], v["sentence"]);
    // the same scan stands at Align, and says where it came from
    d.desk->settle();
    const ScanTaken* shown = d.desk->scans().shown();
    QVERIFY(shown && shown->scan.name.find("127.0.0.1") != std::string::npos);
    QCOMPARE(d.desk->scans().reading()->photo.found.alignment.status, Readiness::Ready);
    QCOMPARE(d.desk->clearance().cloth.alignment->fit.rotation_deg, a->fit.rotation_deg);
    const auto picture = d.ask("GET", "/api/picture?hooping=1");
    QCOMPARE(picture.status, 200);
    QVERIFY(!QImage::fromData(picture.body).isNull());
  }

  void aMissingMarkIsNamed() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    const std::string gone = d.desk->scanHeld(1)->setup.crosses.front().name;
    const auto said = d.scan(d.photoOf(1, turned(1, 0.5, 0.5), 1600, gone));
    QCOMPARE(said.status, 200);
    const QJsonArray missing = said.json()["missing"].toArray();
    QCOMPARE(missing.size(), 1);
    QCOMPARE(missing[0]["id"].toString().toStdString(), gone);
  }

  /// A photo that cannot be read says why, and leaves no green verdict of before in force.
  void aPhotoThatCannotBeReadTakesTheVerdictBack() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    QCOMPARE(d.scan(d.photoOf(1, turned(1, 0, 0))).status, 200);
    QVERIFY(d.desk->alignmentOf(1));
    const QByteArray jpeg = testing::barePhoto();
    const auto said = d.scan(jpeg);
    QCOMPARE(said.status, 422);
    QVERIFY(!said.json()["error"].toString().isEmpty());
    QVERIFY(!d.desk->alignmentOf(1));
    QVERIFY(d.ask("GET", "/api/state").json()["hooping"]["verdict"].isNull());
    // what is no photo at all is no scan either
    const size_t scans = d.desk->scans().scans().size();
    for (const QByteArray& bytes :
         {QByteArray("not a photo"), jpeg.left(jpeg.size() / 2), QByteArray("")})
      QCOMPARE(d.scan(bytes).status, 422);
    QCOMPARE(d.desk->scans().scans().size(), scans);
  }

  /// Of another hooping than the one in hand: kept with its own, the one in hand stays in hand.
  void aScanOfAnotherHoopingGoesToIt() {
    PhoneDesk d(RT_STANDIN);
    d.plan("hide-banner", "field-300x200");
    QVERIFY(d.desk->plan()->hoopings.size() > 2);
    const QByteArray second = d.photoOf(2, turned(1.5, 0.4, 0.2));
    const auto said = d.scan(second, "?hooping=2");
    QCOMPARE(said.status, 200);
    QCOMPARE(said.json()["hooping"].toInt(), 2);
    QCOMPARE(d.desk->hooping(), 1);
    QVERIFY(!d.desk->alignmentOf(1) && d.desk->alignmentOf(2));
    QVERIFY(d.ask("GET", "/api/state").json()["hooping"]["verdict"].isNull());
    // frames are alike: its marks tell which one it is
    QCOMPARE(d.scan(second).json()["hooping"].toInt(), 2);
    QCOMPARE(d.scan(second, "?hooping=99").status, 404);
  }

  /// Several at once: each gets its own answer.
  void severalPhonesAreAnswered() {
    PhoneDesk d(RT_STANDIN);
    d.plan("hide-banner", "field-300x200");
    std::vector<std::unique_ptr<HttpTalk>> phones;
    for (int h : {1, 2, 3}) {
      phones.push_back(std::make_unique<HttpTalk>(d.port()));
      phones.back()->ask("POST", "/api/scan?hooping=" + QByteArray::number(h), d.key(),
                         "Content-Type: image/jpeg\r\n", d.photoOf(h, turned(h, 0, 0)));
    }
    for (int h : {1, 2, 3}) {
      const QJsonObject v = phones[static_cast<size_t>(h - 1)]->answer().json();
      QCOMPARE(v["hooping"].toInt(), h);
      QVERIFY(std::abs(v["rotation_deg"].toDouble() - h) < 0.1);
    }
  }

  void aScanWaitsForThePlan() {
    PhoneDesk d(RT_STANDIN);
    QCOMPARE(d.scan("photo").status, 409);
    Job job = demoJob(d.desk->bench(), "wardens-gilet");
    job.plan_settings.hoop = "field-200x140";
    d.phone->planByItself();
    d.desk->take(job, {});
    HttpTalk talk(d.port());
    QVERIFY(testing::comes([&] { return d.desk->planning() || d.desk->planCurrent(); }));
    talk.ask("POST", "/api/scan?hooping=1", d.key(), "Content-Type: image/jpeg\r\n", "no photo");
    QCOMPARE(talk.answer().status, 422);  // it was read, by the plan that was made meanwhile
    QVERIFY(d.desk->planCurrent());
  }

  /// Trouble is told as it comes; a machine that sews can be paused, and nothing else can be done.
  void machinesAreToldAndPaused() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    d.clearTheRest();
    d.load();
    MachineLink& machine = d.desk->run().machine();
    const QByteArray id = machine.machineId().toLatin1();
    const QByteArray pause = "/api/pause?machine=" + id;
    const auto doing = [](const QJsonObject& s) { return s["machines"][0]["doing"].toString(); };
    QJsonObject state =
        d.stateWhen([&](const QJsonObject& s) { return s.value("machines")[0]["of"].toInt() > 0; });
    QCOMPARE(doing(state), QString("idle"));
    QCOMPARE(state.value("machines")[0]["id"].toString().toLatin1(), id);
    QCOMPARE(state.value("machines")[0]["of"].toInt(),
             static_cast<int>(d.desk->run().sent()->rows.stitches.size()));
    QVERIFY(state.value("machines")[0]["minutes_left"].toDouble() > 0);
    QCOMPARE(d.ask("POST", pause).status, 409);
    QCOMPARE(d.ask("POST", "/api/pause?machine=none").status, 404);
    for (const char* path : {"/api/start", "/api/sew", "/api/load", "/api/move", "/api/go-on"})
      QCOMPARE(d.ask("POST", path).status, 404);
    HttpTalk hears(d.port());
    hears.ask("GET", "/api/events", d.key());
    QCOMPARE(hears.answer().status, 200);
    d.desk->sewOn();
    state = d.stateWhen([&](const QJsonObject& s) { return doing(s) == "sewing"; });
    QCOMPARE(doing(state), QString("sewing"));
    QVERIFY(state.value("machines")[0]["thread"].toString().startsWith('#'));
    QVERIFY(!state.value("machines")[0]["needs_you_at"].toString().isEmpty());
    QCOMPARE(state.value("needs_you")[0]["machine"].toString().toLatin1(), id);
    QCOMPARE(d.ask("POST", pause).status, 200);
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Paused; }));
    state = d.stateWhen([&](const QJsonObject& s) { return doing(s) == "paused"; });
    QCOMPARE(doing(state), QString("paused"));
    QCOMPARE(d.ask("POST", pause).status, 409);
    machine.strike(QStringLiteral("break"), 30);
    machine.setSpeedUp(1000);
    d.desk->sewOn();
    QVERIFY(hears.heardUntil("\"trouble\":\"break\"").contains("\"trouble\":\"break\""));
    state = d.stateWhen([&](const QJsonObject& s) { return doing(s) == "waiting"; });
    QCOMPARE(state.value("machines")[0]["trouble"].toString(), QString("break"));
    QCOMPARE(state.value("needs_you")[0]["what"].toString(), QString("break"));
    machine.strike(QStringLiteral("power"), 20);
    d.desk->sewOn();
    state = d.stateWhen([&](const QJsonObject& s) { return doing(s) == "away"; });
    QCOMPARE(state.value("machines")[0]["trouble"].toString(), QString("power"));
  }

  /// A page a clamping, as they are printed.
  void sheetsAreShown() {
    PhoneDesk d(RT_STANDIN);
    QCOMPARE(d.ask("GET", "/api/sheet?hooping=1").status, 409);
    d.plan();
    (void)d.stateWhen([](const QJsonObject& s) { return s["hooping"].isObject(); });
    const QJsonArray all = d.ask("GET", "/api/sheet").json()["sheets"].toArray();
    QCOMPARE(all.size(), static_cast<qsizetype>(d.desk->plan()->hoopings.size()));
    for (const QJsonValue& s : all)
      for (int page = 1; page <= s["pages"].toInt(); ++page) {
        const auto sheet =
            d.ask("GET", "/api/sheet?hooping=" + QByteArray::number(s["hooping"].toInt()) +
                             "&page=" + QByteArray::number(page));
        QCOMPARE(sheet.headers["content-type"], QByteArray("image/png"));
        QVERIFY(QImage::fromData(sheet.body).width() > 600);
      }
    QCOMPARE(d.ask("GET", "/api/sheet?hooping=1&page=50").status, 404);
  }

  void aKeyCanBeWithdrawn() {
    PhoneDesk d(RT_STANDIN);
    const QByteArray before = d.key();
    QCOMPARE(d.ask("GET", "/api/state").status, 200);
    d.phone->withdrawKey();
    QVERIFY(d.key() != before);
    QCOMPARE(testing::httpAsk(d.port(), "GET", "/api/state", before).status, 401);
    QCOMPARE(d.ask("GET", "/api/state").status, 200);
    const quint16 port = d.port();
    d.phone->close();
    QVERIFY(!HttpTalk(port).isOpen());
    QVERIFY(d.phone->link().isEmpty());
  }

  void thePageIsSmallAndItsOwn() {
    PhoneDesk d(RT_STANDIN);
    qsizetype bytes = 0;
    for (const char* path : {"/", "/page.css", "/page.js", "/words.json", "/icon.svg"}) {
      const auto file = testing::httpAsk(d.port(), "GET", path, {});
      QVERIFY2(file.status == 200, path);
      bytes += file.body.size();
      const bool outside = file.body.contains("http://") || file.body.contains("https://");
      QVERIFY2(!outside || QByteArray(path) == "/icon.svg", path);  // the picture names its kind
    }
    QVERIFY(bytes < 150000);
    // every word that the page asks for is there
    const QJsonObject words = testing::httpAsk(d.port(), "GET", "/words.json", {}).json();
    const QString page = testing::httpAsk(d.port(), "GET", "/", {}).body +
                         testing::httpAsk(d.port(), "GET", "/page.js", {}).body;
    const QRegularExpression asked(QStringLiteral("data-w=\"([a-z_]+)\"|say\\('([a-z_]+)'"));
    int found = 0;
    for (auto it = asked.globalMatch(page); it.hasNext(); ++found) {
      const QRegularExpressionMatch m = it.next();
      const QString word = m.captured(1) + m.captured(2);
      if (word.endsWith('_')) continue;  // the rest is a value of the state
      QVERIFY2(words.contains(word), qPrintable(word));
    }
    QVERIFY(found > 30);
  }

  /// The program itself: one line, and it ends with the window.
  void theProgramServesIt() {
    const QTemporaryDir home;
    QProcessEnvironment own = QProcessEnvironment::systemEnvironment();
    own.insert("XDG_DATA_HOME", home.path());
    const auto started = [&](const QStringList& words) {
      auto p = std::make_unique<QProcess>();
      p->setProcessEnvironment(own);
      p->start(RT_WINDOW, words);
      return p;
    };
    auto program = started({"--demo", "--phone", "127.0.0.1:0"});
    QVERIFY(testing::comes([&] { return program->canReadLine(); }));
    const QJsonObject said = QJsonDocument::fromJson(program->readLine()).object();
    const quint16 port = static_cast<quint16>(said["port"].toInt());
    const QString link = said["phone"].toString();
    QVERIFY(link.startsWith(QString("http://127.0.0.1:%1/#").arg(port)));
    const QByteArray key = link.section('#', 1).toLatin1();
    // a job without a plan is planned
    QVERIFY(testing::comes([&] {
      return testing::httpAsk(port, "GET", "/api/state", key).json()["hooping"].isObject();
    }));
    auto second = started({"--phone", "127.0.0.1:" + QString::number(port)});
    QVERIFY(second->waitForFinished(30000));
    QCOMPARE(second->exitCode(), 1);
    QVERIFY(second->readAllStandardError().contains("error: "));
    QVERIFY(second->readAllStandardOutput().isEmpty());
    for (const char* wrong : {"nowhere", "127.0.0.1", "127.0.0.1:x", "0.0.0.0:0"}) {
      auto bad = started({"--phone", wrong});
      QVERIFY(bad->waitForFinished(30000));
      QVERIFY2(bad->exitCode() == 2, wrong);
    }
    program->terminate();
    QVERIFY(program->waitForFinished(30000));
    QCOMPARE(program->exitCode(), 0);
    QVERIFY(!program->readAllStandardError().contains(key));
    QVERIFY(!HttpTalk(port).isOpen());
  }
};

RT_TEST(TestPhone)

}  // namespace test_phone

#include "test_phone.moc"
