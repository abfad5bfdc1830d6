// The page for phones from the window's side: opened by a person, closed by a person, and what
// comes from a phone stands on every screen.
#include "comes.h"
#include "phone_desk.h"
#include "phone_dialog.h"
#include "run.h"
#include "window_driver.h"

namespace test_phone_window {

using namespace rt;
using testing::httpAsk;
using testing::WindowDriver;

class TestPhoneWindow : public QObject {
  Q_OBJECT

  static PhoneDialog* openDialog(WindowDriver& w) {
    QTest::keyClick(w.window.get(), Qt::Key_K, Qt::ControlModifier);
    auto* field = w.find<QLineEdit>("commandField");
    QTest::keyClicks(field, "phone");
    QTest::keyClick(field, Qt::Key_Return);
    QCoreApplication::processEvents();
    return w.window->findChild<PhoneDialog*>();
  }
  static QAbstractButton* buttonOf(PhoneDialog* dialog, const char* name) {
    return dialog->findChild<QAbstractButton*>(QString::fromLatin1(name));
  }

 private slots:
  void aPersonOpensAndClosesIt() {
    WindowDriver w;
    QVERIFY(w.show());
    QVERIFY(!w.window->phone().isOpen());  // nobody is let in unasked
    PhoneDialog* dialog = openDialog(w);
    QVERIFY(dialog && dialog->isVisible());
    auto* addresses = dialog->findChild<QComboBox*>("phoneAddress");
    addresses->setCurrentIndex(addresses->findData("127.0.0.1"));
    QTest::mouseClick(buttonOf(dialog, "openPhone"), Qt::LeftButton);
    QVERIFY(w.window->phone().isOpen());
    auto* link = dialog->findChild<QLineEdit*>("phoneLink");
    QCOMPARE(link->text(), w.window->phone().link());
    QVERIFY(dialog->findChild<QLabel*>("phoneWhom")->text().contains("this computer"));
    const QByteArray before = link->text().section('#', 1).toLatin1();
    const quint16 port = w.window->phone().address()->port;
    QCOMPARE(httpAsk(port, "GET", "/api/state", before).status, 200);
    QTest::mouseClick(buttonOf(dialog, "renewPhone"), Qt::LeftButton);
    QVERIFY(link->text().section('#', 1).toLatin1() != before);
    QCOMPARE(httpAsk(port, "GET", "/api/state", before).status, 401);
    // closing the dialog leaves the page open; its button closes it
    dialog->close();
    QVERIFY(w.window->phone().isOpen());
    QCOMPARE(openDialog(w), dialog);
    if (const QString file = qEnvironmentVariable("RAPT_THIMBLE_DIALOG_PICTURE"); !file.isEmpty())
      dialog->grab().save(file);
    QTest::mouseClick(buttonOf(dialog, "openPhone"), Qt::LeftButton);
    QVERIFY(!w.window->phone().isOpen() && !link->isVisible());
    QCOMPARE(httpAsk(port, "GET", "/", {}).status, 0);
  }

