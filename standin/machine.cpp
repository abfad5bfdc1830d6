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
  fault_.reset();
  halfWidth_ = field_width_mm / 2;
  halfHeight_ = field_height_mm / 2;
  x_mm = y_mm = 0;
  return {};
}

QString Machine::hindrance() const {
  if (footUp) return QStringLiteral("the presser foot is up: lower it");
  if (!mounted.locked) return QStringLiteral("the frame is not locked");
  if (!mounted.frame.isEmpty() && !wanted.isEmpty() && mounted.frame != wanted)
    return QStringLiteral("frame %1 is mounted, %2 is wanted").arg(mounted.frame, wanted);
  return {};
}

bool Machine::moveTo(double x, double y) {
  if (running_ || !(std::abs(x) <= halfWidth_) || !(std::abs(y) <= halfHeight_)) return false;
  x_mm = x;
  y_mm = y;
  return true;
}

std::vector<std::pair<QString, double>> Machine::secondsByThread() const {
  std::vector<std::pair<QString, double>> out;
  for (const Row& r : rows_) {
    if (out.empty() || (r.op == u"stitch" && out.back().first != r.thread))
      out.emplace_back(r.thread, 0.0);
    out.back().second += secondsFor(r);
  }
  return out;
}

bool Machine::start(size_t row) {
  if (row >= rows_.size()) return false;
  row_ = startedAt_ = row;
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
      if (std::find(needles.begin(), needles.end(), r.thread) == needles.end()) {
        running_ = false;
        return Halt::ColourChange;
      }
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
    // a bobbin that was not caught lays no thread
    const bool holds = !fault_ || fault_->what != Fault::BobbinMissed;
    if (sewn && holds) sewn(row_ - 1, r);
    if (r.op != u"stitch") continue;
    thread_ = r.thread;
    x_mm = r.x_mm;
    y_mm = r.y_mm;
    ++stitch_;
    if (fault_ && --fault_->in <= 0) {
      const Fault what = fault_->what;
      fault_.reset();
      running_ = false;
      static constexpr Halt kHalts[] = {Halt::ThreadBreak, Halt::BobbinMissed, Halt::BobbinEmpty,
                                        Halt::Fold, Halt::Power};
      return kHalts[static_cast<int>(what)];
    }
  }
  running_ = false;
  return Halt::Done;
}

}  // namespace standin
