#include "template_pdf.h"

#include <algorithm>
#include <optional>

#include "error.h"
#include "file_io.h"
#include "length.h"
#include "pdf_pages.h"

namespace rt {
namespace {

constexpr int kMostSheets = 400;
constexpr double kRulers_mm = 21;       // room below the layout for the check rulers
constexpr double kThread_mm = 52;       // width of an entry of the thread list
constexpr double kThreadLine_mm = 4.2;  // and its height
constexpr double kOwnCentre_mm = 1;     // nearer to the cross it is the same place
constexpr size_t kLongTitle = 70;       // letters; more leave no room for the notes

/// How the sheets lie over the layout (already mirrored if asked).
struct Tiling {
  SheetSize sheet;
  Box layout;
  double window_w = 0, window_h = 0;  // what one sheet shows
  double step_w = 0, step_h = 0;
  int columns = 1, rows = 1;
  Point origin;  // top left of the first window

  size_t threads = 0;

  Tiling(const Box& box, size_t threads_, const TemplateOptions& o)
      : layout(box), threads(threads_) {
    sheet = sheetSize(o.paper);
    const double w = box.width() + 4, h = box.height() + 4;
    const auto pages = [&](const SheetSize& s) {
      fit(s, o, w, h);
      return columns * rows;
    };
    const int upright = pages(sheet);
    const SheetSize across{sheet.height_mm, sheet.width_mm};
    if (pages(across) < upright) sheet = across;
    fit(sheet, o, w, h);
    origin = {box.centre().x - (window_w + (columns - 1) * step_w) / 2,
              box.centre().y - (window_h + (rows - 1) * step_h) / 2};
  }
  size_t threadColumns() const {
    return std::max<size_t>(1, static_cast<size_t>(window_w / kThread_mm));
  }
  /// Below the layout: rulers and all threads.
  double notes_mm() const {
    const size_t lines = (threads + threadColumns() - 1) / threadColumns();
    return std::min(kRulers_mm + 2 + static_cast<double>(lines) * kThreadLine_mm, 150.0);
  }
  void fit(const SheetSize& s, const TemplateOptions& o, double w, double h) {
    window_w = s.width_mm - 2 * o.margin_mm;
    window_h = s.height_mm - 2 * o.margin_mm - notes_mm();
    step_w = window_w - o.tile_overlap_mm;
    step_h = window_h - o.tile_overlap_mm;
    columns = w <= window_w ? 1 : 1 + static_cast<int>(std::ceil((w - window_w) / step_w));
    rows = h <= window_h ? 1 : 1 + static_cast<int>(std::ceil((h - window_h) / step_h));
  }
  Box window(int column, int row) const {
    const double x = origin.x + column * step_w, y = origin.y + row * step_h;
    return {x, y, x + window_w, y + window_h};
  }
};

std::string shortened(const std::string& title) {
  if (title.size() <= kLongTitle) return title;
  size_t end = kLongTitle;
  while (end > 0 && (static_cast<unsigned char>(title[end]) & 0xC0) == 0x80) --end;
  return title.substr(0, end) + "…";
}

/// As it is drawn: a pale thread is darkened, white paper would not show it. The list has its own.
Colour onPaper(Colour thread) {
  constexpr double kPale = 0.72, kDarker = 0.62;
  const auto part = [&](int shift) { return static_cast<double>(thread.rgb >> shift & 255); };
  const double light = (0.2126 * part(16) + 0.7152 * part(8) + 0.0722 * part(0)) / 255;
  if (light < kPale) return thread;
  Colour out;
  for (int shift : {16, 8, 0}) out.rgb |= static_cast<uint32_t>(part(shift) * kDarker) << shift;
  return out;
}

/// One side of a layout, on its pages.
class Printer {
 public:
  Printer(PdfPages& pdf, const Pattern& pattern, const TemplateOptions& options,
          const Tiling& tiling, bool mirrored)
      : pdf_(pdf), pattern_(pattern), options_(options), tiling_(tiling), mirrored_(mirrored) {}

  void run() {
    for (int row = 0; row < tiling_.rows; ++row)
      for (int column = 0; column < tiling_.columns; ++column) page(column, row);
  }

 private:
  cairo_t* cr() const { return pdf_.cr(); }

