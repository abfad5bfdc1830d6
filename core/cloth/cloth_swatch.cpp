#include "cloth_swatch.h"

#include <algorithm>
#include <cmath>

#include "error.h"
#include "length.h"
#include "row_fill.h"
#include "satin.h"

namespace rt {
namespace {

constexpr Colour kThread{0x1f3b63};
constexpr double kUsual_mm = 60, kPitch = 18.5 / 60;  // of the field, from shape to shape
constexpr double kSquare_mm = 11, kOutlineOff_mm = 2.6, kColumn_mm = 13;
constexpr double kColumnWidths_mm[] = {1.5, 3, 4.5};
constexpr double kColumnsApart_mm = 3, kColumnsWide_mm = 9 + 2 * kColumnsApart_mm;
constexpr double kRing_mm = 12, kRingWide_mm = 2.5, kMarkArm_mm = 1.4;
constexpr double kOuterMark = 28.2 / 60;  // of the field
constexpr double kRun_mm = 2, kMarkRun_mm = 0.8;
constexpr double kTie_mm = 0.6;

/// Sews shape after shape into one list.
class SwatchMaker {
 public:
  SwatchMaker(double width, double height, double rows, double satin)
      : width_(width),
        height_(height),
        pitch_x_(width * kPitch),
        pitch_y_(height * kPitch),
        part_(std::clamp(std::min(width, height) / kUsual_mm, 0.6, 1.0)),
        rows_(rows),
        satin_(satin) {
    out_.pattern.title = "swatch";
  }

  ClothSwatch run() {
    for (const bool outer : {true, false})
      for (int corner = 0; corner < 4; ++corner) {
        const double x = corner % 3 == 0 ? -1 : 1, y = corner < 2 ? -1 : 1;
        mark(outer ? Point{x * width_ * kOuterMark, y * height_ * kOuterMark}
                   : Point{x * pitch_x_ / 2, y * pitch_y_ / 2});
      }
    square("rows across", cell(-1, -1), 0, 1);
    columns("columns down", cell(0, -1), false);
    ring("ring", cell(1, -1));
    columns("columns across", cell(-1, 0), true);
    square("rows aslant", cell(0, 0), 45, 1);
    square("rows down", cell(1, 0), 90, 1);
    ring("ring below", cell(-1, 1));
    square("rows twice", cell(0, 1), 0, 2);
    bars(cell(1, 1));
    out_.pattern.stitches.push_back({last(), 0, thread(), 0, Op::End, Kind::Unknown});
    return std::move(out_);
  }

 private:
  Point cell(int x, int y) const { return {x * pitch_x_, y * pitch_y_}; }
  uint16_t thread() { return out_.pattern.threadIndex(kThread); }
  Point last() const { return out_.pattern.stitches.back().at; }

  void sew(const std::string& name, const char* kind, Point at, double w, double h,
           std::vector<Strand> strands) {
    for (Strand& s : strands) s = tidied(s);
    appendStrands(out_.pattern, strands, {kThread, name, TieRule{kTie_mm}});
    out_.shapes.push_back({name, kind, at, w, h});
  }

  void mark(Point at) {
    const double arm = kMarkArm_mm * part_;
    Strand s;
    s.add(at + Point{-arm, 0}, Kind::Mark);
    const std::vector<Point> line{at + Point{-arm, 0}, at + Point{arm, 0}, at, at + Point{0, -arm},
                                  at + Point{0, arm}};
    for (size_t i = 0; i + 1 < line.size(); ++i)
      runAlong(s, std::span(line).subspan(i, 2), kMarkRun_mm, Kind::Mark);
    const std::string id = "M" + std::to_string(out_.marks.size() + 1);
    sew(id, "mark", at, 2 * arm, 2 * arm, {std::move(s)});
    out_.marks.push_back({id, at});
  }

  static Ring rectangle(Point at, double w, double h) {
    const Box box = Box::around(at, w, h);
    return {box.corner(0), box.corner(1), box.corner(2), box.corner(3)};
  }

