#include "hooping_sheets.h"

#include <algorithm>

#include "error.h"
#include "file_io.h"
#include "hooping_place.h"
#include "length.h"
#include "pdf_pages.h"
#include "statistics.h"
#include "stitch_limits.h"

namespace rt {
namespace {

constexpr double kMargin_mm = 12;
constexpr double kPins_mm = 15;      // pins stay this far from any stitch (shop practice)
constexpr double kDrawing_mm = 104;  // height of the picture of the frame
constexpr double kMap_mm = 44;       // width of the small map
constexpr const char* kCautions[] = {
    "Keep hands clear: the frame moves by itself.",
    "Take pins out, or set them outside the dashed line, 15 mm from any stitch.",
    ("Check the hoop with the machine's own trace before the first stitch. "
     "The maker's manual comes before this sheet.")};

std::string inches(double mm) {
  return formatNumber(mm / 25.4, 2) + " in";
}

std::string side(double mm, const char* more, const char* less) {
  if (std::abs(mm) < 0.05) return "0 mm";
  return formatNumber(std::abs(mm), 1) + " mm (" + inches(std::abs(mm)) + ") " +
         (mm > 0 ? more : less);
}

std::string grouped(size_t n) {
  std::string digits = std::to_string(n);
  for (long at = static_cast<long>(digits.size()) - 3; at > 0; at -= 3)
    digits.insert(static_cast<size_t>(at), ",");
  return digits;
}

/// What one thread of a setting takes, from one change to the next.
struct ColourRun {
  Colour colour;
  size_t stitches = 0;
  double time_s = 0;
};

std::vector<ColourRun> coloursInOrder(const Pattern& pattern, const TimeModel& time) {
  std::vector<ColourRun> runs;
  TimeWalk walk(time, Needles::One);
  for (const Stitch& s : pattern.stitches) {
    const double took = walk.next(s);
    if (s.op == Op::Stitch && (runs.empty() || runs.back().colour != pattern.colourOf(s)))
      runs.push_back({pattern.colourOf(s), 0, 0});
    if (runs.empty()) continue;
    runs.back().time_s += took;
    runs.back().stitches += s.op == Op::Stitch;
  }
  return runs;
}

class Sheets {
 public:
  Sheets(const HoopingPlan& plan, const HoopingSheetOptions& options)
      : plan_(plan), options_(options), pdf_(sheetSize(options.paper)) {
    for (const Hooping& h : plan.hoopings)
      for (const PlanSetting& s : h.settings) all_.add(threadBounds(s.pattern));
  }

  std::string run(HoopingSheets& out) {
    for (const Hooping& h : plan_.hoopings)
      for (const PlanSetting& s : h.settings) {
        out.sheets.push_back({h.index, s.index, pdf_.pages() + 1});
        page(h, s);
      }
    out.pages = pdf_.pages();
    return pdf_.finish();
  }

 private:
  double right() const { return pdf_.size().width_mm - kMargin_mm; }
  double bottom() const { return pdf_.size().height_mm - kMargin_mm - 5; }
  double width() const { return right() - kMargin_mm; }

  void page(const Hooping& h, const PlanSetting& s) {
    title_ = "Hooping " + std::to_string(h.index) + " of " + std::to_string(plan_.hoopings.size());
    if (h.settings.size() > 1)
      title_ += ", setting " + std::to_string(s.index) + " of " + std::to_string(h.settings.size());
    double y = head(h, s);
    drawing(h, s, {kMargin_mm, y, right(), y + kDrawing_mm});
    y += kDrawing_mm + 3;
    y = marks(h, s, y);
    y = colours(s, y + 2);
    y = lines(y + 2);
    foot();
    pdf_.endPage();
  }

