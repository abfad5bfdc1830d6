// What the shop knows, in the window: items laid under a job, shopping, old jobs once more, frames
// measured once, rates kept.
#include <QDoubleSpinBox>
#include <QPlainTextEdit>
#include <QPrinter>
#include <QSpinBox>

#include "file_io.h"
#include "items.h"
#include "job_file.h"
#include "page_view.h"
#include "proof_words.h"
#include "run.h"
#include "shelf.h"
#include "window_driver.h"

namespace test_brief_view {

using namespace rt;

class TestBriefView : public QObject {
  Q_OBJECT
  std::unique_ptr<testing::WindowDriver> d_;
  Desk& desk() { return *d_->desk; }
  const Job& job() { return desk().job(); }

 private slots:
  void initTestCase() {
    d_ = std::make_unique<testing::WindowDriver>();
    QVERIFY(d_->show());
  }

  void anItemLiesUnderTheJobByThreeChoices() {
    d_->window->openDemo("wardens-gilet");
    d_->key(Qt::Key_1);
    d_->choose("itemKind", "Towel");
    d_->choose("itemSize", "bath");
    auto* measures = d_->find<QLabel>("itemMeasures");
    QVERIFY(measures && measures->text().contains("260 mm"));
    d_->click("layItem");
    QCOMPARE(job().brief.fabric, std::string("terry"));
    QCOMPARE(job().brief.place_width_mm, 260.0);
    QVERIFY(job().brief.holding == Holding::Floated);
    QCOMPARE(job().zones.size(), size_t{1});
    desk().undo().undo();  // one step
    QCOMPARE(job().brief.fabric, std::string("jersey"));
  }

  void theListIsWrittenAsItStands() {
    auto* pieces = d_->find<QSpinBox>("shoppingPieces");
    QVERIFY(pieces);
    pieces->setValue(24);
    d_->asker->next = d_->folder.filePath("shopping.csv");
    d_->click("writeShopping");
    const std::string written = readFile(d_->asker->next.toStdString());
    QCOMPARE(written,
             csvOf(shoppingFor(desk().layout(), job().brief, nullptr, 24, desk().bench())));
    QVERIFY(std::count(written.begin(), written.end(), '\n') > 4);
  }

  void anOldJobComesBackWithAnotherText() {
    d_->window->openDemo("hide-banner");
    d_->asker->next = d_->folder.filePath("old banner.rapt");
    QTest::keyClick(d_->window.get(), Qt::Key_S, Qt::ControlModifier);
    const Job old = job();
    d_->window->openDemo("tally-tags");
    d_->key(Qt::Key_1);
    d_->type("repeatText", "SEDGEMERE HIDE");
    d_->click("repeatJob0");
    QVERIFY(job().id != old.id);
    QVERIFY(desk().path().empty());  // the old file is not written over
    QCOMPARE(job().pieces.size(), old.pieces.size());
    QCOMPARE(job().brief.order_text, std::string("SEDGEMERE HIDE"));
    QVERIFY2(proofOf(job()).empty(), proofOf(job()).c_str());
    QVERIFY(loadWork(d_->asker->next.toStdString()).job == old);
  }

  void aFrameIsMeasuredOnceAndStaysOnTheShelf() {
    d_->key(Qt::Key_4);
    const size_t before = desk().bench().shop.hoops.size();
    d_->type("frameName", "Long blue");
    auto* keep = d_->find<QAbstractButton>("keepFrame");
    auto* doubts = d_->find<QLabel>("frameDoubts");
    QVERIFY(keep && doubts && !keep->isEnabled());  // it has no field yet
    d_->type("frameFieldW", "30 cm");
    d_->type("frameFieldH", "4 in");
    QVERIFY(keep->isEnabled());
    QVERIFY2(doubts->text().contains("opening"), qPrintable(doubts->text()));
    d_->type("frameInnerW", "250");
    d_->type("frameInnerH", "150");
    QVERIFY(!keep->isEnabled());  // the field does not fit into the opening
    d_->type("frameInnerW", "330");
    d_->click("keepFrame");
    QCOMPARE(desk().bench().shop.hoops.size(), before + 1);
    QVERIFY(std::abs(hoopFor(desk().bench().shop.hoops, "own-long-blue").field.height_mm - 101.6) <
            1e-9);
    Desk again(openBench(), DeskFolders{d_->folder.path().toStdString()});
    QCOMPARE(again.bench().shop.hoops.size(), before + 1);  // for the next start too
    auto* shelf = d_->find<QComboBox>("hoopBox");
    QVERIFY(shelf && shelf->findText("Long blue") >= 0);
    d_->click("toolmeasureTool");
    d_->click("frameOff_own-long-blue");
    QCOMPARE(desk().bench().shop.hoops.size(), before);
  }

  void thePrinterIsMeasuredOnce() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->key(Qt::Key_5);
    auto* printer = d_->find<QComboBox>("printerName");
    QVERIFY(printer);
    printer->setEditText("Old / slow");
    d_->type("printerRuler", "98.6");
    QCOMPARE(desk().printerRuler_mm("Old / slow", "A4"), 98.6);
    QCOMPARE(desk().printerRuler_mm("Old / slow", "A3"), 100.0);
    Desk again(openBench(), DeskFolders{d_->folder.path().toStdString()});
    QCOMPARE(again.printers(), std::vector<std::string>{"Old / slow"});
    d_->asker->next = d_->folder.filePath("job.pdf");
    d_->click("writeJobSheet");
    QVERIFY(readFile(d_->asker->next.toStdString()).starts_with("%PDF-"));
  }

