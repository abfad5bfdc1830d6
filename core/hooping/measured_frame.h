// A frame from what a person reads on its template or with a ruler.
#pragma once

#include "frame.h"

namespace rt {

enum class FrameKind {
  Plain,      ///< One field, a rectangle.
  Oval,       ///< One field, an oval.
  HalfRound,  ///< Turned half round: two fields that overlap a little in the middle.
  Quarters,   ///< Four quadrants.
  Long,       ///< Fixed positions along its length.
  Rails       ///< Slides freely along its length.
};

/// What was read; 0: not yet. All mm.
struct FrameMeasures {
  std::string name;
  FrameKind kind = FrameKind::Plain;
  double field_width_mm = 0, field_height_mm = 0;  ///< That the machine sews at one setting.
  double inner_width_mm = 0, inner_height_mm = 0;  ///< Opening: the cloth that can be seen.
  double outer_width_mm = 0, outer_height_mm = 0;  ///< With clamps and arms.
  double inner_diagonal_mm =
      0;                     ///< Corner to corner of a rectangular opening, to see if it is square.
  double lap_mm = 0;         ///< Half round, quarters: how far neighbouring fields overlap.
  int positions = 0;         ///< Long: how many.
  double step_mm = 0;        ///< Long: from one position to the next; rails: the whole way.
  int first_tag = 0;         ///< Number of the tag at the top left; those after it go round.
  double tag_size_mm = 0;    ///< Black square's edge; 0: no tags.
  double tag_height_mm = 0;  ///< Above the cloth.
  friend bool operator==(const FrameMeasures&, const FrameMeasures&) = default;
};

/// What is missing, or cannot be.
struct FrameDoubt {
  enum class What {
    NoName,
    NoField,
    NoOpening,         ///< The opening was not measured: how far clamps reach is a guess.
    NoOutside,         ///< Likewise the outside.
    FieldOverOpening,  ///< The fields need `value` mm, the opening has `other`.
    OpeningOverOuter,
    NotSquare,   ///< The diagonal is `value`, sides alone give `other`.
    NoLap,       ///< Halves or quarters that do not overlap cannot be joined.
    LapTooWide,  ///< The overlap is as wide as the field.
    NoPositions,
    NoStep,
    StepsApart,  ///< Positions are `value` apart, the field is only `other` long.
    TagSize,     ///< Tags of `value` mm are none.
    TooLarge,    ///< No frame is as large as `value` mm.
    NoTags,      ///< A photo then takes four clicks.
    TagOnField   ///< The tags do not fit between field and outside.
  };
  What what = What::NoName;
  bool forbids = false;  ///< The frame cannot be kept like this.
  double value = 0, other = 0;
  friend bool operator==(const FrameDoubt&, const FrameDoubt&) = default;
};

/// In the order in which a person would mend them.
std::vector<FrameDoubt> doubtsOf(const FrameMeasures& measures);

/// The frame; its id comes from its name. Throws Error where a doubt forbids it.
Hoop frameFrom(const FrameMeasures& measures);

}  // namespace rt
