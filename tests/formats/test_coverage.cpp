// How well sewn drawings cover the ink that was drawn.
#include <QtTest>

#include "artwork.h"
#include "coverage.h"
#include "data_folder.h"
#include "file_io.h"
#include "random_pattern.h"
#include "run.h"

namespace test_coverage {

using namespace rt;
using testing::between;

namespace {

/// Ink over union of a drawing and its sewing, thread drawn 0.4 mm wide.
double cover(const std::string& svg, const std::string& where) {
  Artwork a = readArtwork(svg, where);
  placeArtwork(a, 0);
  Area ink;
  for (const Shape& s : a.shapes) ink = united(ink, inkOf(s));
  DigitiseOptions o;
  o.fill.pull_mm = o.satin.pull_mm = 0;
  return testing::overUnion(ink, digitiseArtwork(a, o, "t").pattern, 0.4);
}

std::string number(double v) {
  return std::to_string(v);
}

/// A flat drawing of random leaves, rings and bars.
std::string randomDrawing(std::mt19937& random) {
  std::string body;
  for (int i = 0; i < 6; ++i) {
    const double x = between(random, 10, 90), y = between(random, 10, 60),
                 w = between(random, 6, 25), h = between(random, 6, 20);
    const std::string colour = "fill='#" + std::string(i % 2 ? "885522" : "225588") + "'";
    if (i % 3 == 0)
      body += "<ellipse cx='" + number(x) + "' cy='" + number(y) + "' rx='" + number(w / 2) +
              "' ry='" + number(h / 2) + "' " + colour + "/>";
    if (i % 3 == 1)
      body += "<path d='M" + number(x) + " " + number(y) + "q" + number(w / 2) + " " + number(-h) +
              " " + number(w) + " 0q" + number(-w / 2) + " " + number(h) + " " + number(-w) +
              " 0z' " + colour + "/>";
    if (i % 3 == 2)
      body += "<rect x='" + number(x) + "' y='" + number(y) + "' width='" + number(w) +
              "' height='" + number(h / 4) + "' " + colour + "/>";
  }
  return "<svg xmlns='http://www.w3.org/2000/svg' width='120mm' height='90mm' viewBox='0 0 120 "
         "90'>" +
         body + "</svg>";
}

}  // namespace

class TestCoverage : public QObject {
  Q_OBJECT
 private slots:
  void theDemoDrawingsAreCovered_data() {
    QTest::addColumn<QString>("file");
    for (const char* name :
         {"heron", "wing", "feather", "reeds-left", "reeds-right", "tag", "border"})
      QTest::addRow("%s", name) << QString("demo/%1.svg").arg(name);
  }
  void theDemoDrawingsAreCovered() {
    QFETCH(QString, file);
    const auto path = dataFolder() / file.toStdString();
    const double c = cover(readFile(path), path.string());
    QVERIFY2(c > 0.8, qPrintable(QString::number(c)));
  }

  void flatDrawingsAreCoveredInTheMedian() {
    std::mt19937 random = testing::seeded(291);
    std::vector<double> all;
    for (int i = 0; i < 15; ++i) all.push_back(cover(randomDrawing(random), "random"));
    std::sort(all.begin(), all.end());
    qInfo("least %.3f, median %.3f", all.front(), all[all.size() / 2]);
    QVERIFY(all[all.size() / 2] >= 0.85);
  }

  void countersStayOpen() {
    const std::string ring =
        "<svg xmlns='http://www.w3.org/2000/svg' width='40mm' height='40mm' viewBox='0 0 40 40'>"
        "<path fill-rule='evenodd' d='M20 2a18 18 0 1 0 .01 0z M20 16a4 4 0 1 0 .01 0z'/></svg>";
    Artwork a = readArtwork(ring, "ring");
    placeArtwork(a, 0);
    const Pattern p = digitiseArtwork(a, {}, "ring").pattern;
    Area hole{{}};
    for (int i = 0; i < 40; ++i)
      hole[0].push_back({4 * std::cos(i * kPi / 20), 4 * std::sin(i * kPi / 20)});
    testing::Canvas drawn(boundsOf(hole).grown(1), 20), sewn(boundsOf(hole).grown(1), 20);
    drawn.fill(hole);
    sewn.sew(p, 0.3);
    QVERIFY(testing::compared(drawn, sewn).ofFirst() < 0.15);
  }

  /// Holes of 2 mm² and more stay open under thread of its full width, wherever they lie.
  void smallHolesStayOpen() {
    std::mt19937 random = testing::seeded(293);
    for (int i = 0; i < 12; ++i) {
      const bool fill = i % 2;  // else a stroke of letters' width
      const double w = between(random, 1.5, 2.6), h = between(random, 2.1, 6) / w;
      const double high = fill ? 24 : h + 6, turn = between(random, 0, 180);
      Shape s;
      s.area = {{{-14, -high / 2}, {14, -high / 2}, {14, high / 2}, {-14, high / 2}},
                {{-w / 2, -h / 2}, {-w / 2, h / 2}, {w / 2, h / 2}, {w / 2, -h / 2}}};
      const Transform turned = Transform::turning(turn);
      s.area = transformed(s.area, turned);
      Pattern p;
      const SewnShape sewn = digitise(s, {}, {0, 0});
      appendStrands(p, sewn.strands, {s.colour, "t", {}});
      const Area hole{s.area[1]};
      testing::Canvas drawn(boundsOf(hole).grown(1), 20), thread(boundsOf(hole).grown(1), 20);
      drawn.fill(hole);
      thread.sew(p, 0.4);
      const double closed = testing::compared(drawn, thread).ofFirst();
      QVERIFY2(closed < 0.2, qPrintable(QString("%1: %2").arg(i).arg(closed)));
    }
  }

  void sizedDrawingsAreAsLargeAsAsked() {
    std::mt19937 random = testing::seeded(292);
    for (int i = 0; i < 10; ++i) {
      Artwork a = readArtwork(randomDrawing(random), "random");
      placeArtwork(a, 80);
      Box before;
      for (const Shape& s : a.shapes) before.add(boundsOf(inkOf(s)));
      const double x = between(random, 0.4, 2), y = between(random, 0.4, 2);
      sizeArtwork(a, x, y);
      Box after;
      for (const Shape& s : a.shapes) after.add(boundsOf(inkOf(s)));
      QVERIFY(std::abs(after.width() - before.width() * x) < 1e-6);
      QVERIFY(std::abs(after.height() - before.height() * y) < 1e-6);
    }
  }
};

RT_TEST(TestCoverage)

}  // namespace test_coverage
#include "test_coverage.moc"
