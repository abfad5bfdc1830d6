// A quote as a shop sends it, through the window: what is typed stands on the paper, the shop's own
// reckoning does not, and screen, papers, file and command line ask the same.
#include <poppler/qt6/poppler-qt6.h>

#include <QPlainTextEdit>
#include <QSpinBox>

#include "actions.h"
#include "card_file.h"
#include "data_folder.h"
#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "paperwork.h"
#include "run.h"
#include "window_driver.h"

namespace test_quote_paper {

using namespace rt;
using testing::WindowDriver;

class TestQuotePaper : public QObject {
  Q_OBJECT

  static void begin(WindowDriver& w) {
    Job job;
    job.id = "quote", job.title = "Warden's gilet";
    job.brief.item = "Gilet, back", job.brief.order_text = "QUILLFEN";
    TextSource text;
    text.text = "QUILLFEN";
    text.height_mm = 30;
    Piece piece = pieceFromText(text, w.desk->fabric(), w.desk->bench()).piece;
    piece.id = job.next_piece_id++;
    job.pieces.push_back(piece);
    w.desk->take(std::move(job), {});
    QVERIFY(w.show());
    w.key(Qt::Key_5);
    w.desk->settle();
  }
  static void fill(WindowDriver& w, const char* name, const QString& text) {
    auto* field = w.find<QPlainTextEdit>(name);
    QVERIFY2(field, name);
    field->setFocus();
    field->selectAll();
    for (const QString& line : text.split(QChar('\n'))) {
      if (line != text.section(QChar('\n'), 0, 0)) QTest::keyClick(field, Qt::Key_Return);
      QTest::keyClicks(field, line);
    }
    w.window->cloth().setFocus();  // left, as a click elsewhere leaves it
    QCoreApplication::processEvents();
  }
  static void count(WindowDriver& w, const char* name, const QString& number) {
    auto* box = w.find<QAbstractSpinBox>(name);
    QVERIFY2(box, name);
    box->setFocus();
    box->selectAll();
    QTest::keyClicks(box, number);
    QTest::keyClick(box, Qt::Key_Return);
    QCoreApplication::processEvents();
  }
  static QString wordsOf(const QString& path, int* pages = nullptr) {
    const auto document = Poppler::Document::load(path);
    if (!document) return {};
    if (pages) *pages = document->numPages();
    QString words;
    for (int p = 0; p < document->numPages(); ++p)
      words += std::unique_ptr<Poppler::Page>(document->page(p))->text({}) + QChar('\n');
    return words;
  }
  static QString paper(WindowDriver& w, const char* button, const QString& name) {
    w.asker->next = w.folder.filePath(name);
    w.click(button);
    return wordsOf(w.asker->next);
  }

