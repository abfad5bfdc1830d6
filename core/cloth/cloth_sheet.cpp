#include "cloth_sheet.h"

#include <Eigen/SparseCholesky>
#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kWiden = 1.35;   // a cell against the one before, outside the sewing
constexpr double kPoisson = 0.2;  // how much cloth narrows when it is drawn: woven and backed
constexpr int kCorners = 4, kOfElement = 8;
using Element = Eigen::Matrix<double, kOfElement, kOfElement>;
using Strains = Eigen::Matrix<double, 3, kOfElement>;
using Corners = Eigen::Matrix<double, kCorners, kCorners>;
using Stress = Eigen::Vector3d;  // xx, yy, xy
using Equations = Eigen::SparseMatrix<double>;

/// Lines of a grid over [low, high], `step` apart between `from` and `to`.
std::vector<double> gridLines(double low, double high, double from, double to, double step) {
  from = std::max(low, from), to = std::min(high, to);
  const int count = std::max(1, static_cast<int>(std::ceil((to - from) / step - 1e-9)));
  std::vector<double> lines;
  for (int i = 0; i <= count; ++i) lines.push_back(from + (to - from) * i / count);
  const double own = (to - from) / count;
  auto outward = [&](double start, double end) {
    std::vector<double> out;
    double cell = own, at = start;
    const double sign = end < start ? -1 : 1;
    while ((end - at) * sign > 1e-6) {
      cell *= kWiden;
      at = (end - at) * sign < 1.6 * cell ? end : at + sign * cell;
      out.push_back(at);
    }
    return out;
  };
  std::vector<double> left = outward(lines.front(), low), right = outward(lines.back(), high);
  std::reverse(left.begin(), left.end());
  left.insert(left.end(), lines.begin(), lines.end());
  left.insert(left.end(), right.begin(), right.end());
  return left;
}

Strains strainsAt(double u, double v, double w, double h) {
  const double nx[kCorners] = {-(1 - v) / w, (1 - v) / w, v / w, -v / w};
  const double ny[kCorners] = {-(1 - u) / h, -u / h, u / h, (1 - u) / h};
  Strains b = Strains::Zero();
  for (int i = 0; i < kCorners; ++i) {
    b(0, 2 * i) = nx[i];
    b(1, 2 * i + 1) = ny[i];
    b(2, 2 * i) = ny[i], b(2, 2 * i + 1) = nx[i];
  }
  return b;
}

/// Integrals of the products of the corners' slopes over the unit square: of the first corner's
/// along x or y with the second's. They depend on no cell: its sides only scale them.
struct SlopeProducts {
  Corners xx, xy, yy;

  static const SlopeProducts& ofUnitSquare() {
    static const SlopeProducts products;
    return products;
  }

 private:
  SlopeProducts() : xx(Corners::Zero()), xy(Corners::Zero()), yy(Corners::Zero()) {
    // two-point Gauss quadrature, which is exact for them
    constexpr double kGauss[2] = {0.21132486540518713, 0.7886751345948129};
    for (double u : kGauss)
      for (double v : kGauss) {
        const Strains b = strainsAt(u, v, 1, 1);
        for (int i = 0; i < kCorners; ++i)
          for (int j = 0; j < kCorners; ++j) {
            xx(i, j) += b(0, 2 * i) * b(0, 2 * j) / 4;
            xy(i, j) += b(0, 2 * i) * b(1, 2 * j + 1) / 4;
            yy(i, j) += b(1, 2 * i + 1) * b(1, 2 * j + 1) / 4;
          }
      }
  }
};

/// What a cell of w x h of this stiffness and ground answers to each move of its corners.
Element elementOf(const Eigen::Matrix3d& c, double w, double h, double ground) {
  const SlopeProducts& unit = SlopeProducts::ofUnitSquare();
  Element k;
  for (int i = 0; i < kCorners; ++i)
    for (int j = 0; j < kCorners; ++j) {
      const double xx = unit.xx(i, j) * h / w, yy = unit.yy(i, j) * w / h;
      const double xy = unit.xy(i, j), yx = unit.xy(j, i);
      k(2 * i, 2 * j) = c(0, 0) * xx + c(0, 2) * (xy + yx) + c(2, 2) * yy;
      k(2 * i, 2 * j + 1) = c(0, 1) * xy + c(0, 2) * xx + c(1, 2) * yy + c(2, 2) * yx;
      k(2 * i + 1, 2 * j) = c(0, 1) * yx + c(0, 2) * xx + c(1, 2) * yy + c(2, 2) * xy;
      k(2 * i + 1, 2 * j + 1) = c(1, 1) * yy + c(1, 2) * (xy + yx) + c(2, 2) * xx;
    }
  for (int n = 0; n < kOfElement; ++n) k(n, n) += ground * w * h / 4;
  return k;
}