  double head(const Hooping& h, const PlanSetting& s) {
    const double room = width() - kMap_mm - 4;
    pdf_.ink();
    double y = kMargin_mm;
    y += pdf_.paragraph(kMargin_mm, y, room, title_, {7, true, TextAlign::Left});
    y += pdf_.paragraph(kMargin_mm, y, room, options_.title, {3.6, false, TextAlign::Left}) + 1;
    const Box& f = s.field.box;
    const bool across = s.field.turn_deg % 180 != 0;
    const double w = across ? f.height() : f.width(), hgt = across ? f.width() : f.height();
    std::string frame = "Hoop " + h.hoop_id + ", field " + formatNumber(w, 1) + " x " +
                        formatNumber(hgt, 1) + " mm";
    if (s.field.shape == HoopShape::Oval) frame += ", oval";
    frame += s.field.turn_deg != 0
                 ? ", turned by " + std::to_string(s.field.turn_deg) + "° against the layout"
                 : ", not turned";
    y += pdf_.paragraph(kMargin_mm, y, room, frame, {3.2, false, TextAlign::Left});
    // as it is sewn, with its ties and laps: what the machine counts
    const Statistics sewn = statisticsOf(s.pattern, options_.time);
    y += pdf_.paragraph(kMargin_mm, y, room,
                        grouped(sewn.stitches) + " stitches, " +
                            formatNumber(sewn.thread_mm / 1000, 1) + " m of thread, about " +
                            formatNumber(sewn.sewing_time_s / 60, 0) +
                            " minutes of sewing. Expected to land within " +
                            formatNumber(h.predicted_error_mm, 2) + " mm (95 %).",
                        {3.2, false, TextAlign::Left});
    if (s.index > 1) {
      y += pdf_.paragraph(kMargin_mm, y, room,
                          "The cloth stays clamped: bring the frame to this setting.",
                          {3.2, true, TextAlign::Left});
    }
    map(h, s);
    return std::max(y, kMargin_mm + mapHeight()) + 3;
  }

  double mapHeight() const {
    return std::min(32.0, kMap_mm * all_.height() / std::max(1.0, all_.width())) + 2;
  }

  /// All fields, small: this one filled, those before it (or done) crossed out.
  void map(const Hooping& here, const PlanSetting& setting) {
    Box reach = all_;
    for (const Hooping& h : plan_.hoopings)
      for (const PlanSetting& s : h.settings) reach.add(s.field.box);
    cairo_t* cr = pdf_.cr();
    const double scale = std::min(kMap_mm / reach.width(), mapHeight() / reach.height());
    cairo_save(cr);
    cairo_translate(cr, right() - reach.width() * scale, kMargin_mm);
    cairo_scale(cr, scale, scale);
    cairo_translate(cr, -reach.left, -reach.top);
    cairo_set_line_width(cr, 0.25 / scale);
    for (const Hooping& h : plan_.hoopings)
      for (const PlanSetting& s : h.settings) {
        const Box& b = s.field.box;
        const bool current = h.index == here.index && s.index == setting.index;
        if (current) {
          pdf_.colour(0.80, 0.86, 0.90);
          cairo_rectangle(cr, b.left, b.top, b.width(), b.height());
          cairo_fill(cr);
        }
        pdf_.quiet();
        cairo_rectangle(cr, b.left, b.top, b.width(), b.height());
        cairo_stroke(cr);
        const bool before = std::pair(h.index, s.index) < std::pair(here.index, setting.index);
        const bool sewn =
            std::find(options_.done.begin(), options_.done.end(), h.index) != options_.done.end();
        if (!current && (before || sewn)) {
          pdf_.line(b.left, b.top, b.right, b.bottom);
          pdf_.line(b.left, b.bottom, b.right, b.top);
        }
      }
    cairo_restore(cr);
    for (const Hooping& h : plan_.hoopings) {
      const Point c = h.settings.front().field.box.centre();
      if (h.index == here.index)
        pdf_.ink();
      else
        pdf_.quiet();
      pdf_.text(right() - (reach.right - c.x) * scale - 1,
                kMargin_mm + (c.y - reach.top) * scale + 1, std::to_string(h.index), 3,
                h.index == here.index);
    }
  }

