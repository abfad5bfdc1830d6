// The stand-in's cloth that moves while it is sewn: a lattice of springs. No Qt.
#pragma once

#include <cstdint>
#include <random>
#include <string>
#include <vector>

#include "pattern.h"

namespace rt {

/// What one cloth is made of. None of it is known to the program.
struct ClothMake {
  double along_x = 1, along_y = 1, aslant = 0.25;  ///< Springs of the lattice.
  double stiffening = 4;   ///< How much stiffer a spring becomes for each part of its length.
  double held = 0.002;     ///< By the backing: a spring from each node to where it lay.
  double uneven = 0.15;    ///< Local variation of the springs, one sigma.
  double take_up = 0.03;   ///< Part by which a stitch would be shorter.
  double thread = 0.6;     ///< A stitch's own spring.
  double most_pull = 0.2;  ///< No thread pulls harder.
  double push = 0.02;      ///< How hard it pushes cloth aside.
  double slip_x_mm = 0.1, slip_y_mm = 0.1;  ///< A long stitch draws its holes in by so much.
  double deflected = 0.01;                  ///< The needle lags by this part of the move.
  double scatter_mm = 0.04;
};

/// Five fabrics, each seed a cloth of its own: "cotton", "jersey", "terry", "canvas", "sheer".
/// Throws Error for another name.
ClothMake clothMake(const std::string& fabric, uint32_t seed);

class MovingCloth {
 public:
  /// Held at the edges of a field about the origin.
  MovingCloth(double width_mm, double height_mm, const ClothMake& make, uint32_t seed);

  /// The needle goes down there; thread lies from the needle point before unless it was cut.
  /// Returns the number of the needle point.
  size_t needle(Point at);
  void cut() { before_ = kNone; }
  /// Lets the cloth go until it is at rest.
  void settle();
  /// Where a needle point lies now.
  Point lies(size_t needle_point) const;
  /// Where a place of the cloth that lay at `at` before sewing lies now.
  Point cloth(Point at) const { return at + moved(at); }

 private:
  static constexpr size_t kNone = static_cast<size_t>(-1);
  struct Place {
    size_t node[4];
    double part[4];
  };
  struct Spring {
    size_t a, b;
    double stiffness, rest;
  };
  struct Hole {
    Point cloth;  // where it went through, in cloth that nobody has moved
    Point slip;
    Place place;
  };
  struct Thread {
    size_t a, b;  // holes
    double rest;
  };
  Place placeOf(Point at) const;
  /// Where a hole is, but for what its threads drew it in.
  Point holeAt(size_t needle_point) const;
  Point at(const std::vector<Point>& field, const Place& p) const;
  Point moved(Point at) const { return this->at(u_, placeOf(at)); }
  size_t node(int i, int j) const { return static_cast<size_t>(j * columns_ + i); }
  void forces(std::vector<Point>& out) const;
  void stiffness(const std::vector<Point>& of, std::vector<Point>& out) const;

  ClothMake make_;
  double left_, top_, step_x_, step_y_;
  int columns_, rows_;
  std::vector<Point> rest_, u_;
  std::vector<char> held_;
  std::vector<Spring> springs_;
  std::vector<Hole> holes_;
  std::vector<Thread> threads_;
  size_t before_ = kNone, unsettled_ = 0;
  std::mt19937 random_;
};

/// Sews a list; where each row's needle point lies in the end, (0, 0) for rows that are none.
std::vector<Point> sewnOn(MovingCloth& cloth, const Pattern& pattern);

}  // namespace rt
