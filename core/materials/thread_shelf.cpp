#include "thread_shelf.h"

#include <algorithm>
#include <array>

#include "error.h"

namespace rt {
namespace {

struct Lab {
  double l, a, b;
};

double linear(uint32_t byte) {
  const double v = byte / 255.0;
  return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}

Lab labOf(Colour c) {
  const double r = linear(c.rgb >> 16 & 255), g = linear(c.rgb >> 8 & 255), b = linear(c.rgb & 255);
  const double x = (0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047;
  const double y = 0.2126729 * r + 0.7151522 * g + 0.0721750 * b;
  const double z = (0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883;
  auto f = [](double t) {
    return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116;
  };
  return {116 * f(y) - 16, 500 * (f(x) - f(y)), 200 * (f(y) - f(z))};
}

double hue_deg(double a, double b) {
  if (a == 0 && b == 0) return 0;
  const double h = degrees(std::atan2(b, a));
  return h < 0 ? h + 360 : h;
}

double cosDeg(double d) {
  return std::cos(radians(d));
}

/// Mean of two hues the shorter way round; their sum where one is grey.
double meanHue(double h1, double h2, bool grey) {
  if (grey) return h1 + h2;
  if (std::abs(h1 - h2) <= 180) return (h1 + h2) / 2;
  return (h1 + h2 < 360 ? h1 + h2 + 360 : h1 + h2 - 360) / 2;
}

double rotation(double hue, double chroma) {
  const double theta = 30 * std::exp(-std::pow((hue - 275) / 25, 2));
  const double c7 = std::pow(chroma, 7), r = 2 * std::sqrt(c7 / (c7 + std::pow(25.0, 7)));
  return -std::sin(radians(2 * theta)) * r;
}

double ciede2000(Lab p, Lab q) {
  const double meanC = (std::hypot(p.a, p.b) + std::hypot(q.a, q.b)) / 2, c7 = std::pow(meanC, 7);
  const double g = 0.5 * (1 - std::sqrt(c7 / (c7 + std::pow(25.0, 7))));
  p.a *= 1 + g;
  q.a *= 1 + g;
  const double c1 = std::hypot(p.a, p.b), c2 = std::hypot(q.a, q.b);
  const double h1 = hue_deg(p.a, p.b), h2 = hue_deg(q.a, q.b);
  const bool grey = c1 * c2 == 0;
  double dh = grey ? 0 : h2 - h1;
  if (dh > 180) dh -= 360;
  if (dh < -180) dh += 360;
  const double dL = q.l - p.l, dC = c2 - c1;
  const double dH = 2 * std::sqrt(c1 * c2) * std::sin(radians(dh / 2));
  const double L = (p.l + q.l) / 2, C = (c1 + c2) / 2, h = meanHue(h1, h2, grey);
  const double t = 1 - 0.17 * cosDeg(h - 30) + 0.24 * cosDeg(2 * h) + 0.32 * cosDeg(3 * h + 6) -
                   0.20 * cosDeg(4 * h - 63);
  const double l50 = (L - 50) * (L - 50);
  const double sL = 1 + 0.015 * l50 / std::sqrt(20 + l50), sC = 1 + 0.045 * C,
               sH = 1 + 0.015 * C * t;
  const double l = dL / sL, c = dC / sC, k = dH / sH;
  return std::sqrt(std::max(0.0, l * l + c * c + k * k + rotation(h, C) * c * k));
}

}  // namespace

double colourDifference(Colour a, Colour b) {
  return ciede2000(labOf(a), labOf(b));
}

std::optional<ShelfMatch> nearestThread(const std::vector<ShelfThread>& shelf, Colour colour) {
  std::optional<ShelfMatch> best;
  for (const ShelfThread& t : shelf)
    if (const double d = colourDifference(t.colour, colour); !best || d < best->difference)
      best = ShelfMatch{&t, d};
  return best;
}

std::vector<ShelfMatch> byNearness(const std::vector<ShelfThread>& shelf, Colour colour) {
  std::vector<ShelfMatch> out;
  for (const ShelfThread& t : shelf) out.push_back({&t, colourDifference(t.colour, colour)});
  std::stable_sort(out.begin(), out.end(),
                   [](const auto& a, const auto& b) { return a.difference < b.difference; });
  return out;
}

Colour threadNamed(const std::vector<ShelfThread>& shelf, const std::string& text) {
  if (const auto colour = Colour::parsed(text)) return *colour;
  const auto small = [](std::string s) {
    for (char& c : s)
      if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return s;
  };
  for (const ShelfThread& t : shelf)
    if (small(t.name) == small(text) || small(t.code) == small(text)) return t.colour;
  throw Error("no thread is called \"" + text.substr(0, 60) + "\"", "thread",
              "give its name or code as on the shelf, or a colour as #2f5d50");
}

Pattern onShelf(const Pattern& pattern, const std::vector<ShelfThread>& shelf) {
  if (shelf.empty()) return pattern;
  return rethreaded(pattern, [&](Colour c) { return nearestThread(shelf, c)->thread->colour; });
}

std::vector<ThreadNeed> threadNeeds(const Pattern& pattern, const ThreadTake& take) {
  std::vector<ThreadNeed> needs;
  std::vector<int> at(pattern.threads.size(), -1);
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    const Stitch& s = pattern.stitches[row];
    int& i = at[s.thread];
    if (i < 0) {
      i = static_cast<int>(needs.size());
      needs.push_back({pattern.colourOf(s), 0, 0, 0});
    }
    ThreadNeed& need = needs[static_cast<size_t>(i)];
    need.stitches += 1;
    need.top_mm += take.top_mm(distance(a, b));
    need.bobbin_mm += take.bobbin_mm(distance(a, b));
  });
  return needs;
}

std::optional<size_t> bobbinRunsOutAt(const Pattern& pattern, const ThreadTake& take,
                                      double bobbin_mm) {
  double used = 0;
  std::optional<size_t> at;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    used += take.bobbin_mm(distance(a, b));
    if (!at && used > bobbin_mm) at = row;
  });
  return at;
}

}  // namespace rt
