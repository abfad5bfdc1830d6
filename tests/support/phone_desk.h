// A desk with a planned job, a machine that sews beside it, and the page for phones open on it.
#pragma once

#include <QBuffer>
#include <QImage>
#include <QJsonArray>
#include <QTemporaryDir>
#include <QtTest>

#include "actions.h"
#include "alignment_words.h"
#include "camera.h"
#include "comes.h"
#include "demo.h"
#include "desk.h"
#include "hooping_place.h"
#include "http_talk.h"
#include "phone.h"
#include "scan_reading.h"

namespace rt::testing {

/// A photo of a hooping whose cloth lies `lies` off the place that was meant; `without` names a
/// mark that is not drawn.
inline QByteArray scanPhoto(const Desk& desk, int hooping, const Transform& lies, int width = 1600,
                            const std::string& without = {}) {
  const auto held = *desk.scanHeld(hooping);
  Scene scene;
  scene.hoop_tags = held.setup.hoop_tags;
  scene.hoop_tag_mm = held.setup.hoop_tag_mm;
  scene.tag_height_mm = held.setup.tag_height_mm;
  for (const CrossPlace& c : held.setup.crosses)
    if (c.name != without) scene.crosses.push_back(c.layout);
  scene.lies = lies;
  Camera camera;
  camera.width = width;
  camera.height = width * 3 / 4;
  camera.distance_mm = 1.1 * held.area.width() * camera.focal;
  camera.tilt_deg = 5;
  std::mt19937 random(7);
  return QByteArray::fromStdString(takePhoto(scene, camera, random).jpeg(90));
}

/// A photo of nothing.
inline QByteArray barePhoto() {
  QImage bare(800, 600, QImage::Format_RGB32);
  bare.fill(Qt::gray);
  QByteArray jpeg;
  QBuffer buffer(&jpeg);
  buffer.open(QIODevice::WriteOnly);
  bare.save(&buffer, "JPG");
  return jpeg;
}

struct PhoneDesk {
  /// The machine's time passes by the clock, so that it sews until it is stopped.
  explicit PhoneDesk(const QByteArray& standin) {
    qputenv("RAPT_THIMBLE_STANDIN", standin);
    desk = std::make_unique<Desk>(openBench(), DeskFolders{folder.path().toStdString()});
    phone = std::make_unique<Phone>(*desk, desk->bench().data, folder.path().toStdString());
    phone->open(parsePhoneAddress("127.0.0.1:0"));
  }
  ~PhoneDesk() { phone.reset(); }

  void plan(const char* job = "wardens-gilet", const char* hoop = "field-200x140") {
    Job made = demoJob(desk->bench(), job);
    made.plan_settings.hoop = hoop;
    desk->take(made, {});
    desk->makePlan();
    desk->settle();
    QVERIFY(desk->planCurrent());
  }
  /// What a person does at Compose and Density, so that only the cloth is left to be found.
  void clearTheRest() {
    desk->change("accept", actions::proofAccepted(desk->job()));
    desk->settle();
    if (desk->weighing()->report.verdict == Verdict::Stop) desk->overrule("as a trial");
  }
  /// The hooping in hand at the machine, ready to sew; its cloth lies as it was meant to.
  void load() {
    using Phase = MachineLink::Phase;
    for (const Mark& m : expectedMarks(*desk->currentHooping())) desk->addMark(desk->hooping(), m);
    MachineLink& machine = desk->run().machine();
    machine.connectMachine();
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Idle; }));
    desk->sendHooping(desk->hooping());
    QVERIFY(testing::comes([&] { return machine.phase() == Phase::Loaded; }));
  }

  quint16 port() const { return phone->address()->port; }
  QByteArray key() const { return phone->link().section('#', 1).toLatin1(); }
  HttpAnswer ask(const QByteArray& method, const QByteArray& path, const QByteArray& extra = {},
                 const QByteArray& body = {}) const {
    return httpAsk(port(), method, path, key(), extra, body);
  }
  HttpAnswer scan(const QByteArray& photo, const QByteArray& query = {}) const {
    return ask("POST", "/api/scan" + query, "Content-Type: image/jpeg\r\n", photo);
  }
  /// The state as the page has it, as soon as it says so.
  QJsonObject stateWhen(const std::function<bool(const QJsonObject&)>& is) const {
    QJsonObject state;
    (void)testing::comes([&] {
      state = ask("GET", "/api/state").json();
      return is(state);
    });
    return state;
  }

  QByteArray photoOf(int hooping, const Transform& lies, int width = 1600,
                     const std::string& without = {}) const {
    return scanPhoto(*desk, hooping, lies, width, without);
  }

  QTemporaryDir folder;
  std::unique_ptr<Desk> desk;
  std::unique_ptr<Phone> phone;
};

}  // namespace rt::testing
