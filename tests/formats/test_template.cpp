#include <QTemporaryDir>
#include <QtTest>

#include "error.h"
#include "file_io.h"
#include "pdf_lines.h"
#include "random_pattern.h"
#include "run.h"
#include "template_pdf.h"

namespace test_template {

using namespace rt;

class TestTemplate : public QObject {
  Q_OBJECT
  /// A stitch list that takes a sheet or several.
  static Pattern strip(std::mt19937& random) {
    Pattern p = testing::patternFrom("jump 0,0");
    Stitch s = p.stitches[0];
    s.op = Op::Stitch;
    for (int i = 0; i < 40; ++i) {
      s.at = {testing::between(random, -80, 400), testing::between(random, -60, 300)};
      p.stitches.push_back(s);
    }
    return p;
  }
  static size_t pagesIn(const std::string& file) {
    return static_cast<size_t>(QByteArray::fromStdString(readFile(file)).count("/Type /Page "));
  }

 private slots:
  void smallLayoutsTakeOneSheet() {
    QCOMPARE(planTemplate(testing::patternFrom("jump 0,0 stitch 100,60"), {}).tiles.size(),
             size_t{1});
  }
  void sheetsCoverTheLayoutAndOverlap() {
    std::mt19937 random = testing::seeded(121);
    for (int i = 0; i < 60; ++i) {
      const double w = testing::between(random, 50, 900), h = testing::between(random, 50, 900);
      Pattern p = testing::patternFrom("jump 0,0");
      Stitch s = p.stitches[0];
      s.op = Op::Stitch;
      s.at = {w, h};
      p.stitches.push_back(s);
      TemplateOptions o;
      o.paper = static_cast<Paper>(i % 3);
      const TemplateResult r = planTemplate(p, o);
      Box all;
      for (const TemplateTile& t : r.tiles) all.add(t.window);
      QVERIFY(all.contains(Box{0, 0, w, h}));
      for (int k = 0; k < 100;
           ++k) {  // every place lies whole on some sheet, half the overlap around it
        const Box spot = Box::around(
            {testing::between(random, 6, w - 6), testing::between(random, 6, h - 6)}, 9, 9);
        QVERIFY(std::any_of(r.tiles.begin(), r.tiles.end(),
                            [&](const TemplateTile& t) { return t.window.contains(spot); }));
      }
    }
  }
  void writesAPdf() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    TemplateOptions o;
    o.side = TemplateSide::Inside;
    o.grid_mm = 10;
    writeTemplate(testing::patternFrom("jump 0,0 stitch 300,200"), o, file);
    QVERIFY(readFile(file).starts_with("%PDF-"));
  }
  void paperShowsTrueSizeAndMakesAPrinterTrue() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    for (double ruler : {100.0, 98.4, 101.2}) {
      TemplateOptions o;
      o.printer.ruler_mm = ruler;
      writeTemplate(testing::patternFrom("jump 0,0 stitch 60,0 stitch 60,40"), o, file);
      // the printer shrinks or stretches all of it: what comes out is 100 mm
      int rulers = 0, sides = 0;
      for (const testing::PaperLine& l : testing::linesOfPdf(readFile(file), 297)) {
        const double printed = l.mm() * ruler / 100;
        rulers += std::abs(printed - 100) < 0.02 && std::abs(l.from.y - l.to.y) < 0.01;
        sides += std::abs(printed - 60) < 0.02 || std::abs(printed - 40) < 0.02;
        for (Point p : {l.from, l.to})
          QVERIFY(p.x > 0 && p.x < 210 && p.y > 0 && p.y < 297);  // and stays on the page
      }
      QVERIFY2(rulers >= 1 && sides >= 1, qPrintable(QString("%1 %2").arg(rulers).arg(sides)));
    }
    TemplateOptions o;
    o.printer.ruler_mm = 93;  // fitted to the page: that is mended at the printer
    QVERIFY_THROWS_EXCEPTION(Error,
                             writeTemplate(testing::patternFrom("jump 0,0 stitch 60,40"), o, file));
  }
  /// Both sides in one file: as many pages again, the same sheets seen from behind.
  void bothSidesAreInOneFile() {
    std::mt19937 random = testing::seeded(949);
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    for (int round = 0; round < 6; ++round) {
      const Pattern p = strip(random);
      TemplateOptions o;
      const TemplateResult out = planTemplate(p, o);
      o.side = TemplateSide::Inside;
      const TemplateResult in = planTemplate(p, o);
      o.side = TemplateSide::Both;
      const TemplateResult both = writeTemplate(p, o, file);
      QCOMPARE(both.tiles.size(), out.tiles.size() + in.tiles.size());
      for (size_t i = 0; i < both.tiles.size(); ++i) {
        const bool second = i >= out.tiles.size();
        const TemplateTile& t = second ? in.tiles[i - out.tiles.size()] : out.tiles[i];
        QCOMPARE(both.tiles[i].mirrored, second);
        QVERIFY(both.tiles[i].window == t.window);
      }
      QCOMPARE(pagesIn(file), both.tiles.size());
    }
  }
  /// The cross of the item stands on a sheet, or the person is told where the piece lies from it.
  void aCrossThatNoSheetHoldsIsSaid() {
    const TemplateResult near = planTemplate(testing::patternFrom("jump 5,5 stitch 60,40"), {});
    QVERIFY(!near.cross_off && near.warnings.empty());
    const TemplateResult far =
        planTemplate(testing::patternFrom("jump 995,-520 stitch 1005,-480"), {});
    QVERIFY(far.cross_off);
    QCOMPARE(far.warnings.size(), size_t{1});
    QVERIFY(far.warnings[0].find("1000 mm right and 500 mm above") != std::string::npos);
  }
  /// The piece's own middle is marked wherever it is not the cross.
  void thePiecesMiddleIsMarked() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    const auto arms = [&](const char* list) {
      writeTemplate(testing::patternFrom(list), {}, file);
      int count = 0;
      for (const testing::PaperLine& l : testing::linesOfPdf(readFile(file), 297))
        count += std::abs(l.mm() - 10) < 0.02;
      return count;
    };
    QCOMPARE(arms("jump -30,-20 stitch 30,20"), 0);
    QCOMPARE(arms("jump -30,-20 stitch 50,20"), 2);
  }
  /// A stitch that crosses a sheet is on it, also where both its ends lie beside.
  void longStitchesAreOnEverySheetThatTheyCross() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    const Pattern p = testing::patternFrom("jump -450,-30 stitch 450,30");
    const TemplateResult r = writeTemplate(p, {}, file);
    QVERIFY(r.tiles.size() >= 3);
    size_t drawn = 0;
    for (const testing::PaperLine& l : testing::linesOfPdf(readFile(file), 210))
      drawn += std::abs(l.mm() - std::hypot(900, 60)) < 0.05;
    QCOMPARE(drawn, r.tiles.size());
  }
  /// Lines of the item are drawn along, on the mirrored side mirrored.
  void edgesOfTheItemAreDrawn() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    TemplateOptions o;
    o.edges.push_back({"neckline", {{-20, -18}, {17, -18}}, false});
    for (TemplateSide side : {TemplateSide::Outside, TemplateSide::Inside}) {
      o.side = side;
      writeTemplate(testing::patternFrom("jump -30,-20 stitch 30,20"), o, file);
      int edges = 0;
      double from = 0, middle = 0;
      for (const testing::PaperLine& l : testing::linesOfPdf(readFile(file), 297)) {
        if (std::abs(l.mm() - 37) < 0.02) ++edges, from = std::min(l.from.x, l.to.x);
        if (std::abs(l.from.x - l.to.x) < 0.01 && l.mm() > 200) middle = l.from.x;
      }
      QCOMPARE(edges, 1);
      QVERIFY(std::abs(from - middle - (side == TemplateSide::Outside ? -20 : -17)) < 0.05);
    }
  }
  void titlesOfAnyLengthLeaveTheNotesTheirRoom() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("t.pdf").toStdString();
    TemplateOptions o;
    for (const char* letter : {"W", "ß", "語"}) {
      o.title.clear();
      for (int i = 0; i < 400; ++i) o.title += letter;
      writeTemplate(testing::patternFrom("jump 0,0 stitch 60,40"), o, file);
      QCOMPARE(pagesIn(file), size_t{1});
    }
  }
  void nothingAndTooMuchAreRefused() {
    QVERIFY_THROWS_EXCEPTION(Error, planTemplate({}, {}));
    QVERIFY_THROWS_EXCEPTION(Error,
                             planTemplate(testing::patternFrom("jump 0,0 stitch 90000,90000"), {}));
  }
};

RT_TEST(TestTemplate)

}  // namespace test_template
#include "test_template.moc"
