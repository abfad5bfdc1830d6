#include "swatch.h"

#include <algorithm>

#include "actions.h"
#include "error.h"
#include "faces.h"
#include "length.h"
#include "satin.h"
#include "shape.h"

namespace rt {
namespace {

constexpr int kSteps = 6;
constexpr double kPitch_mm = 22, kSquare_mm = 14, kLabel_mm = 5;
constexpr double kHalf_mm = 62.5;  // five rows of square, number and room
constexpr Colour kSewn{0x2f5d50}, kLabels{0x22303c};

Strand satinOf(double width_mm, double length_mm, double spacing_mm) {
  SatinOptions o;
  o.spacing_mm = spacing_mm;
  o.pull_mm = 0;
  const std::vector<Point> line{{0, -length_mm / 2}, {0, length_mm / 2}};
  return satinAlong(line, width_mm, o);
}

std::vector<Strand> fillOf(double spacing_mm, double angle_deg) {
  FillOptions o;
  o.row_spacing_mm = spacing_mm;
  o.angle_deg = angle_deg;
  o.pull_mm = 0;
  const Box b = Box::around({}, kSquare_mm, kSquare_mm);
  return fillRows(Area{{b.corner(0), b.corner(1), b.corner(2), b.corner(3)}}, o, b.corner(0));
}

/// Lays steps side by side, each with its number under it.
class SwatchMaker {
 public:
  SwatchMaker(const Fabric& fabric, const Bench& bench)
      : fabric_(fabric),
        rules_(bench.shop.practice.sewing),
        face_(loadFace(bench.data, "plain-stroke")) {
    const Limit& limit = fabric.density_mm_per_mm2;
    for (int i = 0; i < kSteps; ++i)
      densities_.push_back(0.7 * limit.check +
                           (1.25 * limit.stop - 0.7 * limit.check) * i / (kSteps - 1));
  }

  Job run() {
    job_.title = "Test swatch, " + fabric_.name;
    job_.brief.item = "scrap of " + fabric_.name;
    job_.brief.fabric = fabric_.id;
    job_.brief.backing = fabric_.backing;
    job_.brief.topper = !fabric_.topper.empty();
    row("fill", densities_, [](double d) { return fillOf(1 / d, 0); });
    row("satin", densities_, [](double d) { return std::vector{satinOf(5, kSquare_mm, 2 / d)}; });
    const double least = fabric_.least_column_mm;
    // from easy to hard, as the densities: the first that fails tells
    row("column", {3 * least, 2 * least, 1.5 * least, least, 0.75 * least, 0.5 * least},
        [](double w) { return std::vector{satinOf(w, kSquare_mm, 0.4)}; });
    letters({12, 10, 8, 6, 5, 4});
    overlaps();
    job_.brief.place_width_mm = kSteps * kPitch_mm + 10;
    job_.brief.place_height_mm = 2 * kHalf_mm + 10;
    return std::move(job_);
  }

 private:
  template <class Make>
  void row(const std::string& name, const std::vector<double>& values, Make make) {
    Pattern sewn;
    for (size_t i = 0; i < values.size(); ++i) {
      std::vector<Strand> strands = make(values[i]);
      for (Strand& s : strands)
        for (Point& p : s.points) p = p + Point{across(i), 0};
      appendStrands(sewn, strands, {kSewn, name, rules_.ties});
      job_.swatch.push_back({name, static_cast<int>(i) + 1, values[i]});
    }
    add(name, std::move(sewn), values.size(), kSquare_mm);
  }

  void letters(const std::vector<double>& heights) {
    Pattern sewn;
    for (size_t i = 0; i < heights.size(); ++i) {
      LetterOptions o;
      o.height_mm = heights[i];
      o.pull_mm = fabric_.pull_compensation_mm;
      o.colour = kSewn;
      o.rules = rules_;
      append(sewn, transformed(letter("ea", face_, o).pattern,
                               Transform::moving({across(i), heights[i] / 2})));
      job_.swatch.push_back({"letter", static_cast<int>(i) + 1, heights[i]});
    }
    add("letter", std::move(sewn), heights.size(), kSquare_mm);
  }

