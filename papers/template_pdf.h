// True-size paper templates.
#pragma once

#include <filesystem>

#include "geometry.h"
#include "paper.h"
#include "pattern.h"
#include "thread_shelf.h"

namespace rt {

/// Which way round a template is laid: on the cloth, or mirrored and taped to its inside.
enum class TemplateSide { Outside, Inside, Both };

/// A line of the item that is printed along, like a neckline or the edge of a zone; layout mm.
struct TemplateEdge {
  std::string name;
  std::vector<Point> points;
  bool closed = false;
};

struct TemplateOptions {
  Paper paper = Paper::A4;
  PrinterScale printer = {};
  TemplateSide side = TemplateSide::Outside;  ///< Both: outside first, then mirrored.
  std::vector<TemplateEdge> edges = {};
  double grid_mm = 0;           ///< 0: none.
  double margin_mm = 12;        ///< Unprintable edge and room for the notes.
  double tile_overlap_mm = 10;  ///< Of pages to be joined.
  std::string title;
  std::vector<ShelfThread> shelf;  ///< Names the nearest thread of each colour; may be empty.
};

struct TemplateTile {
  int column = 0, row = 0;  ///< From the top left, from 1.
  bool mirrored = false;
  Box window;  ///< What the sheet shows, as printed (mirrored if asked), mm.
};

struct TemplateResult {
  std::vector<TemplateTile> tiles;
  double scale = 1;        ///< Always 1: paper shows true size.
  bool cross_off = false;  ///< No sheet holds the item's cross.
  std::vector<std::string> warnings;
};

/// The sheets that a layout takes, in page order; what writeTemplate prints.
TemplateResult planTemplate(const Pattern& pattern, const TemplateOptions& options);
/// Writes a PDF: stitches, outline, edges, the item's cross and the piece's own centre, each with a
/// ring for the pin; which side is the top, check ruler (100 mm and 4 in), thread list; pages to be
/// joined carry register marks. A cross that no sheet holds is a warning. Throws Error for an empty
/// layout or one over 400 sheets.
TemplateResult writeTemplate(const Pattern& pattern, const TemplateOptions& options,
                             const std::filesystem::path& path);

}  // namespace rt
