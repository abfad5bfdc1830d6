#include "cloth_law.h"

namespace rt {

std::span<const ClothFigureInfo> clothFigures() {
  using enum ClothFigure;
  static constexpr ClothFigureInfo kAll[kClothFigures] = {
      {PullX, "pull_x", "part", 1e-4, 0.5, true},
      {PullY, "pull_y", "part", 1e-4, 0.5, true},
      {EachStitch, "each_stitch_mm", "mm", -0.2, 0.3, false},
      {ThreadStiffness, "thread_stiffness", "mm2/mm", 0.01, 50, true},
      {StretchRatio, "stretch_ratio", "part", 0.02, 50, true},
      {Shear, "shear", "part", 0.005, 5, true},
      {Push, "push", "part", -1, 2, false},
      {Reach, "reach_mm", "mm", 2, 5000, true},
      {EdgeX, "edge_x_mm", "mm", -0.5, 1, false},
      {EdgeY, "edge_y_mm", "mm", -0.5, 1, false},
      {EdgeLength, "edge_length_mm", "mm", 0.05, 20, true},
      {Lag, "lag", "part", -0.05, 0.1, false},
      {Scatter, "scatter_mm", "mm", 0.001, 1, true},
      {Unexplained, "unexplained", "part", 0.01, 10, true},
  };
  return kAll;
}

}  // namespace rt
