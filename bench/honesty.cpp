// Does the stated bound hold? Rendered scans against the truth that they were made from, by kind of
// mark and of photo: how often the true error lies within the 95 % bound, how large it is, and
// whether anything was called ready that is not.
//
//   rapt-thimble-honesty [SCANS [SEED]]
#include <algorithm>
#include <cstdio>
#include <cstdlib>

#include "camera.h"
#include "photo_marks.h"

namespace {

using namespace rt;

enum class Marks { Tags, Pen, Chalk, Sewn };
constexpr const char* kNames[] = {"tags", "pen crosses", "chalk crosses", "sewn crosses"};
constexpr double kTolerance_mm = 0.5;

double between(std::mt19937& random, double low, double high) {
  return std::uniform_real_distribution<double>(low, high)(random);
}

Scene hooped(Marks marks, bool hard, std::mt19937& random) {
  Scene s;
  s.hoop_tags = {
      {500, {-112, -82}, 0}, {501, {112, -82}, 0}, {502, {112, 82}, 0}, {503, {-112, 82}, 0}};
  s.lies = Transform::moving({between(random, -6, 6), between(random, -6, 6)}) *
           Transform::turning(between(random, -4, 4));
  if (hard) s.shadow = between(random, 0.3, 0.6);
  if (marks == Marks::Tags) {
    s.cloth_tags = {{3, {70, 40}, 10}, {7, {-70, -35}, 0}, {11, {65, -40}, 200}};
    return s;
  }
  s.crosses = {{-75, between(random, -40, 10)}, {75, 5}, {between(random, -20, 20), 50}};
  s.cross_turn_deg = between(random, -4, 4);
  s.sewn = marks == Marks::Sewn;
  s.line_mm = marks == Marks::Chalk ? 0.9 : 0.5;
  const double darker = marks == Marks::Chalk ? -40 : 90;
  for (int k = 0; k < 3; ++k) s.cross_bgr[k] = s.cloth_bgr[k] - darker;
  return s;
}

enum class Kind { Easy, Hard, Askew };  // the last: an easy photo by a lens that sits askew
constexpr const char* kKinds[] = {"easy", "hard", "askew"};

Camera held(Kind kind, std::mt19937& random) {
  const bool hard = kind == Kind::Hard;
  Camera c;
  c.width = hard ? 1600 : 2000;
  c.height = c.width * 3 / 4;
  c.tilt_deg = between(random, hard ? 12 : 0, hard ? 25 : 12);
  c.tilt_way_deg = between(random, 0, 360);
  c.turn_deg = between(random, -180, 180);
  c.k1 = between(random, -0.02, 0.02);
  if (kind == Kind::Askew) {
    c.looks = {between(random, -0.012, 0.012), between(random, -0.012, 0.012)};
    c.p1 = between(random, -0.001, 0.001), c.p2 = between(random, -0.001, 0.001);
  }
  c.distance_mm = between(random, 400, 480);
  c.noise = hard ? 5 : 2;
  c.blur_px = hard ? between(random, 0.8, 1.6) : 0.4;
  return c;
}

struct Tally {
  int scans = 0, within = 0, ready = 0, falsely = 0, refused = 0;
  std::vector<double> off, turn, bound;
};

void add(Tally& t, const Scene& s, const Camera& c, std::mt19937& random) {
  PhotoSetup setup;
  setup.base.field = {200, 140, HoopShape::Rectangle};
  setup.base.tolerance_mm = kTolerance_mm;
  setup.hoop_tags = s.hoop_tags;
  setup.cloth_tags = s.cloth_tags;
  char name = 'A';
  for (Point p : s.crosses) setup.crosses.push_back({std::string(1, name++), p, {}});
  ++t.scans;
  const Photo photo = takePhoto(s, c, random);
  const PhotoReading r = readPhoto(photo, setup);
  if (r.problem) {
    ++t.refused;
    return;
  }
  const Alignment& a = r.found.alignment;
  double off = 0;
  bool within = true;
  for (int i = 0; i < 4; ++i) {
    const Point layout = (*s.lies.inverse())(Box::around({0, 0}, 200, 140).corner(i));
    const double here = distance(a.fit.toHoop(layout), s.lies(layout));
    off = std::max(off, here);
    if (here == off) within = here <= a.fit.error95_mm(layout);
  }
  t.off.push_back(off);
  t.bound.push_back(a.error_worst_mm);
  t.turn.push_back(std::abs(a.fit.rotation_deg - degrees(std::atan2(s.lies.yx, s.lies.xx))));
  t.within += within;
  t.ready += a.status == Readiness::Ready;
  t.falsely += a.status == Readiness::Ready && off > kTolerance_mm;
}

double quantile(std::vector<double> v, double q) {
  if (v.empty()) return 0;
  std::sort(v.begin(), v.end());
  return v[static_cast<size_t>(q * static_cast<double>(v.size() - 1))];
}

}  // namespace

int main(int argc, char** argv) {
  const int scans = argc > 1 ? std::atoi(argv[1]) : 1000;
  const auto seed = static_cast<unsigned>(argc > 2 ? std::atoi(argv[2]) : 1);
  if (scans < 1) {
    std::fprintf(stderr, "error: %s is no number of scans; give 1 or more\n", argv[1]);
    return 2;
  }
  std::mt19937 random(seed);
  std::printf("seed %u\n%-15s %-5s %6s %8s %9s %9s %9s %9s %7s %7s %7s\n", seed, "marks", "photo",
              "scans", "within %", "median mm", "95 % mm", "bound mm", "turn 95 %", "ready",
              "falsely", "refused");
  int falsely = 0;
  for (Marks marks : {Marks::Tags, Marks::Pen, Marks::Chalk, Marks::Sewn})
    for (Kind kind : {Kind::Easy, Kind::Hard, Kind::Askew}) {
      Tally t;
      for (int i = 0; i < (scans + 11) / 12; ++i)
        add(t, hooped(marks, kind == Kind::Hard, random), held(kind, random), random);
      falsely += t.falsely;
      const size_t n = std::max<size_t>(1, t.off.size());
      std::printf("%-15s %-5s %6d %8.1f %9.4f %9.4f %9.4f %9.4f %7d %7d %7d\n",
                  kNames[static_cast<int>(marks)], kKinds[static_cast<int>(kind)], t.scans,
                  100.0 * t.within / static_cast<double>(n), quantile(t.off, 0.5),
                  quantile(t.off, 0.95), quantile(t.bound, 0.5), quantile(t.turn, 0.95), t.ready,
                  t.falsely, t.refused);
      std::fflush(stdout);
    }
  return falsely == 0 ? 0 : 1;
}