  /// The frame as the machine holds it, with what lies in it.
  void drawing(const Hooping& h, const PlanSetting& s, const Box& area) {
    const Transform place = intendedPlace(s);
    const Field field = upright(s);
    Box reach = Box::around({0, 0}, field.width_mm, field.height_mm);
    const Box sewn = turnedBox(threadBounds(s.pattern), place).grown(kPins_mm);
    reach.add(sewn);
    reach = reach.grown(9);
    const double scale =
        std::min({area.width() / reach.width(), area.height() / reach.height(), 1.0});
    cairo_t* cr = pdf_.cr();
    cairo_save(cr);
    cairo_rectangle(cr, area.left, area.top, area.width(), area.height());
    cairo_clip(cr);
    cairo_translate(cr, area.centre().x, area.centre().y);
    cairo_scale(cr, scale, scale);
    cairo_translate(cr, -reach.centre().x, -reach.centre().y);
    const double hair = 1 / scale;
    otherSettings(h, s, place, hair);
    outline(field, hair);
    stitches(s, place, hair);
    cross(place, reach, hair);
    strip(sewn, hair);
    for (const PlanMark& m : h.marks) mark(m, place(m.at), hair);
    up(place, reach, hair);
    cairo_restore(cr);
    caption(place, field, area, scale);
  }

  static Field upright(const PlanSetting& s) {
    const Box& b = s.field.box;
    return s.field.turn_deg % 180 == 0 ? Field{b.width(), b.height(), s.field.shape}
                                       : Field{b.height(), b.width(), s.field.shape};
  }
  static Box turnedBox(const Box& box, const Transform& by) {
    Box out;
    for (int i = 0; i < 4 && !box.empty(); ++i) out.add(by(box.corner(i)));
    return out;
  }

  void otherSettings(const Hooping& h, const PlanSetting& s, const Transform& place, double hair) {
    const double dash[] = {1.5 * hair, 1.5 * hair};
    cairo_set_dash(pdf_.cr(), dash, 2, 0);
    pdf_.quiet();
    cairo_set_line_width(pdf_.cr(), 0.2 * hair);
    for (const PlanSetting& other : h.settings) {
      if (other.index == s.index) continue;
      const Box b = turnedBox(other.field.box, place);
      cairo_rectangle(pdf_.cr(), b.left, b.top, b.width(), b.height());
      cairo_stroke(pdf_.cr());
    }
    cairo_set_dash(pdf_.cr(), nullptr, 0, 0);
  }

  void outline(const Field& field, double hair) {
    cairo_t* cr = pdf_.cr();
    pdf_.ink();
    cairo_set_line_width(cr, 0.5 * hair);
    if (field.shape == HoopShape::Oval) {
      cairo_save(cr);
      cairo_scale(cr, field.width_mm / 2, field.height_mm / 2);
      cairo_arc(cr, 0, 0, 1, 0, 2 * kPi);
      cairo_restore(cr);
    } else {
      cairo_rectangle(cr, -field.width_mm / 2, -field.height_mm / 2, field.width_mm,
                      field.height_mm);
    }
    cairo_stroke(cr);
    // the middle of each side, as frames are marked
    cairo_set_line_width(cr, 0.3 * hair);
    for (double way : {-1.0, 1.0}) {
      pdf_.line(way * field.width_mm / 2, -2 * hair, way * field.width_mm / 2, 2 * hair);
      pdf_.line(-2 * hair, way * field.height_mm / 2, 2 * hair, way * field.height_mm / 2);
      pdf_.line(way * field.width_mm / 2 - way * 2 * hair, 0, way * field.width_mm / 2, 0);
      pdf_.line(0, way * field.height_mm / 2 - way * 2 * hair, 0, way * field.height_mm / 2);
    }
  }