  /// A scan from the phone, a worse one after it, and one that cannot be read: head, list at Sew,
  /// Align, phone and what is kept in the file say the same each time.
  void allScreensSayWhatThePhoneSays() {
    WindowDriver w;
    QVERIFY(w.show());
    Job job = demoJob(w.desk->bench(), "wardens-gilet");
    job.plan_settings.hoop = "field-200x140";
    w.desk->take(job, {});
    w.key(Qt::Key_4);
    w.desk->makePlan();
    w.desk->settle();
    w.window->phone().open(parsePhoneAddress("127.0.0.1:0"));
    const quint16 port = w.window->phone().address()->port;
    const QByteArray key = w.window->phone().link().section('#', 1).toLatin1();
    const auto scan = [&](const QByteArray& photo) {
      const auto said =
          httpAsk(port, "POST", "/api/scan", key, "Content-Type: image/jpeg\r\n", photo);
      w.desk->settle();
      QCoreApplication::processEvents();
      return said;
    };
    const auto state = [&] {
      return httpAsk(port, "GET", "/api/state", key).json().value("hooping").toObject();
    };
    w.key(Qt::Key_7);  // at Sew, where a stale tick would be sewn by
    const Transform lies = Transform::moving({1.1, 0.4}) * Transform::turning(2);
    QCOMPARE(scan(testing::scanPhoto(*w.desk, 1, lies)).json().value("status").toString(),
             QString("ready"));
    QVERIFY(w.desk->clearance().cloth.alignment);
    QCOMPARE(state().value("verdict").toString(), QString("ready"));
    const std::string gone = w.desk->scanHeld(1)->setup.crosses.front().name;
    const auto worse = scan(testing::scanPhoto(*w.desk, 1, lies, 1600, gone)).json();
    QCOMPARE(state().value("verdict"), worse.value("status"));
    QCOMPARE(QString::fromUtf8(name(w.desk->clearance().cloth.alignment->status).data()),
             worse.value("status").toString());
    QCOMPARE(scan(testing::barePhoto()).status, 422);
    QVERIFY(!w.desk->clearance().cloth.alignment && !w.desk->clearance().given());
    QVERIFY(state().value("verdict").isNull());
    // saved and opened again it is as it was
    const std::filesystem::path file = w.folder.path().toStdString() + "/gilet.rapt";
    w.desk->save(file);
    w.desk->open(file);
    w.desk->settle();
    QVERIFY(!w.desk->clearance().cloth.alignment);
    QCOMPARE(w.desk->scans().scans().size(), 3u);
    QVERIFY(w.desk->scans().shown()->scan.name.find("127.0.0.1") != std::string::npos);
    QVERIFY(state().value("verdict").isNull());
  }

  /// When the machine needs a hand stands in the head of every station, as the phone has it.
  void theNextHandStandsInTheHead() {
    qputenv("RAPT_THIMBLE_STANDIN", RT_STANDIN);
    WindowDriver w;
    QVERIFY(w.show());
    auto* next = w.window->findChild<QLabel*>("nextHand");
    QVERIFY(next->text().isEmpty());
    Job job = demoJob(w.desk->bench(), "hide-banner");
    job.plan_settings.hoop = "field-300x200";
    w.desk->take(job, {});
    w.desk->makePlan();
    w.desk->settle();
    w.desk->change("accept", actions::proofAccepted(w.desk->job()));
    w.desk->settle();
    if (w.desk->weighing()->report.verdict == Verdict::Stop) w.desk->overrule("as a trial");
    for (const Mark& m : expectedMarks(*w.desk->hoopingAt(1))) w.desk->addMark(1, m);
    using Phase = MachineLink::Phase;
    MachineLink& machine = w.desk->run().machine();
    machine.connectMachine();
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Idle; }));
    w.desk->sendHooping(1);
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Loaded; }));
    w.desk->sewOn();
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Sewing; }));
    w.window->phone().open(parsePhoneAddress("127.0.0.1:0"));
    for (const Qt::Key station : {Qt::Key_2, Qt::Key_5, Qt::Key_8}) {
      w.key(station);
      QVERIFY(next->isVisible() && next->text().contains(machine.machineName()));
      QVERIFY2(next->text().contains("thread "), qPrintable(next->text()));
    }
    const QJsonObject told = httpAsk(w.window->phone().address()->port, "GET", "/api/state",
                                     w.window->phone().link().section('#', 1).toLatin1())
                                 .json();
    QVERIFY(next->text().endsWith(told.value("needs_you")[0]["sentence"].toString()));
    machine.pause();
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Paused; }));
    QVERIFY(next->text().isEmpty());  // who paused it knows
  }
};

RT_TEST(TestPhoneWindow)

}  // namespace test_phone_window

#include "test_phone_window.moc"
