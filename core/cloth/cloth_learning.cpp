#include "cloth_learning.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

#include "error.h"
#include "sheet_sewing.h"

namespace rt {
namespace {

constexpr size_t kOffset = 2;  // the swatch may lie a little off, as a whole
constexpr size_t kUnknowns = kClothMoving + kOffset;
constexpr double kOffset_mm = 0.05, kHuber = 2.5, kDifference = 0.02;
constexpr int kMostRounds = 8;
/// Sights of one shape, however many, tell as much as so many: where the law is not the cloth's own
/// it is off for all of them alike.
constexpr double kTogether = 12, kLargest_mm = 30;
/// What no swatch is surer of: other layouts move by so much of a movement otherwise.
constexpr double kLeastUnexplained = 0.15;
constexpr double kSettled = 0.02;      // of a prior's sigma
constexpr double kScatterKnown = 0.7;  // of its logarithm, one sigma
constexpr double kLongStep = 1.0;      // of a logarithm
using Vector = Eigen::Matrix<double, kUnknowns, 1>;
using Matrix = Eigen::Matrix<double, kUnknowns, kUnknowns>;
using Rows = Eigen::Matrix<double, Eigen::Dynamic, kUnknowns>;

/// Figures as the search sees them: those that are ratios by their logarithm.
struct Scale {
  static double in(const ClothFigureInfo& info, double v) { return info.ratio ? std::log(v) : v; }
  static double out(const ClothFigureInfo& info, double v) {
    return std::clamp(info.ratio ? std::exp(v) : v, info.least, info.most);
  }
  static double sigmaIn(const ClothFigureInfo& info, const ClothValue& v) {
    return std::max(1e-4, info.ratio ? v.sigma / v.value : v.sigma);
  }
};

class Learner {
 public:
  Learner(const ClothKnown& before, const Pattern& sewn, const Field& field,
          const std::vector<ClothSight>& sights, const Watch& watch)
      : before_(before), sewn_(sewn), sewing_(sewn, field), sights_(sights), watch_(watch) {
    const auto infos = clothFigures();
    for (size_t i = 0; i < kClothMoving; ++i) {
      prior_[index(i)] = Scale::in(infos[i], before.law.figures[i].value);
      const double s = Scale::sigmaIn(infos[i], before.law.figures[i]);
      known_(index(i), index(i)) = 1 / (s * s);
    }
    for (size_t i = kClothMoving; i < kUnknowns; ++i)
      known_(index(i), index(i)) = 1 / (kOffset_mm * kOffset_mm);
    std::map<size_t, double> counts;
    for (const ClothSight& s : sights) ++counts[s.shape];
    for (const ClothSight& s : sights)
      shares_.push_back(std::min(1.0, kTogether / counts[s.shape]));
    scatter_ = before.law[ClothFigure::Scatter];
    unexplained_ = kLeastUnexplained;  // of the fit; the weights of a wide start would tell nothing
  }

  ClothLesson run() {
    Solved here = solvedAt(prior_);
    weigh(here.foretold);
    for (int round = 0; round < kMostRounds; ++round) {
      watched(watch_, static_cast<double>(round) / kMostRounds, "fitting the cloth");
      const Vector step = stepFrom(here.at, here.foretold, differences(here));
      if (!take(here, step)) break;
      weigh(here.foretold);
      if ((known_.diagonal().cwiseSqrt().cwiseProduct(step)).cwiseAbs().maxCoeff() < kSettled)
        break;
    }
    const Rows j = differences(here);
    judge(here.foretold, j);
    return lesson(here.at, here.foretold, j);
  }

 private:
  static Eigen::Index index(size_t i) { return static_cast<Eigen::Index>(i); }

  ClothLaw lawAt(const Vector& at) const {
    ClothLaw law = before_.law;
    const auto infos = clothFigures();
    for (size_t i = 0; i < kClothMoving; ++i)
      law.figures[i].value = Scale::out(infos[i], at[index(i)]);
    return law;
  }

