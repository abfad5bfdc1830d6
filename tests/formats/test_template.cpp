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
    o.mirror = true;
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
  void nothingAndTooMuchAreRefused() {
    QVERIFY_THROWS_EXCEPTION(Error, planTemplate({}, {}));
    QVERIFY_THROWS_EXCEPTION(Error,
                             planTemplate(testing::patternFrom("jump 0,0 stitch 90000,90000"), {}));
  }
};

RT_TEST(TestTemplate)

}  // namespace test_template
#include "test_template.moc"
