#include "pdf_pages.h"

#include <fontconfig/fontconfig.h>
#include <pango/pangocairo.h>
#include <pango/pangofc-fontmap.h>

#include <algorithm>
#include <cmath>

#include "data_folder.h"
#include "error.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kPoint_mm = 25.4 / 72;
constexpr const char* kFamily = "Lato";
constexpr double kSwatch_mm = 3.2;

cairo_status_t collect(void* closure, const unsigned char* data, unsigned length) {
  static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
  return CAIRO_STATUS_SUCCESS;
}

/// The system's fonts and those that ship with the program; made once, kept for good.
PangoFontMap* fontMap() {
  static PangoFontMap* map = [] {
    FcConfig* config = FcInitLoadConfigAndFonts();
    try {
      const std::string fonts = (dataFolder() / "fonts").string();
      FcConfigAppFontAddDir(config, reinterpret_cast<const FcChar8*>(fonts.c_str()));
    } catch (const Error&) {
      // without the program's data the system's fonts have to do
    }
    PangoFontMap* made = pango_cairo_font_map_new_for_font_type(CAIRO_FONT_TYPE_FT);
    pango_fc_font_map_set_config(PANGO_FC_FONT_MAP(made), config);
    return made;
  }();
  return map;
}

}  // namespace

void PdfPages::Release::operator()(PangoContext* c) const {
  g_object_unref(c);
}
void PdfPages::Release::operator()(PangoLayout* l) const {
  g_object_unref(l);
}

PdfPages::PdfPages(SheetSize size, PrinterScale printer)
    : size_(size),
      printer_(printer),
      surface_(cairo_pdf_surface_create_for_stream(collect, &out_, size.width_mm / kPoint_mm,
                                                   size.height_mm / kPoint_mm)),
      cr_(cairo_create(surface_.get())),
      context_(pango_font_map_create_context(fontMap())) {
  if (!(std::abs(printer.ruler_mm - 100) <= kMostPrinterError_mm))
    throw Error("the printed 100 mm measure " + formatNumber(printer.ruler_mm, 1) + " mm",
                "printer", "print at 100 %, not fitted to the page, and measure again");
  cairo_scale(cr(), 1 / kPoint_mm, 1 / kPoint_mm);
  const double f = printer_.factor();  // about the page's middle, so that all edges share it
  cairo_translate(cr(), size_.width_mm / 2 * (1 - f), size_.height_mm / 2 * (1 - f));
  cairo_scale(cr(), f, f);
  // sizes are millimetres, not points: nothing is rounded to the pixels of a screen
  pango_cairo_context_set_resolution(context_.get(), 72);
  pango_context_set_round_glyph_positions(context_.get(), FALSE);
}

PdfPages::~PdfPages() = default;

namespace {

constexpr size_t kMostBytes =
    4'000;  // of one text on paper: nobody reads on, and setting it takes minutes

/// At a letter's end, with a sign that more was there.
std::string cutShort(const std::string& words) {
  if (words.size() <= kMostBytes) return words;
  size_t end = kMostBytes;
  while (end > 0 && (static_cast<unsigned char>(words[end]) & 0xC0) == 0x80) --end;
  return words.substr(0, end) + "…";
}

}  // namespace

