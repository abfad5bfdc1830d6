#include "line_match.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "median.h"

namespace rt {
namespace {

constexpr double kBeside_mm = 1.8;  // of the cloth on either side of the line
constexpr double kPiece_mm = 0.6;   // along it
constexpr double kLeastPiece_px = 2;
constexpr double kFinestStep_mm = 0.03, kWidestStep_mm = 0.2;  // of samples across
constexpr size_t kFewestPieces = 8;
constexpr double kGone = 0.3;        // of the usual height: the line is not there
constexpr double kMostHeight = 2.5;  // of the usual: something else is
constexpr double kShadowStep = 0.8;  // of the usual, from one side of the line to the other
constexpr double kFarPiece = 2.8;    // of the pieces' spread
constexpr double kMost_mm = 0.5;     // that a line is moved by in a round
constexpr double kQuiet = 4;         // times the usual power: no bare cloth
constexpr double kOwnNoise = 0.05;   // of the camera's steps, grey levels squared
constexpr int kLooks = 3, kFits = 4;
constexpr double kMostAlike = 0.6;     // of neighbours: four are then one measurement
constexpr double kFewestCounted = 4;   // pieces, as they count
constexpr double kUnlike = 0.2;        // of the scatter, that colours do not share
constexpr double kClothRipple = 0.03;  // of the cloth's variance, beside what its pattern says

/// A piece of the line as it is seen across.
struct Piece {
  double along = 0;     // of its middle, mm
  bool beyond = false;  // where the line need not be
  size_t stretch = 0;
  std::array<Eigen::VectorXd, 3> colour;
  Eigen::VectorXd seen;  // colours weighed
  double height = 0, shift = 0, rest = 0, weight = 0;
  double step = 0;  // from the cloth on one side to that on the other, grey levels
};

class LineMatcher {
 public:
  LineMatcher(const Photo& photo, const Plane& plane, const LineSearch& search)
      : photo_(photo), plane_(plane), search_(search), signal_(search.signal) {
    const double px = plane.mmPerPixel(search.at);
    step_ = std::clamp(px / 2, kFinestStep_mm, kWidestStep_mm);
    half_ = static_cast<Eigen::Index>(std::ceil(kBeside_mm / step_));
    piece_ = std::max(kPiece_mm, kLeastPiece_px * px);
    along_ = std::max(0.05, px * 0.8);
  }

  std::optional<LineMatch> run() {
    for (int look = 0; look < kLooks; ++look) {
      lookAlong();
      if (pieces_.size() < kFewestPieces) return std::nullopt;
      if (look == 0) lookBeside();
      if (look > 0) weighColours();
      begin();
      measureCloth();
      offset_ = slope_ = 0;
      for (int round = 0; round < kFits; ++round) {
        makeTemplate();
        for (Piece& p : pieces_) place(p);
        if (!fit()) return std::nullopt;
      }
      moveLine();
    }
    return result();
  }

 private:
  Eigen::Index places() const { return 2 * half_ + 1; }
  Point normal() const { return quarterTurn(search_.way); }

  void lookAlong() {
    pieces_.clear();
    for (size_t s = 0; s < search_.stretches.size(); ++s) {
      const LineSearch::Stretch& stretch = search_.stretches[s];
      const double way = stretch.to < stretch.from ? -1 : 1;
      const double length = std::abs(stretch.most - stretch.from);
      for (double from = 0; from + piece_ <= length; from += piece_) {
        Piece p;
        p.along = stretch.from + way * (from + piece_ / 2);
        p.stretch = s;
        p.beyond = from + piece_ > std::abs(stretch.to - stretch.from) + 1e-9;
        p.colour = lookAt(p.along, 0);
        pieces_.push_back(std::move(p));
      }
    }
  }

  using Profile = std::array<Eigen::VectorXd, 3>;

