// The sewing order of the whole layout: colour changes, hidden stitches, stops and needles, with
// what each costs.
#pragma once

#include <QCheckBox>
#include <QFutureWatcher>
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
  /// What the settings change, counted on the pieces as they lie.
  struct Figures {
    size_t key = 0;
    size_t changes_before = 0, changes_after = 0, trims_before = 0, trims_after = 0;
    int bound = 0;
    size_t stitches_before = 0, stitches_after = 0;
    double thread_before_mm = 0, thread_after_mm = 0;
    double one_before_s = 0, one_after_s = 0, many_before_s = 0, many_after_s = 0;
    double travel_before_mm = 0, travel_after_mm = 0;
    double peak_before = 0, peak_after = 0;  ///< mm/mm², before and after what is hidden goes.
    int rethreadings = 0;
  };
  static Figures figuresOf(const Job& job, const TimeModel& time);
  void buildChanges(QVBoxLayout& column);
  void buildHidden(QVBoxLayout& column);
  void buildStops(QVBoxLayout& column);
  void measure();
  void show(const Figures& f);
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
  QFutureWatcher<Figures> watch_;
  Figures last_;
};

}  // namespace rt
