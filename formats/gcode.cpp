#include "gcode.h"

#include <cmath>
#include <cstdio>

#include "error.h"
#include "file_io.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kLeastStep_mm = 0.0001, kMostStep_mm = 10;

/// Decimals that a multiple of the step needs.
int decimalsOf(double step) {
  int n = 0;
  for (double s = step; n < 6 && std::abs(s - std::round(s)) > 1e-9 * std::max(1.0, s); s *= 10)
    ++n;
  return n;
}

/// Words of a comment without what would end it.
std::string comment(const std::string& words) {
  std::string out = "(";
  for (char c : words)
    out += c == '(' ? '[' : c == ')' ? ']' : (static_cast<unsigned char>(c) < 32 ? ' ' : c);
  return out + ")";
}

class Coder {
 public:
  Coder(const Pattern& pattern, double step)
      : pattern_(pattern),
        step_(step),
        decimals_(decimalsOf(step)),
        number_(pattern.threads.size(), 0) {}

  std::string run(GcodeResult& result) {
    line(pattern_.title.empty() ? "(stitch list)" : comment(pattern_.title));
    line("G21 G90 " + comment("millimetres, absolute, Y up"));
    const std::vector<int> next = threadsAhead();
    for (size_t row = 0; row < pattern_.stitches.size(); ++row) {
      const Stitch& s = pattern_.stitches[row];
      switch (s.op) {
        case Op::Jump:
        case Op::Stitch:
          takeThread(next[row]);
          line((s.op == Op::Jump ? "G0" : "G1") + place(s.at));
          (s.op == Op::Jump ? result.moves : result.stitches) += 1;
          break;
        case Op::Trim:
          line("M5");
          break;
        case Op::Stop:
          line("M0");
          break;
        case Op::End:
          break;
      }
    }
    line("M30");
    return std::move(out_);
  }

 private:
  void line(const std::string& words) { out_ += words + "\n"; }

  /// The thread of the next needle point at or after each row: it is in the needle before the way
  /// there begins.
  std::vector<int> threadsAhead() const {
    std::vector<int> next(pattern_.stitches.size(), -1);
    int thread = -1;
    for (size_t row = pattern_.stitches.size(); row-- > 0;) {
      if (pattern_.stitches[row].op == Op::Stitch) thread = pattern_.stitches[row].thread;
      next[row] = thread;
    }
    return next;
  }

  void takeThread(int thread) {
    if (thread < 0 || thread == thread_) return;
    thread_ = thread;
    int& number = number_[static_cast<size_t>(thread)];
    if (number == 0) number = ++threads_;
    line("M6 T" + std::to_string(number) + " " +
         comment(pattern_.threads[static_cast<size_t>(thread)].hex()));
  }

  std::string place(Point p) const { return " X" + coordinate(p.x) + " Y" + coordinate(-p.y); }

  std::string coordinate(double mm) const {
    double value = std::round(mm / step_) * step_;
    if (value == 0) value = 0;  // no minus zero
    char text[48];
    std::snprintf(text, sizeof text, "%.*f", decimals_, value);
    const std::string words = text;
    return words.find_first_not_of("-0.") == std::string::npos ? words.substr(words[0] == '-')
                                                               : words;
  }

  const Pattern& pattern_;
  double step_;
  int decimals_;
  std::vector<int> number_;  // of each thread, by first use
  int threads_ = 0, thread_ = -1;
  std::string out_;
};

}  // namespace

std::string gcodeOf(const Pattern& pattern, const GcodeOptions& options, GcodeResult* result) {
  if (!(options.step_mm >= kLeastStep_mm && options.step_mm <= kMostStep_mm))
    throw Error("a step of " + formatNumber(options.step_mm, 5) + " mm cannot be written", "step",
                "give 0.0001 to 10 mm; 0.1 is usual");
  GcodeResult own;
  std::string out = Coder(pattern, options.step_mm).run(own);
  if (result) *result = own;
  return out;
}

GcodeResult writeGcode(const Pattern& pattern, const GcodeOptions& options,
                       const std::filesystem::path& path) {
  GcodeResult result;
  writeFile(path, gcodeOf(pattern, options, &result));
  return result;
}

}  // namespace rt
