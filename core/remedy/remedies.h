// Changes that cure a finding, each computed on the stitches before it is offered.
#pragma once

#include "findings.h"

namespace rt {

struct RemedyOptions {
  double hidden_margin_mm = 1.0;  ///< Left under the edge of what covers.
  double most_spacing = 2.0;      ///< Factor beyond which cloth shows through.
  double farthest_move_mm = 60;
  size_t most_blocks = 2;  ///< Tried one by one for re-spacing, those with most thread there first.
};

/// Remedies for a density, holes or keep-out finding, best first; for others none.
///   remove-hidden  take out what later sewing covers there;
///   respace        open the spacing of the block that lays most thread there, least that passes;
///   thin           the same for the block that lies lowest;
///   move           density and holes: the last sewn piece there, by the shortest of 16 directions
///                  that clears it; in a thick or keep-out zone: everything, out of the zone;
///   drop           leave the last block there unsewn.
/// A remedy is given if it lowers the finding's severity. `remedyScale` gives the smallest scale.
std::vector<Remedy> remediesFor(const Pattern& pattern, const Finding& finding,
                                const Fabric& fabric, const std::vector<Zone>& zones,
                                const RemedyOptions& options = {});

/// The pattern after a remedy.
Pattern applied(const Pattern& pattern, const Remedy& remedy);

/// How heavy the places of a finding are in a pattern: peak in its unit, and the verdict of its
/// kind there.
struct PlaceWeight {
  double peak = 0;
  Verdict verdict = Verdict::Sew;
};
PlaceWeight weighPlaces(const Pattern& pattern, const Finding& finding, const Fabric& fabric,
                        const std::vector<Zone>& zones);

}  // namespace rt
