#include "moving_cloth.h"

#include <algorithm>
#include <cmath>

#include "error.h"

namespace rt {
namespace {

constexpr double kStep_mm = 2.3;
constexpr size_t kAtOnce = 20;  // needle points between two rests
constexpr int kMostRounds = 80;
constexpr double kAtRest = 1e-5, kGoodEnough = 1e-3;  // of the forces' squares
constexpr int kBumps = 14;                            // of the cloth's unevenness

struct Bump {
  Point at;
  double wide, high;
};

}  // namespace

ClothMake clothMake(const std::string& fabric, uint32_t seed) {
  ClothMake m;
  if (fabric == "cotton")
    m.take_up = 0.016, m.aslant = 0.18, m.held = 0.003;
  else if (fabric == "jersey")
    m.take_up = 0.045, m.along_y = 0.55, m.aslant = 0.3, m.slip_x_mm = 0.16, m.slip_y_mm = 0.22,
    m.held = 0.0015, m.stiffening = 2;
  else if (fabric == "terry")
    m.take_up = 0.03, m.along_y = 0.8, m.slip_x_mm = 0.18, m.slip_y_mm = 0.15, m.scatter_mm = 0.06;
  else if (fabric == "canvas")
    m.take_up = 0.010, m.along_x = 1.6, m.along_y = 1.4, m.slip_x_mm = m.slip_y_mm = 0.06,
    m.scatter_mm = 0.03;
  else if (fabric == "sheer")
    m.take_up = 0.03, m.aslant = 0.06, m.along_y = 0.9, m.held = 0.0008, m.slip_x_mm = 0.12,
    m.slip_y_mm = 0.12;
  else
    throw Error("there is no cloth \"" + fabric + "\"", "--moves",
                "give cotton, jersey, terry, canvas or sheer");
  std::mt19937 random(seed * 2654435761u + 17);
  auto vary = [&](double& v, double part) {
    v *= std::exp(std::normal_distribution<double>(0, part)(random));
  };
  vary(m.take_up, 0.2), vary(m.along_y, 0.15), vary(m.aslant, 0.25), vary(m.held, 0.3);
  vary(m.slip_x_mm, 0.2), vary(m.slip_y_mm, 0.2), vary(m.push, 0.4), vary(m.thread, 0.2);
  return m;
}

MovingCloth::MovingCloth(double width_mm, double height_mm, const ClothMake& make, uint32_t seed)
    : make_(make),
      left_(-width_mm / 2),
      top_(-height_mm / 2),
      columns_(std::max(3, static_cast<int>(width_mm / kStep_mm)) + 1),
      rows_(std::max(3, static_cast<int>(height_mm / kStep_mm)) + 1),
      random_(seed) {
  step_x_ = width_mm / (columns_ - 1), step_y_ = height_mm / (rows_ - 1);
  const auto count = static_cast<size_t>(columns_) * static_cast<size_t>(rows_);
  rest_.resize(count), u_.resize(count), held_.resize(count);
  std::vector<Bump> bumps;
  std::uniform_real_distribution<double> over(-0.5, 0.5);
  for (int i = 0; i < kBumps; ++i)
    bumps.push_back({{over(random_) * width_mm, over(random_) * height_mm},
                     15 + 25 * (over(random_) + 0.5),
                     std::normal_distribution<double>(0, make.uneven)(random_)});
  const auto uneven = [&](Point p) {
    double v = 0;
    for (const Bump& b : bumps) {
      const double d = distance(p, b.at) / b.wide;
      v += b.high * std::exp(-d * d);
    }
    return std::exp(v);
  };
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i) {
      rest_[node(i, j)] = {left_ + i * step_x_, top_ + j * step_y_};
      held_[node(i, j)] = i == 0 || j == 0 || i == columns_ - 1 || j == rows_ - 1;
    }
  const auto spring = [&](int i, int j, int k, int l, double stiff) {
    if (k < 0 || k >= columns_ || l >= rows_) return;
    const size_t a = node(i, j), b = node(k, l);
    springs_.push_back(
        {a, b, stiff * uneven(mix(rest_[a], rest_[b], 0.5)), distance(rest_[a], rest_[b])});
  };
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i) {
      spring(i, j, i + 1, j, make.along_x);
      spring(i, j, i, j + 1, make.along_y);
      spring(i, j, i + 1, j + 1, make.aslant);
      spring(i, j, i - 1, j + 1, make.aslant);
    }
}

