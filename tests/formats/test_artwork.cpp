#include <QtTest>

#include "artwork.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_artwork {

using namespace rt;

namespace {

std::string svg(const std::string& body,
                const std::string& size = "width='100mm' height='100mm' viewBox='0 0 100 100'") {
  return "<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' " +
         size + ">" + body + "</svg>";
}

Box inkBox(const Artwork& a) {
  Box box;
  for (const Shape& s : a.shapes) box.add(boundsOf(inkOf(s)));
  return box;
}

double inkArea(const std::string& body) {
  double sum = 0;
  for (const Shape& s : readArtwork(svg(body), "t").shapes) sum += area_mm2(inkOf(s));
  return sum;
}

}  // namespace

class TestArtwork : public QObject {
  Q_OBJECT
 private slots:
  /// What a drawing has beside its page is not in the picture; ink along the page's edge is.
  void whatLiesBesideThePageIsNotSewn() {
    std::mt19937 random = testing::seeded(92);
    for (int i = 0; i < 20; ++i) {
      const double x = testing::between(random, -60, 120), y = testing::between(random, 10, 60);
      const std::string svg =
          "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 100'>"
          "<rect x='1' y='1' width='98' height='98' fill='none' "
          "stroke='#224466' stroke-width='4'/>"
          "<rect x='" +
          std::to_string(x) + "' y='" + std::to_string(y) +
          "' width='40' height='30' fill='#993366'/></svg>";
      const Artwork art = readArtwork(svg, "page.svg");
      double area = 0;
      size_t lines = 0;
      for (const Shape& s : art.shapes) {
        if (!s.line.empty()) ++lines;
        if (s.line.empty()) area += area_mm2(s.area);
      }
      QCOMPARE(lines, size_t{1});  // the frame stays a line
      const double within = std::max(0.0, std::min(100.0, x + 40) - std::max(0.0, x));
      const double past = std::max(-x, x + 40 - 100);  // by so little nothing is cut
      const double px_mm = 25.4 / 96, wide = past <= 2 ? 40 : within;
      QVERIFY2(std::abs(area - wide * 30 * px_mm * px_mm) < 0.5, qPrintable(QString::number(x)));
      if (within > 0) QCOMPARE(!art.warnings.empty(), past > 2);
    }
  }
  void manySmallShapesAreOneWarning() {
    std::string svg =
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 1000 1000'>"
        "<rect x='100' y='100' width='800' height='500' fill='#336699'/>";
    for (int i = 0; i < 40; ++i)
      svg += "<circle cx='" + std::to_string(20 + 24 * i) + "' cy='800' r='2' fill='#993366'/>";
    Artwork art = readArtwork(svg + "</svg>", "dots.svg");
    placeArtwork(art, 100);
    const Digitised done = digitiseArtwork(art, {}, "dots");
    QCOMPARE(done.warnings.size(), size_t{1});
    QVERIFY2(done.warnings[0].starts_with("40 shapes are too small"), done.warnings[0].c_str());
  }
  void sizeIsInMillimetres() {
    QVERIFY(
        std::abs(
            inkBox(readArtwork(svg("<rect x='10' y='10' width='50' height='20'/>"), "t")).width() -
            50) < 0.05);
    const Artwork px =
        readArtwork(svg("<rect width='96' height='48'/>", "width='200' height='200'"), "t");
    QVERIFY(std::abs(inkBox(px).width() - 25.4) < 0.05);  // 96 px to the inch
  }
  void evenOddAndNonZeroHoles() {
    const std::string d = "<path d='M0 0h60v60h-60z M20 20h20v20h-20z' ";
    QVERIFY(std::abs(inkArea(d + "fill-rule='evenodd'/>") - 3200) < 5);
    QVERIFY(std::abs(inkArea(d + "/>") - 3600) < 5);  // both wind alike: filled
  }
  void clipsTransformsUseAndCss() {
    QVERIFY(std::abs(inkArea("<clipPath id='c'><rect width='30' height='30'/></clipPath><rect "
                             "clip-path='url(#c)' x='10' y='10' width='50' height='50'/>") -
                     400) < 5);
    QVERIFY(
        std::abs(inkArea("<defs><rect id='r' width='10' height='10'/></defs><use xlink:href='#r' "
                         "x='5'/><use xlink:href='#r' x='40' transform='scale(2)'/>") -
                 500) < 5);
    const Artwork a = readArtwork(
        svg("<style>.q{fill:#12ab34}</style><rect class='q' width='9' height='9'/>"), "t");
    QCOMPARE(a.shapes[0].colour.hex(), std::string("#12ab34"));
  }
  void strokesKeepTheirWidth() {
    const Artwork a = readArtwork(
        svg("<path d='M10 10H90' fill='none' stroke='#ff0000' stroke-width='3'/>"), "t");
    QCOMPARE(a.shapes.size(), size_t{1});
    QVERIFY(std::abs(a.shapes[0].line_width_mm - 3) < 0.02);
  }
  void whatIsNotSewnIsNamed() {
    const Artwork a =
        readArtwork(svg("<rect width='20' height='20'/><text id='note' x='5' y='50'>hi</text><rect "
                        "x='50' width='20' height='20' fill-opacity='0.3'/>"),
                    "t");
    QCOMPARE(a.shapes.size(), size_t{1});
    QCOMPARE(a.warnings.size(), size_t{2});
    QVERIFY(a.warnings[0].find("note") != std::string::npos);
  }
  void aWhitePageIsPaperWhiteInkIsInk() {
    const Artwork a = readArtwork(svg("<rect width='100' height='100' fill='white'/><rect x='10' "
                                      "y='10' width='20' height='20' fill='white'/>"),
                                  "t");
    QCOMPARE(a.shapes.size(), size_t{1});
  }
  void gradientsAreSewnInTheirMean() {
    const Artwork a = readArtwork(
        svg("<linearGradient id='g'><stop offset='0' stop-color='#000000'/><stop offset='1' "
            "stop-color='#ffffff'/></linearGradient><rect width='50' height='50' fill='url(#g)'/>"),
        "t");
    QVERIFY(std::abs(static_cast<int>(a.shapes[0].colour.rgb & 255) - 127) <= 2);
  }
  void nothingToSewIsAnError() {
    QVERIFY_THROWS_EXCEPTION(Error,
                             readArtwork(svg("<image width='10' height='10' href='a.png'/>"), "t"));
    QVERIFY_THROWS_EXCEPTION(Error, readArtwork("not xml", "t"));
    QVERIFY_THROWS_EXCEPTION(Error, readArtwork("<html/>", "t"));
    QVERIFY_THROWS_EXCEPTION(Error, readArtwork("", "t"));
  }
  void entitiesAreNotFollowed() {
    const std::string text = "<!DOCTYPE svg [<!ENTITY x SYSTEM 'file:///etc/hostname'>]>" +
                             svg("<rect width='20' height='20'/><desc>&x;</desc>");
    QCOMPARE(readArtwork(text, "t").shapes.size(), size_t{1});
  }
  void inkIsPlacedAndScaled() {
    Artwork a = readArtwork(svg("<rect x='10' y='30' width='50' height='20'/>"), "t");
    placeArtwork(a, 80);
    const Box box = inkBox(a);
    QVERIFY(std::abs(box.width() - 80) < 0.05);
    QVERIFY(length(box.centre()) < 0.05);
  }
  void whatLiesHiddenIsNotSewnTwice() {
    const Artwork a = readArtwork(
        svg("<rect width='60' height='60' fill='#aa0000'/><rect x='10' y='10' width='40' "
            "height='40' fill='#00aa00'/><path d='M20 30H40' stroke='#0000aa' fill='none' "
            "stroke-width='2'/><rect x='10' y='10' width='40' height='40' fill='#777700'/>"),
        "t");
    const Digitised d = digitiseArtwork(a, {}, "test");
    size_t hidden = 0;
    for (const std::string& w : d.warnings) hidden += w.find("hidden") != std::string::npos;
    QCOMPARE(hidden, size_t{2});
    // one good layer over the whole, a little more under the edges
    QVERIFY(testing::sewnLength(d.pattern) < 1.35 * 3600 / 0.25);
  }
  void coloursFollowThePaintingOrder() {
    const Digitised d =
        digitiseArtwork(readArtwork(svg("<rect width='20' height='20' fill='#aa0000'/><rect x='30' "
                                        "width='20' height='20' fill='#00aa00'/>"),
                                    "t"),
                        {}, "test");
    const Statistics s = statisticsOf(d.pattern, {});
    QCOMPARE(s.colours.size(), size_t{2});
    QCOMPARE(s.colours[0].hex(), std::string("#aa0000"));
  }
};

RT_TEST(TestArtwork)

}  // namespace test_artwork
#include "test_artwork.moc"
