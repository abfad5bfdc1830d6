#include <QtTest>

#include "error.h"
#include "length.h"
#include "random_pattern.h"
#include "run.h"

namespace test_length {

using namespace rt;

class TestLength : public QObject {
  Q_OBJECT
 private slots:
  void readsWhatPeopleType_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<double>("mm");
    QTest::newRow("mm") << "104 mm" << 104.0;
    QTest::newRow("no unit") << "104" << 104.0;
    QTest::newRow("inches") << "4.1 in" << 4.1 * 25.4;
    QTest::newRow("fraction") << "7 3/8\"" << 7.375 * 25.4;
    QTest::newRow("dash") << "3-5/16 in" << 3.3125 * 25.4;
    QTest::newRow("bare fraction") << "3/8 in" << 0.375 * 25.4;
    QTest::newRow("sum") << "7 3/8 in - 2 mm" << 7.375 * 25.4 - 2;
    QTest::newRow("unit from the next term") << "7 - 1/2 in" << 6.5 * 25.4;
    QTest::newRow("cm with comma") << "4,1 cm" << 41.0;
    QTest::newRow("negative") << "-3 mm" << -3.0;
  }
  void readsWhatPeopleType() {
    QFETCH(QString, typed);
    QFETCH(double, mm);
    QVERIFY2(std::abs(parseLength_mm(typed.toStdString()) - mm) < 1e-9, qPrintable(typed));
  }
  void refusesTheRest_data() {
    QTest::addColumn<QString>("typed");
    for (const char* bad :
         {"", "mm", "1 2 3", "5/0 in", "1e400", "four", "7 3/ in", "3 mm 4", "1..2", "--3"})
      QTest::newRow(bad) << bad;
  }
  void refusesTheRest() {
    QFETCH(QString, typed);
    QVERIFY_THROWS_EXCEPTION(Error, parseLength_mm(typed.toStdString()));
  }
  void writesSixteenths() {
    QCOMPARE(formatInches(4.0625 * 25.4), std::string("4 1/16 in"));
    QCOMPARE(formatInches(25.4), std::string("1 in"));
    QCOMPARE(formatInches(12.7), std::string("1/2 in"));
    QCOMPARE(formatInches(101), std::string("≈ 4 in"));
    QCOMPARE(formatInches(0.5), std::string("0.02 in"));
  }
  void whatIsWrittenReadsBackToTheSixteenth() {
    std::mt19937 random = testing::seeded(11);
    for (int i = 0; i < 500; ++i) {
      const double mm = testing::between(random, 2, 900);
      std::string text = formatInches(mm);
      if (text.starts_with("≈ ")) text.erase(0, 4);
      QVERIFY2(std::abs(parseLength_mm(text) - mm) <= 25.4 / 32 + 1e-9, text.c_str());
    }
  }
};

RT_TEST(TestLength)

}  // namespace test_length
#include "test_length.moc"