  /// One, two, three and four covers at a light density, turned against one another.
  void overlaps() {
    Pattern sewn;
    const double each = 0.5 * fabric_.density_mm_per_mm2.check;
    for (int i = 0; i < 4; ++i) {
      for (int k = 0; k <= i; ++k) {
        std::vector<Strand> strands = fillOf(1 / each, 45.0 * k);
        for (Strand& s : strands)
          for (Point& p : s.points) p = p + Point{across(static_cast<size_t>(i)), 0};
        appendStrands(sewn, strands, {kSewn, "overlap", rules_.ties});
      }
      job_.swatch.push_back({"overlap", i + 1, each * (i + 1)});
    }
    add("overlap", std::move(sewn), 4, kSquare_mm);
  }

  static double across(size_t step) {
    return (static_cast<double>(step) - (kSteps - 1) / 2.0) * kPitch_mm;
  }

  /// The row as a piece, with its labels, below what is there.
  void add(const std::string& name, Pattern sewn, size_t steps, double height_mm) {
    LetterOptions o;
    o.height_mm = kLabel_mm;
    o.colour = kLabels;
    o.rules = rules_;
    o.least_column_mm = kLabel_mm;  // numbers in double runs: they are read, not judged
    Pattern labels;
    for (size_t i = 0; i < steps; ++i)
      append(labels, transformed(letter(std::to_string(i + 1), face_, o).pattern,
                                 Transform::moving({across(i), height_mm / 2 + kLabel_mm + 2.5})));
    const double down = top_ + height_mm / 2;
    place(name, std::move(sewn), down);
    place(name + " numbers", std::move(labels), down);
    top_ += height_mm + kLabel_mm + 6;
  }

  void place(const std::string& name, Pattern pattern, double down_mm) {
    Piece p = pieceOf(std::move(pattern), name);
    p.id = job_.next_piece_id++;
    p.place.at = p.place.at + Point{0, down_mm};
    job_.pieces.push_back(std::move(p));
  }

  const Fabric& fabric_;
  SewingRules rules_;
  Face face_;
  std::vector<double> densities_;
  double top_ = -kHalf_mm;
  Job job_;
};

}  // namespace

Job swatchJob(const Fabric& fabric, const Bench& bench) {
  return SwatchMaker(fabric, bench).run();
}

ClothSwatch learningSwatch(const Fabric& fabric) {
  constexpr double kSize_mm = 60;
  return clothSwatch(kSize_mm, kSize_mm, fabric.spacing.rows_mm, fabric.spacing.satin_mm);
}

Job learningJob(const Fabric& fabric, const Bench& bench) {
  Job job = actions::onFabric({}, fabric.id, bench);
  job.title = "Swatch: how " + fabric.name + " moves";
  job.brief.place_width_mm = job.brief.place_height_mm = 80;
  Piece p = pieceOf(learningSwatch(fabric).pattern, "cloth swatch");
  p.id = job.next_piece_id++;
  job.pieces.push_back(std::move(p));
  return job;
}

const std::vector<SwatchRow>& swatchRows() {
  static const std::vector<SwatchRow> rows{{"fill", "Fills", "mm/mm²"},
                                           {"satin", "Satins", "mm/mm²"},
                                           {"column", "Columns, widths", "mm"},
                                           {"letter", "Letters, heights", "mm"},
                                           {"overlap", "Covers on one another", "mm/mm²"}};
  return rows;
}

std::vector<SwatchOutcome> outcomesOf(const Job& job, const std::string& row, int first_failed) {
  std::vector<SwatchOutcome> out;
  int steps = 0;
  for (const SwatchStep& s : job.swatch) {
    if (s.row != row) continue;
    ++steps;
    if (first_failed == 0 || s.step <= first_failed)
      out.push_back({s.value, s.step == first_failed});
  }
  if (first_failed < 0 || first_failed > steps)
    throw Error("the row has no step " + std::to_string(first_failed), "swatch " + row,
                "give 1 to " + std::to_string(steps) + ", or none");
  return out;
}

}  // namespace rt
