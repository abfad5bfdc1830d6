#include "error.h"
#include "face.h"

namespace rt {

std::u32string decodeUtf8(const std::string& text) {
  std::u32string out;
  for (size_t i = 0; i < text.size();) {
    const auto c = static_cast<unsigned char>(text[i]);
    const int extra = c < 0x80                ? 0
                      : c >= 0xC2 && c < 0xE0 ? 1
                      : (c & 0xF0) == 0xE0    ? 2
                      : c >= 0xF0 && c < 0xF5 ? 3
                                              : -1;
    char32_t code = extra <= 0 ? c : c & (0x3F >> extra);
    bool good = extra >= 0 && i + static_cast<size_t>(extra) < text.size();
    for (int k = 1; good && k <= extra; ++k) {
      const auto next = static_cast<unsigned char>(text[i + static_cast<size_t>(k)]);
      good = (next & 0xC0) == 0x80;
      code = code << 6 | (next & 0x3F);
    }
    if (!good) throw Error("the text is not UTF-8", "byte " + std::to_string(i), "type it again");
    out.push_back(code);
    i += static_cast<size_t>(extra) + 1;
  }
  return out;
}

std::string encodeUtf8(char32_t c) {
  std::string out;
  auto put = [&](char32_t b) { out.push_back(static_cast<char>(b)); };
  if (c < 0x80) {
    put(c);
  } else if (c < 0x800) {
    put(0xC0 | c >> 6);
    put(0x80 | (c & 0x3F));
  } else if (c < 0x10000) {
    put(0xE0 | c >> 12);
    put(0x80 | (c >> 6 & 0x3F));
    put(0x80 | (c & 0x3F));
  } else {
    put(0xF0 | c >> 18);
    put(0x80 | (c >> 12 & 0x3F));
    put(0x80 | (c >> 6 & 0x3F));
    put(0x80 | (c & 0x3F));
  }
  return out;
}

}  // namespace rt
