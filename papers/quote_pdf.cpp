#include "quote_pdf.h"

#include <algorithm>

#include "error.h"
#include "file_io.h"
#include "length.h"
#include "thread_drawing.h"

namespace rt {
namespace {

constexpr double kEdge_mm = 18, kFoot_mm = 12, kNumber_mm = 34, kPicture_mm = 95;
constexpr double kCost_mm = 28;  // four quantities beside one another
constexpr double kShopWide_mm = 82;
/// Scales that a person can reckon with: so many mm of the piece on one of paper.
constexpr int kScales[] = {1, 2, 3, 4, 5, 6, 8, 10, 15, 20, 30, 50, 100};

void requireSomething(const QuotePaper& q, const std::filesystem::path& path) {
  if (q.columns.empty() || threadBounds(q.layout).empty())
    throw Error("there is nothing to quote", path.string(), "lay something out");
}

std::string piecesWords(int pieces) {
  return std::to_string(pieces) + (pieces == 1 ? " piece" : " pieces");
}

class QuoteWriter {
 public:
  explicit QuoteWriter(const QuotePaper& q)
      : q_(q), pdf_(sheetSize(q.paper)), width_(pdf_.size().width_mm - 2 * kEdge_mm) {
    pdf_.ink();
  }

  int offer(const std::filesystem::path& path) {
    head();
    piece();
    prices();
    list(q_.shop.terms);
    return finish(path);
  }

  int costs(const std::filesystem::path& path) {
    heading("Costs: " + q_.title);
    quiet("For the shop alone.");
    reckoning();
    list(q_.assumptions);
    return finish(path);
  }

 private:
  int finish(const std::filesystem::path& path) {
    endPage();
    writeFile(path, pdf_.finish());
    return pdf_.pages();
  }
  void endPage() {
    if (pdf_.pages() > 0 || several_) {
      pdf_.quiet();
      pdf_.text(kEdge_mm, pdf_.size().height_mm - kFoot_mm,
                q_.title + ", page " + std::to_string(pdf_.pages() + 1), 2.8, false, width_);
    }
    pdf_.endPage();
    pdf_.ink();
    y_ = kEdge_mm;
  }
  void room(double mm) {
    if (y_ + mm <= pdf_.size().height_mm - kFoot_mm - 6 || y_ <= kEdge_mm) return;
    several_ = true;
    endPage();
  }
  void line(double x, double width, const std::string& words, const TextStyle& style) {
    y_ += pdf_.paragraph(x, y_, width, words, style);
  }
  void heading(const std::string& words) {
    line(kEdge_mm, width_, words, {7, true, TextAlign::Left});
    y_ += 1;
  }
  void quiet(const std::string& words) {
    pdf_.quiet();
    line(kEdge_mm, width_, words, {3.2, false, TextAlign::Left});
    pdf_.ink();
    y_ += 3;
  }

  /// The shop at the right, who it is for at the left.
  void head() {
    const double right = kEdge_mm + width_ - kShopWide_mm;
    if (!q_.shop.name.empty()) line(right, kShopWide_mm, q_.shop.name, {5, true, TextAlign::Right});
    for (const std::string& words : q_.shop.lines)
      line(right, kShopWide_mm, words, {3.2, false, TextAlign::Right});
    const double below = y_ + 4;
    y_ = kEdge_mm;
    if (!q_.customer.empty())
      line(kEdge_mm, width_ - kShopWide_mm - 6, "For\n" + q_.customer,
           {3.6, false, TextAlign::Left});
    y_ = std::max(y_ + 8, below);
    heading(q_.title.empty() ? "Quote" : "Quote: " + q_.title);
    if (q_.date.ok()) {
      const std::chrono::sys_days until =
          std::chrono::sys_days{q_.date} + std::chrono::days{q_.shop.valid_days};
      quiet(dateWords(q_.date) + ". Valid until " + dateWords(until) + ".");
    } else {
      y_ += 2;
    }
  }

  void piece() {
    const double fits = scaleInto(q_.layout, width_, kPicture_mm);
    const int* scale = std::find_if(std::begin(kScales), std::end(kScales),
                                    [&](int n) { return 1.0 / n <= fits * 1.0001; });
    const double drawn = scale == std::end(kScales) ? fits : 1.0 / *scale;
    const Box box = threadBounds(q_.layout);
    const double high = box.height() * drawn;
    room(high + 12);
    drawThread(pdf_, q_.layout, {kEdge_mm, y_ - 1, kEdge_mm + width_, y_ + high + 1}, drawn);
    y_ += high + 3;
    const auto sides = [&](auto&& form) { return form(box.width()) + " x " + form(box.height()); };
    quiet(sides([](double mm) { return formatMillimetres(mm); }) + " (" +
          sides([](double mm) { return formatInches(mm); }) + ")" +
          (scale == std::end(kScales) ? std::string()
           : *scale == 1              ? ", drawn as large as it is sewn"
                                      : ", drawn at 1 : " + std::to_string(*scale)) +
          ". Thread colours on paper or screen are close, not exact.");
    fact("Item", q_.item);
    fact("Words", q_.order_text);
    std::string threads;
    for (const std::string& name : q_.threads) threads += (threads.empty() ? "" : ", ") + name;
    fact("Threads", threads);
    y_ += 4;
  }
  void fact(const std::string& name, const std::string& words) {
    if (words.empty()) return;
    constexpr double kName_mm = 22;
    room(pdf_.heightOf(width_ - kName_mm, words, {3.6, false}));
    pdf_.quiet();
    (void)pdf_.paragraph(kEdge_mm, y_, kName_mm, name, {3.6, false});
    pdf_.ink();
    line(kEdge_mm + kName_mm, width_ - kName_mm, words, {3.6, false, TextAlign::Left});
    y_ += 0.8;
  }

