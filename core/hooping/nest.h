// Batches: pieces laid into the fields of a frame.
#pragma once

#include "frame.h"
#include "watch.h"

namespace rt {

/// So many pieces of one size.
struct NestKind {
  std::string name;
  double width_mm = 0, height_mm = 0;
  int count = 1;
};

struct NestOptions {
  double gap_mm = 0;     ///< Between pieces; not to the field's edge.
  bool turn = false;     ///< Pieces may be turned by 90°.
  int most_tries = 400;  ///< Orders of filling that are tried for mixtures.
};

/// A piece in a frame.
struct NestPlace {
  size_t kind = 0;  ///< Index of its kind.
  Box box;          ///< In the frame's own frame of reference, mm; the gap not counted.
  bool turned = false;
  int setting = 1;  ///< Whose field holds it, from 1.
};

/// The most pieces of one kind that a clamping holds (its count is not regarded). Exact without
/// turning in a rectangle; with it by five-block recursion (Morabito and Morales 1998), which finds
/// the most in practice. Throws Error for a piece that fits not even once, and for sizes that are
/// none.
std::vector<NestPlace> nestEqual(const NestKind& kind, const Hoop& hoop,
                                 const NestOptions& options);

struct NestedBatch {
  std::vector<std::vector<NestPlace>> hoopings;  ///< Every piece in exactly one.
  int lower_bound = 0;                           ///< Proven: no batch takes fewer.
};

/// A mixture in as few clampings as can be found: largest free rectangles, filled in many orders
/// until the bound is met. Throws Error likewise, with the piece's name; Stopped.
NestedBatch nestMixed(const std::vector<NestKind>& kinds, const Hoop& hoop,
                      const NestOptions& options, const Watch& watch = {});

/// Part of a frame's fields that pieces cover, 0 to 1.
double fieldUse(const std::vector<NestPlace>& places, const Hoop& hoop);
/// Cloth that a clamping takes: the frame with its clearance, mm².
double clothOf_mm2(const Hoop& hoop);

}  // namespace rt
