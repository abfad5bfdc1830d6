#include <QtTest>

#include "artwork.h"
#include "error.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "uncovered.h"

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
  /// However few pixels its page has, a drawing is read as finely.
  void smallPagesAreReadAsFinely() {
    const std::string body =
        "<circle id='disc' cx='50' cy='50' r='40' fill='#804020'/><path d='M20 50h60' "
        "stroke='#ffffff' stroke-width='6' fill='none'/>";
    for (const char* px : {"1", "12", "4000"}) {
      const std::string size =
          "width='" + std::string(px) + "' height='" + px + "' viewBox='0 0 100 100'";
      Artwork a = readArtwork(svg(body, size), "t");
      QVERIFY(std::abs(inkBox(a).width() - std::atof(px) * 0.8 * 25.4 / 96) <
              0.002 * std::atof(px));
      placeArtwork(a, 80);
      QCOMPARE(a.shapes.size(), size_t{2});
      QVERIFY(std::abs(area_mm2(a.shapes[0].area) - kPi * 1600) < 3);
      QVERIFY(std::abs(a.shapes[1].line_width_mm - 6) < 0.01);
      QCOMPARE(a.shapes[0].element, std::string("disc"));
    }
    // without a size of its own
    const Artwork bare = readArtwork(
        "<svg xmlns='http://www.w3.org/2000/svg'><circle cx='5' cy='5' r='4'/></svg>", "t");
    QVERIFY(std::abs(inkBox(bare).width() - 8 * 25.4 / 96) < 0.01);
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
  /// The mean over the ink, not over the gradient's own line.
  void aGradientsMeanIsThatOfTheInk() {
    auto channel = [](const std::string& gradient, const std::string& shape) {
      const Artwork a = readArtwork(svg(gradient + shape), "t");
      return static_cast<int>(a.shapes.at(0).colour.rgb & 255);
    };
    const std::string stops =
        "<stop offset='0' stop-color='#000000'/><stop offset='1' stop-color='#ffffff'/>";
    const std::string rect = "<rect width='80' height='20' fill='url(#g)'/>";
    // black to white in the first quarter, white beyond it
    QVERIFY(std::abs(channel("<linearGradient id='g' gradientUnits='userSpaceOnUse' x1='0' y1='0' "
                             "x2='20' y2='0'>" +
                                 stops + "</linearGradient>",
                             rect) -
                     223) <= 3);
    // over and over, and to and fro
    for (const char* spread : {"repeat", "reflect"})
      QVERIFY(std::abs(channel("<linearGradient id='g' gradientUnits='userSpaceOnUse' x1='0' "
                               "y1='0' x2='20' y2='0' spreadMethod='" +
                                   std::string(spread) + "'>" + stops + "</linearGradient>",
                               rect) -
                       127) <= 4);
    // a disc has more of what lies outside: two thirds of the way
    QVERIFY(std::abs(channel("<radialGradient id='g'>" + stops + "</radialGradient>",
                             "<circle cx='40' cy='40' r='20' fill='url(#g)'/>") -
                     170) <= 3);
    // turned and scaled with its shape, in a stroke too
    QVERIFY(std::abs(channel("<linearGradient id='g' gradientTransform='rotate(90)'>" + stops +
                                 "</linearGradient>",
                             "<g transform='rotate(30) scale(1.5 0.7)'><rect x='30' width='30' "
                             "height='20' fill='url(#g)'/></g>") -
                     127) <= 3);
    QVERIFY(std::abs(channel("<linearGradient id='g' gradientUnits='userSpaceOnUse' x1='10' "
                             "y1='0' x2='90' y2='0'>" +
                                 stops + "</linearGradient>",
                             "<path d='M10 40H90' fill='none' stroke-width='5' "
                             "stroke='url(#g)'/>") -
                     127) <= 3);
  }
  /// What lets through what is below is sewn in the colour that shows.
  void tintsAreSewnAsTheyShow() {
    const std::string below = "<rect x='10' y='10' width='60' height='40' fill='#0000ff'/>";
    auto colours = [&](const std::string& more) {
      std::vector<std::string> out;
      for (const Shape& s : readArtwork(svg(below + more), "t").shapes)
        out.push_back(s.colour.hex());
      return out;
    };
    using Words = std::vector<std::string>;
    QCOMPARE(colours("<rect x='20' y='20' width='20' height='20' fill='#ffffff' "
                     "fill-opacity='0.4'/>"),
             (Words{"#0000ff", "#6666ff"}));
    // half over it and half over paper: there too little of it shows
    const Artwork half = readArtwork(
        svg(below + "<rect id='veil' x='50' y='20' width='40' height='20' fill='#ffffff' "
                    "opacity='0.4'/>"),
        "t");
    QCOMPARE(half.shapes.size(), size_t{2});
    QVERIFY(std::abs(area_mm2(half.shapes[1].area) - 400) < 1);
    QCOMPARE(half.warnings.size(), size_t{1});
    // what shows over one half is ink: of its own colour on paper, mixed over ink
    QCOMPARE(colours("<rect x='30' y='60' width='20' height='20' fill='#ff0000' "
                     "fill-opacity='0.6'/>"),
             (Words{"#0000ff", "#ff0000"}));
    QCOMPARE(colours("<rect x='20' y='20' width='20' height='20' fill='#ff0000' "
                     "fill-opacity='0.6'/>"),
             (Words{"#0000ff", "#990066"}));
    // veils that hardly change a colour are left out, with a word; many of them change it
    const std::string veil =
        "<rect x='20' y='20' width='20' height='20' fill='#ffffff' fill-opacity='0.06'/>";
    QCOMPARE(colours(veil), Words{"#0000ff"});
    const Artwork faint = readArtwork(svg(below + veil), "t");
    QCOMPARE(faint.warnings.size(), size_t{1});
    QVERIFY(faint.warnings[0].find("hardly changes") != std::string::npos);
    std::string many;
    for (int i = 0; i < 8; ++i) many += veil;
    QVERIFY(colours(many).size() > 1);
  }
  /// A tint is laid over random shapes: each place shows what a viewer shows, to what is worth a
  /// thread.
  void tintsOverRandomShapesShowRight() {
    std::mt19937 random = testing::seeded(93);
    int wrong = 0, looked = 0;
    for (int i = 0; i < 25; ++i) {
      struct Card {
        Box box;
        std::array<double, 3> colour;
        double opacity;
      };
      std::vector<Card> cards;
      std::string body;
      for (int k = 0; k < 5; ++k) {
        Card c{Box::around({testing::between(random, 30, 70), testing::between(random, 30, 70)},
                           testing::between(random, 20, 50), testing::between(random, 20, 50)),
               {},
               k % 2 ? testing::between(random, 0.2, 0.9) : 1.0};
        char hex[8];
        unsigned rgb = 0;
        for (double& v : c.colour) {
          const unsigned byte = random() % 256;
          v = byte, rgb = rgb << 8 | byte;
        }
        std::snprintf(hex, sizeof hex, "#%06x", rgb);
        body += "<rect x='" + std::to_string(c.box.left) + "' y='" + std::to_string(c.box.top) +
                "' width='" + std::to_string(c.box.width()) + "' height='" +
                std::to_string(c.box.height()) + "' fill='" + hex + "' fill-opacity='" +
                std::to_string(c.opacity) + "'/>";
        cards.push_back(c);
      }
      const Artwork a = readArtwork(svg(body), "t");
      for (int n = 0; n < 200; ++n) {
        const Point p{testing::between(random, 5, 95), testing::between(random, 5, 95)};
        std::array<double, 3> light{};
        double seen = 0;
        for (const Card& c : cards) {
          if (!c.box.contains(p)) continue;
          for (size_t k = 0; k < 3; ++k)
            light[k] = c.opacity * c.colour[k] + (1 - c.opacity) * light[k];
          seen = c.opacity + (1 - c.opacity) * seen;
        }
        const Shape* top = nullptr;
        for (const Shape& s : a.shapes)
          if (contains(s.area, p)) top = &s;
        if (seen < 0.45) continue;                  // on paper it is ink from one half
        if (seen > 0.55 && seen < 0.999) continue;  // its own colour there, in full
        ++looked;
        double off = top ? 0 : 765;
        for (size_t k = 0; top && k < 3; ++k)
          off += std::abs(light[k] - ((top->colour.rgb >> (16 - 8 * k)) & 255));
        // small parts follow the larger ones, and a quarter of full scale is not worth a thread
        wrong += off > 0.25 * 255 + 0.08 * 255 + 3;
      }
    }
    QVERIFY2(wrong <= 0.04 * looked, qPrintable(QString("%1 of %2").arg(wrong).arg(looked)));
  }
  /// A document type may abbreviate; what names a file or builds on itself is not followed.
  void abbreviationsOfTheDrawingAreRead() {
    const std::string head =
        "<!DOCTYPE svg [<!ENTITY ns_svg \"http://www.w3.org/2000/svg\"> <!ENTITY st0 "
        "'fill:#ff0000;stroke:none'> <!ENTITY a '&b;&b;'> <!ENTITY b '&a;'>]>";
    const Artwork a = readArtwork(head +
                                      "<svg xmlns='&ns_svg;' width='40' height='40'><rect "
                                      "width='20' height='20' style='&st0;'/><desc>&a;</desc>"
                                      "</svg>",
                                  "t");
    QCOMPARE(a.shapes.size(), size_t{1});
    QCOMPARE(a.shapes[0].colour.hex(), std::string("#ff0000"));
    std::string lots = "<!DOCTYPE svg [<!ENTITY x '" + std::string(100'000, 'x') + "'>]><svg>";
    for (int i = 0; i < 1000; ++i) lots += "<desc>&x;</desc>";
    QVERIFY_THROWS_EXCEPTION(Error, readArtwork(lots + "</svg>", "t"));
  }
  /// Steps of a blend of which only rims are seen become bands; nothing of what is seen is lost.
  void blendsAreSewnInBands() {
    std::string steps;
    for (int i = 0; i <= 120; ++i) {
      char fill[8];
      std::snprintf(fill, sizeof fill, "#%02xa040", 255 - 2 * i);
      steps += "<ellipse cx='50' cy='50' rx='" + std::to_string(45 - 0.3 * i) + "' ry='" +
               std::to_string(40 - 0.3 * i) + "' fill='" + fill + "'/>";
    }
    const Artwork a = readArtwork(svg(steps), "t");
    std::vector<std::string> hidden;
    const std::vector<Shape> shown = withoutHidden(a.shapes, hidden);
    QVERIFY(hidden.empty());
    QVERIFY2(shown.size() >= 4 && shown.size() <= 8, qPrintable(QString::number(shown.size())));
    Area all;
    for (const Shape& s : shown) all = united(all, s.area);
    QVERIFY(std::abs(area_mm2(all) - kPi * 45 * 40) < 20);
    // each place in a colour near that of its step
    std::mt19937 random = testing::seeded(94);
    for (int i = 0; i < 200; ++i) {
      const double turn = testing::between(random, 0, 2 * kPi),
                   k = testing::between(random, 1, 110);
      const Point p{50 + (45 - 0.3 * k) * std::cos(turn), 50 + (40 - 0.3 * k) * std::sin(turn)};
      const Shape* top = nullptr;
      for (const Shape& s : shown)
        if (contains(s.area, p)) top = &s;
      QVERIFY(top);
      QVERIFY(std::abs(static_cast<int>(top->colour.rgb >> 16) - (255 - 2 * k)) < 64);
    }
  }
  /// Outlines that run along each other leave slivers when one is cut by the other: none is sewn.
  void sliversOfClippingAreNotSewn() {
    std::mt19937 random = testing::seeded(95);
    for (int i = 0; i < 20; ++i) {
      const double off = testing::between(random, 0.005, 0.08);
      Shape below, above;
      below.element = "below", above.element = "above";
      below.area = {{{0, 0}, {60, 0}, {60, 30}, {0, 30}}};
      above.area = {{{off, off}, {60 - off, off / 2}, {60 - off, 20}, {off, 20}}};
      std::vector<std::string> hidden;
      for (const Shape& s : withoutHidden(std::vector<Shape>{below, above}, hidden))
        for (const Area& part : separated(s.area)) QVERIFY(!withoutSlivers(part, 0.1).empty());
      const SewnShape sewn =
          digitise(withoutHidden(std::vector<Shape>{below, above}, hidden)[0], {}, {0, 0});
      for (const Strand& s : sewn.strands)
        for (Point p : s.points) QVERIFY(p.y > 19);  // a strip under the edge, and what is seen
    }
  }
  /// A wide line under a narrower one on the same way shows its edges.
  void theEdgesOfALineUnderANarrowerOneAreSewn() {
    const std::string way = "<path d='M10 30C40 10 60 50 90 30' fill='none' ";
    const Artwork a = readArtwork(svg(way + "stroke='#880000' stroke-width='8'/>" + way +
                                      "stroke='#ffff00' "
                                      "stroke-width='4'/>"),
                                  "t");
    double red = 0;
    std::vector<std::string> hidden;
    for (const Shape& s : withoutHidden(a.shapes, hidden))
      if (s.colour.hex() == "#880000") red += area_mm2(inkOf(s));
    QVERIFY(hidden.empty());
    const double length = area_mm2(inkOf(a.shapes[0])) / 8;
    QVERIFY(red > 4 * length && red < 5.2 * length);  // 2 mm a side and what lies under the edge
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
    // several of nearly one colour under another are hidden as well, each by its name
    const Artwork pile = readArtwork(
        svg("<rect x='20' y='20' width='20' height='20' fill='#aa0000'/><rect x='22' y='20' "
            "width='20' height='20' fill='#ac0000'/><rect x='24' y='20' width='20' height='20' "
            "fill='#ae0000'/><rect x='10' y='10' width='50' height='50' fill='#0000aa'/>"),
        "t");
    std::vector<std::string> under;
    QCOMPARE(withoutHidden(pile.shapes, under).size(), size_t{1});
    QCOMPARE(under.size(), size_t{3});
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
