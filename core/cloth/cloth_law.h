// How one fabric with its backing moves under thread: a few figures, each with its uncertainty.
#pragma once

#include <array>
#include <cstddef>
#include <span>
#include <string>
#include <string_view>

namespace rt {

/// x is across the layout, y down it: what is learned of a fabric holds as long as it is hooped the
/// same way round.
enum class ClothFigure {
  PullX,            ///< Part by which a free thread along x would shorten the cloth.
  PullY,            ///< Likewise along y.
  EachStitch,       ///< By how much a stitch is shorter whatever its length, besides, mm.
  ThreadStiffness,  ///< What 1 mm/mm² of thread adds along itself to the cloth's own stiffness.
  StretchRatio,     ///< The cloth's stiffness along y over that along x.
  Shear,            ///< Its stiffness in shear over that along x.
  Push,             ///< How much thread pushes across, against how much it pulls.
  Reach,            ///< How far the cloth gives way around a place before backing holds it, mm.
  EdgeX,            ///< How far a stitch along x draws its own needle points in, each, mm.
  EdgeY,            ///< Likewise along y.
  EdgeLength,       ///< From what length on a stitch does so in full, mm.
  Lag,              ///< How far the needle stays behind, as a part of the move.
  Scatter,          ///< One sigma of a needle point's place, a coordinate, mm.
  Unexplained,      ///< One sigma, a coordinate, of what the rest leaves, as a part of a movement.
};
inline constexpr size_t kClothFigures = 14;
/// Those that say how the cloth moves; the rest say how sure that is.
inline constexpr size_t kClothMoving = 12;

struct ClothFigureInfo {
  ClothFigure figure;
  std::string_view name, unit;
  double least, most;  ///< What any cloth has.
  bool ratio;          ///< Above 0: known by factors, not by differences.
};
std::span<const ClothFigureInfo> clothFigures();

struct ClothValue {
  double value = 0, sigma = 0;
  friend bool operator==(const ClothValue&, const ClothValue&) = default;
};

struct ClothLaw {
  std::array<ClothValue, kClothFigures> figures{};
  double operator[](ClothFigure f) const { return figures[static_cast<size_t>(f)].value; }
  ClothValue& at(ClothFigure f) { return figures[static_cast<size_t>(f)]; }
  friend bool operator==(const ClothLaw&, const ClothLaw&) = default;
};

/// What a shop knows of one fabric with its backing and way of holding.
struct ClothKnown {
  std::string fabric, backing, held;
  int learned_from = 0;  ///< Swatches; 0: starting values.
  ClothLaw law;
  friend bool operator==(const ClothKnown&, const ClothKnown&) = default;
};

}  // namespace rt