/// The cloth's own stiffness, that along x being 1.
Eigen::Matrix3d clothStiffness(const ClothLaw& law) {
  const double ratio = law[ClothFigure::StretchRatio], whole = 1 / (1 - kPoisson * kPoisson);
  Eigen::Matrix3d c = Eigen::Matrix3d::Zero();
  c(0, 0) = whole, c(1, 1) = ratio * whole;
  c(0, 1) = c(1, 0) = kPoisson * std::sqrt(ratio) * whole;
  c(2, 2) = law[ClothFigure::Shear];
  return c;
}

/// What thread of these directions (length per area) adds.
Eigen::Matrix3d threadStiffness(const LaidDirections& d, double per_area) {
  Eigen::Matrix3d m;
  m << d.xxxx, d.xxyy, d.xxxy, d.xxyy, d.yyyy, d.xyyy, d.xxxy, d.xyyy, d.xxyy;
  return m * per_area;
}

Stress threadStress(const ClothLaw& law, const LaidDirections& d, double per_area) {
  const double x = law[ClothFigure::PullX], y = law[ClothFigure::PullY];
  const double push = law[ClothFigure::Push] * (x + y) / 2;
  const double each = law[ClothFigure::EachStitch];
  const Stress along{x * d.xxxx + y * d.xxyy + each * d.each_xx,
                     x * d.xxyy + y * d.yyyy + each * d.each_yy,
                     x * d.xxxy + y * d.xyyy + each * d.each_xy};
  const Stress across{d.xxyy + d.yyyy, d.xxxx + d.xxyy, -(d.xxxy + d.xyyy)};
  return law[ClothFigure::ThreadStiffness] * per_area * (along - push * across);
}

}  // namespace

struct ClothSheet::Pattern {
  Equations matrix;
  std::vector<int> slots;  // by cell: where the element's entries stand in the matrix, or -1
};

class ClothSheet::Stiffened {
 public:
  explicit Stiffened(const Equations& matrix) {
    if (matrix.rows() > 0) cholesky_.compute(matrix);
  }
  Eigen::VectorXd solve(const Eigen::VectorXd& force) const { return cholesky_.solve(force); }

 private:
  Eigen::SimplicialLLT<Equations, Eigen::Lower, Eigen::NaturalOrdering<int>> cholesky_;
};

ClothSheet::ClothSheet(const Field& field, const Box& fine, double step_mm)
    : pattern_(std::make_unique<Pattern>()) {
  const double w = field.width_mm / 2, h = field.height_mm / 2;
  x_ = gridLines(-w, w, fine.left, fine.right, step_mm);
  y_ = gridLines(-h, h, fine.top, fine.bottom, step_mm);
  number(field);
}

ClothSheet::~ClothSheet() = default;

/// Numbers the unknowns so that little is filled in when the equations are solved: the halves
/// beside a line of nodes first, then the line, and so on in each half (nested dissection, George
/// 1973). Once for all stiffnesses.
void ClothSheet::number(const Field& field) {
  unknown_.assign(nodes(), -1);
  unknowns_ = 0;
  const auto dissect = [&](auto&& self, size_t i0, size_t i1, size_t j0, size_t j1) -> void {
    if (i0 >= i1 || j0 >= j1) return;
    if (i1 - i0 == 1 && j1 - j0 == 1) {
      if (!field.contains({x_[i0], y_[j0]})) return;
      unknown_[j0 * x_.size() + i0] = unknowns_;
      unknowns_ += 2;
      return;
    }
    const bool tall = j1 - j0 > i1 - i0;
    const size_t i = tall ? i1 : (i0 + i1) / 2, j = tall ? (j0 + j1) / 2 : j1;
    self(self, i0, i, j0, j);
    tall ? self(self, i0, i1, j + 1, j1) : self(self, i + 1, i1, j0, j1);
    tall ? self(self, i0, i1, j, j + 1) : self(self, i, i + 1, j0, j1);
  };
  dissect(dissect, 1, x_.size() - 1, 1, y_.size() - 1);
  if (unknowns_ > 0) lookUpSlots();
}