  /// What is seen across the line at a place along it, `beside` it, by colour.
  Profile lookAt(double along, double beside) const {
    Profile out;
    for (auto& c : out) c = Eigen::VectorXd::Zero(places());
    const int n = std::max(1, static_cast<int>(std::lround(piece_ / along_)));
    std::vector<Point> seen(static_cast<size_t>(places()));
    for (int i = 0; i < n; ++i) {
      const Point middle =
          search_.at + search_.way * (along + ((i + 0.5) / n - 0.5) * piece_) + normal() * beside;
      plane_.toPhoto(middle - normal() * (static_cast<double>(half_) * step_), normal() * step_,
                     seen);
      for (Eigen::Index v = 0; v < places(); ++v) {
        double c[3];
        photo_.colour(seen[static_cast<size_t>(v)], c);
        for (size_t k = 0; k < 3; ++k) out[k][v] += c[k] / n;
      }
    }
    return out;
  }

  /// The bare cloth to both sides.
  void lookBeside() {
    for (const Piece& p : pieces_)
      for (double side : {-1.0, 1.0})
        cloth_.push_back(lookAt(p.along, side * (2 * kBeside_mm + 0.2)));
  }

  /// How the cloth itself goes up and down across the line: weave is no noise of single pixels. Its
  /// autocovariance over the strips beside, level and slope taken out, without those that a
  /// shadow's edge or sewing crosses; `whiten_` makes it even.
  void measureCloth() {
    const Eigen::Index n = places();
    Eigen::MatrixXd trend(n, 2);
    for (Eigen::Index v = 0; v < n; ++v) trend.row(v) << 1, static_cast<double>(v - half_);
    const auto solver = (trend.transpose() * trend).ldlt();
    std::vector<Eigen::VectorXd> strips;
    std::vector<double> powers;
    for (const Profile& c : cloth_) {
      const Eigen::VectorXd seen = weighed(c);
      strips.push_back(seen - trend * solver.solve(trend.transpose() * seen));
      powers.push_back(strips.back().squaredNorm() / static_cast<double>(n));
    }
    const double most = kQuiet * std::max(0.1, median(powers));
    Eigen::VectorXd hang = Eigen::VectorXd::Zero(n);
    double counted = 0;
    for (size_t i = 0; i < strips.size(); ++i) {
      if (powers[i] > most) continue;
      ++counted;
      for (Eigen::Index lag = 0; lag < n; ++lag)
        hang[lag] += strips[i].head(n - lag).dot(strips[i].tail(n - lag)) / static_cast<double>(n);
    }
    hang /= std::max(1.0, counted);
    Eigen::MatrixXd covariance(n, n);
    for (Eigen::Index i = 0; i < n; ++i)
      for (Eigen::Index k = 0; k < n; ++k) covariance(i, k) = hang[std::abs(i - k)];
    covariance += Eigen::MatrixXd::Identity(n, n) * (kOwnNoise + kClothRipple * hang[0]);
    whiten_ = covariance.llt();
  }

  Eigen::VectorXd weighed(const Profile& colours) const {
    return signal_[0] * colours[0] + signal_[1] * colours[1] + signal_[2] * colours[2];
  }

  /// Colours as one, and pieces that nothing is known of yet.
  void begin() {
    for (Piece& p : pieces_) {
      p.seen = weighed(p.colour);
      p.step = std::abs(p.seen.head(half_ / 2).mean() - p.seen.tail(half_ / 2).mean());
      p.weight = p.beyond ? 0 : 1;
      p.shift = 0, p.height = 1;
    }
  }

  /// The line's height in each colour against how the rest scatters: the best sum of the three
  /// for noise that is alike in them (a matched filter over colours).
  void weighColours() {
    Eigen::MatrixXd a(places(), 3), seen(places(), 3);
    for (Eigen::Index v = 0; v < places(); ++v)
      a.row(v) << 1, static_cast<double>(v - half_) * step_, template_[v];
    const auto solver = a.colPivHouseholderQr();
    Eigen::Vector3d height = Eigen::Vector3d::Zero();
    Eigen::Matrix3d scatter = Eigen::Matrix3d::Zero();
    for (const Piece& p : pieces_) {
      for (int k = 0; k < 3; ++k) seen.col(k) = p.colour[static_cast<size_t>(k)];
      const Eigen::MatrixXd level = solver.solve(seen), rest = seen - a * level;
      height += level.row(2).transpose();
      scatter += rest.transpose() * rest / static_cast<double>(places());
    }
    const auto n = static_cast<double>(pieces_.size());
    scatter /= n, height /= n;
    scatter += Eigen::Matrix3d::Identity() * (1 + kUnlike * scatter.trace() / 3);
    const Eigen::Vector3d w = scatter.ldlt().solve(height);
    if (const double size = w.lpNorm<1>(); size > 0)
      for (int k = 0; k < 3; ++k) signal_[static_cast<size_t>(k)] = w[k] / size;
  }

