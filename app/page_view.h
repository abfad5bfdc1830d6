// Pages of a paper as they will be printed: looked at, written to a file, or given to a printer.
#pragma once

#include <QDialog>
#include <QPushButton>
#include <functional>
#include <memory>
#include <vector>

class QPrinter;
namespace Poppler {
class Document;
}

namespace rt {

class Desk;
class FileAsker;

/// A paper that can be written: `write` makes a PDF at a path and throws Error where it cannot.
struct PaperToLookAt {
  QString title;
  QString file_name;  ///< Suggested.
  std::function<void(const QString& path)> write;
};

/// Made once from the file that would be written: what is seen is what is printed.
class PageView : public QDialog {
  Q_OBJECT
 public:
  /// Shows the pages over `parent`, or says in the desk's words why there are none.
  static void open(QWidget* parent, Desk& desk, FileAsker& asker, const PaperToLookAt& paper);
  /// A button that does so with what the paper is when it is pressed.
  static QPushButton* button(Desk& desk, FileAsker& asker, std::function<PaperToLookAt()> paper);
  ~PageView() override;

  int pages() const;
  /// A page, its size in points of 1/72 in, upright as it is read.
  QImage picture(int page, double dots_per_inch) const;
  QSizeF size_pt(int page) const;
  /// Each page at its own size, from the sheet's very corner: nothing is fitted or shifted.
  void print(QPrinter& printer) const;

 private:
  PageView(QWidget* parent, Desk& desk, FileAsker& asker, const QString& title,
           const QString& file_name, QByteArray pdf);
  void writeTo(const QString& path);
  void askPrinter();

  Desk& desk_;
  QByteArray pdf_;
  std::unique_ptr<Poppler::Document> document_;
};

}  // namespace rt