  bool taxed() const { return q_.shop.tax > 0; }
  std::string taxWords() const {
    return formatNumber(q_.shop.tax * 100, 2) + " % " + q_.shop.tax_name;
  }
  void prices() {
    std::vector<TableColumn> columns{
        {"Amounts in " + q_.currency, width_ - kNumber_mm * (taxed() ? 4 : 2), TextAlign::Left},
        {q_.set > 1 ? "A set of " + std::to_string(q_.set) : "Each", kNumber_mm, TextAlign::Right},
        {"Together", kNumber_mm, TextAlign::Right}};
    if (taxed()) {
      columns.push_back({taxWords(), kNumber_mm, TextAlign::Right});
      columns.push_back({"To pay", kNumber_mm, TextAlign::Right});
    }
    PdfTable table(pdf_, columns, 3.6);
    room(16);
    y_ = table.head(kEdge_mm, y_);
    for (const QuotePaper::Column& c : byPieces()) {
      std::vector<std::string> cells{piecesWords(c.pieces), moneyWords(c.offer.each),
                                     moneyWords(c.offer.together)};
      if (taxed()) {
        cells.push_back(moneyWords(c.offer.tax));
        cells.push_back(moneyWords(c.offer.with_tax));
      }
      room(table.heightOf(cells));
      y_ = table.row(kEdge_mm, y_, cells);
    }
    y_ += 6;
  }
  std::vector<QuotePaper::Column> byPieces() const {
    std::vector<QuotePaper::Column> out = q_.columns;
    std::sort(out.begin(), out.end(),
              [](const auto& a, const auto& b) { return a.pieces < b.pieces; });
    return out;
  }

  void list(const std::vector<std::string>& lines) {
    for (const std::string& words : lines) {
      room(pdf_.heightOf(width_, words, {3.2, false}));
      line(kEdge_mm, width_, words, {3.2, false, TextAlign::Left});
      y_ += 0.8;
    }
  }

  /// As many quantities beside one another as the page is wide, the rest below.
  void reckoning() {
    constexpr size_t kBeside = 4;
    const std::vector<QuotePaper::Column> all = byPieces();
    for (size_t from = 0; from < all.size(); from += kBeside)
      reckoned({all.begin() + static_cast<std::ptrdiff_t>(from),
                all.begin() + static_cast<std::ptrdiff_t>(std::min(all.size(), from + kBeside))});
  }
  void reckoned(const std::vector<QuotePaper::Column>& some) {
    std::vector<TableColumn> columns{{"Amounts in " + q_.currency,
                                      width_ - kCost_mm * static_cast<double>(some.size()),
                                      TextAlign::Left}};
    for (const QuotePaper::Column& c : some)
      columns.push_back({piecesWords(c.pieces), kCost_mm, TextAlign::Right});
    PdfTable table(pdf_, columns, 3.4);
    room(12.0 + 6.0 * static_cast<double>(q_.names.size() + 6));
    y_ = table.head(kEdge_mm, y_);
    const auto row = [&](const std::string& name, auto&& figure) {
      std::vector<std::string> cells{name};
      for (const QuotePaper::Column& c : some) cells.push_back(figure(c));
      y_ = table.row(kEdge_mm, y_, cells);
    };
    using Column = QuotePaper::Column;
    for (size_t i = 0; i < q_.names.size(); ++i)
      row(q_.names[i], [&](const Column& c) {
        return i < c.quote.lines.size() ? moneyWords(c.quote.lines[i].cost) : std::string();
      });
    row("cost", [](const Column& c) { return moneyWords(c.quote.cost); });
    row("price as reckoned", [](const Column& c) { return moneyWords(c.quote.price); });
    row("margin", [](const Column& c) { return formatNumber(c.quote.margin * 100, 1) + " %"; });
    row("minutes", [](const Column& c) { return formatNumber(c.quote.minutes, 0); });
    row(q_.set > 1 ? "asked for a set of " + std::to_string(q_.set) : "asked for each",
        [](const Column& c) { return moneyWords(c.offer.each); });
    row("asked together", [](const Column& c) { return moneyWords(c.offer.together); });
    y_ += 6;
  }

  const QuotePaper& q_;
  PdfPages pdf_;
  double width_, y_ = kEdge_mm;
  bool several_ = false;
};

}  // namespace

int writeQuote(const QuotePaper& quote, const std::filesystem::path& path) {
  requireSomething(quote, path);
  return QuoteWriter(quote).offer(path);
}

int writeCosts(const QuotePaper& quote, const std::filesystem::path& path) {
  requireSomething(quote, path);
  return QuoteWriter(quote).costs(path);
}

std::string dateWords(std::chrono::year_month_day date) {
  constexpr const char* kMonths[] = {"January",   "February", "March",    "April",
                                     "May",       "June",     "July",     "August",
                                     "September", "October",  "November", "December"};
  return std::to_string(static_cast<unsigned>(date.day())) + " " +
         kMonths[static_cast<unsigned>(date.month()) - 1] + " " +
         std::to_string(static_cast<int>(date.year()));
}

}  // namespace rt
