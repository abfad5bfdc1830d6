// The simulated machine: knows rows in hoop millimetres and time, nothing of the network.
#pragma once

#include <QString>
#include <functional>
#include <optional>
#include <vector>

namespace standin {

struct Row {
  double x_mm = 0, y_mm = 0;
  QString op, thread;
};

/// What happens next while the machine runs.
enum class Halt { None, ColourChange, ThreadBreak, Stop, Done };

/// A machine that sews one loaded hooping. Time passes only through `advance`.
class Machine {
 public:
  /// Returns what is wrong, or an empty text; then all is as it was. Needle points must lie in the
  /// field. Refused while it sews.
  QString load(std::vector<Row> rows, double field_width_mm, double field_height_mm);
  /// Starts at a row; the thread of that row counts as threaded.
  bool start(size_t row);
  void pause() { running_ = false; }
  bool resume();
  /// A thread break after so many more stitches; unset: none.
  void breakAfter(std::optional<int> stitches) { breakIn_ = stitches; }

  /// Lets machine seconds pass; ends early when the machine halts. Each stitch is told to `sewn`
  /// as the needle makes it.
  Halt advance(double seconds);
  std::function<void(size_t row, const Row&)> sewn;
  /// Machine seconds that passed while it sewed, since the load.
  double clock_s() const { return clock_s_; }

  bool loaded() const { return !rows_.empty(); }
  bool running() const { return running_; }
  size_t row() const { return row_; }
  int stitch() const { return stitch_; }
  int stitches() const { return stitches_; }
  QString thread() const { return thread_; }
  /// Corners of what is sewn, hoop mm: left, top, right, bottom.
  std::vector<double> bounds() const { return bounds_; }
  const std::vector<Row>& rows() const { return rows_; }
  double stitchesPerMinute = 700;

 private:
  double secondsFor(const Row& row) const;
  std::vector<Row> rows_;
  std::vector<double> bounds_;
  size_t row_ = 0;
  int stitch_ = 0, stitches_ = 0;
  double owed_s_ = 0;  // time left over from the last advance
  double clock_s_ = 0;
  QString thread_;
  std::optional<int> breakIn_;
  bool running_ = false, changed_ = false;
};

}  // namespace standin
