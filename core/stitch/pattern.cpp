#include "pattern.h"

#include <algorithm>
#include <array>
#include <cstdio>

#include "error.h"

namespace rt {
namespace {

constexpr size_t kMostNames = 65535;  // what a 16-bit index can tell apart

template <class List, class Value>
uint16_t indexIn(List& list, const Value& value, const char* what) {
  const auto found = std::find(list.begin(), list.end(), value);
  if (found != list.end()) return static_cast<uint16_t>(found - list.begin());
  if (list.size() >= kMostNames)
    throw Error(std::string("more than 65,535 ") + what, "", "split the stitch list");
  list.emplace_back(value);
  return static_cast<uint16_t>(list.size() - 1);
}

}  // namespace

std::string_view name(Op op) {
  constexpr std::array<std::string_view, 5> kNames{"stitch", "jump", "trim", "stop", "end"};
  return kNames[static_cast<size_t>(op)];
}

std::string_view name(Kind kind) {
  constexpr std::array<std::string_view, 8> kNames{"",         "run", "satin",   "fill",
                                                   "underlay", "tie", "basting", "mark"};
  return kNames[static_cast<size_t>(kind)];
}

std::string Colour::hex() const {
  char buffer[8];
  std::snprintf(buffer, sizeof buffer, "#%06x", rgb & 0xffffffu);
  return buffer;
}

std::optional<Colour> Colour::parsed(std::string_view text) {
  if (text.size() != 7 || text[0] != '#') return std::nullopt;
  uint32_t rgb = 0;
  for (char c : text.substr(1)) {
    const int digit = c >= '0' && c <= '9'   ? c - '0'
                      : c >= 'a' && c <= 'f' ? c - 'a' + 10
                      : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                             : -1;
    if (digit < 0) return std::nullopt;
    rgb = rgb << 4 | static_cast<uint32_t>(digit);
  }
  return Colour{rgb};
}

uint16_t Pattern::threadIndex(Colour colour) {
  return indexIn(threads, colour, "thread colours");
}

uint16_t Pattern::pieceIndex(std::string_view piece) {
  return indexIn(pieces, std::string(piece), "piece names");
}

Pattern transformed(Pattern pattern, const Transform& by) {
  for (Stitch& stitch : pattern.stitches) stitch.at = by(stitch.at);
  return pattern;
}

Box threadBounds(const Pattern& pattern) {
  Box box;
  forEachSegment(pattern, [&](Point a, Point b, size_t) {
    box.add(a);
    box.add(b);
  });
  return box;
}

void append(Pattern& head, const Pattern& tail) {
  while (!head.stitches.empty() && head.stitches.back().op == Op::End) head.stitches.pop_back();
  std::vector<uint16_t> thread, piece;
  for (Colour colour : tail.threads) thread.push_back(head.threadIndex(colour));
  for (const std::string& text : tail.pieces) piece.push_back(head.pieceIndex(text));
  head.stitches.reserve(head.stitches.size() + tail.stitches.size());
  for (Stitch stitch : tail.stitches) {
    if (stitch.op == Op::End) continue;
    stitch.thread = thread[stitch.thread];
    stitch.piece = piece[stitch.piece];
    head.stitches.push_back(stitch);
  }
}

void cutThread(Pattern& pattern) {
  if (pattern.stitches.empty() || pattern.stitches.back().op == Op::Trim) return;
  Stitch trim = pattern.stitches.back();
  trim.op = Op::Trim;
  trim.kind = Kind::Unknown;
  pattern.stitches.push_back(trim);
}

size_t countRows(std::span<const Stitch> rows, Op op) {
  return static_cast<size_t>(
      std::count_if(rows.begin(), rows.end(), [op](const Stitch& s) { return s.op == op; }));
}

NeedleWalk::Step NeedleWalk::next(const Stitch& stitch) {
  Step step;
  step.from = stitch.at;
  switch (stitch.op) {
    case Op::Jump:
      last_ = stitch.at;
      connected_ = landed_ = true;
      break;
    case Op::Trim:
      connected_ = landed_ = false;
      cut_ = true;
      break;
    case Op::Stitch:
      step.colourChange = thread_ >= 0 && thread_ != stitch.thread;
      if (step.colourChange) {
        cut_ = true;
        if (!landed_) connected_ = false;
      }
      step.fresh = cut_;
      step.sewn = connected_;
      if (connected_) step.from = last_;
      last_ = stitch.at;
      connected_ = true;
      landed_ = cut_ = false;
      thread_ = stitch.thread;
      break;
    case Op::Stop:
    case Op::End:
      break;
  }
  return step;
}

}  // namespace rt
