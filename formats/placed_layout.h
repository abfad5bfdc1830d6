// Where a layout lies in its hoop, as an alignment was written down.
#pragma once

#include <filesystem>

#include "judge.h"

namespace rt {

/// p_hoop = R · diag(scale_x, scale_y) · K · p_layout + (dx, dy).
struct LaidPlace {
  FitKind kind = FitKind::Rigid;
  double dx_mm = 0, dy_mm = 0, rotation_deg = 0, scale_x = 1, scale_y = 1, skew_deg = 0;
  Readiness status = Readiness::Ready;
  Transform toHoop() const;
};

/// What `align --json` printed, its figures as they stand. Throws Error naming what is missing or
/// cannot be.
LaidPlace readPlace(const std::filesystem::path& file);
/// The same with less of it followed: rigid leaves out scales and skew, similarity the skew.
LaidPlace placedAs(LaidPlace place, FitKind kind);

}  // namespace rt
