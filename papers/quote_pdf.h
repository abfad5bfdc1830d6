// A quote on paper: as a shop sends it to a customer, and its reckoning for the shop.
#pragma once

#include <chrono>
#include <filesystem>

#include "paper.h"
#include "pattern.h"
#include "quote.h"

namespace rt {

struct QuotePaper {
  Paper paper = Paper::A4;
  std::string title, item, order_text;
  std::string customer;  ///< May have several lines; empty: not addressed.
  ShopCard shop;
  std::chrono::year_month_day
      date{};                        ///< Of the quote; not a date: left out, with the valid-until.
  Pattern layout;                    ///< As it is sewn.
  std::vector<std::string> threads;  ///< Their names, in the order of sewing.
  std::string currency;
  int set = 1;  ///< Pieces that are sold together.
  struct Column {
    int pieces = 1;
    Quote quote;
    Offer offer;
  };
  std::vector<Column> columns;           ///< A quantity each, the order's own first.
  std::vector<std::string> names;        ///< Of the lines, in their order.
  std::vector<std::string> assumptions;  ///< A line each.
};

/// What is offered: who, to whom, when and until when; the piece at scale with its size, its words
/// and threads; a price for each quantity, the tax, the terms. Nothing of the shop's own reckoning.
/// Gives its pages. Throws Error without a column or a layout.
int writeQuote(const QuotePaper& quote, const std::filesystem::path& path);
/// The shop's own: every cost, margin and what was taken for granted. Throws likewise.
int writeCosts(const QuotePaper& quote, const std::filesystem::path& path);

/// `2 December 2032`.
std::string dateWords(std::chrono::year_month_day date);

}  // namespace rt