MovingCloth::Place MovingCloth::placeOf(Point p) const {
  const double x = std::clamp((p.x - left_) / step_x_, 0.0, columns_ - 1.001);
  const double y = std::clamp((p.y - top_) / step_y_, 0.0, rows_ - 1.001);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const double u = x - i, v = y - j;
  return {{node(i, j), node(i + 1, j), node(i, j + 1), node(i + 1, j + 1)},
          {(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v}};
}

Point MovingCloth::at(const std::vector<Point>& field, const Place& p) const {
  Point sum;
  for (int k = 0; k < 4; ++k) sum = sum + field[p.node[k]] * p.part[k];
  return sum;
}

size_t MovingCloth::needle(Point at) {
  std::normal_distribution<double> off(0, make_.scatter_mm);
  Point goes = at + Point{off(random_), off(random_)};
  if (before_ != kNone) goes = goes - (at - lies(before_)) * make_.deflected;
  Hole hole;
  hole.cloth = goes - moved(goes);
  hole.cloth = goes - moved(hole.cloth);
  hole.place = placeOf(hole.cloth);
  holes_.push_back(hole);
  const size_t own = holes_.size() - 1;
  if (before_ != kNone) {
    const Point way = goes - holeAt(before_);
    const double whole = length(way);
    if (whole > 0.05) {
      threads_.push_back({before_, own, whole * (1 - make_.take_up)});
      const Point w = way * (1 / whole);
      const double part = 1 - std::exp(-std::pow(whole / 1.8, 2));
      const double by = 0.5 * part * std::hypot(make_.slip_x_mm * w.x, make_.slip_y_mm * w.y);
      holes_[own].slip = holes_[own].slip - w * by;
      holes_[before_].slip = holes_[before_].slip + w * by;
    }
  }
  before_ = own;
  if (++unsettled_ >= kAtOnce) settle();
  return own;
}

Point MovingCloth::holeAt(size_t needle_point) const {
  const Hole& h = holes_[needle_point];
  return h.cloth + at(u_, h.place);
}

Point MovingCloth::lies(size_t needle_point) const {
  return holeAt(needle_point) + holes_[needle_point].slip;
}

void MovingCloth::forces(std::vector<Point>& out) const {
  out.assign(u_.size(), Point{});
  for (const Spring& s : springs_) {
    const Point d = rest_[s.b] + u_[s.b] - rest_[s.a] - u_[s.a];
    const double whole = length(d), part = (whole - s.rest) / s.rest;
    const double pull = s.stiffness * part * (1 + make_.stiffening * std::max(0.0, part));
    out[s.a] = out[s.a] + d * (pull / whole);
    out[s.b] = out[s.b] - d * (pull / whole);
  }
  for (size_t i = 0; i < u_.size(); ++i) out[i] = out[i] - u_[i] * make_.held;
  for (const Thread& t : threads_) {
    const Hole &a = holes_[t.a], &b = holes_[t.b];
    const Point d = holeAt(t.b) - holeAt(t.a);
    const double whole = std::max(1e-6, length(d));
    const double pull =
        make_.most_pull * std::tanh(make_.thread * (whole / t.rest - 1) / make_.most_pull);
    const Point way = d * (1 / whole), aside = quarterTurn(way) * (make_.push * 0.1);
    for (int k = 0; k < 4; ++k) {
      out[a.place.node[k]] = out[a.place.node[k]] + way * (pull * a.place.part[k]);
      out[b.place.node[k]] = out[b.place.node[k]] - way * (pull * b.place.part[k]);
    }
    // thread is thick: cloth on either side of its middle goes aside
    const Point middle = mix(a.cloth, b.cloth, 0.5), n = quarterTurn(way);
    for (double side : {-1.0, 1.0}) {
      const Place p = placeOf(middle + n * (side * 1.2));
      for (int k = 0; k < 4; ++k) out[p.node[k]] = out[p.node[k]] + aside * (side * p.part[k]);
    }
  }
  for (size_t i = 0; i < out.size(); ++i)
    if (held_[i]) out[i] = {};
}

void MovingCloth::stiffness(const std::vector<Point>& of, std::vector<Point>& out) const {
  out.assign(of.size(), Point{});
  for (const Spring& s : springs_) {
    const Point d = rest_[s.b] - rest_[s.a];
    const Point w = d * (1 / s.rest);
    const double by = s.stiffness / s.rest * dot(w, of[s.b] - of[s.a]);
    out[s.a] = out[s.a] - w * by;
    out[s.b] = out[s.b] + w * by;
  }
  for (size_t i = 0; i < of.size(); ++i) out[i] = out[i] + of[i] * make_.held;
  for (const Thread& t : threads_) {
    const Hole &a = holes_[t.a], &b = holes_[t.b];
    const Point w = unit(b.cloth - a.cloth);
    const double by = make_.thread / t.rest * dot(w, at(of, b.place) - at(of, a.place));
    for (int k = 0; k < 4; ++k) {
      out[a.place.node[k]] = out[a.place.node[k]] - w * (by * a.place.part[k]);
      out[b.place.node[k]] = out[b.place.node[k]] + w * (by * b.place.part[k]);
    }
  }
  for (size_t i = 0; i < out.size(); ++i)
    if (held_[i]) out[i] = of[i];
}

void MovingCloth::settle() {
  unsettled_ = 0;
  if (threads_.empty()) return;
  // Newton's steps by conjugate gradients; the lattice's own stiffness stands in for the true one
  std::vector<Point> force, r, p, kp, step;
  double first = 0;
  for (int newton = 0; newton < 3; ++newton) {
    forces(force);
    r = force, p = r;
    step.assign(u_.size(), Point{});
    double square = 0;
    for (Point v : r) square += dot(v, v);
    if (newton == 0) first = square;
    if (newton > 0 && square < kGoodEnough * first) break;
    const double enough = square * kAtRest;
    for (int round = 0; round < kMostRounds && square > enough && square > 1e-18; ++round) {
      stiffness(p, kp);
      double curve = 0;
      for (size_t i = 0; i < p.size(); ++i) curve += dot(p[i], kp[i]);
      if (curve <= 0) break;
      const double by = square / curve;
      double next = 0;
      for (size_t i = 0; i < p.size(); ++i) {
        step[i] = step[i] + p[i] * by;
        r[i] = r[i] - kp[i] * by;
        next += dot(r[i], r[i]);
      }
      for (size_t i = 0; i < p.size(); ++i) p[i] = r[i] + p[i] * (next / square);
      square = next;
    }
    for (size_t i = 0; i < u_.size(); ++i) u_[i] = u_[i] + step[i];
  }
}

std::vector<Point> sewnOn(MovingCloth& cloth, const Pattern& pattern) {
  std::vector<std::pair<size_t, size_t>> numbers;
  NeedleWalk walk;
  for (size_t row = 0; row < pattern.stitches.size(); ++row) {
    const Stitch& s = pattern.stitches[row];
    if (walk.next(s).fresh || s.op == Op::Jump) cloth.cut();
    if (s.op == Op::Stitch) numbers.emplace_back(row, cloth.needle(s.at));
  }
  cloth.settle();
  std::vector<Point> out(pattern.stitches.size());
  for (const auto& [row, number] : numbers) out[row] = cloth.lies(number);
  return out;
}

}  // namespace rt
