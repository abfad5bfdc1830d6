// A PDF under way, drawn in millimetres, its text shaped and searchable. Part of the writers of
// this room.
#pragma once

#include <cairo-pdf.h>

#include <memory>
#include <string>
#include <vector>

#include "paper.h"
#include "pattern.h"

typedef struct _PangoContext PangoContext;
typedef struct _PangoLayout PangoLayout;

namespace rt {

enum class TextAlign { Left, Right, Middle };

struct TextStyle {
  double size_mm = 3;  ///< Of the font; lines are about 1.25 of it apart.
  bool bold = false;
  TextAlign align = TextAlign::Left;
};

class PdfPages {
 public:
  /// Text is set in the font that ships with the program; letters that it lacks come from the
  /// system's. Throws Error for a printer that is farther off than can be corrected.
  explicit PdfPages(SheetSize size, PrinterScale printer = {});
  ~PdfPages();
  PdfPages(const PdfPages&) = delete;
  PdfPages& operator=(const PdfPages&) = delete;

  SheetSize size() const { return size_; }
  /// Scaled to millimetres from the page's top left.
  cairo_t* cr() const { return cr_.get(); }
  /// One line with its baseline at y; what is wider than `room_mm` (0: any) is set smaller until
  /// it fits.
  void text(double x_mm, double y_mm, const std::string& words, double size_mm, bool bold = false,
            double room_mm = 0);
  /// Words wrapped within a width, top left at (x, y). Gives their height, mm.
  double paragraph(double x_mm, double y_mm, double width_mm, const std::string& words,
                   const TextStyle& style);
  /// The height that `paragraph` would take, mm.
  double heightOf(double width_mm, const std::string& words, const TextStyle& style) const;
  double widthOf(const std::string& words, double size_mm, bool bold = false) const;

  void colour(double r, double g, double b) { cairo_set_source_rgb(cr(), r, g, b); }
  void colour(Colour thread, double opacity = 1);
  void ink() { colour(0.1, 0.12, 0.16); }
  void quiet() { colour(0.42, 0.45, 0.5); }
  void line(double x0, double y0, double x1, double y1);
  void endPage();
  int pages() const { return pages_; }  ///< Ended so far.
  /// The file's bytes. Throws Error if it could not be made.
  std::string finish();

 private:
  struct Release {
    void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
    void operator()(cairo_t* c) const { cairo_destroy(c); }
    void operator()(PangoContext* c) const;
    void operator()(PangoLayout* l) const;
  };
  using Words = std::unique_ptr<PangoLayout, Release>;
  Words set(const std::string& words, const TextStyle& style, double width_mm) const;

  SheetSize size_;
  PrinterScale printer_;
  std::string out_;
  std::unique_ptr<cairo_surface_t, Release> surface_;
  std::unique_ptr<cairo_t, Release> cr_;
  std::unique_ptr<PangoContext, Release> context_;
  int pages_ = 0;
};

/// A column of a table.
struct TableColumn {
  std::string title;
  double width_mm = 20;
  TextAlign align = TextAlign::Left;
};

/// A table whose cells wrap. Rows that do not fit above `bottom_mm` are left for the next page.
class PdfTable {
 public:
  PdfTable(PdfPages& pdf, std::vector<TableColumn> columns, double size_mm = 2.8)
      : pdf_(pdf), columns_(std::move(columns)), size_(size_mm) {}
  /// Draws the titles; gives the place below them.
  double head(double x_mm, double y_mm);
  /// The height that a row takes, mm.
  double heightOf(const std::vector<std::string>& cells) const;
  /// Draws a row; gives the place below it. `swatch` is drawn before the first cell.
  double row(double x_mm, double y_mm, const std::vector<std::string>& cells,
             const Colour* swatch = nullptr);

 private:
  PdfPages& pdf_;
  std::vector<TableColumn> columns_;
  double size_;
};

}  // namespace rt
