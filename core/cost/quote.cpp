#include "quote.h"

#include <algorithm>
#include <cmath>

#include "error.h"
#include "length.h"

namespace rt {
namespace {

double cents(double money) {
  return std::round(money * 100) / 100;
}

void requireAtLeast0(double value, const char* what) {
  if (!(value >= 0) || !(value <= 1e9))
    throw Error(std::string(what) + " is " + formatNumber(value, 2), "rates",
                "give a number of 0 or more");
}

void check(const Usage& u, const Rates& r, const QuoteOptions& o) {
  requireAtLeast0(r.labour_per_hour, "labour_per_hour");
  requireAtLeast0(r.machine_per_hour, "machine_per_hour");
  requireAtLeast0(r.top_thread_per_1000_m, "top_thread_per_1000_m");
  requireAtLeast0(r.bobbin_per_1000_m, "bobbin_per_1000_m");
  requireAtLeast0(r.backing_per_m2, "backing_per_m2");
  requireAtLeast0(r.hooping_min, "hooping_min");
  requireAtLeast0(r.setup_min, "setup_min");
  requireAtLeast0(o.blank, "the blank's cost");
  if (!(r.spoilage >= 0 && r.spoilage <= 1))
    throw Error("spoilage is " + formatNumber(r.spoilage, 2), "rates", "give a part from 0 to 1");
  if (o.pieces < 1 || u.hoopings < 1)
    throw Error(std::to_string(o.pieces) + " pieces are no order", "pieces", "give 1 or more");
  if (o.set < 1 || o.pieces % o.set != 0)
    throw Error(std::to_string(o.pieces) + " pieces make no whole sets of " + std::to_string(o.set),
                "set", "give a number of pieces that the set divides");
  if (o.margin && !(*o.margin > -1e6 && *o.margin < 1))
    throw Error("a margin of " + formatNumber(*o.margin, 2) + " cannot be", "margin",
                "give a part of the price under 1, like 0.4");
  if (o.price && !(*o.price > 0 && *o.price <= 1e12))
    throw Error("a price of " + formatNumber(*o.price, 2) + " is none", "price", "give one over 0");
}

}  // namespace

Quote quoteFor(const Usage& u, const Rates& r, const QuoteOptions& o) {
  check(u, r, o);
  const double n = o.pieces;
  const double labour_min = n * u.hoopings * r.hooping_min + r.setup_min;
  const double machine_min = n * u.sewing_s / 60;
  Quote q;
  const auto add = [&](CostOf what, double quantity, const char* unit, double cost) {
    q.lines.push_back({what, quantity, unit, cents(cost)});
    q.cost = cents(q.cost + q.lines.back().cost);
  };
  add(CostOf::Labour, labour_min, "min", labour_min / 60 * r.labour_per_hour);
  add(CostOf::Machine, machine_min, "min", machine_min / 60 * r.machine_per_hour);
  add(CostOf::TopThread, n * u.top_mm / 1000, "m", n * u.top_mm / 1e6 * r.top_thread_per_1000_m);
  add(CostOf::Bobbin, n * u.bobbin_mm / 1000, "m", n * u.bobbin_mm / 1e6 * r.bobbin_per_1000_m);
  add(CostOf::Backing, n * u.backing_mm2 / 1e6, "m2", n * u.backing_mm2 / 1e6 * r.backing_per_m2);
  if (o.blank > 0) add(CostOf::Blanks, n, "pieces", n * o.blank);
  add(CostOf::Spoilage, r.spoilage * 100, "%", q.cost * r.spoilage);
  q.minutes = machine_min + labour_min;
  const double margin = o.margin.value_or(r.usual_margin);
  if (!o.price && !(margin < 1))
    throw Error("a margin of " + formatNumber(margin, 2) + " cannot be", "margin",
                "give a part of the price under 1, like 0.4");
  q.price = o.price ? *o.price : cents(q.cost / (1 - margin));
  q.margin = q.price > 0 ? (q.price - q.cost) / q.price : 0;
  q.sets = o.pieces / o.set;
  q.set_price = cents(q.price / q.sets);
  return q;
}

Offer offerOf(const Quote& quote, const QuoteOptions& options, double tax) {
  if (!(tax >= 0 && tax < 10))
    throw Error("a tax of " + formatNumber(tax * 100, 1) + " % cannot be", "tax",
                "give a part of the price, like 0.2");
  Offer out;
  out.pieces = options.pieces;
  out.sets = quote.sets;
  // a price that divides evenly must not gain a cent by how doubles are written
  out.each = std::ceil(quote.price / quote.sets * 100 - 1e-6) / 100;
  out.together = cents(out.each * out.sets);
  out.tax = cents(out.together * tax);
  out.with_tax = cents(out.together + out.tax);
  return out;
}

std::string moneyWords(double amount) {
  const bool below = amount < -0.005;
  const long long all = std::llround(std::abs(amount) * 100);
  std::string whole = std::to_string(all / 100);
  for (size_t i = whole.size(); i > 3;) whole.insert(i -= 3, ",");
  const std::string part = std::to_string(100 + all % 100).substr(1);
  return (below ? "-" : "") + whole + "." + part;
}

std::optional<int> breakEvenPieces(const Usage& u, const Rates& r, const QuoteOptions& options,
                                   double set_price) {
  if (!(set_price > 0 && set_price <= 1e9))
    throw Error("a price of " + formatNumber(set_price, 2) + " is none", "price",
                "give one over 0");
  QuoteOptions o = options;
  o.margin.reset();
  const auto covers = [&](int sets) {
    o.pieces = sets * o.set;
    o.price = set_price * sets;
    return quoteFor(u, r, o).cost <= *o.price + 1e-6;
  };
  constexpr int kMost = 1'000'000;
  int low = 0, high = std::max(1, kMost / std::max(1, o.set));
  if (!covers(high)) return std::nullopt;
  while (high - low > 1) {
    const int middle = low + (high - low) / 2;
    (covers(middle) ? high : low) = middle;
  }
  // lines are rounded to the cent: a few sets fewer may do as well
  for (int sets = std::max(1, high - 3); sets < high; ++sets)
    if (covers(sets)) high = sets;
  return high * o.set;
}

}  // namespace rt
