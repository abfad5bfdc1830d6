#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "monogram.h"
#include "run.h"

namespace test_monogram {

using namespace rt;

class TestMonogram : public QObject {
  Q_OBJECT
  Face face_ = loadFace(dataFolder(), "sans-bold");

  Lettering made(const std::string& text, MonogramFrame frame) const {
    MonogramOptions o;
    o.letters.height_mm = 30;
    o.frame = frame;
    return monogram(text, face_, o);
  }

 private slots:
  void onlyTwoOrThreeInitials() {
    for (const char* text : {"", "A", "ABCD", "  . "})
      QVERIFY_THROWS_EXCEPTION(Error, made(text, MonogramFrame::Circle));
    QCOMPARE(made("A. B.", MonogramFrame::Bare).glyphs.size(), size_t{2});
  }
  void theMiddleOneIsLargerAndInTheMiddle() {
    const Lettering m = made("HHH", MonogramFrame::Bare);
    QCOMPARE(m.glyphs.size(), size_t{3});
    std::map<size_t, Box> boxes;
    size_t letter = 0;
    double last = -INFINITY;
    forEachSegment(m.pattern, [&](Point a, Point b, size_t) {
      // letters are sewn from left to right and stand apart
      if (std::min(a.x, b.x) > last + 0.5 && last > -INFINITY) ++letter;
      last = std::max(letter < 3 ? std::max(a.x, b.x) : last, last);
      boxes[letter].add(a);
      boxes[letter].add(b);
    });
    const Box all = threadBounds(m.pattern);
    QVERIFY(std::abs(all.height() - 30) < 1.2);
    QVERIFY(std::abs(all.centre().x) < 0.7);
    QVERIFY(std::abs(all.centre().y + 15) < 0.7);  // baseline of the large one at y = 0
  }
  void framesHoldAllLettersWithRoom() {
    for (MonogramFrame frame :
         {MonogramFrame::Circle, MonogramFrame::Diamond, MonogramFrame::Shield}) {
      for (const char* text : {"QFR", "Wi", "MMM", "I.J."}) {
        const Pattern bare = made(text, MonogramFrame::Bare).pattern,
                      all = made(text, frame).pattern;
        const Box inner = threadBounds(bare), outer = threadBounds(all);
        QVERIFY(outer.left < inner.left - 2.5 && outer.right > inner.right + 2.5);
        QVERIFY(outer.top < inner.top - 2.5 && outer.bottom > inner.bottom + 2.5);
        // no thread of the frame comes near a letter
        double least = INFINITY;
        const size_t letters = bare.stitches.size();
        std::vector<Point> ring, ink;
        forEachSegment(
            all, [&](Point, Point b, size_t row) { (row < letters ? ink : ring).push_back(b); });
        QVERIFY(!ring.empty());
        for (Point p : ink)
          for (Point q : ring) least = std::min(least, distance(p, q));
        QVERIFY2(least > 2.0 && least < 12, qPrintable(QString("%1 mm").arg(least)));
      }
    }
  }
  void turnedAboutTheMiddleOfTheBaseline() {
    MonogramOptions o;
    o.letters.height_mm = 30;
    const Pattern straight = monogram("ABC", face_, o).pattern;
    o.letters.turn_deg = 90;
    const Pattern turned = monogram("ABC", face_, o).pattern;
    const Transform by = Transform::turning(90);
    QCOMPARE(turned.stitches.size(), straight.stitches.size());
    for (size_t i = 0; i < turned.stitches.size(); i += 7)
      QVERIFY(distance(turned.stitches[i].at, by(straight.stitches[i].at)) <
              0.00708);  // to 0.01 mm
  }
};

RT_TEST(TestMonogram)

}  // namespace test_monogram
#include "test_monogram.moc"
