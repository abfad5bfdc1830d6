// Cloths of springs that nobody told the program of: the swatch is sewn on each and measured, what
// was learned foretells and compensates other designs. rapt-thimble-cloth [SEEDS] [FILE…]
#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "cloth_compensation.h"
#include "cloth_file.h"
#include "cloth_learning.h"
#include "cloth_swatch.h"
#include "data_folder.h"
#include "moving_cloth.h"
#include "row_fill.h"
#include "satin.h"
#include "stitch_file.h"

using namespace rt;

namespace {

Pattern ringWithOutline() {
  Pattern p;
  std::vector<Point> outer, inner;
  for (int i = 0; i <= 120; ++i) {
    const Point way{std::cos(i * kPi / 60), std::sin(i * kPi / 60)};
    outer.push_back(way * 28), inner.push_back(way * 20);
  }
  FillOptions fill;
  fill.pull_mm = 0;
  appendStrands(
      p,
      fillRows({Ring(outer.begin(), outer.end() - 1), Ring(inner.begin(), inner.end() - 1)}, fill,
               {0, -28}),
      {{1}, "ring"});
  SatinOptions satin;
  satin.pull_mm = 0;
  appendStrands(p, std::vector<Strand>{tidied(satinAlong(outer, 2, satin))}, {{2}, "outline"});
  Strand run;
  run.add(inner.front(), Kind::Run);
  runAlong(run, inner, 2, Kind::Run);
  appendStrands(p, std::vector<Strand>{run}, {{2}, "inner"});
  return p;
}

Pattern blockWithBars() {
  Pattern p;
  FillOptions fill;
  fill.pull_mm = 0, fill.angle_deg = 30;
  const Box box = Box::around({-10, 5}, 110, 36);
  const Ring ring{box.corner(0), box.corner(1), box.corner(2), box.corner(3)};
  appendStrands(p, fillRows({ring}, fill, box.corner(0)), {{1}, "block"});
  SatinOptions satin;
  satin.pull_mm = 0;
  for (int i = 0; i < 6; ++i) {
    const double x = -60 + 24 * i, w = 1.5 + i;
    appendStrands(p,
                  std::vector<Strand>{
                      tidied(satinAlong(std::vector<Point>{{x, -50}, {x + 8, -20}}, w, satin))},
                  {{2}, "bar"});
  }
  Ring line = ring;
  line.push_back(line.front());
  Strand run;
  run.add(line.front(), Kind::Run);
  runAlong(run, line, 2.2, Kind::Run);
  appendStrands(p, std::vector<Strand>{run}, {{3}, "outline"});
  return p;
}

struct Score {
  Distances nothing, foretold, plain, made;
  double within = 0;
};

Score tried(const Pattern& design, const ClothKnown& known, const Field& field,
            const ClothMake& make, uint32_t seed) {
  const auto over = [&](const Pattern& p, auto&& use) {
    std::vector<double> mm;
    for (size_t row = 0; row < p.stitches.size(); ++row)
      if (p.stitches[row].op == Op::Stitch) mm.push_back(use(row));
    return distancesOf(mm);
  };
  Score out;
  const ClothMotion motion = clothMotion(design, known.law, field);
  MovingCloth cloth(field.width_mm, field.height_mm, make, seed);
  const std::vector<Point> lies = sewnOn(cloth, design);
  out.nothing = over(design, [&](size_t i) { return distance(lies[i], design.stitches[i].at); });
  const double bound = motionBound_mm(design, known.law, motion);
  double within = 0, count = 0;
  out.foretold = over(design, [&](size_t i) {
    const double off = distance(lies[i], design.stitches[i].at + motion.moved[i]);
    within += off <= bound, ++count;
    return off;
  });
  out.within = within / count;
  const ClothCompensation c = compensated(design, known.law, field);
  MovingCloth again(field.width_mm, field.height_mm, make, seed + 1000);
  const std::vector<Point> now = sewnOn(again, c.sewn);
  out.made = over(design, [&](size_t i) { return distance(now[i], design.stitches[i].at); });
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  const int seeds = argc > 1 ? std::atoi(argv[1]) : 2;
  std::vector<Pattern> designs{ringWithOutline(), blockWithBars()};
  for (int i = 2; i < argc; ++i) designs.push_back(readStitchFile(argv[i]).pattern);
  const Field small{100, 100}, large{200, 140};
  const ClothSwatch swatch = clothSwatch(60, 60, 0.4, 0.4);
  std::printf("swatch: %zu rows, %zu shapes\n", swatch.pattern.stitches.size(),
              swatch.shapes.size());
  const std::vector<size_t> shapes = shapesOfRows(swatch.pattern);
  const char* ids[][2] = {{"cotton", "woven-cotton"},
                          {"jersey", "jersey"},
                          {"terry", "terry"},
                          {"canvas", "canvas"},
                          {"sheer", "sheer"}};
  for (const auto& [fabric, id] : ids)
    for (int seed = 1; seed <= seeds; ++seed) {
      const ClothMake make = clothMake(fabric, static_cast<uint32_t>(seed));
      MovingCloth cloth(small.width_mm, small.height_mm, make, static_cast<uint32_t>(seed));
      auto t0 = std::chrono::steady_clock::now();
      const std::vector<Point> lies = sewnOn(cloth, swatch.pattern);
      auto t1 = std::chrono::steady_clock::now();
      std::mt19937 random(static_cast<uint32_t>(seed));
      std::normal_distribution<double> noise(0, 0.03);
      std::vector<ClothSight> sights;
      for (size_t row = 0; row < lies.size(); row += 3)
        if (swatch.pattern.stitches[row].op == Op::Stitch)
          sights.push_back(
              {{row},
               lies[row] - swatch.pattern.stitches[row].at + Point{noise(random), noise(random)},
               {0.0009, 0, 0.0009},
               shapes[row]});
      const ClothKnown start = startingCloth(dataFolder(), id);
      const ClothLesson lesson = learned(start, swatch.pattern, small, sights);
      auto t2 = std::chrono::steady_clock::now();
      std::printf("%s %d: sewn %.2f s, learned from %zu in %.2f s: %.3f %.3f -> %.3f %.3f\n  ",
                  fabric, seed, std::chrono::duration<double>(t1 - t0).count(), sights.size(),
                  std::chrono::duration<double>(t2 - t1).count(), lesson.before.median_mm,
                  lesson.before.p95_mm, lesson.after.median_mm, lesson.after.p95_mm);
      for (const ClothFigureInfo& f : clothFigures())
        std::printf("%s %.4g±%.2g ", std::string(f.name).c_str(), lesson.known.law[f.figure],
                    lesson.known.law.figures[static_cast<size_t>(f.figure)].sigma);
      std::printf("\n");
      for (const Pattern& d : designs)
        for (const ClothKnown* k : {&lesson.known, &start}) {
          auto t3 = std::chrono::steady_clock::now();
          const Score s = tried(d, *k, large, make, static_cast<uint32_t>(seed) + 77);
          std::printf(
              "  %s: nothing %.3f %.3f, foretold %.3f %.3f (%.1fx %.1fx), within %.3f, made %.3f "
              "%.3f  [%.2f s]\n",
              k == &start ? "start  " : "learned", s.nothing.median_mm, s.nothing.p95_mm,
              s.foretold.median_mm, s.foretold.p95_mm, s.nothing.median_mm / s.foretold.median_mm,
              s.nothing.p95_mm / s.foretold.p95_mm, s.within, s.made.median_mm, s.made.p95_mm,
              std::chrono::duration<double>(std::chrono::steady_clock::now() - t3).count());
        }
    }
}