  void page(int column, int row) {
    const Box window = tiling_.window(column, row);
    cairo_save(cr());
    cairo_translate(cr(), options_.margin_mm, options_.margin_mm);
    cairo_save(cr());
    cairo_rectangle(cr(), 0, 0, window.width(), window.height());
    cairo_clip(cr());
    cairo_translate(cr(), -window.left, -window.top);
    grid(window);
    stitches(window);
    edges();
    outline();
    cross(window);
    ownCentre();
    cairo_restore(cr());
    top(window);
    registerMarks(column, row, window);
    notes(column, row, window);
    cairo_restore(cr());
    pdf_.endPage();
  }

  void line(double x0, double y0, double x1, double y1) { pdf_.line(x0, y0, x1, y1); }

  void grid(const Box& window) {
    if (!(options_.grid_mm > 0)) return;
    cairo_set_source_rgb(cr(), 0.82, 0.82, 0.82);
    cairo_set_line_width(cr(), 0.1);
    const double g = options_.grid_mm;
    for (double x = std::ceil(window.left / g) * g; x <= window.right; x += g)
      line(x, window.top, x, window.bottom);
    for (double y = std::ceil(window.top / g) * g; y <= window.bottom; y += g)
      line(window.left, y, window.right, y);
  }

  void stitches(const Box& sheet) {
    const Box window = sheet.grown(1);
    cairo_set_line_width(cr(), 0.25);
    cairo_set_line_cap(cr(), CAIRO_LINE_CAP_ROUND);
    int pending = -1;
    forEachSegment(pattern_, [&](Point a, Point b, size_t row) {
      Box along{a.x, a.y, a.x, a.y};
      along.add(b);  // a long stitch may cross the sheet with both ends beside it
      if (along.right < window.left || along.left > window.right || along.bottom < window.top ||
          along.top > window.bottom)
        return;
      const int thread = pattern_.stitches[row].thread;
      if (thread != pending) {
        cairo_stroke(cr());
        pdf_.colour(onPaper(pattern_.threads[static_cast<size_t>(thread)]));
        pending = thread;
      }
      cairo_move_to(cr(), a.x, a.y);
      cairo_line_to(cr(), b.x, b.y);
    });
    cairo_stroke(cr());
  }

  void ink() { pdf_.ink(); }

  void outline() {
    ink();
    cairo_set_line_width(cr(), 0.2);
    const double dash[] = {2, 1.5};
    cairo_set_dash(cr(), dash, 2, 0);
    cairo_rectangle(cr(), tiling_.layout.left, tiling_.layout.top, tiling_.layout.width(),
                    tiling_.layout.height());
    cairo_stroke(cr());
    cairo_set_dash(cr(), nullptr, 0, 0);
  }

  /// Lines of the item, dotted, with their names.
  void edges() {
    ink();
    cairo_set_line_width(cr(), 0.3);
    const double dots[] = {0.4, 1.6};
    for (const TemplateEdge& e : options_.edges) {
      if (e.points.size() < 2) continue;
      const auto place = [&](Point p) { return mirrored_ ? Point{-p.x, p.y} : p; };
      cairo_set_dash(cr(), dots, 2, 0);
      cairo_new_path(cr());
      for (Point p : e.points) cairo_line_to(cr(), place(p).x, place(p).y);
      if (e.closed) cairo_close_path(cr());
      cairo_stroke(cr());
      cairo_set_dash(cr(), nullptr, 0, 0);
      const Point at = place(e.points.front());
      label({at.x + 1, at.y - 1}, e.name);
    }
  }

  /// Centre lines over the whole sheet, and a ring to push the pin through.
  void cross(const Box& window) {
    ink();
    cairo_set_line_width(cr(), 0.15);
    line(window.left, 0, window.right, 0);
    line(0, window.top, 0, window.bottom);
    cairo_set_line_width(cr(), 0.3);
    cairo_new_path(cr());
    cairo_arc(cr(), 0, 0, 2, 0, 2 * kPi);
    cairo_stroke(cr());
    label({2.5, -1.5}, "cross of the item");
  }

