// Fabrics and the limits that go with them. The figures live in data/fabrics.json.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "polygon.h"

namespace rt {

/// Above `check` look twice; above `stop` expect breaks.
struct Limit {
  double check = 0, stop = 0;
  friend bool operator==(const Limit&, const Limit&) = default;
};

/// When a line of holes tears: holes this near each other, over this length.
struct PerforationLimit {
  double hole_distance_mm = 1.2;
  /// At the edge of satin or a fill: threads lie across such a line and hold both its sides.
  double edge_distance_mm = 0.6;
  Limit length_mm{15, 30};
  friend bool operator==(const PerforationLimit&, const PerforationLimit&) = default;
};

/// How near threads lie, mm: between rows of a fill, and between two points on one edge of satin.
struct ThreadSpacing {
  double rows_mm = 0.40, satin_mm = 0.40;
  friend bool operator==(const ThreadSpacing&, const ThreadSpacing&) = default;
};

/// Shop starting values, to be tuned on one's own test sew-outs.
struct Fabric {
  std::string id, name;
  Limit density_mm_per_mm2;  ///< Thread length per area.
  Limit holes_per_mm2;       ///< Needle points per area.
  ThreadSpacing spacing;     ///< Where nothing else is asked for; of thread of weight 40.
  double pull_compensation_mm = 0;
  double least_column_mm = 0;  ///< Narrowest satin that holds.
  double least_letter_mm = 0;  ///< Lowest capitals that hold; 0: not known.
  double thickness_mm = 0;
  std::string backing, topper;
  bool holes_tear = false;       ///< Leather, vinyl: a line of holes tears.
  PerforationLimit perforation;  ///< Counts where holes tear.
  friend bool operator==(const Fabric&, const Fabric&) = default;
};

enum class ZoneKind { Thick, KeepOut };

/// A place on the item that sewing treats differently, in layout coordinates.
struct Zone {
  std::string name;
  ZoneKind kind = ZoneKind::Thick;
  Ring polygon_mm;
  int layers = 2;  ///< Layers of cloth in all; 1 is plain cloth.
  double thickness_mm = 0;
  friend bool operator==(const Zone&, const Zone&) = default;
};

/// What is left of a density limit in a thick zone: each extra layer takes 15 % off, to half at
/// most.
double limitFactor(int layers);
/// The least factor of the thick zones that hold `p`; 1 outside all.
double limitFactorAt(const std::vector<Zone>& zones, Point p);

/// Asks thread by thread whether sewing enters a zone. Keeps a reference to it.
class ZoneEntry {
 public:
  explicit ZoneEntry(const Zone& zone) : zone_(zone), box_(boundsOf(zone.polygon_mm)) {}
  const Box& bounds() const { return box_; }
  /// The first point of straight thread that lies in the zone, looked at every 0.5 mm and at both
  /// ends.
  std::optional<Point> of(Point from, Point to) const;

 private:
  const Zone& zone_;
  Box box_;
};

/// Throws Error naming the known ids.
const Fabric& fabricById(const std::vector<Fabric>& fabrics, const std::string& id);

}  // namespace rt