  void square(const std::string& name, Point at, double angle, int layers) {
    const double w = kSquare_mm * part_;
    std::vector<Strand> strands;
    for (int i = 0; i < layers; ++i) {
      FillOptions options;
      options.row_spacing_mm = rows_, options.pull_mm = 0;
      options.angle_deg = angle + 90 * i;
      const Point from = strands.empty() ? at - Point{w, w} : strands.back().exit();
      for (Strand& s : fillRows(Area{rectangle(at, w, w)}, options, from))
        strands.push_back(std::move(s));
    }
    sew(name, "fill", at, w, w, std::move(strands));
    const double outer = w + 2 * kOutlineOff_mm * part_;
    Ring line = rectangle(at, outer, outer);
    line.push_back(line.front());
    Strand s;
    s.add(line.front(), Kind::Run);
    for (size_t i = 0; i + 1 < line.size(); ++i)
      runAlong(s, std::span(line).subspan(i, 2), kRun_mm, Kind::Run);
    sew("outline of " + name, "outline", at, outer, outer, {std::move(s)});
  }

  SatinOptions satin() const {
    SatinOptions options;
    options.spacing_mm = satin_, options.pull_mm = 0;
    return options;
  }

  void columns(const std::string& name, Point at, bool across) {
    const double half = kColumn_mm * part_ / 2;
    double place = -kColumnsWide_mm / 2 * part_;
    int number = 0;
    for (double wide : kColumnWidths_mm) {
      const double w = wide * part_, middle = place + w / 2;
      place += w + kColumnsApart_mm * part_;
      const Point c = at + (across ? Point{0, middle} : Point{middle, 0});
      const Point way = across ? Point{half, 0} : Point{0, half};
      const std::vector<Point> line{c - way, c + way};
      sew(name + " " + std::to_string(++number), "column", c, across ? 2 * half : w,
          across ? w : 2 * half, {satinAlong(line, w, satin())});
    }
  }

  void ring(const std::string& name, Point at) {
    const double r = (kRing_mm - kRingWide_mm) * part_ / 2;
    std::vector<Point> line;
    constexpr int kPoints = 96;
    for (int i = 0; i <= kPoints; ++i) {
      const double a = 2 * kPi * i / kPoints;
      line.push_back(at + Point{r * std::cos(a), r * std::sin(a)});
    }
    sew(name, "ring", at, kRing_mm * part_, kRing_mm * part_,
        {satinAlong(line, kRingWide_mm * part_, satin())});
  }

  /// Two bars that cross, rows along each.
  void bars(Point at) {
    const double l = (kSquare_mm + 2 * kOutlineOff_mm) * part_, w = 4 * part_;
    for (const bool down : {false, true}) {
      FillOptions options;
      options.row_spacing_mm = rows_, options.pull_mm = 0, options.angle_deg = down ? 90 : 0;
      const double bw = down ? w : l, bh = down ? l : w;
      sew(down ? "bar down" : "bar across", "fill", at, bw, bh,
          fillRows(Area{rectangle(at, bw, bh)}, options, at - Point{bw, bh}));
    }
  }

  double width_, height_, pitch_x_, pitch_y_, part_, rows_, satin_;
  ClothSwatch out_;
};

}  // namespace

ClothSwatch clothSwatch(double width_mm, double height_mm, double row_spacing_mm,
                        double satin_spacing_mm) {
  for (double mm : {width_mm, height_mm})
    if (!(mm >= kLeastSwatch_mm && mm <= 100'000))
      throw Error("a swatch of " + formatNumber(mm, 1) + " mm is not made", "size",
                  "give 40 mm or more; 60 x 60 is usual");
  return SwatchMaker(std::min(width_mm, kMostSwatch_mm), std::min(height_mm, kMostSwatch_mm),
                     row_spacing_mm, satin_spacing_mm)
      .run();
}

}  // namespace rt