  /// The sheet as it was solved for some figures, and where the sights are foretold by it: x and y
  /// by turns, mm from where they were sewn.
  struct Solved {
    Vector at;
    SheetSewing::Stages stages;
    SheetSewing::Course course;
    Eigen::VectorXd foretold;
  };
  Solved solvedAt(const Vector& at) const {
    const ClothLaw law = lawAt(at);
    Solved out{at, sewing_.stages(law), {}, {}};
    out.course = sewing_.course(out.stages, law);
    out.foretold = foretold(at, out.course);
    return out;
  }
  static bool stiffens(size_t figure) {
    using enum ClothFigure;
    const auto f = static_cast<ClothFigure>(figure);
    return f == ThreadStiffness || f == StretchRatio || f == Shear || f == Reach;
  }
  static bool pulls(size_t figure) {
    using enum ClothFigure;
    const auto f = static_cast<ClothFigure>(figure);
    return f == PullX || f == PullY || f == EachStitch || f == Push;
  }

  Eigen::VectorXd foretold(const Vector& at, const SheetSewing::Course& course) const {
    const ClothMotion motion = sewing_.motion(course, lawAt(at), sewn_, {});
    Eigen::VectorXd out(2 * index(sights_.size()));
    for (size_t i = 0; i < sights_.size(); ++i) {
      Point mean;
      for (size_t row : sights_[i].rows) mean = mean + motion.moved[row];
      mean = mean * (1.0 / static_cast<double>(sights_[i].rows.size()));
      out[2 * index(i)] = mean.x + at[index(kClothMoving)];
      out[2 * index(i) + 1] = mean.y + at[index(kClothMoving + 1)];
    }
    return out;
  }

  /// How much what is foretold changes with each figure: what a figure leaves as it is serves
  /// again, and stiffness is followed to first order.
  Rows differences(const Solved& here) const {
    Rows j(here.foretold.size(), index(kUnknowns));
    for (size_t i = 0; i < kClothMoving; ++i) {
      Vector beside = here.at;
      const double step = clothFigures()[i].ratio ? kDifference : kDifference / 2;
      beside[index(i)] += step;
      const ClothLaw law = lawAt(beside);
      const Eigen::VectorXd there =
          stiffens(i) ? foretold(beside, sewing_.beside(here.stages, here.course, law))
          : pulls(i)  ? foretold(beside, sewing_.course(here.stages, law))
                      : foretold(beside, here.course);
      j.col(index(i)) = (there - here.foretold) / step;
    }
    for (size_t k = 0; k < kOffset; ++k)
      for (Eigen::Index row = 0; row < j.rows(); ++row)
        j(row, index(kClothMoving + k)) = static_cast<size_t>(row % 2) == k ? 1 : 0;
    return j;
  }

  Point left(size_t i, const Eigen::VectorXd& moved) const {
    return sights_[i].by - Point{moved[2 * index(i)], moved[2 * index(i) + 1]};
  }

  Eigen::Matrix2d variance(size_t i, const Eigen::VectorXd& moved) const {
    const PlaceCovariance& c = sights_[i].covariance;
    const double go = std::hypot(moved[2 * index(i)], moved[2 * index(i) + 1]);
    const double own = scatter_ * scatter_ / static_cast<double>(sights_[i].rows.size()) +
                       unexplained_ * unexplained_ * go * go;
    Eigen::Matrix2d v;
    v << c.xx + own, c.xy, c.xy, c.yy + own;
    return v;
  }

  /// Each sight's information, less where it lies far off.
  void weigh(const Eigen::VectorXd& moved) {
    weights_.resize(sights_.size());
    far_ = 0;
    for (size_t i = 0; i < sights_.size(); ++i) {
      const Eigen::Matrix2d information = variance(i, moved).inverse();
      const Point r = left(i, moved);
      const Eigen::Vector2d off{r.x, r.y};
      const double size = std::sqrt(off.dot(information * off));
      weights_[i] = information * (shares_[i] * (size > kHuber ? kHuber / size : 1.0));
      if (size > 2 * kHuber) ++far_;
    }
  }

