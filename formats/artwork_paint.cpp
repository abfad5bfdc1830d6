#include "artwork_paint.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>

#include "artwork_elements.h"
#include "svg_path.h"

namespace rt {
namespace {

constexpr double kSamples = 1500;
constexpr double kMostSampleRows = 400;  // of a long thin area

std::optional<Tint> parsedColour(const std::string& text) {
  double r = 0, g = 0, b = 0;
  if (std::sscanf(text.c_str(), "rgb(%lf%%,%lf%%,%lf%%)", &r, &g, &b) != 3) return std::nullopt;
  return Tint{r / 100, g / 100, b / 100, 1};
}

/// Sums tints as light adds: what lets more through counts less.
struct Mean {
  double red = 0, green = 0, blue = 0, opacity = 0, weight = 0;
  void add(const Tint& t, double w = 1) {
    red += w * t.opacity * t.red, green += w * t.opacity * t.green, blue += w * t.opacity * t.blue;
    opacity += w * t.opacity, weight += w;
  }
  Tint tint() const {
    if (opacity <= 0) return {0, 0, 0, 0};
    return {red / opacity, green / opacity, blue / opacity, opacity / weight};
  }
};

/// A gradient as the resolved drawing has it: in the frame of the element that it paints.
class Gradient {
 public:
  explicit Gradient(const pugi::xml_node& node) : radial_(localName(node.name())[0] == 'r') {
    auto value = [&](const char* key) { return node.attribute(key).as_double(); };
    fromPlace_ = parseMatrix(node.attribute("gradientTransform").value()).inverse();
    from_ = radial_ ? Point{value("fx"), value("fy")} : Point{value("x1"), value("y1")};
    end_ = radial_ ? Point{value("cx"), value("cy")} : Point{value("x2"), value("y2")};
    radius_ = value("r");
    spread_ = node.attribute("spreadMethod").value();
    for (const pugi::xml_node& child : node.children())
      if (localName(child.name()) == "stop") {
        std::optional<Tint> tint = parsedColour(styleOf(child, "stop-color"));
        if (!tint) continue;
        tint->opacity = numberOr(styleOf(child, "stop-opacity"), 1);
        stops_.emplace_back(child.attribute("offset").as_double(), *tint);
      }
  }

  bool empty() const { return stops_.empty() || !fromPlace_; }

  /// From its beginning to its end.
  Tint mean() const {
    constexpr int kSteps = 32;
    Mean sum;
    for (int i = 0; i < kSteps; ++i) sum.add(between((i + 0.5) / kSteps));
    return sum.tint();
  }

  Tint at(Point place) const {
    const Point p = (*fromPlace_)(place);
    double t = radial_ ? alongCone(p) : alongLine(p);
    if (spread_ == "repeat") {
      t -= std::floor(t);
    } else if (spread_ == "reflect") {
      t = std::abs(t - 2 * std::floor(t / 2 + 0.5));
    }
    return between(t);
  }

 private:
  double alongLine(Point p) const {
    const Point way = end_ - from_;
    const double square = dot(way, way);
    return square > 0 ? dot(p - from_, way) / square : 1;
  }

  /// Where the circle through `p` stands between the focus (0) and the outer circle (1).
  double alongCone(Point p) const {
    const Point toCentre = end_ - from_, d = p - from_;
    const double a = radius_ * radius_ - dot(toCentre, toCentre), b = dot(d, toCentre);
    if (a <= 0) return 1;
    // |d - t * toCentre| = t * radius
    return (-b + std::sqrt(std::max(0.0, b * b + a * dot(d, d)))) / a;
  }

  Tint between(double t) const {
    if (t <= stops_.front().first) return stops_.front().second;
    for (size_t i = 1; i < stops_.size(); ++i) {
      const auto& [t0, a] = stops_[i - 1];
      const auto& [t1, b] = stops_[i];
      if (t > t1) continue;
      const double f = t1 > t0 ? (t - t0) / (t1 - t0) : 1;
      return {a.red + f * (b.red - a.red), a.green + f * (b.green - a.green),
              a.blue + f * (b.blue - a.blue), a.opacity + f * (b.opacity - a.opacity)};
    }
    return stops_.back().second;
  }

