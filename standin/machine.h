// The simulated machine: knows rows in hoop millimetres and time, nothing of the network.
#pragma once

#include <QString>
#include <algorithm>
#include <functional>
#include <optional>
#include <vector>

namespace standin {

struct Row {
  double x_mm = 0, y_mm = 0;
  QString op, thread;
};

/// What happens next while the machine runs.
enum class Halt {
  None,
  ColourChange,  ///< The thread asked for is on no needle.
  ThreadBreak,
  BobbinMissed,  ///< The bobbin thread was not caught: nothing since the start holds.
  BobbinEmpty,
  Fold,  ///< Cloth lies under the foot.
  Power,
  Stop,
  Done
};

/// What can go wrong on purpose.
enum class Fault { Break, BobbinMissed, BobbinEmpty, Fold, Power };

/// What is clamped in front of the needle.
struct Mounted {
  QString frame;  ///< Id; empty: any that is asked for.
  bool turned = false, locked = true;
};

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
  /// A fault after so many more stitches.
  void strike(Fault fault, int stitches) { fault_ = {fault, std::max(1, stitches)}; }
  /// Row that a start began at whose bobbin was not caught.
  size_t uncaughtFrom() const { return startedAt_; }

  /// Threads on the needles; as many as it has.
  std::vector<QString> needles{QString()};
  Mounted mounted;
  QString wanted;  ///< Frame of what is loaded; empty: any.
  bool footUp = false, light = false;
  /// Why it may not start; empty: it may.
  QString hindrance() const;
  /// Where the needle stands while it does not sew, and moving it there. False: outside the field.
  double x_mm = 0, y_mm = 0;
  bool moveTo(double x, double y);
  /// Machine seconds by thread, in order of use, of all that is loaded.
  std::vector<std::pair<QString, double>> secondsByThread() const;

  /// Lets machine seconds pass; ends early when the machine halts. Each stitch is told to `sewn`
  /// as the needle makes it, and each move.
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
  struct Struck {
    Fault what;
    int in;
  };
  std::optional<Struck> fault_;
  size_t startedAt_ = 0;
  double halfWidth_ = 0, halfHeight_ = 0;
  bool running_ = false, changed_ = false;
};

}  // namespace standin