  /// Where the piece's own middle comes to lie, unless that is the cross.
  void ownCentre() {
    const Point c = tiling_.layout.centre();
    if (length(c) < kOwnCentre_mm) return;
    constexpr double kArm_mm = 5, kRing_mm = 2;
    ink();
    cairo_set_line_width(cr(), 0.3);
    line(c.x - kArm_mm, c.y, c.x + kArm_mm, c.y);
    line(c.x, c.y - kArm_mm, c.x, c.y + kArm_mm);
    cairo_new_path(cr());
    cairo_arc(cr(), c.x, c.y, kRing_mm, 0, 2 * kPi);
    cairo_stroke(cr());
    label({c.x + 2.5, c.y - 1.5}, "middle of the piece");
  }

  /// Which way up, and which side, on every sheet.
  void top(const Box& window) {
    ink();
    const double x = window.width() / 2;
    cairo_new_path(cr());
    cairo_move_to(cr(), x - 9, -1.5);
    cairo_line_to(cr(), x - 5, -1.5);
    cairo_line_to(cr(), x - 7, -5);
    cairo_close_path(cr());
    cairo_fill(cr());
    pdf_.text(x - 3, -1.5,
              mirrored_ ? "TOP. Mirrored: tape it to the inside, letters read backwards" : "TOP",
              3.2, true);
  }

  void text(double x, double y, double size_mm, const std::string& words) {
    pdf_.text(x, y, words, size_mm);
  }

  /// Words on white, so that they can be read over thread.
  void label(Point at, const std::string& words) {
    constexpr double kSize_mm = 2.6, kRim_mm = 0.4;
    pdf_.colour(1, 1, 1);
    cairo_rectangle(cr(), at.x - kRim_mm, at.y - kSize_mm,
                    pdf_.widthOf(words, kSize_mm) + 2 * kRim_mm, kSize_mm + 2 * kRim_mm);
    cairo_fill(cr());
    ink();
    text(at.x, at.y, kSize_mm, words);
  }

  /// Marks in the strip that neighbouring sheets share: lay one on the other.
  void registerMarks(int column, int row, const Box& window) {
    ink();
    cairo_set_line_width(cr(), 0.2);
    const double half = options_.tile_overlap_mm / 2;
    auto mark = [&](double x, double y) {
      line(x - 3, y, x + 3, y);
      line(x, y - 3, x, y + 3);
    };
    for (double t : {0.2, 0.8}) {
      if (column > 0) mark(half, t * window.height());
      if (column + 1 < tiling_.columns) mark(window.width() - half, t * window.height());
      if (row > 0) mark(t * window.width(), half);
      if (row + 1 < tiling_.rows) mark(t * window.width(), window.height() - half);
    }
  }

  void notes(int column, int row, const Box& window) {
    const double y = window.height() + 5;
    ink();
    cairo_set_line_width(cr(), 0.2);
    ruler(0, y, 100, 10, "100 mm");
    ruler(0, y + 9, 101.6, 25.4, "4 in");
    const Box& b = tiling_.layout;
    const double room = window.width() - 108;
    const std::string about = formatMillimetres(b.width()) + " x " + formatMillimetres(b.height()) +
                              " (" + formatInches(b.width()) + " x " + formatInches(b.height()) +
                              ")";
    double at = y - 1;
    at += pdf_.paragraph(108, at, room, shortened(options_.title), {3, true, TextAlign::Left});
    at += pdf_.paragraph(108, at, room, about, {3, false, TextAlign::Left});
    pdf_.paragraph(108, at, room,
                   "Print at 100 %, measure the ruler. Sheet " + std::to_string(column + 1) + "." +
                       std::to_string(row + 1) + " of " + std::to_string(tiling_.columns) + " x " +
                       std::to_string(tiling_.rows),
                   {2.6, false, TextAlign::Left});
    threads(y + kRulers_mm - 2);
  }