 private slots:
  void whatIsTypedStandsOnThePaper() {
    WindowDriver w;
    begin(w);
    if (QTest::currentTestFailed()) return;
    fill(w, "quoteCustomer", "Sedge Warbler Society\nMere Lane 4");
    w.type("cardName", "Rapt Thimble workroom");
    fill(w, "cardLines", "Reed Street 12\nQuillfen");
    count(w, "cardTax", "20");
    w.type("cardTaxName", "sales tax");
    count(w, "cardDays", "14");
    fill(w, "cardTerms", "Half on order, half on collection.");
    count(w, "quotePieces", "24");
    auto* beside = w.find<QLineEdit>("quoteBeside");
    beside->selectAll();
    QTest::keyClicks(beside, "1, 100, 24");
    if (QTest::currentTestFailed()) return;
    const QString words = paper(w, "writeQuote", "quote.pdf");
    for (const char* part :
         {"Quote: Warden's gilet", "Sedge Warbler Society", "Mere Lane 4", "Rapt Thimble workroom",
          "Reed Street 12", "Valid until", "QUILLFEN", "Gilet, back", "20 % sales tax", "To pay",
          "24 pieces", "100 pieces", "1 piece", "Half on order, half on collection.", " mm x "})
      QVERIFY2(words.contains(part), qPrintable(QString(part) + " in " + words));
    // the inner reckoning stays inside
    for (const char* part :
         {"labour", "margin", "spoilage", "cost", "minutes", "Taken for granted"})
      QVERIFY2(!words.contains(part, Qt::CaseInsensitive), part);
    // each quantity once, asked as the one function says
    const QuotePaper told = quotePaperOf(
        w.desk->job(), w.desk->layout(), nullptr, w.desk->bench(), w.desk->rates(),
        w.desk->shop().card(), {{24, 1, 0, {}, {}}, {1, 100, 24}}, std::chrono::year_month_day{});
    QCOMPARE(told.columns.size(), size_t{3});
    for (const QuotePaper::Column& c : told.columns)
      for (double amount : {c.offer.each, c.offer.together, c.offer.tax, c.offer.with_tax})
        QVERIFY2(words.contains(QString::fromStdString(moneyWords(amount))),
                 qPrintable(QString::fromStdString(moneyWords(amount)) + " in " + words));
    QStringList shown;
    for (QLabel* label : w.window->findChildren<QLabel*>()) shown << label->text();
    QVERIFY(shown.contains(QString::fromStdString(moneyWords(told.columns[0].offer.together))));
    // the shop's own paper has it all
    const QString costs = paper(w, "writeCosts", "costs.pdf");
    for (const char* part :
         {"For the shop alone", "labour", "margin", "spoilage", "asked together"})
      QVERIFY2(costs.contains(part, Qt::CaseInsensitive), qPrintable(part + (" in " + costs)));
    QVERIFY(!costs.contains("Half on order"));

    // the customer is the job's, the card the shop's
    const std::filesystem::path file = w.folder.filePath("gilet.rapt").toStdString();
    saveWork(w.desk->document().work(), file);
    QCOMPARE(loadWork(file).job.brief.customer, std::string("Sedge Warbler Society\nMere Lane 4"));
    Desk again(openBench(), DeskFolders{w.folder.path().toStdString()});
    QCOMPARE(again.shop().card(), w.desk->shop().card());
    QCOMPARE(again.shop().card().lines.size(), size_t{2});
    w.desk->undo().undo();
    QVERIFY(w.desk->job().brief.customer.empty());
    QVERIFY(!paper(w, "writeQuote", "second.pdf").contains("Sedge Warbler"));
  }

  /// The customer is kept as it is typed: a save with the cursor still in the field holds it, and
  /// another job opened meanwhile neither shows nor takes it.
  void aCustomerStaysWithItsJob() {
    WindowDriver w;
    begin(w);
    auto* field = w.find<QPlainTextEdit>("quoteCustomer");
    QVERIFY(field);
    field->setFocus();
    QTest::keyClicks(field, "Mere Lane 4");
    QVERIFY(field->hasFocus());
    const std::filesystem::path file = w.folder.filePath("mere.rapt").toStdString();
    saveWork(w.desk->document().work(), file);
    QCOMPARE(loadWork(file).job.brief.customer, std::string("Mere Lane 4"));
    w.desk->undo().undo();  // one step, and the field shows it
    QVERIFY(w.desk->job().brief.customer.empty());
    w.desk->settle();
    QCOMPARE(field->toPlainText(), QString());
    w.desk->undo().redo();
    w.desk->settle();
    QCOMPARE(field->toPlainText(), QString("Mere Lane 4"));

    Job other = w.desk->job();
    other.id = "other", other.brief.customer = "Reed Bank";
    w.desk->take(std::move(other), {});
    w.desk->settle();
    QCOMPARE(field->toPlainText(), QString("Reed Bank"));
    w.window->cloth().setFocus();
    QCoreApplication::processEvents();
    QCOMPARE(w.desk->job().brief.customer, std::string("Reed Bank"));
    // terms that were typed when the window closes are the shop's
    auto* terms = w.find<QPlainTextEdit>("cardTerms");
    QVERIFY(terms);
    terms->setFocus();
    QTest::keyClicks(terms, "Paid on collection.");
    w.window->close();
    QCOMPARE(w.desk->shop().card().terms, std::vector<std::string>{"Paid on collection."});
  }

