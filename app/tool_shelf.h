// One tool at a time: what panels do instead of growing.
#pragma once

#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>

namespace rt {

/// A row of names; the tool of the chosen one stands under it. Tools that make no sense just now
/// have no name in the row.
class ToolShelf : public QWidget {
  Q_OBJECT
 public:
  explicit ToolShelf(QWidget* parent = nullptr);
  /// Takes the tool over. `key` names its button for tests and scripts.
  void add(const QString& name, const QString& key, QWidget* tool);
  void setAvailable(QWidget* tool, bool available);
  /// Brings a tool up, and keeps to it as long as it is available.
  void open(QWidget* tool);
  /// Brings a tool up unless a person asked for another that is available.
  void suggest(QWidget* tool);
  QWidget* opened() const;
  /// The button that brings a tool up; null for a widget that is none.
  QPushButton* buttonOf(const QWidget* tool) const;

 signals:
  void openedTool(QWidget* tool);

 private:
  struct Tool {
    QPushButton* button;
    QWidget* widget;
    bool available = true;
  };
  void show(QWidget* tool);
  void layNames();
  std::vector<Tool> tools_;
  QWidget *row_, *wanted_ = nullptr, *shown_ = nullptr;
};

/// Something seldom used behind a line that says what is in it.
class Fold : public QWidget {
  Q_OBJECT
 public:
  Fold(const QString& title, const QString& key, QWidget* content, QWidget* parent = nullptr);
  void setTitle(const QString& title);
  void setOpen(bool open);
  bool isOpen() const { return open_; }
  QPushButton* header() const { return header_; }
  QWidget* content() const { return content_; }

 private:
  QString title_;
  QPushButton* header_;
  QWidget* content_;
  bool open_ = false;
};

}  // namespace rt
