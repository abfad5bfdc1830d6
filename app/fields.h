// Small entry widgets that every station uses.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "length.h"

namespace rt {

/// A length typed as people say it; beside it what was understood, in the other unit.
class LengthEdit : public QWidget {
  Q_OBJECT
 public:
  LengthEdit(const QString& name, QWidget* parent = nullptr);
  void setValue_mm(double mm, bool inches);
  double value_mm() const { return value_; }
  QLineEdit* line() { return line_; }

 signals:
  void edited(double mm);

 private:
  void read();
  double understood_mm() const;
  QLineEdit* line_;
  QLabel* other_;
  double value_ = 0;
  QString shown_;  ///< What stands for the value, perhaps rounded.
  bool inches_ = false;
};

/// A quiet heading in small capitals.
QLabel* heading(const QString& text);
/// Running text that wraps.
QLabel* paragraph(const QString& text, bool quiet = false);
/// A caution where the hazard is.
QLabel* caution(const QString& text);
QPushButton* button(const QString& text, const QString& tip, bool primary = false);
/// A label over a widget.
QWidget* labelled(const QString& text, QWidget* field);
/// Takes all widgets out of a layout; they are gone from sight at once.
void clear(QLayout& layout);
/// "1 piece", "3 pieces".
QString counted(size_t n, const QString& one, const QString& many);
/// Two widgets side by side.
QWidget* pair(QWidget* left, QWidget* right);

}  // namespace rt