void ClothSheet::lookUpSlots() {
  std::vector<Eigen::Triplet<double>> entries;
  const auto each = [&](auto&& use) {
    for (size_t cell = 0; cell < cells(); ++cell) {
      const std::array<int, 4> first = unknownsOf(cell);
      for (int n = 0; n < kOfElement; ++n)
        for (int m = 0; m < kOfElement; ++m) {
          const int row = first[static_cast<size_t>(n / 2)],
                    column = first[static_cast<size_t>(m / 2)];
          const bool there = row >= 0 && column >= 0 && column + m % 2 <= row + n % 2;
          use(there, row + n % 2, column + m % 2);
        }
    }
  };
  each([&](bool there, int row, int column) {
    if (there) entries.emplace_back(row, column, 0);
  });
  Equations& matrix = pattern_->matrix;
  matrix.resize(unknowns_, unknowns_);
  matrix.setFromTriplets(entries.begin(), entries.end());
  pattern_->slots.reserve(cells() * kOfElement * kOfElement);
  each([&](bool there, int row, int column) {
    if (!there) return pattern_->slots.push_back(-1);
    const int* from = matrix.innerIndexPtr() + matrix.outerIndexPtr()[column];
    const int* to = matrix.innerIndexPtr() + matrix.outerIndexPtr()[column + 1];
    pattern_->slots.push_back(
        static_cast<int>(std::lower_bound(from, to, row) - matrix.innerIndexPtr()));
  });
}

std::array<int, 4> ClothSheet::unknownsOf(size_t cell) const {
  const size_t columns = x_.size() - 1;
  const size_t low = cell / columns * x_.size() + cell % columns, high = low + x_.size();
  return {unknown_[low], unknown_[low + 1], unknown_[high + 1], unknown_[high]};
}

SheetPlace ClothSheet::placeOf(Point p) const {
  const auto find = [](const std::vector<double>& lines, double at, double& part) {
    const auto next = std::upper_bound(lines.begin() + 1, lines.end() - 1, at);
    const auto i = static_cast<size_t>(next - lines.begin()) - 1;
    part = std::clamp((at - lines[i]) / (lines[i + 1] - lines[i]), 0.0, 1.0);
    return i;
  };
  SheetPlace place;
  place.column = find(x_, p.x, place.u);
  place.row = find(y_, p.y, place.v);
  return place;
}

Point ClothSheet::at(const SheetField& field, const SheetPlace& p) const {
  const size_t low = p.row * x_.size() + p.column, high = low + x_.size();
  return mix(mix(field[low], field[low + 1], p.u), mix(field[high], field[high + 1], p.u), p.v);
}

double ClothSheet::area(size_t cell) const {
  const size_t i = cell % (x_.size() - 1), j = cell / (x_.size() - 1);
  return (x_[i + 1] - x_[i]) * (y_[j + 1] - y_[j]);
}

void LaidDirections::add(Point way, double length, double stitches) {
  const double x2 = way.x * way.x, y2 = way.y * way.y, xy = way.x * way.y;
  xxxx += length * x2 * x2, xxxy += length * x2 * xy, xxyy += length * x2 * y2;
  xyyy += length * xy * y2, yyyy += length * y2 * y2;
  each_xx += stitches * x2, each_xy += stitches * xy, each_yy += stitches * y2;
}

void LaidDirections::add(const LaidDirections& more) {
  xxxx += more.xxxx, xxxy += more.xxxy, xxyy += more.xxyy;
  xyyy += more.xyyy, yyyy += more.yyyy;
  each_xx += more.each_xx, each_xy += more.each_xy, each_yy += more.each_yy;
}

void ClothSheet::layInCell(Point p, Point way, double length, double stitches,
                           LaidThreads& threads) const {
  // shared between the four cells whose middles lie around, so that nothing leaps at a line
  const SheetPlace at = placeOf(p);
  const size_t columns = x_.size() - 1, rows = y_.size() - 1;
  const int right = at.u < 0.5 ? -1 : 1, down = at.v < 0.5 ? -1 : 1;
  const auto beside = [](size_t i, int by, size_t count) {
    return by < 0 ? (i > 0 ? i - 1 : i) : (i + 1 < count ? i + 1 : i);
  };
  const size_t i[2] = {at.column, beside(at.column, right, columns)};
  const size_t j[2] = {at.row, beside(at.row, down, rows)};
  const double a[2] = {1 - std::abs(at.u - 0.5), std::abs(at.u - 0.5)};
  const double b[2] = {1 - std::abs(at.v - 0.5), std::abs(at.v - 0.5)};
  for (int n = 0; n < 2; ++n)
    for (int m = 0; m < 2; ++m) {
      const double part = a[m] * b[n];
      threads[j[n] * columns + i[m]].add(way, length * part, stitches * part);
    }
}