PdfPages::Words PdfPages::set(const std::string& words, const TextStyle& style,
                              double width_mm) const {
  Words layout(pango_layout_new(context_.get()));
  PangoFontDescription* font = pango_font_description_new();
  pango_font_description_set_family(font, kFamily);
  pango_font_description_set_weight(font, style.bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
  pango_font_description_set_absolute_size(font, style.size_mm * PANGO_SCALE);
  pango_layout_set_font_description(layout.get(), font);
  pango_font_description_free(font);
  const std::string shown = cutShort(words);
  pango_layout_set_text(layout.get(), shown.data(), static_cast<int>(shown.size()));
  if (width_mm > 0) {
    pango_layout_set_width(layout.get(), static_cast<int>(width_mm * PANGO_SCALE));
    pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
    pango_layout_set_alignment(layout.get(), style.align == TextAlign::Right    ? PANGO_ALIGN_RIGHT
                                             : style.align == TextAlign::Middle ? PANGO_ALIGN_CENTER
                                                                                : PANGO_ALIGN_LEFT);
  }
  return layout;
}

double PdfPages::widthOf(const std::string& words, double size_mm, bool bold) const {
  int w = 0, h = 0;
  pango_layout_get_size(set(words, {size_mm, bold, TextAlign::Left}, 0).get(), &w, &h);
  return static_cast<double>(w) / PANGO_SCALE;
}

double PdfPages::heightOf(double width_mm, const std::string& words, const TextStyle& style) const {
  int w = 0, h = 0;
  pango_layout_get_size(set(words, style, width_mm).get(), &w, &h);
  return static_cast<double>(h) / PANGO_SCALE;
}

void PdfPages::text(double x, double y, const std::string& words, double size_mm, bool bold,
                    double room_mm) {
  if (room_mm > 0)
    if (const double w = widthOf(words, size_mm, bold); w > room_mm)
      size_mm = std::max(1.2, size_mm * room_mm / w);
  const Words layout = set(words, {size_mm, bold, TextAlign::Left}, 0);
  cairo_move_to(cr(), x,
                y - static_cast<double>(pango_layout_get_baseline(layout.get())) / PANGO_SCALE);
  pango_cairo_show_layout(cr(), layout.get());
  cairo_new_path(cr());
}

double PdfPages::paragraph(double x, double y, double width_mm, const std::string& words,
                           const TextStyle& style) {
  const Words layout = set(words, style, width_mm);
  cairo_move_to(cr(), x, y);
  pango_cairo_show_layout(cr(), layout.get());
  cairo_new_path(cr());
  int w = 0, h = 0;
  pango_layout_get_size(layout.get(), &w, &h);
  return static_cast<double>(h) / PANGO_SCALE;
}

void PdfPages::colour(Colour thread, double opacity) {
  cairo_set_source_rgba(cr(), (thread.rgb >> 16 & 255) / 255.0, (thread.rgb >> 8 & 255) / 255.0,
                        (thread.rgb & 255) / 255.0, opacity);
}

void PdfPages::line(double x0, double y0, double x1, double y1) {
  cairo_move_to(cr(), x0, y0);
  cairo_line_to(cr(), x1, y1);
  cairo_stroke(cr());
}

void PdfPages::endPage() {
  cairo_show_page(cr());
  ++pages_;
}

std::string PdfPages::finish() {
  cr_.reset();
  cairo_surface_finish(surface_.get());
  if (cairo_surface_status(surface_.get()) != CAIRO_STATUS_SUCCESS)
    throw Error("the PDF could not be made", "sheet", "check the free memory and disk");
  return std::move(out_);
}

double PdfTable::head(double x, double y) {
  pdf_.quiet();
  double at = x;
  double height = 0;
  for (const TableColumn& c : columns_) {
    height = std::max(
        height, pdf_.paragraph(at, y, c.width_mm - 1.5, c.title, {size_ * 0.9, true, c.align}));
    at += c.width_mm;
  }
  cairo_set_line_width(pdf_.cr(), 0.2);
  pdf_.line(x, y + height + 0.6, at - 1.5, y + height + 0.6);
  return y + height + 1.4;
}

double PdfTable::heightOf(const std::vector<std::string>& cells) const {
  double height = kSwatch_mm;
  for (size_t i = 0; i < std::min(cells.size(), columns_.size()); ++i)
    height = std::max(height, pdf_.heightOf(columns_[i].width_mm - (i == 0 ? 6 : 1.5), cells[i],
                                            {size_, false, columns_[i].align}));
  return height + 0.9;
}

double PdfTable::row(double x, double y, const std::vector<std::string>& cells,
                     const Colour* swatch) {
  double at = x;
  for (size_t i = 0; i < std::min(cells.size(), columns_.size()); ++i) {
    double room = columns_[i].width_mm - 1.5, from = at;
    if (i == 0 && swatch) {
      pdf_.colour(*swatch);
      cairo_rectangle(pdf_.cr(), at, y + 0.3, kSwatch_mm, kSwatch_mm);
      cairo_fill(pdf_.cr());
      from += kSwatch_mm + 1.3, room -= kSwatch_mm + 1.3;
    }
    pdf_.ink();
    pdf_.paragraph(from, y, room, cells[i], {size_, false, columns_[i].align});
    at += columns_[i].width_mm;
  }
  return y + heightOf(cells);
}

}  // namespace rt
