#include "quote_pdf.h"

#include "error.h"
#include "file_io.h"
#include "length.h"
#include "pdf_pages.h"

namespace rt {
namespace {

constexpr double kMargin = 18, kNumber_mm = 32;

std::string money(double amount) {
  return formatNumber(amount, 2);
}

}  // namespace

void writeQuote(const QuotePaper& q, bool inner, const std::filesystem::path& path) {
  if (q.columns.empty())
    throw Error("there is nothing to quote", path.string(), "lay something out");
  PdfPages pdf(sheetSize(q.paper));
  const double width = pdf.size().width_mm - 2 * kMargin;
  pdf.ink();
  double y = kMargin;
  y += pdf.paragraph(kMargin, y, width, q.title.empty() ? "Quote" : "Quote: " + q.title, {7, true});
  y += 6;
  std::vector<TableColumn> columns{{"Amounts in " + q.currency,
                                    width - kNumber_mm * static_cast<double>(q.columns.size()),
                                    TextAlign::Left}};
  for (const QuotePaper::Column& c : q.columns)
    columns.push_back({std::to_string(c.pieces) + (c.pieces == 1 ? " piece" : " pieces"),
                       kNumber_mm, TextAlign::Right});
  PdfTable table(pdf, columns, 3.4);
  y = table.head(kMargin, y);
  const auto row = [&](const std::string& name, auto&& figure) {
    std::vector<std::string> cells{name};
    for (const QuotePaper::Column& c : q.columns) cells.push_back(figure(c));
    y = table.row(kMargin, y, cells);
  };
  if (inner) {
    for (size_t i = 0; i < q.names.size(); ++i)
      row(q.names[i], [&](const QuotePaper::Column& c) {
        return i < c.quote.lines.size() ? money(c.quote.lines[i].cost) : std::string();
      });
    row("cost", [](const QuotePaper::Column& c) { return money(c.quote.cost); });
    row("margin",
        [](const QuotePaper::Column& c) { return formatNumber(c.quote.margin * 100, 1) + " %"; });
    row("minutes", [](const QuotePaper::Column& c) { return formatNumber(c.quote.minutes, 0); });
  }
  row("Price", [](const QuotePaper::Column& c) { return money(c.quote.price); });
  row("Price a piece",
      [](const QuotePaper::Column& c) { return money(c.quote.price / std::max(1, c.pieces)); });
  y += 8;
  pdf.quiet();
  if (inner)
    for (const std::string& words : q.assumptions)
      y += pdf.paragraph(kMargin, y, width, words, {3, false});
  pdf.endPage();
  writeFile(path, pdf.finish());
}

}  // namespace rt