  bool radial_;
  std::optional<Transform> fromPlace_;
  Point from_, end_;
  double radius_ = 0;
  std::string spread_;
  std::vector<std::pair<double, Tint>> stops_;
};

}  // namespace

Colour Tint::colour() const {
  auto byte = [](double v) {
    return static_cast<uint32_t>(std::clamp(std::lround(v * 255), 0L, 255L));
  };
  return {byte(red) << 16 | byte(green) << 8 | byte(blue)};
}

Tint overlaid(const Tint& top, const Tint& below) {
  Mean sum;
  sum.add(top);
  sum.add(below, 1 - top.opacity);
  sum.weight = 1;
  return sum.tint();
}

double apart(const Tint& a, const Tint& b) {
  return std::abs(a.red - b.red) + std::abs(a.green - b.green) + std::abs(a.blue - b.blue);
}

std::string styleOf(const pugi::xml_node& node, const std::string& key) {
  const std::string style = ";" + std::string(node.attribute("style").value());
  size_t at = 0;
  while ((at = style.find(key + ":", at)) != std::string::npos) {
    if (style[at - 1] == ';' || style[at - 1] == ' ') {
      const size_t start = at + key.size() + 1;
      return style.substr(start, style.find(';', start) - start);
    }
    at += key.size();
  }
  return node.attribute(key.c_str()).value();
}

double numberOr(const std::string& text, double otherwise) {
  try {
    return text.empty() ? otherwise : std::stod(text);
  } catch (const std::exception&) {
    return otherwise;
  }
}

Paints::Paints(const pugi::xml_document& drawing) {
  index(drawing.document_element());
}

void Paints::index(const pugi::xml_node& node) {
  for (const pugi::xml_node& child : node.children()) {
    if (const char* id = child.attribute("id").value(); *id) byId_[id] = child;
    index(child);
  }
}

pugi::xml_node Paints::referred(std::string_view url) const {
  const size_t hash = url.find('#');
  if (hash == std::string_view::npos) return {};
  std::string id(url.substr(hash + 1));
  if (!id.empty() && id.back() == ')') id.pop_back();
  const auto it = byId_.find(id);
  return it == byId_.end() ? pugi::xml_node() : it->second;
}

std::optional<Tint> Paints::of(const pugi::xml_node& node, const std::string& which,
                               const Samples& samples, std::vector<std::string>& warnings) const {
  const std::string text = styleOf(node, which);
  if (text.empty() || text.find("none") == 0) return std::nullopt;
  Tint tint{0, 0, 0, 1};
  if (const std::optional<Tint> plain = parsedColour(text)) {
    tint = *plain;
  } else if (const pugi::xml_node server = referred(text)) {
    if (const Gradient ramp(server);
        localName(server.name()).ends_with("Gradient") && !ramp.empty()) {
      Mean mean;
      for (Point p : samples()) mean.add(ramp.at(p));
      tint = mean.tint();
    } else if (const std::optional<Tint> pattern = patternTint(server)) {
      tint = *pattern;
    } else {
      warnings.push_back("a pattern's colour could not be told; grey is sewn");
      tint = {0.5, 0.5, 0.5, 1};
    }
  }
  tint.opacity *= numberOr(styleOf(node, which + "-opacity"), 1);
  return tint;
}

/// A pattern's paths weigh alike.
std::optional<Tint> Paints::patternTint(const pugi::xml_node& server) const {
  std::vector<Tint> tints;
  gather(server, tints);
  if (tints.empty()) return std::nullopt;
  Mean mean;
  for (const Tint& t : tints) mean.add(t);
  Tint out = mean.tint();
  out.opacity = 1;  // how much of the cloth it covers is not known
  return out;
}

void Paints::gather(const pugi::xml_node& node, std::vector<Tint>& tints) const {
  for (const pugi::xml_node& child : node.children()) {
    const std::string fill = styleOf(child, "fill");
    if (const std::optional<Tint> tint = parsedColour(fill)) {
      tints.push_back(*tint);
    } else if (const pugi::xml_node server = referred(fill)) {
      if (const Gradient ramp(server); !ramp.empty()) tints.push_back(ramp.mean());
    }
    if (localName(child.name()) != "use") {
      gather(child, tints);
    } else if (const pugi::xml_node target = referred(child.attribute("xlink:href").value())) {
      gather(target, tints);
    }
  }
}

std::vector<Point> spreadOver(const Area& area) {
  const Box box = boundsOf(area);
  std::vector<Point> out;
  if (box.empty()) return out;
  const double longer = std::max(box.width(), box.height());
  const double step =
      std::max({std::sqrt(box.width() * box.height() / kSamples), longer / kMostSampleRows, 1e-9});
  const int rows = std::max(1, static_cast<int>(box.height() / step));
  const double gap = box.height() / rows;
  const auto crossings = levelCrossings(area, box.top + gap / 2, gap, rows);
  for (int row = 0; row < rows; ++row) {
    const std::vector<double>& xs = crossings[static_cast<size_t>(row)];
    for (size_t i = 0; i + 1 < xs.size(); i += 2) {
      const int places = std::max(1, static_cast<int>(std::lround((xs[i + 1] - xs[i]) / step)));
      for (int k = 0; k < places; ++k)
        out.push_back(
            {xs[i] + (xs[i + 1] - xs[i]) * (k + 0.5) / places, box.top + gap / 2 + row * gap});
    }
  }
  if (out.empty()) out.push_back(area[0][0]);
  return out;
}

}  // namespace rt
