#include <charconv>
#include <sstream>

#include "error.h"
#include "face.h"

namespace rt {
namespace {

constexpr double kBaseline = 9;  // Hershey letters stand on y = 9
constexpr char kOrigin = 'R';    // coordinates are letters counted from R

/// Lines of the list, with wrapped ones joined: a record ends when it has its pairs.
std::vector<std::string> records(const std::string& text, const std::string& where) {
  std::vector<std::string> out;
  std::istringstream in(text);
  std::string line, record;
  int number = 0;
  while (std::getline(in, line)) {
    ++number;
    while (!line.empty() && (line.back() == '\r' || line.back() == '\n')) line.pop_back();
    record += line;
    if (record.size() < 8) continue;
    int pairs = 0;
    const std::string count = record.substr(5, 3);
    const size_t digit = count.find_first_not_of(' ');
    if (digit == std::string::npos ||
        std::from_chars(count.data() + digit, count.data() + 3, pairs).ec != std::errc())
      throw Error("not a stroke list", where + " line " + std::to_string(number),
                  "use the face's own file");
    if (record.size() - 8 < static_cast<size_t>(pairs) * 2) continue;
    out.push_back(record.substr(8, static_cast<size_t>(pairs) * 2));
    record.clear();
  }
  return out;
}

StrokeGlyph toGlyph(const std::string& pairs) {
  StrokeGlyph glyph;
  glyph.left = pairs[0] - kOrigin;
  glyph.right = pairs[1] - kOrigin;
  glyph.strokes.emplace_back();
  for (size_t i = 2; i + 1 < pairs.size(); i += 2) {
    if (pairs[i] == ' ' && pairs[i + 1] == kOrigin) {
      glyph.strokes.emplace_back();
      continue;
    }
    glyph.strokes.back().push_back(
        {static_cast<double>(pairs[i] - kOrigin), pairs[i + 1] - kOrigin - kBaseline});
  }
  std::erase_if(glyph.strokes, [](const auto& s) { return s.empty(); });
  return glyph;
}

}  // namespace

std::map<char32_t, StrokeGlyph> parseHershey(const std::string& text, const std::string& where) {
  std::map<char32_t, StrokeGlyph> glyphs;
  char32_t code = U' ';
  for (const std::string& record : records(text, where)) {
    if (record.size() < 2) throw Error("a letter has no width", where, "use the face's own file");
    glyphs[code++] = toGlyph(record);
  }
  if (glyphs.empty()) throw Error("the stroke list is empty", where, "use the face's own file");
  return glyphs;
}

}  // namespace rt
