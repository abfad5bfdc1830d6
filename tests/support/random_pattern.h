// Random patterns and short text forms for tests.
#pragma once

#include <QDebug>
#include <random>
#include <sstream>

#include "pattern.h"

namespace rt::testing {

/// A generator whose seed is printed, so that a failure can be repeated with RT_SEED.
inline std::mt19937 seeded(unsigned fallback) {
  const unsigned seed =
      qEnvironmentVariableIsSet("RT_SEED") ? qEnvironmentVariable("RT_SEED").toUInt() : fallback;
  qInfo("seed %u", seed);
  return std::mt19937(seed);
}

/// Rounds of a property that computes alone: all of them in release, a quarter with the sanitizers,
/// which take five times as long and look at memory, not at figures.
constexpr int rounds(int all) {
#ifdef RT_SANITIZE
  return (all + 3) / 4;
#else
  return all;
#endif
}

inline double between(std::mt19937& random, double low, double high) {
  return std::uniform_real_distribution<double>(low, high)(random);
}

/// "jump 0,0 stitch 2,0 stitch 4,0 #ff0000 stitch 6,0 trim": colours hold until the next.
inline Pattern patternFrom(const std::string& text) {
  Pattern p;
  std::istringstream in(text);
  std::string word;
  uint16_t thread = p.threadIndex({0});
  bool coloured = false;
  while (in >> word) {
    if (word[0] == '#') {
      if (!coloured && p.stitches.empty()) p.threads.clear();
      coloured = true;
      thread = p.threadIndex({static_cast<uint32_t>(std::stoul(word.substr(1), nullptr, 16))});
      continue;
    }
    Stitch s;
    s.thread = thread;
    for (Op op : {Op::Stitch, Op::Jump, Op::Trim, Op::Stop, Op::End})
      if (name(op) == word) s.op = op;
    if (s.op == Op::Stitch || s.op == Op::Jump) {
      char comma = 0;
      in >> s.at.x >> comma >> s.at.y;
    } else if (!p.stitches.empty()) {
      s.at = p.stitches.back().at;
    }
    p.stitches.push_back(s);
  }
  return p;
}

/// Sewing that wanders over a square, with jumps, trims and colours.
inline Pattern wander(std::mt19937& random, int rows, double side_mm) {
  Pattern p;
  Point at{between(random, 0, side_mm), between(random, 0, side_mm)};
  for (int i = 0; i < rows; ++i) {
    const int dice = static_cast<int>(random() % 100);
    Stitch s;
    s.thread = p.threadIndex({static_cast<uint32_t>(
        0x202020u * (1 + (random() % 400 == 0 ? random() % 5 : p.threads.size() % 5)))});
    at = {std::clamp(at.x + between(random, -4, 4), 0.0, side_mm),
          std::clamp(at.y + between(random, -4, 4), 0.0, side_mm)};
    s.at = at;
    s.op = dice < 92 ? Op::Stitch : dice < 96 ? Op::Jump : dice < 99 ? Op::Trim : Op::Stop;
    p.stitches.push_back(s);
  }
  return p;
}

inline double sewnLength(const Pattern& p) {
  double sum = 0;
  forEachSegment(p, [&](Point a, Point b, size_t) { sum += distance(a, b); });
  return sum;
}

}  // namespace rt::testing
