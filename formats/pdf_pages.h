// A PDF under way, drawn in millimetres. Part of the writers of this room.
#pragma once

#include <cairo-pdf.h>

#include <memory>
#include <string>

#include "paper.h"
#include "pattern.h"

namespace rt {

class PdfPages {
 public:
  explicit PdfPages(SheetSize size);
  /// Scaled to millimetres from the page's top left.
  cairo_t* cr() const { return cr_.get(); }
  void text(double x_mm, double y_mm, const std::string& words, double size_mm, bool bold = false);
  void colour(double r, double g, double b) { cairo_set_source_rgb(cr(), r, g, b); }
  void colour(Colour thread, double opacity = 1);
  void endPage() { cairo_show_page(cr()); }
  /// The file's bytes. Throws Error if it could not be made.
  std::string finish();

 private:
  struct Release {
    void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
    void operator()(cairo_t* c) const { cairo_destroy(c); }
  };
  std::string out_;
  std::unique_ptr<cairo_surface_t, Release> surface_;
  std::unique_ptr<cairo_t, Release> cr_;
};

}  // namespace rt
