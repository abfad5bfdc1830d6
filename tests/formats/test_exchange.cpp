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
    struct Row {
      const char* id;
      Limit density, holes;
      double pull_mm, column_mm;
    };
    for (const Row& r : {Row{"woven-cotton", {9.0, 12.0}, {6.5, 9.0}, 0.20, 1.0},
                         Row{"canvas", {10.0, 13.5}, {7.0, 10.0}, 0.15, 1.0},
                         Row{"jersey", {8.5, 11.0}, {5.5, 8.0}, 0.35, 1.2},
                         Row{"terry", {9.0, 12.0}, {6.0, 9.0}, 0.45, 1.5},
                         Row{"felt", {9.0, 12.0}, {6.0, 8.5}, 0.15, 1.0},
                         Row{"leather", {6.5, 8.5}, {2.4, 3.6}, 0.10, 1.5},
                         Row{"sheer", {4.5, 6.0}, {3.0, 4.5}, 0.20, 1.0},
                         Row{"corded", {7.5, 10.0}, {5.0, 7.5}, 0.30, 1.5}}) {
      const Fabric& f = fabricById(shop.fabrics, r.id);
      QCOMPARE(f.density_mm_per_mm2, r.density);
      QCOMPARE(f.holes_per_mm2, r.holes);
      QCOMPARE(f.pull_compensation_mm, r.pull_mm);
      QCOMPARE(f.least_column_mm, r.column_mm);
      QVERIFY(f.spacing.rows_mm >= 0.36 && f.spacing.satin_mm >= 0.36);
    }
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
