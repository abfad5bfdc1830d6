#include <QTemporaryDir>
#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "run.h"
#include "shop_data.h"

namespace test_exchange {

using namespace rt;

class TestExchange : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string file(const std::string& text) {
    const std::string path = dir_.filePath("f").toStdString();
    writeFile(path, text);
    return path;
  }

 private slots:
  void setupIsRead() {
    const AlignmentSetup s = readAlignmentSetup(file(
        R"({"hoop":{"id":"h","field_mm":[200,140],"shape":"oval"},"tolerance_mm":0.3,"layout_mm":[90,60]})"));
    QCOMPARE(s.field, (Field{200, 140, HoopShape::Oval}));
    QCOMPARE(s.tolerance_mm, 0.3);
    QCOMPARE(s.layout_width_mm, 90.0);
  }
  void badSetupsAreNamed() {
    for (const char* bad : {"", "[]", "{", R"({"hoop":{}})", R"({"hoop":{"field_mm":[0,5]}})",
                            R"({"hoop":{"field_mm":[200]}})", R"({"hoop":{"field_mm":["a","b"]}})"})
      QVERIFY_THROWS_EXCEPTION(Error, readAlignmentSetup(file(bad)));
  }
  void needlePointsAreRead() {
    const auto marks = readNeedlePoints(
        file("name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\nA,1,2,3,4\nB,-1,0.5,1e1,+6\n"));
    QCOMPARE(marks.size(), size_t{2});
    QCOMPARE(marks[1].hoop, (Point{10, 6}));
  }
  void badNeedlePointsAreNamed() {
    const std::string head = "name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm\n";
    for (const std::string& bad :
         {std::string(), head, std::string("a,b\n1,2\n"), head + "A,1,2,3\n",
          head + "A,1,2,3,nan\n", head + "A,1,2,3,4\nA,1,2,3,4\n"})
      QVERIFY_THROWS_EXCEPTION(Error, readNeedlePoints(file(bad)));
  }
  void zonesAreRead() {
    const auto zones = readZones(file(
        R"({"zones":[{"name":"seam","kind":"thick","polygon_mm":[[0,0],[1,0],[1,1]],"layers":3,"thickness_mm":3.2},{"kind":"keep-out","polygon_mm":[[0,0],[1,0],[1,1]]}]})"));
    QCOMPARE(zones.size(), size_t{2});
    QCOMPARE(zones[0].layers, 3);
    QCOMPARE(zones[1].kind, ZoneKind::KeepOut);
    for (const char* bad :
         {R"({})", R"({"zones":[{"kind":"odd","polygon_mm":[[0,0],[1,0],[1,1]]}]})",
          R"({"zones":[{"kind":"thick","polygon_mm":[[0,0]]}]})",
          R"({"zones":[{"kind":"thick","polygon_mm":[[0,0],[1,"a"],[1,1]]}]})"})
      QVERIFY_THROWS_EXCEPTION(Error, readZones(file(bad)));
  }
  void shopDataHoldsTheHousesLimits() {
    const ShopData shop = readShopData(dataFolder());
    QCOMPARE(shop.fabrics.size(), size_t{8});
    QCOMPARE(fabricById(shop.fabrics, "woven-cotton").density_mm_per_mm2, (Limit{6.5, 9.0}));
    QCOMPARE(fabricById(shop.fabrics, "leather").holes_per_mm2, (Limit{1.2, 1.8}));
    QVERIFY(!shop.limits_source.empty());
    QVERIFY_THROWS_EXCEPTION(Error, fabricById(shop.fabrics, "silk"));
  }
  void hoopsByIdOrField() {
    const ShopData shop = readShopData(dataFolder());
    QCOMPARE(hoopFor(shop.hoops, "field-200x140").field.width_mm, 200.0);
    QCOMPARE(hoopFor(shop.hoops, "130x90.5").field.height_mm, 90.5);
    for (const char* bad : {"none", "0x5", "-3x5", "10x", "x", "10x10x10", "nanx5", "1e9x5"})
      QVERIFY_THROWS_EXCEPTION(Error, hoopFor(shop.hoops, bad));
  }
};

RT_TEST(TestExchange)

}  // namespace test_exchange
#include "test_exchange.moc"
