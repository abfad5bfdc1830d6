#include <QtTest>

#include "data_folder.h"
#include "file_io.h"
#include "learning.h"
#include "learning_words.h"
#include "materials.h"
#include "random_pattern.h"
#include "run.h"
#include "shop_data.h"
#include "time_model.h"

namespace test_learning {

using namespace rt;
using testing::between;

class TestLearning : public QObject {
  Q_OBJECT
  const Limit now_{6.5, 9.0};

 private slots:
  void fourOutcomesMoveNothing() {
    const std::vector<SewnOutcome> four(4, {12, Outcome::Broke});
    const LearnedLimit l = learnedLimit(four, now_);
    QVERIFY(!l.enough);
    QVERIFY(l.limit == now_);
    QCOMPARE(l.missing, size_t{1});
    QVERIFY(inWords(l).find("1 more") != std::string::npos);
  }
  void breaksBelowTheStopBringItDown() {
    const std::vector<SewnOutcome> five{{7.0, Outcome::Fine},
                                        {7.6, Outcome::Fine},
                                        {8.4, Outcome::Broke},
                                        {8.6, Outcome::Broke},
                                        {8.9, Outcome::Broke}};
    const LearnedLimit l = learnedLimit(five, now_);
    QVERIFY(l.enough);
    QCOMPARE(l.limit.stop, 8.0);  // amid the gap
    QCOMPARE(l.broke, size_t{3});
  }
  void goodSewingAboveItRaisesItNoFurtherThanItWent() {
    const std::vector<SewnOutcome> five(5, {9.4, Outcome::Fine});
    const LearnedLimit l = learnedLimit(five, now_);
    QCOMPARE(l.limit.stop, 9.4);
    const LearnedLimit far = learnedLimit(std::vector<SewnOutcome>(5, {20, Outcome::Fine}), now_);
    QVERIFY(std::abs(far.limit.stop - 9.0 * 1.15) < 1e-9);  // at most 15 % at once
  }
  void puckersMoveTheCheckAlone() {
    const std::vector<SewnOutcome> six{{5.0, Outcome::Fine},     {5.6, Outcome::Fine},
                                       {6.0, Outcome::Puckered}, {6.2, Outcome::Puckered},
                                       {6.3, Outcome::Puckered}, {8.0, Outcome::Puckered}};
    const LearnedLimit l = learnedLimit(six, now_);
    QCOMPARE(l.limit.stop, 9.0);
    QVERIFY(std::abs(l.limit.check - 5.8) < 1e-9);
  }
  void limitsStayInOrderAndWithinOneStep() {
    std::mt19937 random = testing::seeded(441);
    for (int i = 0; i < 500; ++i) {
      std::vector<SewnOutcome> some(5 + random() % 20);
      for (SewnOutcome& o : some) o = {between(random, 2, 16), static_cast<Outcome>(random() % 3)};
      const LearnedLimit l = learnedLimit(some, now_);
      QVERIFY(l.limit.check > 0 && l.limit.check <= l.limit.stop);
      QVERIFY(l.limit.stop >= 9 * 0.85 - 1e-9 && l.limit.stop <= 9 * 1.15 + 1e-9);
      QVERIFY(l.limit.check >= 6.5 * 0.85 - 1e-9 && l.limit.check <= 6.5 * 1.15 + 1e-9);
      QCOMPARE(l.fine + l.puckered + l.broke, some.size());
    }
  }
  void columnsThatDidNotHoldRaiseTheLeast() {
    const std::vector<SewnOutcome> some{{3.0, Outcome::Fine},
                                        {2.0, Outcome::Fine},
                                        {1.5, Outcome::Fine},
                                        {1.2, Outcome::Broke},
                                        {1.0, Outcome::Broke}};
    QVERIFY(!learnedLeast(std::span(some).first(4), 1.0).enough);
    const LearnedLeast l = learnedLeast(some, 1.0);
    QVERIFY(l.enough);
    QVERIFY2(l.least_mm > 1.0 && l.least_mm <= 1 / 0.85 + 1e-9, inWords(l).c_str());  // one step
    const LearnedLeast fresh = learnedLeast(some, 0);  // nothing in force: no step holds it back
    QVERIFY(fresh.least_mm > 1.2 && fresh.least_mm < 1.5);
  }
  void leastSizesStayWithinOneStep() {
    std::mt19937 random = testing::seeded(442);
    for (int i = 0; i < 300; ++i) {
      std::vector<SewnOutcome> some(5 + random() % 20);
      for (SewnOutcome& o : some)
        o = {between(random, 0.3, 4), random() % 2 ? Outcome::Fine : Outcome::Broke};
      const double l = learnedLeast(some, 1.2).least_mm;
      QVERIFY(l >= 1.2 / 1.15 - 1e-9 && l <= 1.2 / 0.85 + 1e-9);
    }
  }
  void aShopsOwnRuleCounts() {
    const std::vector<SewnOutcome> three(3, {9.4, Outcome::Fine});
    LearningRule rule;
    rule.least_outcomes = 3;
    rule.most_step = 0.02;
    QVERIFY(std::abs(learnedLimit(three, now_, rule).limit.stop - 9.18) < 1e-9);
  }
  void practiceIsReadAndAbsurdFiguresAreRefused() {
    const ShopPractice p = readShopData(dataFolder()).practice;
    QVERIFY(!p.source.empty());
    QVERIFY(p.learning == LearningRule{});  // what ships is what the rule's comment says
    QTemporaryDir folder;
    const std::filesystem::path to = folder.path().toStdString();
    for (const char* name : {"fabrics.json", "hoops.json", "time-model.json"})
      std::filesystem::copy_file(dataFolder() / name, to / name);
    auto with = [&](const std::string& key, const std::string& value) {
      std::string text = readFile(dataFolder() / "practice.json");
      const size_t at = text.find("\"" + key + "\": ") + key.size() + 4;
      text.replace(at, text.find_first_of(",\n", at) - at, value);
      writeFile(to / "practice.json", text);
      return readShopData(to).practice;
    };
    QCOMPARE(with("baste_away_mm", "6.5").baste_away_mm, 6.5);
    for (const auto& [key, value] :
         std::vector<std::pair<std::string, std::string>>{{"baste_away_mm", "-1"},
                                                          {"learning_most_step", "1.5"},
                                                          {"thin_under_letters", "0.5"},
                                                          {"learning_least_outcomes", "0"},
                                                          {"hooping_s", "\"long\""}})
      QVERIFY_THROWS_EXCEPTION(std::exception, with(key, value));
  }
  void usualMaterialsChangeNothing() {
    const ShopData shop = readShopData(dataFolder());
    for (const Fabric& f : shop.fabrics) {
      const LimitFactors k = factorsFor(f, {f.backing, !f.topper.empty(), 75, 40}, shop.materials);
      QVERIFY(std::abs(k.density - 1) < 1e-12 && std::abs(k.holes - 1) < 1e-12);
    }
  }
  void thickThreadAndWideNeedlesBearLess() {
    const ShopData shop = readShopData(dataFolder());
    const Fabric& f = shop.fabrics[0];
    const LimitFactors thick = factorsFor(f, {f.backing, false, 75, 12}, shop.materials),
                       fine = factorsFor(f, {f.backing, false, 75, 60}, shop.materials),
                       wide = factorsFor(f, {f.backing, false, 110, 40}, shop.materials);
    QVERIFY(thick.density < 0.7 && fine.density > 1.1 && wide.holes < 0.8);
    const Fabric less = withFactors(f, thick);
    QVERIFY(std::abs(less.density_mm_per_mm2.stop / f.density_mm_per_mm2.stop - thick.density) <
            1e-12);
    const LimitFactors between75and90 = factorsFor(f, {f.backing, false, 82.5, 40}, shop.materials);
    QVERIFY(between75and90.holes < 1 && between75and90.holes > 0.85);
  }
  void runsTeachTheTimeFromTheThirdOn() {
    QCOMPARE(timeFactor({}), 1.0);
    QCOMPARE(timeFactor({{100, 120}, {100, 120}}), 1.0);
    QCOMPARE(timeFactor({{100, 120}, {200, 240}, {100, 900}}), 1.2);
    const TimeModel slow = slowed({}, 1.25);
    QVERIFY(std::abs(slow.stitches_per_minute - 560) < 1e-9);
    QVERIFY(std::abs(slow.trim_s - 8.75) < 1e-9);
  }
  void shopLimitsComeBackAndBadOnesAreRefused() {
    QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("shop-limits.json").toStdString();
    QVERIFY(readShopLimits(file).empty());
    const ShopLimitTable table{{"felt", {{5.1, 7.3}, {2, 4}, "typed", 1.4, 6}}};
    writeShopLimits(file, table);
    QVERIFY(readShopLimits(file) == table);
    const ShopData shop = readShopData(dataFolder());
    for (const Fabric& f : withShopLimits(shop.fabrics, table))
      QCOMPARE(f.density_mm_per_mm2 == Limit({5.1, 7.3}), f.id == "felt");
    writeShopLimits(file, {{"felt", {{9, 7}, {2, 4}, "", 0, 0}}});
    QVERIFY_THROWS_EXCEPTION(std::exception, readShopLimits(file));
  }
};

RT_TEST(TestLearning)

}  // namespace test_learning
#include "test_learning.moc"