  void withoutACardItIsStillAQuote() {
    WindowDriver w;
    begin(w);
    const QString words = paper(w, "writeQuote", "bare.pdf");
    QVERIFY(words.contains("Quote: Warden's gilet") && words.contains("Together"));
    QVERIFY(!words.contains("tax", Qt::CaseInsensitive) && !words.contains("For\n"));
    // what is no number is said, and nothing is written over
    auto* beside = w.find<QLineEdit>("quoteBeside");
    beside->selectAll();
    QTest::keyClicks(beside, "10, many");
    w.click("writeQuote");
    QCOMPARE(wordsOf(w.folder.filePath("bare.pdf")), words);
    QStringList shown;
    for (QLabel* label : w.window->findChildren<QLabel*>()) shown << label->text();
    QVERIFY2(shown.join(' ').contains("many"), qPrintable(shown.join('\n')));
  }

  /// However much is written, no line leaves the page or runs into another.
  void muchTakesMorePages() {
    WindowDriver w;
    begin(w);
    QuotePaper q = quotePaperOf(w.desk->job(), w.desk->layout(), nullptr, w.desk->bench(),
                                w.desk->rates(), {}, {}, std::chrono::year_month_day{});
    q.customer = std::string(300, 'W');
    q.shop.name = "A shop whose name is far too long for one line of its corner of the page";
    for (int i = 0; i < 60; ++i) q.shop.terms.push_back("Term " + std::to_string(i) + ".");
    const QuotePaper::Column one = q.columns.front();
    for (int i = 2; i < 60; ++i) q.columns.push_back(one), q.columns.back().pieces = i;
    const std::string file = w.folder.filePath("long.pdf").toStdString();
    const int pages = writeQuote(q, file);
    int read = 0;
    const QString words = wordsOf(QString::fromStdString(file), &read);
    QCOMPARE(read, pages);
    QVERIFY(pages >= 2);
    for (int i = 0; i < 60; ++i) QVERIFY(words.contains(QString("Term %1.").arg(i)));
    for (int i = 1; i < 60; ++i) QVERIFY(words.contains(QString("%1 piece").arg(i)));
    const auto document = Poppler::Document::load(QString::fromStdString(file));
    for (int p = 0; p < pages; ++p) {
      const std::unique_ptr<Poppler::Page> page(document->page(p));
      const QRectF sheet(QPointF(), page->pageSizeF());
      for (const auto& box : page->textList()) {
        if (box->text().contains("WWW")) continue;  // a word wider than its corner cannot wrap
        QVERIFY2(sheet.contains(box->boundingBox()), qPrintable(box->text()));
      }
    }
    QVERIFY(writeCosts(q, file) >= 2);
    q.columns.clear();
    QVERIFY_THROWS_EXCEPTION(Error, writeQuote(q, file));
  }

  void aCardIsReadAsItWasWritten() {
    QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("card.json").toStdString();
    ShopCard card;
    card.name = "Reed & Mere", card.lines = {"one \"line\"", "two"};
    card.tax_name = "sales tax", card.tax = 0.175, card.valid_days = 7;
    card.terms = {"Paid on collection."};
    writeFile(file, cardJson(card));
    QCOMPARE(readCard(file), card);
    writeFile(file, "{}");
    QCOMPARE(readCard(file), ShopCard{});
    for (const char* bad : {"[]", "{\"tax\": -1}", "{\"tax\": \"much\"}", "{\"lines\": \"one\"}",
                            "{\"terms\": [1]}", "{\"valid_days\": 0}", "{\"valid_days\": 1e99}"}) {
      writeFile(file, bad);
      QVERIFY_THROWS_EXCEPTION(Error, readCard(file));
    }
    card.tax = 20;
    QVERIFY_THROWS_EXCEPTION(Error, cardJson(card));
  }
};

RT_TEST(TestQuotePaper)

}  // namespace test_quote_paper
#include "test_quote_paper.moc"
