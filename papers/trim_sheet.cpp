#include "trim_sheet.h"

#include <algorithm>

#include "cuts.h"
#include "error.h"
#include "file_io.h"
#include "length.h"
#include "pdf_pages.h"

namespace rt {
namespace {

constexpr int kColumns = 3, kRows = 4;
constexpr size_t kMostCuts = 4800;
constexpr double kMargin_mm = 14, kHead_mm = 16, kWords_mm = 12;

class Sheets {
 public:
  Sheets(const Pattern& pattern, const TrimSheetOptions& options, std::vector<CutSpot> cuts)
      : pattern_(pattern),
        options_(options),
        cuts_(std::move(cuts)),
        size_(sheetSize(options.paper)),
        pdf_(size_) {
    forEachSegment(pattern, [&](Point a, Point b, size_t row) {
      segments_.push_back({a, b, row});
    });
  }

  std::string run() {
    constexpr size_t kEach = kColumns * kRows;
    for (size_t i = 0; i < cuts_.size(); ++i) {
      if (i % kEach == 0) head(i / kEach + 1, (cuts_.size() + kEach - 1) / kEach);
      cell(i, static_cast<int>(i % kEach));
      if (i % kEach + 1 == kEach || i + 1 == cuts_.size()) pdf_.endPage();
    }
    return pdf_.finish();
  }

 private:
  struct Segment {
    Point a, b;
    size_t row;
  };

  void head(size_t page, size_t pages) {
    pdf_.colour(0, 0, 0);
    const double room = size_.width_mm - 2 * kMargin_mm;
    pdf_.text(kMargin_mm, kMargin_mm + 5, "Trim sheet: " + options_.title, 5, true, room);
    pdf_.text(
        kMargin_mm, kMargin_mm + 11,
        "In the order of sewing. Ring: the thread's end. Cross: where sewing goes on. Sheet " +
            std::to_string(page) + " of " + std::to_string(pages),
        3, false, room);
  }

  void cell(size_t index, int place) {
    const double w = (size_.width_mm - 2 * kMargin_mm) / kColumns,
                 h = (size_.height_mm - 2 * kMargin_mm - kHead_mm) / kRows;
    const double x = kMargin_mm + w * (place % kColumns),
                 y = kMargin_mm + kHead_mm + h * (place / kColumns);
    const Box frame{x + 1, y + 1, x + w - 2, y + h - kWords_mm};
    const CutSpot& cut = cuts_[index];
    picture(cut, frame);
    words(index, cut, frame);
  }

  void picture(const CutSpot& cut, const Box& frame) {
    cairo_t* cr = pdf_.cr();
    const Point middle = mix(cut.from, cut.to, 0.5);
    const double half = std::max(options_.around_mm, cut.jump_mm() * 0.62);
    const double scale = std::min(frame.width(), frame.height()) / (2 * half);
    cairo_save(cr);
    cairo_rectangle(cr, frame.left, frame.top, frame.width(), frame.height());
    cairo_clip(cr);
    cairo_translate(cr, frame.centre().x, frame.centre().y);
    cairo_scale(cr, scale, scale);
    cairo_translate(cr, -middle.x, -middle.y);
    sewn(cut, middle, half * frame.width() / std::min(frame.width(), frame.height()) + 1);
    marks(cut, scale);
    cairo_restore(cr);
    pdf_.colour(0.6, 0.6, 0.6);
    cairo_set_line_width(cr, 0.2);
    cairo_rectangle(cr, frame.left, frame.top, frame.width(), frame.height());
    cairo_stroke(cr);
  }