  /// Where the line lies at a piece by what is known, mm across.
  double across(const Piece& p) const { return offset_ + slope_ * p.along; }

  /// The common shape of all pieces about the line, symmetric and smooth.
  void makeTemplate() {
    Eigen::VectorXd sum = Eigen::VectorXd::Zero(places()), weight = sum;
    for (const Piece& p : pieces_) {
      if (p.weight <= 0) continue;
      const double base = (p.seen.head(half_ / 3).sum() + p.seen.tail(half_ / 3).sum()) /
                          (2.0 * static_cast<double>(half_ / 3));
      for (Eigen::Index v = 0; v < places(); ++v) {
        const double at = static_cast<double>(v) - across(p) / step_;
        const auto left = static_cast<Eigen::Index>(std::floor(at));
        for (Eigen::Index i : {left, left + 1}) {
          if (i < 0 || i >= places()) continue;
          const double w = p.weight * (1 - std::abs(at - static_cast<double>(i)));
          sum[i] += w * (p.seen[v] - base), weight[i] += w;
        }
      }
    }
    Eigen::VectorXd shape = Eigen::VectorXd::Zero(places());
    for (Eigen::Index v = 0; v < places(); ++v)
      shape[v] =
          (sum[v] + sum[places() - 1 - v]) / std::max(1e-9, weight[v] + weight[places() - 1 - v]);
    template_ = shape;
    for (Eigen::Index v = 1; v + 1 < places(); ++v)
      template_[v] = 0.25 * shape[v - 1] + 0.5 * shape[v] + 0.25 * shape[v + 1];
    const double top = template_.segment(half_ - 1, 3).mean();
    if (std::abs(top) > 1e-9) template_ /= top;
  }

  double templateAt(double v) const {
    const double at = v / step_ + static_cast<double>(half_);
    const double held = std::clamp(at, 0.0, static_cast<double>(places()) - 1.001);
    const auto i = static_cast<Eigen::Index>(held);
    const double t = held - static_cast<double>(i);
    return template_[i] * (1 - t) + template_[i + 1] * t;
  }

  /// Level, slope, height and shift of a piece against the template, by least squares.
  void place(Piece& p) const {
    Eigen::MatrixXd even(places(), 5);
    for (Eigen::Index v = 0; v < places(); ++v) {
      const double at = static_cast<double>(v - half_) * step_ - across(p);
      even.row(v) << 1, at, templateAt(at),
          -(templateAt(at + step_) - templateAt(at - step_)) / (2 * step_), p.seen[v];
    }
    whiten_.matrixL().solveInPlace(even);
    const auto a = even.leftCols<4>();
    const auto seen = even.col(4);
    const Eigen::Vector4d level =
        Eigen::Matrix4d(a.transpose() * a).ldlt().solve(a.transpose() * seen);
    p.height = level[2];
    p.shift = std::abs(level[2]) > 1e-9 ? std::clamp(level[3] / level[2], -kMost_mm, kMost_mm) : 0;
    p.rest = std::sqrt((seen - a * level).squaredNorm() / static_cast<double>(places()));
  }

  /// How much each piece counts: the square of how far it stands out, less where it fits badly; a
  /// stretch ends where the line does.
  void weigh() {
    std::vector<double> heights, rests;
    for (const Piece& p : pieces_)
      if (!p.beyond) heights.push_back(p.height), rests.push_back(p.rest);
    const double usual = median(heights), rest = std::max(1e-6, median(rests));
    usual_ = usual;
    std::vector<int> missed(search_.stretches.size(), 0);
    for (Piece& p : pieces_) {
      p.weight = 0;
      if (usual <= 0) continue;
      const double part = p.height / usual;
      // a shadow's edge along a line is a better line than the line itself
      const bool there =
          part > kGone && part < kMostHeight && p.step < kShadowStep * std::abs(usual);
      if (p.beyond && (missed[p.stretch] > 1 || part < 2 * kGone || p.rest > 2 * rest)) {
        ++missed[p.stretch];
        if (missed[p.stretch] > 1 || part < 2 * kGone) continue;
      }
      if (!there) continue;
      p.weight = std::min(part * part, 1.5) / std::max(1.0, std::pow(p.rest / rest, 6));
    }
  }

