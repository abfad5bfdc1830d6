// Cloth that moves under the stand-in's needle: what its camera shows of it, and what stays.
#include <QJsonArray>
#include <QtTest>

#include "error.h"
#include "photo_marks.h"
#include "random_pattern.h"
#include "run.h"
#include "sewn_places.h"
#include "virtual_cloth.h"

namespace test_moving_cloth {

using namespace standin;

/// A column of satin, 6 mm wide, down the middle.
rt::Pattern column() {
  rt::Pattern p = rt::testing::patternFrom("#1f3b63 jump -3,-20");
  for (int i = 0; i <= 200; ++i)
    p.stitches.push_back(
        {{i % 2 ? 3.0 : -3.0, -20 + i * 0.2}, 0, 0, 0, rt::Op::Stitch, rt::Kind::Satin});
  return p;
}

void sew(VirtualCloth& cloth, const rt::Pattern& pattern) {
  for (const rt::Stitch& s : pattern.stitches)
    cloth.needle({s.at.x, s.at.y, QString::fromUtf8(rt::name(s.op).data()), "#1f3b63"});
  cloth.lift();
}

/// How far both edges of the column have come in together, mm, as the camera shows it; `moved`: how
/// it was clamped otherwise since it was sewn.
double narrower(VirtualCloth& cloth, const rt::Transform& moved = {}) {
  QJsonObject request{{"field_mm", QJsonArray{110, 90}}, {"width_px", 2000}};
  rt::PhotoSetup setup;
  setup.base.field = {110, 90};
  QJsonArray tags;
  int id = 500;
  for (const rt::Point at : {rt::Point{-67, -57}, {67, -57}, {67, 57}, {-67, 57}}) {
    tags.append(QJsonArray{id, at.x, at.y, 0});
    setup.hoop_tags.push_back({id++, at, 0});
  }
  request["hoop_tags"] = tags;
  const QByteArray jpeg =
      QByteArray::fromBase64(cloth.photo(request)["jpeg"].toString().toLatin1());
  const rt::Photo photo = rt::Photo::fromBytes(
      {reinterpret_cast<const uint8_t*>(jpeg.constData()), static_cast<size_t>(jpeg.size())},
      "photo");
  const rt::Plane plane = *rt::readPhoto(photo, setup).found.plane;
  const rt::Pattern lies =
      rt::transformed(column(), moved);  // the machine sews in the frame, wherever the cloth lies
  const auto elements = rt::sewnElements(lies);
  double left = 0, right = 0, lefts = 0, rights = 0;
  for (const rt::SewnPlace& p : rt::sewnPlaces(photo, plane, lies, elements, {0.9, 1.2})) {
    if (column().stitches[elements[p.element].rows.front()].at.x < 0)
      left += p.by.x, ++lefts;
    else
      right += p.by.x, ++rights;
  }
  return lefts > 3 && rights > 3 ? left / lefts - right / rights : NAN;
}

class TestMovingCloth : public QObject {
  Q_OBJECT

 private slots:
  /// Still cloth shows the column as wide as it was sewn; a knit draws it in, a canvas less; and it
  /// stays drawn in when the cloth is clamped again.
  void theCameraShowsWhereThreadLies() {
    const auto sewn = [](const char* fabric) {
      VirtualCloth cloth;
      if (*fabric) cloth.letMove(fabric, 3);
      cloth.hoop(Level::Even, 7, {});
      sew(cloth, column());
      return cloth;
    };
    VirtualCloth still = sewn("");
    VirtualCloth jersey = sewn("jersey"), canvas = sewn("canvas");
    const double none = narrower(still), knit = narrower(jersey), firm = narrower(canvas);
    QVERIFY2(std::abs(none) < 0.06, qPrintable(QString::number(none)));
    QVERIFY2(knit > 0.25 && knit < 1.2, qPrintable(QString::number(knit)));
    QVERIFY2(firm > 0.04 && firm < 0.7 * knit, qPrintable(QString::number(firm)));
    const rt::Transform before = jersey.lies();
    jersey.hoop(Level::Even, 8, {});
    const double again = narrower(jersey, jersey.lies() * *before.inverse());
    QVERIFY2(std::abs(again - knit) < 0.08, qPrintable(QString::number(again)));
  }

  void thereAreFiveCloths() {
    VirtualCloth cloth;
    for (const char* fabric : {"cotton", "jersey", "terry", "canvas", "sheer"})
      cloth.letMove(fabric, 1);
    QVERIFY_THROWS_EXCEPTION(rt::Error, cloth.letMove("tin", 1));
  }
};

RT_TEST(TestMovingCloth)

}  // namespace test_moving_cloth

#include "test_moving_cloth.moc"
