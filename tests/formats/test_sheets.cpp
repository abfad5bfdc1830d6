// Sheets on paper: hoopings and tags.
#include <QTemporaryDir>
#include <QtTest>

#include "csv_table.h"
#include "error.h"
#include "file_io.h"
#include "hooping_sheets.h"
#include "job_sheet.h"
#include "pdf_lines.h"
#include "pdf_pages.h"
#include "plan_folder.h"
#include "random_pattern.h"
#include "run.h"
#include "shelf.h"
#include "statistics.h"
#include "tag_sheets.h"

namespace test_sheets {

using namespace rt;

namespace {

Pattern wide(int threads) {
  Pattern p;
  p.title = "reed bed";
  for (int t = 0; t < threads; ++t) {
    const uint16_t thread = p.threadIndex({static_cast<uint32_t>(0x0a0b0c * (t + 1) & 0xffffff)});
    const double y = t * 3.0;
    p.stitches.push_back({{0, y}, 0, thread, 0, Op::Jump, Kind::Unknown});
    for (double x = 0; x <= 260; x += 4)
      p.stitches.push_back({{x, y}, 0, thread, 0, Op::Stitch, Kind::Run});
    p.stitches.push_back({{260, y}, 0, thread, 0, Op::Trim, Kind::Unknown});
  }
  return p;
}

HoopingPlan planned(int threads) {
  PlanOptions options;
  options.hoops.emplace_back();
  options.hoops[0].id = "field-150x120";
  options.hoops[0].field = {150, 120, HoopShape::Rectangle};
  return planHoopings(wide(threads), options);
}

qsizetype pagesIn(const std::string& pdf) {
  return QByteArray::fromStdString(pdf).count("/Type /Page ");
}

}  // namespace

class TestSheets : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::filesystem::path path(const char* name) { return dir_.filePath(name).toStdString(); }
 private slots:
  void aPageAHooping() {
    const HoopingPlan plan = planned(8);
    HoopingSheetOptions o;
    o.title = "Reed bed";
    const HoopingSheets r = writeHoopingSheets(plan, o, path("sheets.pdf"));
    QCOMPARE(r.pages, static_cast<int>(plan.hoopings.size()));
    for (size_t i = 0; i < r.sheets.size(); ++i)
      QCOMPARE(r.sheets[i].page, static_cast<int>(i) + 1);
    const std::string pdf = readFile(path("sheets.pdf"));
    QCOMPARE(pagesIn(pdf), qsizetype{r.pages});
    QVERIFY(r.warnings.empty());
  }
  void manyThreadsGoOnOverleaf() {
    const HoopingPlan plan = planned(38);
    const HoopingSheets r = writeHoopingSheets(plan, {}, path("many.pdf"));
    QVERIFY(r.pages > static_cast<int>(plan.hoopings.size()));
    QCOMPARE(r.warnings.size(), size_t{1});
    QCOMPARE(pagesIn(readFile(path("many.pdf"))), qsizetype{r.pages});
  }
  void theJobSheetTellsEveryThread() {
    JobSheetOptions o;
    o.title =
        "Reed bed with a title that is so long that it has to go over several lines of the page";
    o.order_text = "QUILLFEN\nHIDE";
    o.materials = {"canvas, hooped", "backing: tear-away"};
    o.cautions = {"keep clear of the zip"};
    o.needles = 4;
    o.parts.push_back({"Layout", wide(3)});
    JobSheet few = writeJobSheet(o, path("job.pdf"));
    QCOMPARE(few.pages, 1);
    const Statistics s = statisticsOf(wide(3), {});
    QVERIFY(std::abs(few.metres - s.thread_mm / 1000) < 1e-9);
    o.parts = {{"Hooping 1", wide(40)}, {"Hooping 2", wide(2)}};
    const JobSheet many = writeJobSheet(o, path("job.pdf"));
    QVERIFY(many.pages >= 2);  // forty threads go on overleaf
    QCOMPARE(pagesIn(readFile(path("job.pdf"))), qsizetype{many.pages});
    QVERIFY(many.minutes > few.minutes);
    for (const testing::PaperLine& l : testing::linesOfPdf(readFile(path("job.pdf")), 297))
      for (Point p : {l.from, l.to}) QVERIFY(p.x > 5 && p.x < 205 && p.y > 5 && p.y < 292);
    QVERIFY_THROWS_EXCEPTION(Error, writeJobSheet({}, path("no.pdf")));
    QVERIFY(!std::filesystem::exists(path("no.pdf")));
  }
  void nothingIsLeftOfWhatFails() {
    QVERIFY_THROWS_EXCEPTION(Error, writeHoopingSheets({}, {}, path("none.pdf")));
    QVERIFY(!std::filesystem::exists(path("none.pdf")));
  }
  void plansComeBackFromTheirFolder() {
    const HoopingPlan plan = planned(5);
    writePlanFolder(path("plan"), plan);
    const HoopingPlan read = readPlanFolder(path("plan"));
    QCOMPARE(read.hoopings.size(), plan.hoopings.size());
    for (size_t i = 0; i < plan.hoopings.size(); ++i) {
      const Hooping &a = plan.hoopings[i], &b = read.hoopings[i];
      QCOMPARE(b.settings.size(), a.settings.size());
      QCOMPARE(b.marks.size(), a.marks.size());
      QVERIFY(distance(a.settings[0].field.box.centre(), b.settings[0].field.box.centre()) < 1e-6);
      QVERIFY(std::abs(a.settings[0].field.box.width() - b.settings[0].field.box.width()) < 1e-6);
      QCOMPARE(b.settings[0].stitches, a.settings[0].stitches);
    }
    writeFile(path("plan/plan.json"), "{\"hoopings\": [{}]}");
    QVERIFY_THROWS_EXCEPTION(Error, readPlanFolder(path("plan")));
    writeFile(path("plan/plan.json"), "{");
    QVERIFY_THROWS_EXCEPTION(Error, readPlanFolder(path("plan")));
    QVERIFY_THROWS_EXCEPTION(Error, readPlanFolder(path("nowhere")));
  }
  void wordsWrapAndShrinkToTheirRoom() {
    PdfPages pdf(sheetSize(Paper::A4));
    const TextStyle style{3, false, TextAlign::Left};
    const double line = pdf.heightOf(0, "reed", style);
    QVERIFY(pdf.heightOf(30, "a heron stands among the reeds until the water is still", style) >
            2.5 * line);
    // a word longer than the line is broken, not clipped
    QVERIFY(pdf.heightOf(20, std::string(60, 'w'), style) > 3 * line);
    QVERIFY(pdf.widthOf("reed", 6) > 1.9 * pdf.widthOf("reed", 3));
  }
  void tagsAreThoseOfTheFamily() {
    QCOMPARE(tagCount(), 587);
    const TagSheets r = writeTagSheets({Paper::A4, 580, 7, 20}, path("tags.pdf"));
    QCOMPARE(r.ids, (std::vector<int>{580, 581, 582, 583, 584, 585, 586}));
    QCOMPARE(pagesIn(readFile(path("tags.pdf"))), qsizetype{1});
    QVERIFY_THROWS_EXCEPTION(Error, writeTagSheets({Paper::A4, 580, 8, 20}, path("x.pdf")));
    QVERIFY_THROWS_EXCEPTION(Error, writeTagSheets({Paper::A4, -1, 1, 20}, path("x.pdf")));
    QVERIFY_THROWS_EXCEPTION(Error, writeTagSheets({Paper::A4, 0, 1, 400}, path("x.pdf")));
    QVERIFY(!std::filesystem::exists(path("x.pdf")));
  }
  void tablesReadQuotesAndLineBreaks() {
    writeFile(path("t.csv"),
              "# a \"comment\nname , count\n\"two\nlines, \"\"quoted\"\"\",3\n5\" band, 4\n");
    const CsvTable table(path("t.csv"), {"name", "count"});
    QCOMPARE(table.rows(), size_t{2});
    QCOMPARE(table.text(0, "name"), std::string("two\nlines, \"quoted\""));
    QCOMPARE(table.text(1, "name"), std::string("5\" band"));
    QCOMPARE(table.number(1, "count"), 4.0);
    QVERIFY(table.where(1).ends_with("line 5"));
    writeFile(path("t.csv"), "name\n\"never closed\n" + std::string(4000, '\n'));
    QVERIFY_THROWS_EXCEPTION(Error, CsvTable(path("t.csv"), {"name"}));
  }
  void shelvesComeBack() {
    Hoop halves;
    halves.id = "halves";
    halves.name = "Halves";
    halves.field = {200, 110, HoopShape::Rectangle};
    halves.settings = {{0, -50, 0}, {0, 50, 180}};
    halves.setting_error_mm = 0.2;
    Hoop rails;
    rails.id = rails.name = "rails";
    rails.field = {120, 160, HoopShape::Oval};
    rails.rail = FrameRail{false, -20, 40};
    rails.clear_mm = 25;
    writeFile(path("shelf.json"), shelfJson({halves, rails}));
    QVERIFY(readShelf(path("shelf.json")) == (std::vector<Hoop>{halves, rails}));
    QCOMPARE(joinedShelf({halves}, {rails, halves}).size(), size_t{2});
    for (const char* bad :
         {"{\"hoops\": []}", "{\"hoops\": [{\"id\": \"a\", \"field_mm\": [0, 10]}]}",
          "{\"hoops\": [{\"id\": \"a\", \"field_mm\": [9, 10], \"settings\": [{\"x_mm\": 0, "
          "\"y_mm\": 0, \"turn_deg\": 45}]}]}",
          "{\"hoops\": [{\"id\": \"a\", \"field_mm\": [9, 10]}, {\"id\": \"a\", \"field_mm\": [9, "
          "10]}]}",
          "{\"hoops\": [{\"id\": \"a\", \"field_mm\": [9, 10], \"rail\": {\"axis\": \"z\", "
          "\"from_mm\": 0, \"to_mm\": 1}}]}",
          "{\"hoops\": 3}", "{}"}) {
      writeFile(path("bad.json"), bad);
      QVERIFY_THROWS_EXCEPTION(Error, readShelf(path("bad.json")));
    }
  }
};

RT_TEST(TestSheets)

}  // namespace test_sheets
#include "test_sheets.moc"
