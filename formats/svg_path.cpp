#include "svg_path.h"

#include <algorithm>
#include <charconv>

#include "error.h"

namespace rt {
namespace {

constexpr double kFarthest = 1e9;      // user units; nothing that is drawn lies farther
constexpr double kLeastRadius = 1e-9;  // user units; a flatter arc is its chord

class PathReader {
 public:
  PathReader(std::string_view data, double tolerance, const std::string& where)
      : rest_(data), tolerance_(tolerance), where_(where) {}

  std::vector<SubPath> run() {
    skip();
    while (!rest_.empty()) {
      if (std::isalpha(static_cast<unsigned char>(rest_[0]))) {
        command_ = rest_[0];
        rest_.remove_prefix(1);
      } else if (command_ == 0 || command_ == 'Z' || command_ == 'z') {
        fail();
      }
      step();
      skip();
    }
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail() const {
    throw Error("the path data cannot be read near \"" + std::string(rest_.substr(0, 12)) + "\"",
                where_, "export the drawing again as plain SVG");
  }
  void skip() {
    while (!rest_.empty() && (rest_[0] == ' ' || rest_[0] == ',' || rest_[0] == '\n' ||
                              rest_[0] == '\t' || rest_[0] == '\r'))
      rest_.remove_prefix(1);
  }
  double number() {
    skip();
    if (!rest_.empty() && rest_[0] == '+') rest_.remove_prefix(1);
    double value = 0;
    const auto [end, error] = std::from_chars(rest_.data(), rest_.data() + rest_.size(), value);
    if (error != std::errc() || !(std::abs(value) <= kFarthest)) fail();
    rest_.remove_prefix(static_cast<size_t>(end - rest_.data()));
    return value;
  }
  bool flag() {
    skip();
    if (rest_.empty() || (rest_[0] != '0' && rest_[0] != '1')) fail();
    const bool on = rest_[0] == '1';
    rest_.remove_prefix(1);
    return on;
  }
  Point point() {
    const double x = number(), y = number();
    return relative() ? at_ + Point{x, y} : Point{x, y};
  }
  bool relative() const { return std::islower(static_cast<unsigned char>(command_)); }

  void lineTo(Point p) {
    if (out_.empty() || out_.back().closed || fresh_) {
      out_.push_back({{at_}, false});
      fresh_ = false;
    }
    out_.back().points.push_back(p);
    at_ = p;
  }

  void step() {
    const char c = static_cast<char>(std::toupper(static_cast<unsigned char>(command_)));
    Point handle = at_;
    switch (c) {
      case 'M':
        at_ = start_ = point();
        out_.push_back({{at_}, false});
        fresh_ = false;
        command_ = relative() ? 'l' : 'L';
        break;
      case 'L':
        lineTo(point());
        break;
      case 'H': {
        const double x = number();
        lineTo({relative() ? at_.x + x : x, at_.y});
        break;
      }
      case 'V': {
        const double y = number();
        lineTo({at_.x, relative() ? at_.y + y : y});
        break;
      }
      case 'C': {
        const Point a = point(), b = point();
        handle = b;
        cubic(a, b, point());
        break;
      }
      case 'S': {
        const Point a = last_ == 'C' || last_ == 'S' ? at_ * 2 - handle_ : at_, b = point();
        handle = b;
        cubic(a, b, point());
        break;
      }
      case 'Q': {
        handle = point();
        quadratic(handle, point());
        break;
      }
      case 'T': {
        handle = last_ == 'Q' || last_ == 'T' ? at_ * 2 - handle_ : at_;
        quadratic(handle, point());
        break;
      }
      case 'A':
        arc();
        break;
      case 'Z':
        if (!out_.empty() && !fresh_) out_.back().closed = true;
        at_ = start_;
        fresh_ = true;
        break;
      default:
        fail();
    }
    handle_ = handle;
    last_ = c;
  }

  void cubic(Point a, Point b, Point end) {
    const Point p = at_;
    const double bend = length(a * 2 - p - b) + length(b * 2 - a - end);
    const int parts =
        std::clamp(static_cast<int>(std::ceil(std::sqrt(bend / tolerance_ * 0.75))), 1, 400);
    for (int k = 1; k <= parts; ++k) {
      const double t = static_cast<double>(k) / parts, u = 1 - t;
      lineTo(p * (u * u * u) + a * (3 * u * u * t) + b * (3 * u * t * t) + end * (t * t * t));
    }
  }
  void quadratic(Point c, Point end) { cubic(mix(at_, c, 2.0 / 3), mix(end, c, 2.0 / 3), end); }

  /// End point to centre form as in the SVG specification, appendix B.2.4.
  void arc() {
    double rx = std::abs(number()), ry = std::abs(number());
    const double phi = number();
    const bool large = flag(), sweep = flag();
    const Point from = at_, end = point();
    if (rx < kLeastRadius || ry < kLeastRadius || distance(from, end) == 0) return lineTo(end);
    const Transform turn = Transform::turning(phi), back = Transform::turning(-phi);
    const Point h = back((from - end) * 0.5);
    const double over = h.x * h.x / (rx * rx) + h.y * h.y / (ry * ry);
    if (over > 1) rx *= std::sqrt(over), ry *= std::sqrt(over);
    const double n = rx * rx * ry * ry - rx * rx * h.y * h.y - ry * ry * h.x * h.x;
    const double d = rx * rx * h.y * h.y + ry * ry * h.x * h.x;
    const double k = (large == sweep ? -1 : 1) * std::sqrt(std::max(0.0, n / d));
    const Point c{k * rx * h.y / ry, -k * ry * h.x / rx};
    const Point centre = turn(c) + mix(from, end, 0.5);
    const double a0 = std::atan2((h.y - c.y) / ry, (h.x - c.x) / rx);
    double span = std::atan2((-h.y - c.y) / ry, (-h.x - c.x) / rx) - a0;
    if (sweep && span < 0) span += 2 * kPi;
    if (!sweep && span > 0) span -= 2 * kPi;
    const double step =
        2 * std::acos(std::max(0.0, 1 - tolerance_ / std::max({rx, ry, tolerance_})));
    const int parts =
        std::clamp(static_cast<int>(std::ceil(std::abs(span) / std::max(step, 1e-3))), 1, 400);
    for (int i = 1; i <= parts; ++i) {
      const double a = a0 + span * i / parts;
      lineTo(i == parts ? end : centre + turn({rx * std::cos(a), ry * std::sin(a)}));
    }
  }

  std::string_view rest_;
  double tolerance_;
  const std::string& where_;
  std::vector<SubPath> out_;
  Point at_, start_, handle_;
  char command_ = 0, last_ = 0;
  bool fresh_ = true;
};

}  // namespace

std::vector<SubPath> parsePath(std::string_view data, double tolerance, const std::string& where) {
  return PathReader(data, tolerance, where).run();
}

Transform parseMatrix(std::string_view text) {
  const size_t open = text.find("matrix(");
  if (open == std::string_view::npos) return {};
  text.remove_prefix(open + 7);
  double v[6] = {1, 0, 0, 1, 0, 0};
  for (double& x : v) {
    while (!text.empty() && (text[0] == ' ' || text[0] == ',')) text.remove_prefix(1);
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), x);
    if (error != std::errc() || !(std::abs(x) <= kFarthest)) return {};
    text.remove_prefix(static_cast<size_t>(end - text.data()));
  }
  return {v[0], v[2], v[1], v[3], v[4], v[5]};
}

}  // namespace rt
