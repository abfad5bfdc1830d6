// What papers say of a job, gathered for them.
#pragma once

#include "hooping_sheets.h"
#include "job_sheet.h"
#include "making.h"
#include "quote_pdf.h"

namespace rt {

/// Fabric, how it is held, backing, topper, needle and thread: a line each.
std::vector<std::string> materialLines(const Brief& brief, const Bench& bench);

/// A job's sheet: part by part of its plan, or the layout as one where there is none.
JobSheetOptions jobSheetOf(const Job& job, const Pattern& layout, const HoopingPlan* plan,
                           const Bench& bench);

/// What a quote is asked for: the order's own quantity with what its price follows from, and other
/// quantities beside it.
struct QuoteWish {
  QuoteOptions order;  ///< A price is that of `order.pieces`; other quantities ask as much a piece.
  std::vector<int> beside;  ///< Pieces; what makes no whole sets is filled up to some.
};

/// A job's quote for `wish.order.pieces` first, then for each other quantity once. `date` may be
/// none. Throws Error for rates or wishes that are none.
QuotePaper quotePaperOf(const Job& job, const Pattern& layout, const HoopingPlan* plan,
                        const Bench& bench, const Rates& rates, const ShopCard& card,
                        const QuoteWish& wish, std::chrono::year_month_day date);

/// Its hooping sheets; `done` hoopings are crossed out on the small maps.
HoopingSheetOptions hoopingSheetsOf(const Job& job, const Bench& bench, std::vector<int> done);

}  // namespace rt
