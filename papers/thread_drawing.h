// Sewn thread as it lies, drawn on paper. Part of the writers of this room.
#pragma once

#include "pattern.h"
#include "pdf_pages.h"

namespace rt {

/// The largest scale that fits a layout into so much paper, mm of paper for one of thread.
double scaleInto(const Pattern& layout, double width_mm, double height_mm);
/// Draws the layout about the middle of `frame` (mm of the page), clipped to it, its thread as wide
/// as it is sewn. Ink is what the page draws with afterwards.
void drawThread(PdfPages& pdf, const Pattern& layout, const Box& frame, double scale);

}  // namespace rt
