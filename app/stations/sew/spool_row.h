// Threads as spools, in the order of the needles or of their use.
#pragma once

#include <QWidget>

#include "pattern.h"

namespace rt {

class SpoolRow : public QWidget {
  Q_OBJECT
 public:
  struct Spool {
    Colour colour;
    QString name;        ///< Code and name of the nearest on the shelf, or the hex.
    int needle = -1;     ///< From 0; -1: no needle of its own.
    double seconds = 0;  ///< Still to be sewn with it.
    QString details;     ///< Shown while the pointer rests on it.
    bool at_work = false;
  };
  explicit SpoolRow(QWidget* parent = nullptr);
  void setSpools(std::vector<Spool> spools);
  const std::vector<Spool>& spools() const { return spools_; }
  QSize sizeHint() const override;

 signals:
  /// A spool was clicked.
  void chosen(rt::Colour colour);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRect boxOf(size_t i) const;
  int columns() const;
  std::vector<Spool> spools_;
};

}  // namespace rt
