// Another thread for what is sewn in one: the shop's threads, nearest first, opened where a colour
// is listed.
#pragma once

#include <QCheckBox>
#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <optional>

#include "pattern.h"

namespace rt {

class Desk;

class ThreadPicker : public QFrame {
  Q_OBJECT
 public:
  /// Opens under the pointer, or under `by` where that is elsewhere. `piece`: the one that was
  /// asked for; all that is sewn in the colour, or it alone, can be chosen.
  static ThreadPicker* open(QWidget* by, Desk& desk, Colour colour, std::optional<int> piece);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  ThreadPicker(QWidget* by, Desk& desk, Colour colour, std::optional<int> piece);
  void list();
  void take(QListWidgetItem* item);
  QString scopeWords() const;

  Desk& desk_;
  Colour colour_;
  std::optional<int> piece_;
  QLineEdit* sought_;
  QListWidget* list_;
  QCheckBox* alone_;
};

/// A thread as a small rounded field of its colour.
QIcon threadChip(Colour colour);

}  // namespace rt
