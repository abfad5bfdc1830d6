// The sewing order of the whole layout: colour changes, hidden stitches, stops and needles, with
// what each costs.
#pragma once

#include <QCheckBox>
#include <QSpinBox>

#include "colour_list.h"
#include "desk.h"
#include "fields.h"

namespace rt {

class OrderTools : public QWidget {
  Q_OBJECT
 public:
  explicit OrderTools(Desk& desk);
  void refresh();
  /// A wait that is typed next comes where the sewing stands, not before the chosen piece.
  void standAt(const Pattern& sewn, size_t row);
  void standNowhere();
  ColourList& colours() { return *order_; }

 private:
  void buildChanges(QVBoxLayout& column);
  void buildHidden(QVBoxLayout& column);
  void buildStops(QVBoxLayout& column);
  void show(const SequenceFigures& f);
  void showStops();
  void addStop();
  void set(const QString& name, const std::function<void(SequenceSettings&)>& edit);

  Desk& desk_;
  QCheckBox *fewest_, *hidden_, *travel_, *keep_;
  ColourList* order_;
  LengthEdit* margin_;
  QSpinBox* needles_;
  QLineEdit* stop_;
  QLabel *changes_, *stitches_, *time_, *threads_, *where_;
  QVBoxLayout* stops_;
  std::optional<OperatorStop> here_;
};

}  // namespace rt
