// A quote on paper.
#pragma once

#include <filesystem>

#include "paper.h"
#include "quote.h"

namespace rt {

struct QuotePaper {
  Paper paper = Paper::A4;
  std::string title;
  std::string currency;
  struct Column {
    int pieces = 1;
    Quote quote;
  };
  std::vector<Column> columns;           ///< Quantities side by side; one or two.
  std::vector<std::string> names;        ///< Of the lines, in their order.
  std::vector<std::string> assumptions;  ///< A line each.
};

/// Writes a PDF. The costs themselves are left out unless `inner`: a customer sees price and
/// pieces. Throws Error without a column.
void writeQuote(const QuotePaper& quote, bool inner, const std::filesystem::path& path);

}  // namespace rt
