// What an order costs, and what to ask for it.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace rt {

/// What the shop pays. Money in the shop's own currency.
struct Rates {
  std::string currency = "EUR";
  double labour_per_hour = 0, machine_per_hour = 0;
  double top_thread_per_1000_m = 0, bobbin_per_1000_m = 0, backing_per_m2 = 0;
  double hooping_min = 0, setup_min = 0;
  double spoilage = 0;      ///< Part of all other costs that is lost, 0 to 1.
  double usual_margin = 0;  ///< Part of the price that is kept, 0 to 1.
  friend bool operator==(const Rates&, const Rates&) = default;
};

/// What one piece of an order takes.
struct Usage {
  double sewing_s = 0;
  int hoopings = 1;
  double top_mm = 0, bobbin_mm = 0;
  double backing_mm2 = 0;
};

struct QuoteOptions {
  int pieces = 1;
  int set = 1;                   ///< Pieces that are sold together.
  double blank = 0;              ///< Cost of one blank.
  std::optional<double> price;   ///< For the whole order.
  std::optional<double> margin;  ///< Part of the price, under 1.
};

enum class CostOf { Labour, Machine, TopThread, Bobbin, Backing, Blanks, Spoilage };

struct QuoteLine {
  CostOf what = CostOf::Labour;
  double quantity = 0;
  std::string unit;
  double cost = 0;  ///< To the cent.
};

struct Quote {
  std::vector<QuoteLine> lines;
  double cost = 0;    ///< The sum of the lines.
  double price = 0;   ///< To the cent.
  double margin = 0;  ///< (price - cost) / price.
  int sets = 1;
  double set_price = 0;  ///< To the cent; the whole order's stays `price`.
  double minutes = 0;    ///< Sewing and hooping of all pieces, and the set-up once.
};

/// How a shop stands on what it sends to customers, and what that says besides the price.
struct ShopCard {
  std::string name;
  std::vector<std::string> lines;  ///< Where it is and how it is reached, a line each.
  std::string tax_name = "tax";
  double tax = 0;                  ///< A part of the price that is added to it; 0: not spoken of.
  int valid_days = 30;             ///< Of a quote.
  std::vector<std::string> terms;  ///< A sentence each.
  friend bool operator==(const ShopCard&, const ShopCard&) = default;
};

/// What a customer is asked for a quantity. Money to the cent.
struct Offer {
  int pieces = 1, sets = 1;
  double each = 0;      ///< For a set.
  double together = 0;  ///< `each` times `sets`.
  double tax = 0;
  double with_tax = 0;
};

/// Each set at the quote's price, up to the next cent, so that all together bring no less than was
/// reckoned.
Offer offerOf(const Quote& quote, const QuoteOptions& options, double tax);

/// With two decimals, thousands parted: `1,204.50`.
std::string moneyWords(double amount);

/// Labour on hooping and set-up, machine on sewing; thread by length, backing by area, spoilage as
/// a part of all other lines. Throws Error for rates or wishes that are none: negative, a margin of
/// 1 or more, a price of 0, no piece, pieces that make no whole sets.
Quote quoteFor(const Usage& usage, const Rates& rates, const QuoteOptions& options);

/// The smallest order, in whole sets, that costs no more than it brings at a price for each set:
/// the set-up is paid once, all else by every piece. Nothing where none of up to a million pieces
/// does. `options` gives blank and set; its pieces, price and margin are not read.
std::optional<int> breakEvenPieces(const Usage& usage, const Rates& rates,
                                   const QuoteOptions& options, double set_price);

}  // namespace rt