  /// Thread that lies there by then.
  void sewn(const CutSpot& cut, Point middle, double half) {
    cairo_t* cr = pdf_.cr();
    const Box seen = Box::around(middle, 2 * half, 2 * half);
    cairo_set_line_width(cr, 0.3);
    cairo_set_line_cap(cr, CAIRO_LINE_CAP_ROUND);
    for (const Segment& s : segments_) {
      if (s.row >= cut.row) break;
      if (std::max(s.a.x, s.b.x) < seen.left || std::min(s.a.x, s.b.x) > seen.right ||
          std::max(s.a.y, s.b.y) < seen.top || std::min(s.a.y, s.b.y) > seen.bottom)
        continue;
      pdf_.colour(pattern_.colourOf(pattern_.stitches[s.row]), 0.75);
      cairo_move_to(cr, s.a.x, s.a.y);
      cairo_line_to(cr, s.b.x, s.b.y);
      cairo_stroke(cr);
    }
  }

  void marks(const CutSpot& cut, double scale) {
    cairo_t* cr = pdf_.cr();
    const double r = 2.2 / scale, line = 0.5 / scale;
    pdf_.colour(0, 0, 0);
    cairo_set_line_width(cr, line);
    const double dash[] = {3 * line, 2 * line};
    cairo_set_dash(cr, dash, 2, 0);
    cairo_move_to(cr, cut.from.x, cut.from.y);
    cairo_line_to(cr, cut.to.x, cut.to.y);
    cairo_stroke(cr);
    cairo_set_dash(cr, nullptr, 0, 0);
    cairo_arc(cr, cut.from.x, cut.from.y, r, 0, 2 * kPi);
    cairo_stroke(cr);
    cairo_move_to(cr, cut.to.x - r, cut.to.y);
    cairo_line_to(cr, cut.to.x + r, cut.to.y);
    cairo_move_to(cr, cut.to.x, cut.to.y - r);
    cairo_line_to(cr, cut.to.x, cut.to.y + r);
    cairo_stroke(cr);
  }

  void words(size_t index, const CutSpot& cut, const Box& frame) {
    pdf_.colour(0, 0, 0);
    const std::string who = cut.machine ? "machine trims" : "trim by hand";
    pdf_.text(frame.left, frame.bottom + 4,
              std::to_string(index + 1) + "  stitch " + std::to_string(cut.stitch) + ", " + who, 3,
              !cut.machine, frame.width());
    const std::string& piece = pattern_.pieces[pattern_.stitches[cut.row].piece];
    pdf_.text(frame.left, frame.bottom + 8,
              pattern_.threads[cut.thread].hex() + ", " + formatNumber(cut.jump_mm(), 1) +
                  " mm on" + (piece.empty() ? std::string() : " to " + piece),
              2.6, false, frame.width());
  }

  const Pattern& pattern_;
  const TrimSheetOptions& options_;
  std::vector<CutSpot> cuts_;
  std::vector<Segment> segments_;
  SheetSize size_;
  PdfPages pdf_;
};

}  // namespace

TrimSheetResult writeTrimSheet(const Pattern& pattern, const TrimSheetOptions& options,
                               const std::filesystem::path& path) {
  std::vector<CutSpot> cuts = cutSpots(pattern);
  if (options.only_by_hand) std::erase_if(cuts, [](const CutSpot& c) { return c.machine; });
  if (cuts.empty())
    throw Error("there is no cut to show", "trim sheet", "nothing needs to be trimmed");
  if (cuts.size() > kMostCuts)
    throw Error(std::to_string(cuts.size()) + " cuts would fill " +
                    std::to_string(cuts.size() / (kColumns * kRows)) + " sheets",
                "trim sheet", "write it for one hooping at a time");
  TrimSheetResult out;
  out.cuts = cuts.size();
  out.by_hand = static_cast<size_t>(
      std::count_if(cuts.begin(), cuts.end(), [](const CutSpot& c) { return !c.machine; }));
  out.pages = static_cast<int>((cuts.size() + kColumns * kRows - 1) / (kColumns * kRows));
  writeFile(path, Sheets(pattern, options, std::move(cuts)).run());
  return out;
}

}  // namespace rt
