#include "ramp.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace rt {

Colour rampColour(double density, double stop) {
  static constexpr std::array<std::array<int, 3>, 6> kRamp{{{243, 234, 205},
                                                            {167, 200, 160},
                                                            {95, 157, 148},
                                                            {52, 111, 133},
                                                            {42, 64, 106},
                                                            {26, 26, 58}}};
  const double t = std::clamp(density / (1.15 * stop), 0.0, 1.0) * (kRamp.size() - 1);
  const auto i = std::min<size_t>(static_cast<size_t>(t), kRamp.size() - 2);
  const double f = t - static_cast<double>(i);
  auto part = [&](size_t k) {
    return static_cast<uint32_t>(std::lround(kRamp[i][k] + (kRamp[i + 1][k] - kRamp[i][k]) * f));
  };
  return {part(0) << 16 | part(1) << 8 | part(2)};
}

}  // namespace rt
