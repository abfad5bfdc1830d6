#include "tag_sheets.h"

#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>

#include <memory>

#include "error.h"
#include "file_io.h"
#include "length.h"
#include "pdf_pages.h"

namespace rt {
namespace {

constexpr double kMargin_mm = 12, kRuler_mm = 16, kLabel_mm = 5, kGap_mm = 3;
constexpr int kBlackModules = 8;       // edge of the black square
constexpr double kWhiteModules = 1.5;  // margin to cut along
constexpr double kLeast_mm = 4, kMost_mm = 150;

struct Family {
  apriltag_family_t* family = tag36h11_create();
  ~Family() { tag36h11_destroy(family); }
  Family() = default;
  Family(const Family&) = delete;
  Family& operator=(const Family&) = delete;
};

/// Black cells of a tag, drawn as the library draws them, its white rim included.
void drawTag(PdfPages& pdf, const Family& family, int id, double x, double y, double size_mm) {
  const std::unique_ptr<image_u8_t, decltype(&image_u8_destroy)> image(
      apriltag_to_image(family.family, static_cast<uint32_t>(id)), &image_u8_destroy);
  const double module = size_mm / kBlackModules;
  const int rim = (image->width - kBlackModules) / 2;
  cairo_t* cr = pdf.cr();
  pdf.colour(0, 0, 0);
  cairo_set_antialias(cr, CAIRO_ANTIALIAS_NONE);
  for (int row = 0; row < image->height; ++row)
    for (int column = 0; column < image->width;) {
      int end = column;
      while (end < image->width && image->buf[row * image->stride + end] < 128) ++end;
      if (end > column)  // a hair of overlap, so that no white line shows between rows
        cairo_rectangle(cr, x + (column - rim) * module, y + (row - rim) * module,
                        (end - column) * module, module * 1.005);
      column = std::max(end, column + 1);
    }
  cairo_fill(cr);
}

}  // namespace

int tagCount() {
  const Family family;
  return static_cast<int>(family.family->ncodes);
}

TagSheets writeTagSheets(const TagSheetOptions& o, const std::filesystem::path& path) {
  const Family family;
  const int known = static_cast<int>(family.family->ncodes);
  if (o.count < 1) throw Error("no tag is asked for", "count", "give a count of 1 or more");
  if (o.first < 0 || o.first >= known || o.count > known - o.first)
    throw Error("the tag family has the ids 0 to " + std::to_string(known - 1), "first and count",
                "keep first + count within " + std::to_string(known));
  if (!(o.size_mm >= kLeast_mm && o.size_mm <= kMost_mm))
    throw Error("a tag of " + formatNumber(o.size_mm, 1) + " mm is of no use", "size",
                "give 4 to 150 mm: smaller ones are not read, larger ones fit no sheet");
  const SheetSize sheet = sheetSize(o.paper);
  const double margin = kWhiteModules * o.size_mm / kBlackModules;
  const double cell = o.size_mm + 2 * margin + kGap_mm, high = cell + kLabel_mm;
  const int columns = static_cast<int>((sheet.width_mm - 2 * kMargin_mm + kGap_mm) / cell);
  const int rows = static_cast<int>((sheet.height_mm - 2 * kMargin_mm - kRuler_mm) / high);
  if (columns < 1 || rows < 1)
    throw Error("a tag of " + formatNumber(o.size_mm, 1) + " mm does not fit the sheet", "size",
                "take a larger paper or a smaller tag");
  PdfPages pdf(sheet, o.printer);
  TagSheets out;
  const int each = columns * rows;
  for (int k = 0; k < o.count; ++k) {
    if (k % each == 0) {
      pdf.ink();
      cairo_set_line_width(pdf.cr(), 0.2);
      const double y = kMargin_mm + 2;
      pdf.line(kMargin_mm, y, kMargin_mm + 100, y);
      for (int t = 0; t <= 10; ++t)
        pdf.line(kMargin_mm + 10 * t, y, kMargin_mm + 10 * t, y + (t % 10 == 0 ? 3 : 2));
      pdf.text(kMargin_mm, y + 6.5, "100 mm", 2.6);
      pdf.paragraph(kMargin_mm + 106, kMargin_mm - 1, sheet.width_mm - 2 * kMargin_mm - 106,
                    "Print at 100 % and measure the ruler. The black square is " +
                        formatNumber(o.size_mm, 1) + " mm; leave the white rim on.",
                    {2.6, false, TextAlign::Left});
    }
    const int place = k % each;
    const double x = kMargin_mm + (place % columns) * cell + margin,
                 y = kMargin_mm + kRuler_mm + (place / columns) * high + margin;
    const int id = o.first + k;
    drawTag(pdf, family, id, x, y, o.size_mm);
    cairo_set_antialias(pdf.cr(), CAIRO_ANTIALIAS_DEFAULT);
    pdf.colour(0.75, 0.75, 0.75);
    cairo_set_line_width(pdf.cr(), 0.1);
    cairo_rectangle(pdf.cr(), x - margin, y - margin, o.size_mm + 2 * margin,
                    o.size_mm + 2 * margin);
    cairo_stroke(pdf.cr());
    pdf.ink();
    pdf.text(x - margin, y + o.size_mm + margin + 3.4, std::to_string(id), 3);
    out.ids.push_back(id);
    if (place + 1 == each || k + 1 == o.count) pdf.endPage();
  }
  out.pages = pdf.pages();
  writeFile(path, pdf.finish());
  return out;
}

}  // namespace rt