  void stitches(const PlanSetting& s, const Transform& place, double hair) {
    cairo_t* cr = pdf_.cr();
    cairo_set_line_width(cr, std::max(0.12 * hair, 0.2));
    cairo_set_line_cap(cr, CAIRO_LINE_CAP_ROUND);
    int pending = -1;
    forEachSegment(s.pattern, [&](Point a, Point b, size_t row) {
      const int thread = s.pattern.stitches[row].thread;
      if (thread != pending) {
        cairo_stroke(cr);
        pdf_.colour(s.pattern.threads[static_cast<size_t>(thread)], 0.55);
        pending = thread;
      }
      const Point p = place(a), q = place(b);
      cairo_move_to(cr, p.x, p.y);
      cairo_line_to(cr, q.x, q.y);
    });
    cairo_stroke(cr);
  }

  /// The layout's centre lines, as far as they run through the picture.
  void cross(const Transform& place, const Box& reach, double hair) {
    const double far = reach.width() + reach.height() + length(place({0, 0}));
    pdf_.colour(0.72, 0.22, 0.16);
    cairo_set_line_width(pdf_.cr(), 0.25 * hair);
    for (Point way : {Point{1, 0}, Point{0, 1}}) {
      const Point a = place(way * -far), b = place(way * far);
      pdf_.line(a.x, a.y, b.x, b.y);
    }
    const Point c = place({0, 0});
    cairo_new_path(pdf_.cr());
    cairo_arc(pdf_.cr(), c.x, c.y, 1.6 * hair, 0, 2 * kPi);
    cairo_stroke(pdf_.cr());
  }

  void strip(const Box& sewn, double hair) {
    const double dash[] = {3 * hair, 2 * hair};
    pdf_.quiet();
    cairo_set_dash(pdf_.cr(), dash, 2, 0);
    cairo_set_line_width(pdf_.cr(), 0.25 * hair);
    cairo_rectangle(pdf_.cr(), sewn.left, sewn.top, sewn.width(), sewn.height());
    cairo_stroke(pdf_.cr());
    cairo_set_dash(pdf_.cr(), nullptr, 0, 0);
  }

  void mark(const PlanMark& m, Point p, double hair) {
    pdf_.ink();
    cairo_set_line_width(pdf_.cr(), 0.4 * hair);
    pdf_.line(p.x - 3 * hair, p.y, p.x + 3 * hair, p.y);
    pdf_.line(p.x, p.y - 3 * hair, p.x, p.y + 3 * hair);
    pdf_.text(p.x + 1 * hair, p.y - 1 * hair, m.id, 3 * hair, true);
  }

  /// An arrow toward the layout's top.
  void up(const Transform& place, const Box& reach, double hair) {
    const Point way = unit(place.turn({0, -1}));
    const Point foot = Point{reach.left, reach.top} + Point{5, 5} * hair - way * (4 * hair);
    const Point tip = foot + way * (8 * hair), aside = quarterTurn(way) * (2 * hair);
    pdf_.ink();
    cairo_set_line_width(pdf_.cr(), 0.5 * hair);
    pdf_.line(foot.x, foot.y, tip.x, tip.y);
    const Point back = tip - way * (3 * hair);
    pdf_.line(tip.x, tip.y, back.x + aside.x, back.y + aside.y);
    pdf_.line(tip.x, tip.y, back.x - aside.x, back.y - aside.y);
  }

  void caption(const Transform& place, const Field& field, const Box& area, double scale) {
    const Point c = place({0, 0});
    const bool inside = field.contains(c);
    const std::string where = "The layout's cross lies " + side(c.x, "right", "left") + " and " +
                              side(c.y, "below", "above") + " of the field's middle" +
                              (inside ? "." : ", outside the field.");
    pdf_.quiet();
    pdf_.text(area.left, area.bottom - 0.5,
              where + " Arrow: the layout's top. Shown at 1 : " + formatNumber(1 / scale, 1) + ".",
              2.6, false, area.width());
  }

