#include "exif.h"

#include <algorithm>
#include <string_view>

namespace rt {
namespace {

/// A list of notes in the manner of TIFF, either byte order.
class Notes {
 public:
  explicit Notes(std::span<const uint8_t> tiff) : b_(tiff), little_(!b_.empty() && b_[0] == 'I') {}

  size_t number(size_t at, size_t bytes) const {
    if (at > b_.size() || bytes > b_.size() - at) return 0;
    size_t v = 0;
    for (size_t i = 0; i < bytes; ++i)
      v |= static_cast<size_t>(b_[at + i]) << (8 * (little_ ? i : bytes - 1 - i));
    return v;
  }
  size_t first() const { return number(4, 4); }

  /// Where the 12 bytes of a note of a list stand; 0: it has none.
  size_t find(size_t list, unsigned tag) const {
    const size_t n = number(list, 2);
    for (size_t i = 0; list != 0 && i < n && list + 2 + 12 * (i + 1) <= b_.size(); ++i)
      if (number(list + 2 + 12 * i, 2) == tag) return list + 2 + 12 * i;
    return 0;
  }
  std::string text(size_t list, unsigned tag) const {
    const size_t at = find(list, tag);
    constexpr size_t kText = 2, kMostText = 200;
    if (at == 0 || number(at + 2, 2) != kText) return {};
    const size_t length = std::min(number(at + 4, 4), kMostText);
    const size_t from = length <= 4 ? at + 8 : number(at + 8, 4);
    std::string out;
    for (size_t i = 0; i < length && from + i < b_.size() && b_[from + i] != 0; ++i)
      out += static_cast<char>(b_[from + i]);
    return out;
  }
  double ratio(size_t list, unsigned tag) const {
    const size_t at = find(list, tag);
    if (at == 0) return 0;
    const size_t from = number(at + 8, 4);
    const auto below = static_cast<double>(number(from + 4, 4));
    return below > 0 ? static_cast<double>(number(from, 4)) / below : 0;
  }

 private:
  std::span<const uint8_t> b_;
  bool little_;
};

bool spells(std::span<const uint8_t> bytes, size_t at, std::string_view word) {
  return at + word.size() <= bytes.size() &&
         std::equal(word.begin(), word.end(), bytes.begin() + static_cast<long>(at),
                    [](char c, uint8_t b) { return static_cast<uint8_t>(c) == b; });
}

size_t big(std::span<const uint8_t> b, size_t at, size_t n) {
  size_t v = 0;
  for (size_t i = 0; i < n && at + i < b.size(); ++i) v = v << 8 | b[at + i];
  return v;
}

/// The notes' part of a JPEG or PNG; empty: it has none.
std::span<const uint8_t> tiffOf(std::span<const uint8_t> b) {
  if (spells(b, 1, "PNG")) {
    for (size_t at = 8; at + 12 <= b.size();) {
      const size_t length = big(b, at, 4);
      if (length > b.size() - at - 12) break;
      if (spells(b, at + 4, "eXIf")) return b.subspan(at + 8, length);
      at += 12 + length;
    }
    return {};
  }
  for (size_t at = 2; at + 4 <= b.size() && b[at] == 0xFF && b[at + 1] != 0xDA;) {
    const size_t length = big(b, at + 2, 2);
    if (length < 2) break;
    if (b[at + 1] == 0xE1 && spells(b, at + 4, "Exif") && at + 10 < b.size())
      return b.subspan(at + 10, std::min(length, b.size() - at) > 10
                                    ? std::min(length - 8, b.size() - at - 10)
                                    : 0);
    at += 2 + length;
  }
  return {};
}

/// `2026:11:26 13:54:02` as ISO 8601; anything else is no time.
std::string isoTime(std::string text) {
  if (text.size() != 19 || text[4] != ':' || text[7] != ':' || text[10] != ' ') return {};
  for (size_t i = 0; i < text.size(); ++i)
    if (i != 4 && i != 7 && i != 10 && i != 13 && i != 16 && (text[i] < '0' || text[i] > '9'))
      return {};
  text[4] = text[7] = '-';
  text[10] = 'T';
  return text;
}

}  // namespace

PhotoNotes photoNotes(std::span<const uint8_t> bytes) {
  PhotoNotes out;
  const std::span<const uint8_t> tiff = tiffOf(bytes);
  if (tiff.size() < 8) return out;
  const Notes notes(tiff);
  const size_t first = notes.first();
  if (const size_t at = notes.find(first, 0x0112))
    if (const size_t held = notes.number(at + 8, 2); held >= 1 && held <= 8)
      out.orientation = static_cast<int>(held);
  out.camera = notes.text(first, 0x0110);
  if (const size_t at = notes.find(first, 0x8769)) {
    const size_t list = notes.number(at + 8, 4);
    out.taken = isoTime(notes.text(list, 0x9003));
    out.offset = notes.text(list, 0x9011);
    out.focal_mm = notes.ratio(list, 0x920A);
  }
  return out;
}

}  // namespace rt
