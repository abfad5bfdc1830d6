// True-size paper templates.
#pragma once

#include <filesystem>

#include "geometry.h"
#include "paper.h"
#include "pattern.h"
#include "thread_shelf.h"

namespace rt {

struct TemplateOptions {
  Paper paper = Paper::A4;
  PrinterScale printer = {};
  bool mirror = false;          ///< For the inside of a garment.
  double grid_mm = 0;           ///< 0: none.
  double margin_mm = 12;        ///< Unprintable edge and room for the notes.
  double tile_overlap_mm = 10;  ///< Of pages to be joined.
  std::string title;
  std::vector<ShelfThread> shelf;  ///< Names the nearest thread of each colour; may be empty.
};

struct TemplateTile {
  int column = 0, row = 0;  ///< From the top left, from 1.
  Box window;               ///< What the sheet shows, as printed (mirrored if asked), mm.
};

struct TemplateResult {
  std::vector<TemplateTile> tiles;
  double scale = 1;  ///< Always 1: paper shows true size.
  std::vector<std::string> warnings;
};

/// The sheets that a layout takes; what writeTemplate prints.
TemplateResult planTemplate(const Pattern& pattern, const TemplateOptions& options);
/// Writes a PDF: stitches, outline, centre cross, check ruler (100 mm and 4 in), thread list; pages
/// to be joined carry register marks. Throws Error for an empty layout or one over 400 sheets.
TemplateResult writeTemplate(const Pattern& pattern, const TemplateOptions& options,
                             const std::filesystem::path& path);

}  // namespace rt