  bool fit() {
    weigh();
    for (int round = 0; round < 4; ++round) {
      if (!solve()) return false;
      std::vector<double> off;
      for (const Piece& p : pieces_)
        if (p.weight > 0) off.push_back(std::abs(left(p)));
      const double far = std::max(0.01, kFarPiece * 1.48 * median(off));
      bool changed = false;
      for (Piece& p : pieces_)
        if (p.weight > 0 && std::abs(left(p)) > far) p.weight = 0, changed = true;
      if (!changed) break;
    }
    if (!solve()) return false;
    offset_ += byOffset_, slope_ += bySlope_;
    for (Piece& p : pieces_) p.shift = left(p);
    return true;
  }
  double left(const Piece& p) const { return p.shift - byOffset_ - bySlope_ * p.along; }

  /// A weighted line through the pieces' shifts.
  bool solve() {
    double n = 0, x = 0, y = 0, xx = 0, xy = 0;
    size_t counted = 0;
    for (const Piece& p : pieces_) {
      if (p.weight <= 0) continue;
      ++counted;
      n += p.weight, x += p.weight * p.along, y += p.weight * p.shift;
    }
    if (counted < kFewestPieces) return false;
    x /= n, y /= n;
    for (const Piece& p : pieces_) {
      if (p.weight <= 0) continue;
      xx += p.weight * (p.along - x) * (p.along - x);
      xy += p.weight * (p.along - x) * (p.shift - y);
    }
    if (xx <= 0) return false;
    bySlope_ = xy / xx;
    byOffset_ = y - bySlope_ * x;
    middle_ = x, weights_ = n, spread_ = xx;
    return true;
  }

  void moveLine() {
    search_.at = search_.at + normal() * offset_;
    search_.way = unit(search_.way + normal() * slope_);
  }

  /// Neighbours in a weave, or of one wobble of the hand, are one measurement: so many, by how much
  /// alike they are.
  double together() const {
    double alike = 0, own = 0;
    int pairs = 0;
    const Piece* before = nullptr;
    for (const Piece& p : pieces_) {
      if (p.weight > 0 && before && before->stretch == p.stretch) {
        alike += before->shift * p.shift;
        own += (before->shift * before->shift + p.shift * p.shift) / 2;
        ++pairs;
      }
      before = p.weight > 0 ? &p : nullptr;
    }
    const double hang = own > 0 && pairs > 3 ? std::clamp(alike / own, 0.0, kMostAlike) : 0;
    return (1 + hang) / (1 - hang);
  }

  std::optional<LineMatch> result() const {
    double square = 0, effective = 0;
    for (const Piece& p : pieces_)
      square += p.weight * p.shift * p.shift, effective += p.weight * p.weight;
    const double counted = effective > 0 ? weights_ * weights_ / effective : 0;
    if (usual_ <= 0 || counted < kFewestCounted) return std::nullopt;
    const double variance = square / weights_ * counted / (counted - 2) * together();
    LineMatch out;
    out.at = search_.at + search_.way * middle_;
    out.way = search_.way;
    out.sigma_mm = std::sqrt(variance / counted);
    out.turn_sigma = std::sqrt(variance / counted * weights_ / spread_);
    out.strength = usual_;
    out.signal = signal_;
    return out;
  }

  const Photo& photo_;
  const Plane& plane_;
  LineSearch search_;
  std::array<double, 3> signal_;
  double step_ = 0.1, piece_ = 0.6, along_ = 0.1;
  Eigen::Index half_ = 0;
  std::vector<Piece> pieces_;
  std::vector<Profile> cloth_;
  Eigen::LLT<Eigen::MatrixXd> whiten_;
  Eigen::VectorXd template_;
  double offset_ = 0, slope_ = 0, byOffset_ = 0, bySlope_ = 0;
  double middle_ = 0, weights_ = 0, spread_ = 0, usual_ = 0;
};

}  // namespace

std::optional<LineMatch> matchLine(const Photo& photo, const Plane& plane,
                                   const LineSearch& search) {
  return LineMatcher(photo, plane, search).run();
}

}  // namespace rt
