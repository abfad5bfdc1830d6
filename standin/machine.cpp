#include "machine.h"

#include <algorithm>
#include <cmath>

namespace standin {
namespace {

constexpr double kFarthest_mm = 10'000;

}  // namespace

QString Machine::load(std::vector<Row> rows, double field_width_mm, double field_height_mm) {
  if (running_) return QStringLiteral("it is sewing; pause it first");
  if (rows.empty()) return QStringLiteral("there are no rows");
  if (!(field_width_mm > 0) || !(field_height_mm > 0))
    return QStringLiteral("the field has no size");
  std::vector<double> bounds{1e9, 1e9, -1e9, -1e9};
  int stitches = 0;
  for (const Row& r : rows) {
    if (!(std::abs(r.x_mm) <= kFarthest_mm) || !(std::abs(r.y_mm) <= kFarthest_mm))
      return QStringLiteral("a row lies nowhere the frame could go");
    if (r.op != u"stitch") continue;
    ++stitches;
    bounds = {std::min(bounds[0], r.x_mm), std::min(bounds[1], r.y_mm), std::max(bounds[2], r.x_mm),
              std::max(bounds[3], r.y_mm)};
  }
  if (stitches == 0) return QStringLiteral("there is no stitch");
  const double slack = 0.01;
  if (bounds[0] < -field_width_mm / 2 - slack || bounds[2] > field_width_mm / 2 + slack ||
      bounds[1] < -field_height_mm / 2 - slack || bounds[3] > field_height_mm / 2 + slack)
    return QStringLiteral("the sewing reaches outside the mounted hoop's field");
  rows_ = std::move(rows);
  bounds_ = bounds;
  stitches_ = stitches;
  row_ = 0;
  stitch_ = 0;
  running_ = false;
  thread_.clear();
  owed_s_ = clock_s_ = 0;
  changed_ = false;
  breakIn_.reset();
  return {};
}

bool Machine::start(size_t row) {
  if (row >= rows_.size()) return false;
  row_ = row;
  stitch_ = static_cast<int>(std::count_if(rows_.begin(), rows_.begin() + static_cast<long>(row),
                                           [](const Row& r) { return r.op == u"stitch"; }));
  thread_ = rows_[row].thread;
  owed_s_ = 0;
  changed_ = true;
  running_ = true;
  return true;
}

bool Machine::resume() {
  running_ = row_ < rows_.size();
  return running_;
}

double Machine::secondsFor(const Row& row) const {
  if (row.op == u"stitch") return 60 / stitchesPerMinute;
  if (row.op == u"trim") return 3;
  if (row.op == u"jump") return 0.3;
  return 0;
}

Halt Machine::advance(double seconds) {
  if (!running_) return Halt::None;
  owed_s_ += seconds;
  while (row_ < rows_.size()) {
    const Row& r = rows_[row_];
    if (r.op == u"stitch" && r.thread != thread_ && !changed_) {
      thread_ = r.thread;
      changed_ = true;  // the next start of this row goes through
      running_ = false;
      return Halt::ColourChange;
    }
    const double cost = secondsFor(r);
    if (cost > owed_s_) return Halt::None;
    owed_s_ -= cost;
    clock_s_ += cost;
    ++row_;
    changed_ = false;
    if (r.op == u"stop") {
      running_ = false;
      return Halt::Stop;
    }
    if (r.op != u"stitch") continue;
    thread_ = r.thread;
    ++stitch_;
    if (sewn) sewn(row_ - 1, r);
    if (breakIn_ && --*breakIn_ <= 0) {
      breakIn_.reset();
      running_ = false;
      return Halt::ThreadBreak;
    }
  }
  running_ = false;
  return Halt::Done;
}

}  // namespace standin