  /// What is not white, in dots.
  static QRect inked(const QImage& page) {
    QRect out;
    for (int y = 0; y < page.height(); ++y)
      for (int x = 0; x < page.width(); ++x)
        if (qGray(page.pixel(x, y)) < 160) out |= QRect(x, y, 1, 1);
    return out;
  }
  PageView* pagesOf(const char* preview) {
    delete d_->window->findChild<PageView*>();
    d_->click(preview);
    return d_->window->findChild<PageView*>();
  }

  void pagesAreSeenAndPrintedAtTheirTrueSize() {
    const PageView* view = pagesOf("previewTemplate");
    QVERIFY(view && view->pages() >= 1);
    QVERIFY(std::abs(view->size_pt(0).width() - 595) < 1 &&
            std::abs(view->size_pt(0).height() - 842) < 1);
    const QImage seen = view->picture(0, 300);
    const QRect ink = inked(seen);
    QVERIFY2(ink.width() > 1500 && ink.height() > 1500, "the page is all but empty");
    QPrinter printer(QPrinter::HighResolution);
    const QString printed = d_->folder.filePath("printed.pdf");
    printer.setOutputFormat(QPrinter::PdfFormat);
    printer.setOutputFileName(printed);
    view->print(printer);
    const int pages = view->pages();
    delete view;
    PageView::open(
        d_->window.get(), desk(), *d_->asker,
        {"Printed", "printed.pdf", [&](const QString& to) { QFile::copy(printed, to); }});
    view = d_->window->findChild<PageView*>();
    QVERIFY(view);
    QCOMPARE(view->pages(), pages);
    const QRect again = inked(view->picture(0, 300));
    // two dots are 0.17 mm over the whole page: under 0.1 %
    for (const int off : {again.left() - ink.left(), again.right() - ink.right(),
                          again.top() - ink.top(), again.bottom() - ink.bottom()})
      QVERIFY2(std::abs(off) <= 2, qPrintable(QString::number(off)));
    delete view;
  }

  void everyPaperCanBeSeenBefore() {
    for (const char* preview : {"previewJobSheet", "previewTrims", "previewTags", "previewQuote"}) {
      const PageView* view = pagesOf(preview);
      QVERIFY2(view && view->pages() >= 1, preview);
    }
    d_->asker->next = d_->folder.filePath("seen.pdf");
    d_->click("writePages");
    QVERIFY(readFile(d_->asker->next.toStdString()).starts_with("%PDF-"));
    delete d_->window->findChild<PageView*>();
    d_->key(Qt::Key_4);
    desk().makePlan();
    desk().settle();
    d_->click("toolplanTool");
    const PageView* view = pagesOf("previewSheets");
    QVERIFY(view && view->pages() >= static_cast<int>(desk().plan()->hoopings.size()));
    delete view;
  }

  void aBatchBecomesAJobOfItsOwn() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->key(Qt::Key_4);
    auto* count = d_->find<QSpinBox>("batchCount");
    auto* words = d_->find<QLabel>("batchWords");
    QVERIFY(count && words);
    count->setValue(19);
    d_->click("batchFill");
    QVERIFY2(count->value() >= 19 && words->text().contains("full"), qPrintable(words->text()));
    const int full = count->value();
    d_->click("batchMore");
    QCOMPARE(count->value(), full + 1);
    auto* names = d_->find<QPlainTextEdit>("batchNames");
    QVERIFY(names);
    names->setPlainText("Q31\nQ32\nWREN 4\n");
    QVERIFY2(words->text().startsWith("3 pieces"), qPrintable(words->text()));
    QCOMPARE(count->value(), 3);
    // a name that comes out too small is not sewn unasked
    auto* how = d_->find<QComboBox>("batchLong");
    auto* make = d_->find<QPushButton>("batchMake");
    QVERIFY2(how && how->isVisible() && words->text().contains("WREN 4"),
             qPrintable(words->text()));
    QVERIFY(!make->isEnabled());
    d_->choose("batchLong", "sewn small all the same");
    QVERIFY(make->isEnabled());
    const size_t one = job().pieces.size();
    d_->click("batchMake");
    QCOMPARE(job().pieces.size(), 3 * one);
    QVERIFY2(proofOf(job()).empty(), proofOf(job()).c_str());
    d_->click("planButton");
    desk().settle();
    QVERIFY(desk().planCurrent());
    QCOMPARE(desk().plan()->hoopings.size(), size_t{1});
  }

  void ratesAreKeptForTheShop() {
    d_->window->openDemo("tally-tags");
    desk().settle();
    d_->key(Qt::Key_5);
    const double shipped = desk().rates().labour_per_hour;
    auto* hands = d_->find<QDoubleSpinBox>("rateHands");
    QVERIFY(hands);
    QString said;
    connect(&desk(), &Desk::failed, this, [&](const QString& what) { said = what; });
    hands->setFocus();
    hands->selectAll();
    QTest::keyClicks(hands, QLocale().toString(31.5));
    QTest::keyClick(hands, Qt::Key_Return);
    QVERIFY2(said.isEmpty(), qPrintable(said));
    QVERIFY2(hands->isVisible() && hands->hasFocus(), qPrintable(hands->text()));
    QCOMPARE(desk().rates().labour_per_hour, 31.5);
    QVERIFY(desk().ratesAreOwn());
    Desk again(openBench(), DeskFolders{d_->folder.path().toStdString()});
    QCOMPARE(again.rates().labour_per_hour, 31.5);
    d_->click("ratesAsShipped");
    QCOMPARE(desk().rates().labour_per_hour, shipped);
    QVERIFY(!desk().ratesAreOwn());
  }
};

RT_TEST(TestBriefView)

}  // namespace test_brief_view
#include "test_brief_view.moc"
