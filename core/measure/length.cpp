#include "length.h"

#include <charconv>
#include <cmath>
#include <cstdio>
#include <numeric>
#include <optional>
#include <vector>

#include "error.h"

namespace rt {
namespace {

struct Term {
  double value = 0;
  std::optional<Unit> unit;
};

double toMillimetres(double value, Unit unit) {
  return value * (unit == Unit::Inch ? kInch_mm : unit == Unit::Centimetre ? 10.0 : 1.0);
}

/// A cursor over the typed text; every `take` either moves past what it found or stays.
class Scanner {
 public:
  explicit Scanner(std::string_view text) : text_(text), rest_(text) {}

  bool done() {
    skipSpace();
    return rest_.empty();
  }
  bool take(std::string_view word) {
    skipSpace();
    if (rest_.substr(0, word.size()) != word) return false;
    rest_.remove_prefix(word.size());
    return true;
  }
  std::optional<double> takeNumber(bool whole) {
    skipSpace();
    size_t n = 0;
    while (n < rest_.size() && (std::isdigit(static_cast<unsigned char>(rest_[n])) ||
                                (!whole && (rest_[n] == '.' || rest_[n] == ','))))
      ++n;
    std::string digits(rest_.substr(0, n));
    for (char& c : digits)
      if (c == ',') c = '.';
    double value = 0;
    const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (n == 0 || error != std::errc() || end != digits.data() + digits.size()) return std::nullopt;
    rest_.remove_prefix(n);
    return value;
  }
  std::optional<Unit> takeUnit() {
    for (const char* word : {"millimetres", "millimeters", "mm"})
      if (take(word)) return Unit::Millimetre;
    for (const char* word : {"centimetres", "centimeters", "cm"})
      if (take(word)) return Unit::Centimetre;
    for (const char* word : {"inches", "inch", "in", "\"", "″", "''"})
      if (take(word)) return Unit::Inch;
    return std::nullopt;
  }
  /// A fraction `3/8` here, its top already read as `top`.
  double divided(double top) {
    const auto bottom = takeNumber(true);
    if (!bottom || *bottom == 0) fail();
    return top / *bottom;
  }
  /// True when `-` joins a whole number to a fraction, as in `3-5/16`: no space on either side.
  bool atJoiningDash() const {
    if (rest_.empty() || rest_[0] != '-') return false;
    size_t n = 1;
    while (n < rest_.size() && std::isdigit(static_cast<unsigned char>(rest_[n]))) ++n;
    return n > 1 && n < rest_.size() && rest_[n] == '/';
  }
  bool digitNext() {
    skipSpace();
    return !rest_.empty() && std::isdigit(static_cast<unsigned char>(rest_[0]));
  }
  [[noreturn]] void fail() const {
    throw Error("cannot read the length \"" + std::string(text_) + "\"", "",
                "type it like 104 mm, 4.1 in, 7 3/8 in or 7 3/8 in - 2 mm");
  }

 private:
  void skipSpace() {
    while (!rest_.empty() && std::isspace(static_cast<unsigned char>(rest_[0])))
      rest_.remove_prefix(1);
  }
  std::string_view text_, rest_;
};

Term readTerm(Scanner& in) {
  auto first = in.takeNumber(false);
  if (!first) in.fail();
  Term term{*first, {}};
  if (in.take("/")) {
    term.value = in.divided(*first);
  } else if (in.atJoiningDash() || in.digitNext()) {
    in.take("-");
    const auto top = in.takeNumber(true);
    if (!top || !in.take("/")) in.fail();
    term.value = *first + in.divided(*top);
  }
  term.unit = in.takeUnit();
  return term;
}

void spreadUnits(std::vector<Term>& terms, Unit fallback) {
  std::optional<Unit> next;
  for (auto it = terms.rbegin(); it != terms.rend(); ++it) {
    if (it->unit) next = it->unit;
    if (!it->unit && next) it->unit = next;
  }
  std::optional<Unit> last;
  for (Term& term : terms) {
    if (!term.unit) term.unit = last.value_or(fallback);
    last = term.unit;
  }
}

}  // namespace

double parseLength_mm(std::string_view text, Unit fallback) {
  Scanner in(text);
  std::vector<Term> terms;
  double sign = in.take("-") || in.take("−") ? -1 : 1;
  in.take("+");
  while (true) {
    terms.push_back(readTerm(in));
    terms.back().value *= sign;
    if (in.done()) break;
    if (in.take("+"))
      sign = 1;
    else if (in.take("-") || in.take("−"))
      sign = -1;
    else
      in.fail();
  }
  spreadUnits(terms, fallback);
  double sum = 0;
  for (const Term& term : terms) sum += toMillimetres(term.value, *term.unit);
  if (!std::isfinite(sum)) in.fail();
  return sum;
}

std::string formatNumber(double value, int decimals) {
  char buffer[400];
  std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
  std::string text = buffer;
  if (text.find('.') != std::string::npos) {
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
  }
  return text == "-0" ? "0" : text;
}

std::string formatMillimetres(double mm, int decimals) {
  return formatNumber(mm, decimals) + " mm";
}

std::string formatInches(double mm) {
  const long long sixteenths = std::llround(std::abs(mm) / kInch_mm * 16);
  if (sixteenths == 0 && mm != 0) return formatNumber(mm / kInch_mm, 3) + " in";
  const long long whole = sixteenths / 16, part = sixteenths % 16;
  std::string text = mm < 0 && sixteenths > 0 ? "-" : "";
  if (whole > 0 || part == 0) text += std::to_string(whole);
  if (part > 0) {
    const long long g = std::gcd(part, 16LL);
    text += (whole > 0 ? " " : "") + std::to_string(part / g) + "/" + std::to_string(16 / g);
  }
  const bool off = std::abs(std::abs(mm) - static_cast<double>(sixteenths) * kInch_mm / 16) > 0.05;
  return (off ? "≈ " : "") + text + " in";
}

}  // namespace rt
