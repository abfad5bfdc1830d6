// The page in a real browser, as a phone shows it.
#include <QPainter>
#include <QStandardPaths>

#include "browser.h"
#include "comes.h"
#include "phone_desk.h"
#include "run.h"

namespace test_phone_page {

using namespace rt;
using Phase = MachineLink::Phase;
using testing::Browser;
using testing::PhoneDesk;

/// Pictures side by side in a file, where a person asked for one to look at.
class Strip {
 public:
  void keep(Browser& browser) {
    if (!file_.isEmpty()) pictures_.append(browser.picture());
  }
  ~Strip() {
    if (pictures_.isEmpty()) return;
    int width = -kGap, height = 0;
    for (const QImage& p : pictures_)
      width += p.width() + kGap, height = std::max(height, p.height());
    QImage all(width, height, QImage::Format_RGB32);
    all.fill(QColor(0x8a, 0x8f, 0x92));
    QPainter painter(&all);
    int x = 0;
    for (const QImage& p : pictures_) {
      painter.drawImage(x, 0, p);
      x += p.width() + kGap;
    }
    painter.end();
    all.save(file_);
  }

 private:
  static constexpr int kGap = 12;
  QString file_ = qEnvironmentVariable("RAPT_THIMBLE_PHONE_PICTURE");
  QList<QImage> pictures_;
};

class TestPhonePage : public QObject {
  Q_OBJECT
  Strip strip_;

 private slots:
  void initTestCase() {
    if (!Browser::isThere()) QSKIP("there is no browser on this computer");
  }

  void aScanIsReadOnThePhone() {
    PhoneDesk d(RT_STANDIN);
    d.plan("hide-banner", "field-300x200");
    Browser phone(false, 360);
    QVERIFY(phone.works());
    phone.go(d.phone->link());
    QVERIFY(phone.says("#known", "hooping 1"));
    const QString scans = QString::fromStdString((d.desk->bench().data / "demo/scans").string());
    phone.type("#photo", QDir(scans).absoluteFilePath("hide-banner-1.jpg"));
    QVERIFY(phone.says("#statusWord", "Ready"));
    const std::optional<Alignment> a = d.desk->alignmentOf(1);
    QVERIFY(a);
    QCOMPARE(phone.text("#sentence"), QString::fromStdString(headlineOf(*a)));
    QVERIFY(testing::comes([&] {
      return phone.script("return document.getElementById('picture').naturalWidth").toInt() > 300;
    }));
    strip_.keep(phone);
    // one whose mark is wrong, of another hooping: its marks tell which
    phone.type("#photo", QDir(scans).absoluteFilePath("hide-banner-2.jpg"));
    QVERIFY(phone.says("#statusWord", "Check"));
    QVERIFY(phone.says("#advice", "not believed"));
    QVERIFY(phone.says("#verdictOf", "Hooping 2"));
    QVERIFY(d.desk->alignmentOf(2));
    strip_.keep(phone);
    // clamped anew in the window: no verdict of before stays on the phone
    d.desk->clearMarks(2);
    QVERIFY(phone.says("#statusWord", "Not measured"));
    // what is no photo says so
    phone.type("#photo", QString::fromStdString((d.desk->bench().data / "demo/tag.svg").string()));
    QVERIFY(phone.says("#statusWord", "Not read"));
    // nothing is wider than the phone
    QVERIFY(phone.script("return document.documentElement.scrollWidth <= innerWidth").toBool());
  }

  void troubleIsSeen() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    d.clearTheRest();
    d.load();
    Browser phone(true);
    phone.go(d.phone->link());
    QVERIFY(phone.says("#known", "1"));
    MachineLink& machine = d.desk->run().machine();
    d.desk->sewOn();
    phone.click("#tab-machines");
    QVERIFY(phone.says("#list", "sewing"));
    QVERIFY(phone.says("#call", machine.machineName()));
    strip_.keep(phone);
    phone.click("[data-pause]");
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Paused; }));
    QVERIFY(phone.says("#list", "paused"));
    // a break brings the machines into sight, wherever the thumb is
    phone.click("#tab-scan");
    machine.strike(QStringLiteral("break"), 30);
    machine.setSpeedUp(1000);
    d.desk->sewOn();
    QVERIFY(phone.says("#list", "The thread broke."));
    phone.click("#tab-sheets");
    QVERIFY(testing::comes([&] {
      return phone.script("return document.querySelectorAll('#pages img').length").toInt() > 0;
    }));
    strip_.keep(phone);
    QVERIFY(phone.script("return document.documentElement.scrollWidth <= innerWidth").toBool());
    // every control has a name, and can be reached by keys
    QCOMPARE(
        phone
            .script("return [...document.querySelectorAll('button,select,input,img')].filter(e =>"
                    "e.offsetParent && !(e.textContent.trim() || e.labels && e.labels.length || "
                    "e.getAttribute('aria-label') || e.alt)).length")
            .toInt(),
        0);
  }

  /// A key that is not right says what to do; a link that comes back goes on by itself.
  void aWrongKeySaysWhatToDo() {
    PhoneDesk d(RT_STANDIN);
    d.plan();
    Browser phone(false);
    phone.go(d.phone->link().section('#', 0, 0) + "#wrong");
    QVERIFY(phone.says("#wrong", "Scan the code in the window again"));
    QVERIFY(!phone.script("return document.body.innerText")
                 .toString()
                 .contains(QString::fromStdString(d.desk->job().title)));
    phone.go("about:blank");
    phone.go(d.phone->link());
    QVERIFY(phone.says("#link", "live"));
    d.phone->withdrawKey();
    QVERIFY(phone.says("#wrong", "Scan the code"));
  }
};

RT_TEST(TestPhonePage)

}  // namespace test_phone_page

#include "test_phone_page.moc"
