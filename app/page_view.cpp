#include "page_view.h"

#include <poppler-qt6.h>

#include <QPrintDialog>
#include <QPrinter>
#include <QScrollArea>
#include <QTemporaryDir>

#include "error.h"
#include "file_io.h"
#include "station.h"

namespace rt {
namespace {

constexpr double kPrint_dpi = 300;  // a dot is 0.085 mm, under the 0.1 mm of a good ruler
constexpr int kPageWidth = 640, kPageGap = 16;

/// A page, drawn when it is first seen: a long paper opens as soon as a short one.
class PageLabel : public QWidget {
 public:
  PageLabel(const PageView& view, int page) : view_(view), page_(page) {
    const QSizeF pt = view.size_pt(page);
    setFixedSize(kPageWidth, static_cast<int>(kPageWidth * pt.height() / pt.width()));
    setAccessibleName(tr("Page %1 of %2").arg(page + 1).arg(view.pages()));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const double dpr = devicePixelRatioF();
    if (picture_.isNull() || picture_.devicePixelRatio() != dpr) {
      picture_ = view_.picture(page_, 72 * width() * dpr / view_.size_pt(page_).width());
      picture_.setDevicePixelRatio(dpr);
    }
    QPainter painter(this);
    painter.drawImage(rect(), picture_);
    painter.setPen(look::colours().line);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }

 private:
  const PageView& view_;
  int page_;
  QImage picture_;
};

}  // namespace

void PageView::open(QWidget* parent, Desk& desk, FileAsker& asker, const PaperToLookAt& paper) {
  guarded(desk, [&] {
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("paper.pdf"));
    paper.write(path);
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
      throw Error("the pages could not be made", "preview", "check the free disk space");
    auto* view =
        new PageView(parent->window(), desk, asker, paper.title, paper.file_name, file.readAll());
    view->setAttribute(Qt::WA_DeleteOnClose);
    view->show();
  });
}

QPushButton* PageView::button(Desk& desk, FileAsker& asker, std::function<PaperToLookAt()> paper) {
  auto* look =
      rt::button(tr("Preview"), tr("See the pages as they will be printed, and print them"));
  connect(look, &QPushButton::clicked, look, [look, &desk, &asker, paper = std::move(paper)] {
    guarded(desk, [&] { open(look, desk, asker, paper()); });
  });
  return look;
}

PageView::PageView(QWidget* parent, Desk& desk, FileAsker& asker, const QString& title,
                   const QString& file_name, QByteArray pdf)
    : QDialog(parent),
      desk_(desk),
      pdf_(std::move(pdf)),
      document_(Poppler::Document::loadFromData(pdf_)) {
  if (!document_ || document_->numPages() < 1)
    throw Error("the pages could not be read back", "preview", "write the PDF and open it instead");
  document_->setRenderHint(Poppler::Document::Antialiasing);
  document_->setRenderHint(Poppler::Document::TextAntialiasing);
  setWindowTitle(title);
  setObjectName(QStringLiteral("pageView"));
  auto* column = new QVBoxLayout(this);
  auto* sheets = new QWidget;
  auto* stack = new QVBoxLayout(sheets);
  stack->setSpacing(kPageGap);
  for (int page = 0; page < pages(); ++page)
    stack->addWidget(new PageLabel(*this, page), 0, Qt::AlignHCenter);
  auto* area = new QScrollArea;
  area->setWidget(sheets);
  area->setWidgetResizable(true);
  area->setAlignment(Qt::AlignHCenter);
  column->addWidget(area, 1);
  auto* row = new QHBoxLayout;
  const QSizeF pt = size_pt(0);
  row->addWidget(paragraph(tr("%1 of %2 × %3 mm. Print at 100 %, not fitted to the page.")
                               .arg(counted(static_cast<size_t>(pages()), tr("page"), tr("pages")))
                               .arg(pt.width() / 72 * 25.4, 0, 'f', 0)
                               .arg(pt.height() / 72 * 25.4, 0, 'f', 0),
                           true),
                 1);
  auto* write = rt::button(tr("Write PDF …"), tr("Keep these pages as a file"));
  auto* print = rt::button(tr("Print …"), tr("Give these pages to a printer of this system"), true);
  write->setObjectName(QStringLiteral("writePages"));
  print->setObjectName(QStringLiteral("printPages"));
  row->addWidget(write);
  row->addWidget(print);
  column->addLayout(row);
  resize(kPageWidth + 96, 720);
  connect(write, &QPushButton::clicked, this, [this, &asker, file_name] {
    const QString path = asker.toSave(this, tr("Write the pages"), file_name, tr("PDF (*.pdf)"));
    if (!path.isEmpty()) writeTo(path);
  });
  connect(print, &QPushButton::clicked, this, &PageView::askPrinter);
}

PageView::~PageView() = default;

int PageView::pages() const {
  return document_->numPages();
}

QSizeF PageView::size_pt(int page) const {
  return std::unique_ptr<Poppler::Page>(document_->page(page))->pageSizeF();
}

QImage PageView::picture(int page, double dpi) const {
  return std::unique_ptr<Poppler::Page>(document_->page(page))->renderToImage(dpi, dpi);
}

void PageView::writeTo(const QString& path) {
  guarded(desk_, [&] {
    writeFile(path.toStdString(), pdf_.toStdString());
    desk_.say(tr("%1 written to %2.")
                  .arg(counted(static_cast<size_t>(pages()), tr("page"), tr("pages")), path));
  });
}

void PageView::print(QPrinter& printer) const {
  QPainter painter;
  printer.setFullPage(true);
  for (int page = 0; page < pages(); ++page) {
    const QSizeF pt = size_pt(page);
    printer.setPageSize(QPageSize(pt, QPageSize::Point, {}, QPageSize::FuzzyMatch));
    printer.setPageMargins({}, QPageLayout::Point);
    if (page == 0 ? !painter.begin(&printer) : !printer.newPage())
      throw Error("the printer took no page", "print",
                  "see whether it is on, or write a PDF and print that");
    const double dots = printer.resolution() / 72.0;
    painter.drawImage(QRectF(QPointF(), pt * dots), picture(page, kPrint_dpi));
  }
}

void PageView::askPrinter() {
  guarded(desk_, [&] {
    QPrinter printer(QPrinter::HighResolution);
    printer.setDocName(windowTitle());
    QPrintDialog dialog(&printer, this);
    dialog.setWindowTitle(tr("Print %1").arg(windowTitle()));
    if (dialog.exec() != QDialog::Accepted) return;
    print(printer);
    desk_.say(tr("%1 given to the printer. Measure the check ruler.")
                  .arg(counted(static_cast<size_t>(pages()), tr("page"), tr("pages"))));
  });
}

}  // namespace rt
