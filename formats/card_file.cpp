#include "card_file.h"

#include "error.h"
#include "json_reading.h"
#include "length.h"

namespace rt {
namespace {

std::vector<std::string> linesIn(const Json& root, const char* key, const std::string& where) {
  std::vector<std::string> out;
  if (!root.contains(key)) return out;
  const Json& lines = root.at(key);
  const auto words = [](const Json& line) { return line.is_string(); };
  if (!lines.is_array() || !std::all_of(lines.begin(), lines.end(), words))
    throw Error(std::string("\"") + key + "\" is no list of lines", where,
                "write [\"one line\", \"another\"]");
  for (const Json& line : lines) out.push_back(line.get<std::string>());
  return out;
}

void require(const ShopCard& card, const std::string& where) {
  if (!(card.tax >= 0 && card.tax < 10))
    throw Error("a tax of " + formatNumber(card.tax * 100, 1) + " % cannot be", where,
                "give a part of the price, like 0.2");
  if (card.valid_days < 1 || card.valid_days > kMostValidDays)
    throw Error("a quote cannot be valid for " + std::to_string(card.valid_days) + " days", where,
                "give 1 to " + std::to_string(kMostValidDays));
}

}  // namespace

ShopCard readCard(const std::filesystem::path& path) {
  const Json root = readJson(path);
  const std::string where = path.string();
  if (!root.is_object())
    throw Error("this is no card of a shop", where, "write { \"name\": \"…\" }");
  ShopCard card;
  if (root.contains("name")) card.name = textIn(root, "name", where);
  card.lines = linesIn(root, "lines", where);
  if (root.contains("tax_name")) card.tax_name = textIn(root, "tax_name", where);
  if (root.contains("tax")) card.tax = numberIn(root, "tax", where);
  if (root.contains("valid_days")) {
    const double days = numberIn(root, "valid_days", where);
    card.valid_days = days >= 1 && days <= kMostValidDays ? static_cast<int>(days) : 0;
  }
  card.terms = linesIn(root, "terms", where);
  require(card, where);
  return card;
}

std::string cardJson(const ShopCard& card) {
  require(card, "card");
  return Json{{"name", card.name}, {"lines", card.lines},           {"tax_name", card.tax_name},
              {"tax", card.tax},   {"valid_days", card.valid_days}, {"terms", card.terms}}
             .dump(1) +
         "\n";
}

}  // namespace rt
