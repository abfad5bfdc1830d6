// A list whose rows are dragged, or moved by keys, to other places.
#pragma once

#include <QListWidget>

namespace rt {

/// The list never moves a row itself: whoever owns the order does and shows it anew.
class DragList : public QListWidget {
  Q_OBJECT
 public:
  explicit DragList(QWidget* parent = nullptr);

 signals:
  /// A row was dragged to another place, or moved by Alt and an arrow; with Shift on purpose,
  /// whatever speaks against it.
  void rowMoved(int from, int to, bool on_purpose);
  /// A click on a row's picture that was no drag, or Enter on the row.
  void iconClicked(int row);

 protected:
  void dropEvent(QDropEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  int iconAt(QPoint at) const;
  int pressed_ = -1;  ///< Row whose picture was pressed.
};

}  // namespace rt