  double marks(const Hooping& h, const PlanSetting& s, double y) {
    const double rest = width() - 14 - 26 - 52 - 52;
    PdfTable table(pdf_, {{"Mark", 14, TextAlign::Left},
                          {"What", 26, TextAlign::Left},
                          {"From the layout's cross, across", 52, TextAlign::Left},
                          {"along", 52, TextAlign::Left},
                          {"In the field", rest, TextAlign::Left}});
    y = table.head(kMargin_mm, y);
    const Transform place = intendedPlace(s);
    for (const PlanMark& m : h.marks) {
      const Point in = place(m.at);
      const std::vector<std::string> cells{
          m.id, m.kind + (m.clear ? "" : " (on sewing)"), side(m.at.x, "right", "left"),
          side(m.at.y, "below", "above"),
          s.field.holds(m.at) ? formatNumber(in.x, 1) + ", " + formatNumber(in.y, 1) + " mm"
                              : "not in this field"};
      y = fits(y, table.heightOf(cells));
      y = table.row(kMargin_mm, y, cells);
    }
    return y;
  }

  double colours(const PlanSetting& s, double y) {
    const std::vector<ColourRun> runs = coloursInOrder(s.pattern, options_.time);
    PdfTable table(pdf_, {{"Colours in order", 92, TextAlign::Left},
                          {"Stitches", 30, TextAlign::Right},
                          {"Minutes", 26, TextAlign::Right}});
    y = table.head(kMargin_mm, fits(y, 12));
    int number = 0;
    for (const ColourRun& r : runs) {
      std::string words = std::to_string(++number) + "   " + r.colour.hex();
      if (const auto near = nearestThread(options_.shelf, r.colour)) {
        words += "   " + near->thread->name;
        if (!near->thread->code.empty()) words += " " + near->thread->code;
      }
      const std::vector<std::string> cells{words, grouped(r.stitches),
                                           formatNumber(r.time_s / 60, 1)};
      y = fits(y, table.heightOf(cells));
      y = table.row(kMargin_mm, y, cells, &r.colour);
    }
    return y;
  }

  double lines(double y) {
    const auto add = [&](const std::string& words, bool bold) {
      const TextStyle style{2.8, bold, TextAlign::Left};
      y = fits(y, pdf_.heightOf(width(), words, style));
      pdf_.ink();
      y += pdf_.paragraph(kMargin_mm, y, width(), words, style) + 0.4;
    };
    if (!options_.materials.empty()) {
      std::string all;
      for (const std::string& m : options_.materials) all += (all.empty() ? "" : "; ") + m;
      add("Materials: " + all + ".", false);
    }
    for (const char* c : kCautions) add(c, false);
    for (const std::string& c : options_.cautions) add(c, false);
    return y;
  }

  /// The place itself, or the top of the next page.
  double fits(double y, double height) {
    if (y + height <= bottom()) return y;
    foot();
    pdf_.endPage();
    pdf_.ink();
    return kMargin_mm +
           pdf_.paragraph(kMargin_mm, kMargin_mm, width(), title_ + ", continued",
                          {4.5, true, TextAlign::Left}) +
           2;
  }

  void foot() {
    pdf_.quiet();
    pdf_.text(kMargin_mm, pdf_.size().height_mm - kMargin_mm + 1,
              title_ + (options_.title.empty() ? "" : "   " + options_.title), 2.4, false,
              width() - 20);
    pdf_.text(right() - 12, pdf_.size().height_mm - kMargin_mm + 1,
              "page " + std::to_string(pdf_.pages() + 1), 2.4);
  }

  const HoopingPlan& plan_;
  const HoopingSheetOptions& options_;
  PdfPages pdf_;
  Box all_;
  std::string title_;
};

}  // namespace

HoopingSheets writeHoopingSheets(const HoopingPlan& plan, const HoopingSheetOptions& options,
                                 const std::filesystem::path& path) {
  if (plan.hoopings.empty())
    throw Error("the plan has no hooping", "plan", "plan the hoopings first");
  HoopingSheets out;
  const std::string bytes = Sheets(plan, options).run(out);
  if (out.pages > static_cast<int>(plan.settings()))
    out.warnings.push_back(
        "some sheets go on overleaf: their threads or marks fill more than a page");
  writeFile(path, bytes);
  return out;
}

}  // namespace rt