void ClothSheet::lay(Point from, Point to, LaidThreads& threads) const {
  const double whole = distance(from, to);
  if (whole <= 0) return;
  const SheetPlace at = placeOf(mix(from, to, 0.5));
  const double cell = std::min(x_[at.column + 1] - x_[at.column], y_[at.row + 1] - y_[at.row]);
  const int pieces = static_cast<int>(std::ceil(2 * whole / cell));
  const Point way = (to - from) * (1 / whole);
  for (int k = 0; k < pieces; ++k)
    layInCell(mix(from, to, (k + 0.5) / pieces), way, whole / pieces, 1.0 / pieces, threads);
}

ClothEquations ClothSheet::equations(const ClothLaw& law, const LaidThreads& threads) const {
  const Eigen::Matrix3d own = clothStiffness(law);
  const double reach = law[ClothFigure::Reach], ground = 1 / (reach * reach);
  const double each = law[ClothFigure::ThreadStiffness];
  Equations matrix = pattern_->matrix;
  const int* slot = pattern_->slots.data();
  for (size_t cell = 0; cell < cells() && unknowns_ > 0; ++cell) {
    const size_t i = cell % (x_.size() - 1), j = cell / (x_.size() - 1);
    const double w = x_[i + 1] - x_[i], h = y_[j + 1] - y_[j];
    const Element k =
        elementOf(own + each * threadStiffness(threads[cell], 1 / (w * h)), w, h, ground);
    for (int n = 0; n < kOfElement; ++n)
      for (int m = 0; m < kOfElement; ++m, ++slot)
        if (*slot >= 0) matrix.valuePtr()[*slot] += k(n, m);
  }
  return matrix;
}

std::shared_ptr<const ClothSheet::Stiffened> ClothSheet::stiffened(
    const ClothLaw& law, const LaidThreads& threads) const {
  return std::make_shared<Stiffened>(equations(law, threads));
}

Eigen::VectorXd ClothSheet::pull(const ClothLaw& law, const LaidThreads& threads) const {
  Eigen::VectorXd force = Eigen::VectorXd::Zero(unknowns_);
  for (size_t cell = 0; cell < cells(); ++cell) {
    const LaidDirections& d = threads[cell];
    if (d.xxxx + d.xxyy + d.yyyy == 0) continue;
    const size_t i = cell % (x_.size() - 1), j = cell / (x_.size() - 1);
    const double w = x_[i + 1] - x_[i], h = y_[j + 1] - y_[j];
    const Stress stress = threadStress(law, d, 1 / (w * h));
    const Eigen::Matrix<double, kOfElement, 1> pull =
        strainsAt(0.5, 0.5, w, h).transpose() * stress * (w * h);
    const std::array<int, 4> first = unknownsOf(cell);
    for (int n = 0; n < kOfElement; ++n)
      if (const int node = first[static_cast<size_t>(n / 2)]; node >= 0)
        force[node + n % 2] -= pull[n];
  }
  return force;
}

SheetField ClothSheet::fieldOf(const Eigen::VectorXd& moved) const {
  SheetField out(nodes());
  for (size_t node = 0; node < out.size(); ++node)
    if (const int k = unknown_[node]; k >= 0) out[node] = {moved[k], moved[k + 1]};
  return out;
}

SheetField ClothSheet::pulledBy(const Stiffened& cloth, const ClothLaw& law,
                                const LaidThreads& threads) const {
  if (unknowns_ == 0) return SheetField(nodes());
  return fieldOf(cloth.solve(pull(law, threads)));
}

SheetField ClothSheet::pulledBeside(const Stiffened& cloth, const SheetField& near,
                                    const ClothEquations& beside, const ClothLaw& law,
                                    const LaidThreads& threads) const {
  if (unknowns_ == 0) return SheetField(nodes());
  Eigen::VectorXd moved = Eigen::VectorXd::Zero(unknowns_);
  for (size_t node = 0; node < near.size(); ++node)
    if (const int k = unknown_[node]; k >= 0) moved[k] = near[node].x, moved[k + 1] = near[node].y;
  const Eigen::VectorXd off = pull(law, threads) - beside.selfadjointView<Eigen::Lower>() * moved;
  return fieldOf(moved + cloth.solve(off));
}

}  // namespace rt
