// Costs, prices, sets and from how many pieces an order pays.
#include <QtTest>

#include "error.h"
#include "quote.h"
#include "random_pattern.h"
#include "run.h"

namespace test_quote {

using namespace rt;
using testing::between;

class TestQuote : public QObject {
  Q_OBJECT

  static Usage usage(std::mt19937& random) {
    return {between(random, 60, 7200), 1 + static_cast<int>(random() % 6),
            between(random, 1e3, 2e5), between(random, 1e3, 8e4), between(random, 1e4, 2e5)};
  }
  static Rates rates(std::mt19937& random) {
    Rates r;
    r.labour_per_hour = between(random, 10, 60);
    r.machine_per_hour = between(random, 2, 20);
    r.top_thread_per_1000_m = between(random, 1, 8);
    r.bobbin_per_1000_m = between(random, 0.5, 3);
    r.backing_per_m2 = between(random, 1, 5);
    r.hooping_min = between(random, 1, 8);
    r.setup_min = between(random, 5, 40);
    r.spoilage = between(random, 0, 0.1);
    r.usual_margin = between(random, 0.1, 0.6);
    return r;
  }

 private slots:
  void theLinesAreTheCostAndTheMarginIsThePrices() {
    std::mt19937 random = testing::seeded(901);
    for (int round = 0; round < 200; ++round) {
      QuoteOptions o;
      o.set = 1 + static_cast<int>(random() % 6);
      o.pieces = o.set * (1 + static_cast<int>(random() % 50));
      o.blank = round % 2 ? between(random, 1, 30) : 0;
      o.margin = between(random, 0, 0.7);
      const Quote q = quoteFor(usage(random), rates(random), o);
      double sum = 0;
      for (const QuoteLine& l : q.lines) sum += l.cost;
      QVERIFY(std::abs(sum - q.cost) < 1e-6);
      QVERIFY(std::abs(q.price - q.cost / (1 - *o.margin)) < 0.0051);
      QCOMPARE(q.sets * o.set, o.pieces);
      QVERIFY(std::abs(q.set_price * q.sets - q.price) <= 0.0051 * q.sets);
    }
  }

  /// The order found pays, and the next smaller one does not.
  void itPaysFromTheSmallestOrderThatPays() {
    std::mt19937 random = testing::seeded(902);
    int never = 0, found = 0;
    for (int round = 0; round < 200; ++round) {
      const Usage u = usage(random);
      const Rates r = rates(random);
      QuoteOptions o;
      o.set = 1 + static_cast<int>(random() % 4);
      o.blank = between(random, 0, 20);
      const double price = between(random, 5, 150) * o.set;
      const auto left = [&](int pieces) {
        QuoteOptions asked = o;
        asked.pieces = pieces;
        asked.price = price * pieces / o.set;
        return *asked.price - quoteFor(u, r, asked).cost;
      };
      const std::optional<int> pieces = breakEvenPieces(u, r, o, price);
      if (!pieces) {
        ++never;
        QVERIFY(left(o.set * 200'000) < 0);
        continue;
      }
      ++found;
      QCOMPARE(*pieces % o.set, 0);
      QVERIFY(left(*pieces) > -1e-6);
      if (*pieces > o.set) QVERIFY(left(*pieces - o.set) < 0);
    }
    QVERIFY(never > 5 && found > 50);
  }

  /// What is asked for each, times how many, is what is asked together, and no less than reckoned.
  void offersAddUpToTheCent() {
    std::mt19937 random = testing::seeded(948);
    for (int round = 0; round < 400; ++round) {
      QuoteOptions o;
      o.set = 1 + static_cast<int>(random() % 5);
      o.pieces = o.set * (1 + static_cast<int>(random() % 60));
      o.margin = between(random, 0, 0.7);
      const Quote q = quoteFor(usage(random), rates(random), o);
      const double tax = round % 3 == 0 ? 0 : between(random, 0.01, 0.3);
      const Offer offer = offerOf(q, o, tax);
      const auto isCents = [](double money) {
        return std::abs(money * 100 - std::round(money * 100)) < 1e-6;
      };
      QVERIFY(isCents(offer.each) && isCents(offer.together) && isCents(offer.with_tax));
      QVERIFY(std::abs(offer.each * offer.sets - offer.together) < 1e-6);
      QVERIFY(offer.together > q.price - 1e-6);
      QVERIFY(offer.together < q.price + 0.01 * offer.sets);
      QVERIFY(std::abs(offer.together + offer.tax - offer.with_tax) < 1e-6);
      QVERIFY(std::abs(offer.tax - offer.together * tax) < 0.0051);
    }
    // a price that divides evenly gains no cent
    QuoteOptions o;
    o.pieces = 10, o.price = 125.3;
    const Quote even = quoteFor(usage(random), rates(random), o);
    QCOMPARE(offerOf(even, o, 0.2).each, 12.53);
    QCOMPARE(offerOf(even, o, 0.2).together, 125.3);
    QCOMPARE(offerOf(even, o, 0.2).with_tax, 150.36);
    QVERIFY_THROWS_EXCEPTION(Error, offerOf(even, o, -0.1));
    QVERIFY_THROWS_EXCEPTION(Error, offerOf(even, o, NAN));
  }
  void moneyHasTwoDecimals() {
    QCOMPARE(moneyWords(12.5), std::string("12.50"));
    QCOMPARE(moneyWords(0), std::string("0.00"));
    QCOMPARE(moneyWords(-0.001), std::string("0.00"));
    QCOMPARE(moneyWords(-3.456), std::string("-3.46"));
    QCOMPARE(moneyWords(999.999), std::string("1,000.00"));
    QCOMPARE(moneyWords(1234567.8), std::string("1,234,567.80"));
  }

  void whatIsNoOrderIsRefused() {
    std::mt19937 random = testing::seeded(903);
    const Usage u = usage(random);
    const Rates r = rates(random);
    QuoteOptions o;
    o.pieces = 10, o.set = 4;
    QVERIFY_THROWS_EXCEPTION(Error, quoteFor(u, r, o));
    o.set = 0;
    QVERIFY_THROWS_EXCEPTION(Error, quoteFor(u, r, o));
    o.set = 1;
    QVERIFY_THROWS_EXCEPTION(Error, breakEvenPieces(u, r, o, 0));
    QVERIFY_THROWS_EXCEPTION(Error, breakEvenPieces(u, r, o, NAN));
  }
};

RT_TEST(TestQuote)

}  // namespace test_quote
#include "test_quote.moc"