  Vector stepFrom(const Vector& at, const Eigen::VectorXd& moved, const Rows& j) const {
    Vector slope = known_ * (prior_ - at);
    for (size_t i = 0; i < sights_.size(); ++i) {
      const Point r = left(i, moved);
      slope +=
          j.middleRows<2>(2 * index(i)).transpose() * (weights_[i] * Eigen::Vector2d{r.x, r.y});
    }
    Vector step = information(j).ldlt().solve(slope);
    for (size_t i = 0; i < kClothMoving; ++i) {
      const double most = clothFigures()[i].ratio ? kLongStep : 0.25;
      step[index(i)] = std::clamp(step[index(i)], -most, most);
    }
    return step;
  }
  Matrix information(const Rows& j) const {
    Matrix out = known_;
    for (size_t i = 0; i < sights_.size(); ++i) {
      const auto rows = j.middleRows<2>(2 * index(i));
      out += rows.transpose() * weights_[i] * rows;
    }
    return out;
  }

  double misfit(const Vector& at, const Eigen::VectorXd& moved) const {
    double sum = (at - prior_).dot(known_ * (at - prior_));
    for (size_t i = 0; i < sights_.size(); ++i) {
      const Point r = left(i, moved);
      const Eigen::Vector2d off{r.x, r.y};
      sum += off.dot(weights_[i] * off);
    }
    return sum;
  }

  /// Goes as much of the step as makes it better; false where none does.
  bool take(Solved& here, const Vector& step) const {
    const double was = misfit(here.at, here.foretold);
    for (double part : {1.0, 0.4, 0.1}) {
      Solved there = solvedAt(here.at + step * part);
      if (misfit(there.at, there.foretold) >= was) continue;
      here = std::move(there);
      return true;
    }
    return false;
  }

  /// Scatter and what is unexplained, by what is left of each shape when the others foretell it.
  void judge(const Eigen::VectorXd& moved, const Rows& j) {
    const std::vector<Point> off = foretoldByOthers(moved, j);
    double best = INFINITY, scatter = scatter_, unexplained = unexplained_;
    const double known = std::log(before_.law[ClothFigure::Scatter]);
    for (int s = -16; s <= 16; ++s)
      for (int e = 0; e <= 24; ++e) {
        const double trial = std::exp(known + s * 0.15),
                     part = kLeastUnexplained * std::pow(1.1, e);
        double sum = std::pow(s * 0.15 / kScatterKnown, 2);
        for (size_t i = 0; i < sights_.size(); ++i) sum += unlikely(i, off[i], moved, trial, part);
        if (sum < best) best = sum, scatter = trial, unexplained = part;
      }
    scatter_ = scatter, unexplained_ = unexplained;
    weigh(moved);
  }
  double unlikely(size_t i, Point off, const Eigen::VectorXd& moved, double scatter, double part) {
    scatter_ = scatter, unexplained_ = part;
    const Eigen::Matrix2d v = variance(i, moved);
    const Eigen::Vector2d r{off.x, off.y};
    const double square = r.dot(v.inverse() * r), limit = 9;
    // beyond three sigma as far as it is linear: one thread taken for another is not the cloth's
    return std::log(v.determinant()) +
           (square > limit ? 2 * std::sqrt(limit * square) - limit : square);
  }

  std::vector<Point> foretoldByOthers(const Eigen::VectorXd& moved, const Rows& j) const {
    std::map<size_t, std::vector<size_t>> shapes;
    for (size_t i = 0; i < sights_.size(); ++i) shapes[sights_[i].shape].push_back(i);
    const Matrix all = information(j);
    std::vector<Point> out(sights_.size());
    for (const auto& [shape, own] : shapes) {
      Matrix others = all;
      Vector slope = Vector::Zero();
      for (size_t i : own) {
        const auto rows = j.middleRows<2>(2 * index(i));
        const Point r = left(i, moved);
        others -= rows.transpose() * weights_[i] * rows;
        slope += rows.transpose() * (weights_[i] * Eigen::Vector2d{r.x, r.y});
      }
      // where the fit would be without them: back by what they pulled it
      const Vector back = others.ldlt().solve(slope);
      for (size_t i : own) {
        const Eigen::Vector2d by = j.middleRows<2>(2 * index(i)) * back;
        out[i] = left(i, moved) + Point{by[0], by[1]};
      }
    }
    return out;
  }