  /// Every thread in order of first use, as many beside one another as the sheet is wide.
  void threads(double y) {
    const size_t columns = tiling_.threadColumns();
    size_t n = 0;
    std::vector<bool> used(pattern_.threads.size());
    for (const Stitch& s : pattern_.stitches) {
      if (s.op != Op::Stitch || used[s.thread]) continue;
      used[s.thread] = true;
      const double x = static_cast<double>(n % columns) * kThread_mm;
      const double line = y + static_cast<double>(n / columns) * kThreadLine_mm;
      const Colour colour = pattern_.colourOf(s);
      pdf_.colour(colour);
      cairo_rectangle(cr(), x, line, 3.4, 3.4);
      cairo_fill_preserve(cr());
      ink();
      cairo_set_line_width(cr(), 0.1);
      cairo_stroke(cr());  // so that a pale one is seen
      std::string words = colour.hex();
      if (const auto near = nearestThread(options_.shelf, colour))
        words += "  " + near->thread->name;
      pdf_.text(x + 4.4, line + 2.8, words, 2.5, false, kThread_mm - 6);
      ++n;
    }
  }

  void ruler(double x, double y, double length_mm, double step_mm, const std::string& words) {
    line(x, y, x + length_mm, y);
    for (int k = 0; k * step_mm <= length_mm + 0.01; ++k)
      line(x + k * step_mm, y, x + k * step_mm,
           y + (k * step_mm > length_mm - 0.01 || k == 0 ? 3 : 2));
    text(x, y + 6, 2.6, words);
  }

  PdfPages& pdf_;
  const Pattern& pattern_;
  const TemplateOptions& options_;
  const Tiling& tiling_;
  const bool mirrored_;
};

Pattern shown(const Pattern& pattern, bool mirrored) {
  return mirrored ? transformed(pattern, Transform::scaling(-1, 1)) : pattern;
}

/// Mirrored or not, in page order.
std::vector<bool> sidesOf(const TemplateOptions& options) {
  if (options.side == TemplateSide::Both) return {false, true};
  return {options.side == TemplateSide::Inside};
}

size_t threadsOf(const Pattern& pattern) {
  std::vector<bool> used(pattern.threads.size());
  for (const Stitch& s : pattern.stitches)
    if (s.op == Op::Stitch) used[s.thread] = true;
  return static_cast<size_t>(std::count(used.begin(), used.end(), true));
}

}  // namespace

TemplateResult planTemplate(const Pattern& pattern, const TemplateOptions& options) {
  const Box whole = threadBounds(pattern);
  if (whole.empty())
    throw Error("there is nothing to print", "layout", "put at least one piece on the cloth");
  TemplateResult out;
  for (bool mirrored : sidesOf(options)) {
    const Tiling tiling(threadBounds(shown(pattern, mirrored)), threadsOf(pattern), options);
    if (static_cast<double>(tiling.columns) * tiling.rows > kMostSheets)
      throw Error("the template takes over 400 sheets", "layout",
                  "check the layout's size: " + formatMillimetres(whole.width()) + " wide");
    for (int row = 1; row <= tiling.rows; ++row)
      for (int column = 1; column <= tiling.columns; ++column)
        out.tiles.push_back({column, row, mirrored, tiling.window(column - 1, row - 1)});
  }
  const size_t aSide = out.tiles.size() / sidesOf(options).size();
  if (aSide > 1)
    out.warnings.push_back("the layout takes " + std::to_string(aSide) +
                           " sheets: join them by their register marks");
  out.cross_off = std::none_of(out.tiles.begin(), out.tiles.end(), [](const TemplateTile& t) {
    return t.window.contains(Point{0, 0});
  });
  if (out.cross_off) {
    const Point c = whole.centre();
    out.warnings.push_back(
        "the item's cross lies off every sheet: measure from it, the middle of "
        "the piece is " +
        formatMillimetres(std::abs(c.x)) + (c.x < 0 ? " left" : " right") + " and " +
        formatMillimetres(std::abs(c.y)) + (c.y < 0 ? " above" : " below"));
  }
  return out;
}

TemplateResult writeTemplate(const Pattern& pattern, const TemplateOptions& options,
                             const std::filesystem::path& path) {
  const TemplateResult out = planTemplate(pattern, options);
  std::optional<PdfPages> pdf;
  for (bool mirrored : sidesOf(options)) {
    const Pattern laid = shown(pattern, mirrored);
    const Tiling tiling(threadBounds(laid), threadsOf(laid), options);
    if (!pdf) pdf.emplace(tiling.sheet, options.printer);
    Printer(*pdf, laid, options, tiling, mirrored).run();
  }
  writeFile(path, pdf->finish());
  return out;
}

}  // namespace rt
