// Paints that lie on one another. What lets through what is below is sewn in the colours that a
// viewer shows: thread covers, so each part that shows a colour of its own becomes a shape.
// Part of reading artwork.
#pragma once

#include <optional>

#include "artwork_paint.h"
#include "shape.h"

namespace rt {

class Layers {
 public:
  /// What is sewn of a shape that is painted over all before it.
  struct Painted {
    std::vector<Shape> shapes;
    bool onPaper = false;  ///< Much of it lies on nothing, and too little of it shows there.
    bool faint = false;    ///< It hardly changes what is below.
  };
  /// On bare paper a tint of over one half is sewn as if it let nothing through. Drawings of very
  /// many translucent paints have this rule everywhere.
  Painted paint(Shape shape, const Tint& tint);

 private:
  struct Layer {
    Shape shape;
    Box box;
    Tint shows;                ///< To a viewer.
    std::optional<Tint> sewn;  ///< The thread on top there; unset where there is none.
    std::optional<Area> ink;   ///< Once it was asked for.
  };
  struct Part {
    Area area;
    Tint shows;
    std::optional<Tint> below;  ///< The thread on top before.
    double mm2 = 0;
  };

  const Area& inkOfLayer(Layer& layer);
  std::vector<Part> parts(const Area& ink, const Tint& tint);
  void add(Shape shape, const Tint& shows, std::optional<Tint> sewn);
  Painted translucent(Shape shape, const Tint& tint);
  Painted asIfSolid(Shape shape, const Tint& tint);

  std::vector<Layer> layers_;  // from the bottom up
  size_t points_ = 0;          // of outlines that were cut so far
};

}  // namespace rt