  ClothLesson lesson(const Vector& at, const Eigen::VectorXd& moved, const Rows& j) const {
    ClothLesson out;
    out.known = before_;
    out.known.law = lawAt(at);
    const Matrix covariance = information(j).inverse();
    const auto infos = clothFigures();
    for (size_t i = 0; i < kClothMoving; ++i) {
      ClothValue& v = out.known.law.figures[i];
      v.sigma = std::sqrt(covariance(index(i), index(i))) * (infos[i].ratio ? v.value : 1);
    }
    const double sure = std::sqrt(0.5 / std::max<double>(4, static_cast<double>(sights_.size())));
    out.known.law.at(ClothFigure::Scatter) = {scatter_, std::max(scatter_ * sure, 1e-4)};
    out.known.law.at(ClothFigure::Unexplained) = {unexplained_, unexplained_ * sure};
    std::vector<double> before, after;
    for (size_t i = 0; i < sights_.size(); ++i) {
      before.push_back(told(i, sights_[i].by));
      after.push_back(told(i, left(i, moved)));
    }
    out.before = distancesOf(before), out.after = distancesOf(after);
    out.used = sights_.size() - far_, out.outliers = far_;
    return out;
  }

  /// How long `off` is in the directions that the sight tells of.
  double told(size_t i, Point off) const {
    const PlaceCovariance& c = sights_[i].covariance;
    if (c.longAxis_mm() < 3 * c.shortAxis_mm()) return length(off);
    const double a = radians(c.longAxis_deg());
    return std::abs(cross(Point{std::cos(a), std::sin(a)}, off));
  }

  const ClothKnown& before_;
  const Pattern& sewn_;
  const SheetSewing sewing_;
  const std::vector<ClothSight>& sights_;
  const Watch& watch_;
  Vector prior_ = Vector::Zero();
  Matrix known_ = Matrix::Zero();
  double scatter_ = 0.05, unexplained_ = 0.3;
  std::vector<double> shares_;
  std::vector<Eigen::Matrix2d> weights_;
  size_t far_ = 0;
};

}  // namespace

std::vector<size_t> shapesOfRows(const Pattern& pattern) {
  std::vector<size_t> out(pattern.stitches.size());
  std::vector<Box> boxes(1);
  for (size_t row = 0; row < out.size(); ++row) {
    const Stitch& s = pattern.stitches[row];
    const bool cut = s.op == Op::Trim || s.op == Op::Stop || s.op == Op::Jump;
    if (cut || (row > 0 && s.thread != pattern.stitches[row - 1].thread)) boxes.emplace_back();
    out[row] = boxes.size() - 1;
    if (s.op == Op::Stitch) boxes.back().add(s.at);
  }
  // what is large is several, each as large as a shape of the swatch may be
  std::map<std::tuple<size_t, int, int>, size_t> parts;
  for (size_t row = 0; row < out.size(); ++row) {
    if (pattern.stitches[row].op != Op::Stitch) continue;
    const Point in = pattern.stitches[row].at - Point{boxes[out[row]].left, boxes[out[row]].top};
    const auto part = [](double v) { return static_cast<int>(v / kLargest_mm); };
    out[row] = parts.try_emplace({out[row], part(in.x), part(in.y)}, parts.size()).first->second;
  }
  return out;
}

ClothLesson learned(const ClothKnown& before, const Pattern& sewn, const Field& field,
                    const std::vector<ClothSight>& sights, const Watch& watch) {
  for (const ClothSight& s : sights)
    for (size_t row : s.rows)
      if (row >= sewn.stitches.size() || sewn.stitches[row].op != Op::Stitch)
        throw Error("row " + std::to_string(row + 1) + " is no needle point", "points",
                    "give rows of the list whose op is stitch");
  requireWithin(sewn, field);
  if (sights.empty()) return {before, {}, {}, 0, 0};
  ClothLesson out = Learner(before, sewn, field, sights, watch).run();
  ++out.known.learned_from;
  return out;
}

}  // namespace rt
