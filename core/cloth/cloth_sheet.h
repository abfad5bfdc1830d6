// The cloth in its frame as an elastic sheet on a grid. Part of this room.
#pragma once

#include <Eigen/SparseCore>
#include <array>
#include <memory>
#include <vector>

#include "cloth_law.h"
#include "judge.h"

namespace rt {

/// Where a place lies in the grid: the cell's low corner and how far into it, 0 to 1.
struct SheetPlace {
  size_t column = 0, row = 0;
  double u = 0, v = 0;
};

/// Displacement of every node, mm.
using SheetField = std::vector<Point>;

/// Thread in a cell: length times the direction's fourth products, mm; and parts of a stitch times
/// its second ones.
struct LaidDirections {
  double xxxx = 0, xxxy = 0, xxyy = 0, xyyy = 0, yyyy = 0;
  double each_xx = 0, each_xy = 0, each_yy = 0;
  void add(Point way, double length, double stitches);
  void add(const LaidDirections& more);
};
using LaidThreads = std::vector<LaidDirections>;  ///< By cell.
/// What the cloth answers to each move of each node; its lower half.
using ClothEquations = Eigen::SparseMatrix<double>;

/// Nodes of a grid that is fine about the sewing and coarser toward the frame, where the cloth is
/// held.
///
/// Plane stress of an orthotropic sheet (Jones, Mechanics of Composite Materials, 1999, ch. 2), its
/// stiffness along x taken as 1, on an elastic ground (Winkler) for what backing and weave hold;
/// bilinear elements (Hughes, The Finite Element Method, 2000, ch. 3). A thread along t adds the
/// stress k·w·(s + e_tt) t⊗t, w its length per area, s what a free one would shorten: it pulls
/// until the cloth has come along, and is stiff from then on. Across itself it pushes by a part of
/// k·w·s.
class ClothSheet {
 public:
  /// `fine` is divided into cells of `step_mm`.
  ClothSheet(const Field& field, const Box& fine, double step_mm);
  ~ClothSheet();
  ClothSheet(const ClothSheet&) = delete;
  ClothSheet& operator=(const ClothSheet&) = delete;

  size_t nodes() const { return x_.size() * y_.size(); }
  size_t cells() const { return (x_.size() - 1) * (y_.size() - 1); }
  SheetPlace placeOf(Point p) const;
  Point at(const SheetField& field, const SheetPlace& place) const;
  Point at(const SheetField& field, Point p) const { return at(field, placeOf(p)); }

  /// Adds a straight piece of thread.
  void lay(Point from, Point to, LaidThreads& threads) const;
  /// The cloth as stiff as it is with some thread on it.
  class Stiffened;
  std::shared_ptr<const Stiffened> stiffened(const ClothLaw& law, const LaidThreads& threads) const;
  /// How that cloth moves when this thread begins to pull.
  SheetField pulledBy(const Stiffened& cloth, const ClothLaw& law,
                      const LaidThreads& threads) const;
  /// The same for a law beside the one that `cloth` was stiffened by, whose equations are given,
  /// from how it moved by that one: right to first order in what differs, without solving anew (one
  /// step of iterative refinement: Golub and Van Loan, Matrix Computations, 2013, 3.5.3).
  SheetField pulledBeside(const Stiffened& cloth, const SheetField& near,
                          const ClothEquations& beside, const ClothLaw& law,
                          const LaidThreads& threads) const;
  ClothEquations equations(const ClothLaw& law, const LaidThreads& threads) const;

 private:
  struct Pattern;
  void number(const Field& field);
  void lookUpSlots();
  std::array<int, 4> unknownsOf(size_t cell) const;
  void layInCell(Point p, Point way, double length, double stitches, LaidThreads& threads) const;
  double area(size_t cell) const;
  Eigen::VectorXd pull(const ClothLaw& law, const LaidThreads& threads) const;
  SheetField fieldOf(const Eigen::VectorXd& moved) const;

  std::vector<double> x_, y_;
  std::vector<int> unknown_;  // first of a node's two, -1 where it is held
  int unknowns_ = 0;
  std::unique_ptr<Pattern> pattern_;  // of the equations, and where each element stands in them
};

}  // namespace rt
