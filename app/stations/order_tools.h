// The sewing order of the whole layout: colour changes, hidden stitches, stops and needles, with
// what each costs.
#pragma once

#include <QCheckBox>
#include <QFutureWatcher>
#include <QSpinBox>

#include "desk.h"
#include "fields.h"

namespace rt {

class OrderTools : public QWidget {
  Q_OBJECT
 public:
  explicit OrderTools(Desk& desk);
  void refresh();

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
    int rethreadings = 0;
  };
  static Figures figuresOf(const Job& job, const TimeModel& time);
  size_t keyOf(const Job& job) const;
  void measure();
  void show(const Figures& f);
  void set(const QString& name, const std::function<void(SequenceSettings&)>& edit);

  Desk& desk_;
  QCheckBox *colours_, *hidden_, *travel_, *keep_;
  LengthEdit* margin_;
  QSpinBox* needles_;
  QLineEdit* stop_;
  QLabel *changes_, *stitches_, *time_, *threads_, *stops_;
  QFutureWatcher<Figures> watch_;
  Figures last_;
};

}  // namespace rt
