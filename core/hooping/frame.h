// Frames: a stitching field and the places that it can take while the cloth stays clamped.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "judge.h"
#include "tag_place.h"

namespace rt {

/// A place of the field on the clamped cloth, in the frame's own frame of reference.
struct FrameSetting {
  double x_mm = 0, y_mm = 0;  ///< Of the field's centre.
  int turn_deg = 0;           ///< Of the frame there: 0, 90, 180 or 270, clockwise as seen.
  friend bool operator==(const FrameSetting&, const FrameSetting&) = default;
};

/// Any place between two ends.
struct FrameRail {
  bool along_x = true;
  double from_mm = 0, to_mm = 0;  ///< Of the field's centre; from <= to.
  friend bool operator==(const FrameRail&, const FrameRail&) = default;
};

/// A frame as measured once. Without settings and rail it is a plain hoop of one setting at (0, 0).
struct Hoop {
  std::string id, name;
  Field field;  ///< As wide as the machine sees it; at 90 and 270 degrees it lies across the frame.
  std::vector<FrameSetting> settings = {};
  std::optional<FrameRail> rail = {};
  double setting_error_mm = 0.1;    ///< One sigma, a coordinate, of how well a setting comes back.
  double clear_mm = 15;             ///< Cloth that frame and clamps take around all settings.
  std::vector<TagPlace> tags = {};  ///< Stuck to the frame, in its own frame of reference.
  double tag_size_mm = 12;          ///< Edge of their black squares.
  double tag_height_mm = 0;         ///< How far they lie above the cloth.
  friend bool operator==(const Hoop&, const Hoop&) = default;
};

/// A field in the layout's frame.
struct PlacedField {
  Box box;           ///< Bounding box.
  int turn_deg = 0;  ///< Of the field in the layout's frame: 0, 90, 180 or 270.
  HoopShape shape = HoopShape::Rectangle;
  /// Whether the whole box lies inside, within kSame_mm.
  bool holds(const Box& what) const;
  bool holds(Point p) const { return holds(Box{p.x, p.y, p.x, p.y}); }
  friend bool operator==(const PlacedField&, const PlacedField&) = default;
};

/// Where one setting's field lies when the frame's origin lies at (0, 0), turned by `turn_deg`.
PlacedField fieldAt(const Hoop& hoop, const FrameSetting& setting, int turn_deg);
/// The places that a frame turned by `turn_deg` offers about its origin; a rail's two ends.
std::vector<PlacedField> fieldsOf(const Hoop& hoop, int turn_deg);
/// What the frame and its clamps take of the cloth, about its origin: all settings grown by
/// clear_mm.
Box clampedBox(const Hoop& hoop, int turn_deg);
/// Throws Error for a field without size, a rail that runs backward, a turn that is no quarter, a
/// negative error or clearance; `where` names the frame.
void checkHoop(const Hoop& hoop, const std::string& where);

}  // namespace rt
