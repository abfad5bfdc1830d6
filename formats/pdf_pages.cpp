#include "pdf_pages.h"

#include "error.h"

namespace rt {
namespace {

constexpr double kPoint_mm = 25.4 / 72;

cairo_status_t collect(void* closure, const unsigned char* data, unsigned length) {
  static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
  return CAIRO_STATUS_SUCCESS;
}

}  // namespace

PdfPages::PdfPages(SheetSize size)
    : surface_(cairo_pdf_surface_create_for_stream(collect, &out_, size.width_mm / kPoint_mm,
                                                   size.height_mm / kPoint_mm)),
      cr_(cairo_create(surface_.get())) {
  cairo_scale(cr(), 1 / kPoint_mm, 1 / kPoint_mm);
}

void PdfPages::text(double x, double y, const std::string& words, double size_mm, bool bold) {
  cairo_select_font_face(cr(), "Lato", CAIRO_FONT_SLANT_NORMAL,
                         bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
  cairo_set_font_size(cr(), size_mm);
  cairo_move_to(cr(), x, y);
  cairo_show_text(cr(), words.c_str());
  cairo_new_path(cr());
}

void PdfPages::colour(Colour thread, double opacity) {
  cairo_set_source_rgba(cr(), (thread.rgb >> 16 & 255) / 255.0, (thread.rgb >> 8 & 255) / 255.0,
                        (thread.rgb & 255) / 255.0, opacity);
}

std::string PdfPages::finish() {
  cr_.reset();
  cairo_surface_finish(surface_.get());
  if (cairo_surface_status(surface_.get()) != CAIRO_STATUS_SUCCESS)
    throw Error("the PDF could not be made", "sheet", "check the free memory and disk");
  return std::move(out_);
}

}  // namespace rt
