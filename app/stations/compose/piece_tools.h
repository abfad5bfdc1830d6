// What can be done with the chosen piece besides placing it: both ways of sizing, its place among
// nine, repeats, a border, basting, and taking a design apart.
#pragma once

#include <QCheckBox>
#include <QGridLayout>
#include <QSpinBox>

#include "apart.h"
#include "arrange.h"
#include "desk.h"
#include "fields.h"
#include "sizing.h"

namespace rt {

/// What both ways of sizing are worked out from.
struct SizingInput {
  Piece piece;
  Fabric fabric;
  std::shared_ptr<const Bench> bench;
  friend bool operator==(const SizingInput& a, const SizingInput& b) {
    return a.piece == b.piece && a.fabric == b.fabric;
  }
};

class PieceTools : public QWidget {
  Q_OBJECT
 public:
  explicit PieceTools(Desk& desk);
  void refresh();
  /// Both ways of sizing, to be shown where a piece is sized.
  QWidget* sizing() const { return sizing_; }
  /// Waits for the comparison of both ways of sizing.
  void settle();

 public slots:
  void respace();
  void keepStitches();
  /// Both ways of sizing as maps on the cloth, parted by a line; off again.
  void holdSideBySide(bool on);
  void anchor(int place);
  void repeatGrid();
  void repeatAlong();
  void border();
  /// Placement line, wait, tack-down, then the piece; for all equal pieces lines first.
  void outlineFirst();
  void baste(bool place = false);
  void apart(int way);

 private:
  void buildSizing();
  void buildPlaces(QVBoxLayout& column);
  void buildRepeat(QVBoxLayout& column);
  void buildAlong(QVBoxLayout& column);
  void buildBorder(QVBoxLayout& column);
  void buildBasting(QVBoxLayout& column);
  void compare();
  void showChoice();
  /// An edit of the chosen piece, as one step; `%1` in its name is the piece's.
  void edit(const QString& name, const std::function<Job(Job, int)>& by);

  Desk& desk_;
  QWidget* sizing_;
  QLabel *kept_, *again_, *advice_;
  QPushButton *keep_, *respace_, *hold_;
  std::vector<class Fold*> folds_;
  QSpinBox *columns_, *rows_;
  LengthEdit *gapX_, *gapY_, *band_, *borderWidth_, *borderHeight_;
  QCheckBox* alternate_;
  QComboBox *along_, *corner_;
  QSpinBox* count_;
  LengthEdit *alongX_, *alongY_;
  QLineEdit* span_;
  QLabel* said_;
  Study<SizingInput, SizingChoice> choice_;
};

}  // namespace rt
