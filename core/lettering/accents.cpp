#include "accents.h"

#include <string_view>

namespace rt {
namespace {

using Strokes = std::vector<std::vector<Point>>;

enum class Mark {
  Acute,
  Grave,
  Circumflex,
  Diaeresis,
  Tilde,
  Ring,
  Caron,
  Breve,
  DoubleAcute,
  Dot,
  Macron,
  Cedilla,
  Ogonek,
  Stroke
};

/// Base letters and what they become, in step.
struct Family {
  Mark mark;
  std::string_view bases;
  std::u32string_view letters;
};

constexpr Family kFamilies[] = {
    {Mark::Acute, "AEIOUYCLNRSZaeiouyclnrsz", U"ÁÉÍÓÚÝĆĹŃŔŚŹáéíóúýćĺńŕśź"},
    {Mark::Grave, "AEIOUaeiou", U"ÀÈÌÒÙàèìòù"},
    {Mark::Circumflex, "AEIOUCGHJSWYaeioucghjswy", U"ÂÊÎÔÛĈĜĤĴŜŴŶâêîôûĉĝĥĵŝŵŷ"},
    {Mark::Diaeresis, "AEIOUYaeiouy", U"ÄËÏÖÜŸäëïöüÿ"},
    {Mark::Tilde, "ANOIUanoiu", U"ÃÑÕĨŨãñõĩũ"},
    {Mark::Ring, "AUau", U"ÅŮåů"},
    {Mark::Caron, "CDEGLNRSTZcdegnrstz", U"ČĎĚǦĽŇŘŠŤŽčďěǧňřšťž"},
    {Mark::Breve, "AGUagu", U"ĂĞŬăğŭ"},
    {Mark::DoubleAcute, "OUou", U"ŐŰőű"},
    {Mark::Dot, "CEGIZcegz", U"ĊĖĠİŻċėġż"},
    {Mark::Macron, "AEIOUaeiou", U"ĀĒĪŌŪāēīōū"},
    {Mark::Cedilla, "CSTcst", U"ÇŞŢçşţ"},
    {Mark::Ogonek, "AEIUaeiu", U"ĄĘĮŲąęįų"},
    {Mark::Stroke, "OLDoldHh", U"ØŁĐøłđĦħ"},
};

std::vector<Point> circle(Point centre, double radius) {
  std::vector<Point> out;
  for (int k = 0; k <= 12; ++k)
    out.push_back(centre + Transform::turning(k * 30)(Point{0, -radius}));
  return out;
}

/// A mark about (0, 0), in hundredths of the cap height; above marks stand on y = 0.
Strokes drawn(Mark mark) {
  switch (mark) {
    case Mark::Acute:
      return {{{-6, 0}, {8, -18}}};
    case Mark::Grave:
      return {{{-8, -18}, {6, 0}}};
    case Mark::Circumflex:
      return {{{-14, 0}, {0, -16}, {14, 0}}};
    case Mark::Caron:
      return {{{-14, -16}, {0, 0}, {14, -16}}};
    case Mark::Diaeresis:
      return {{{-13, -6}, {-13, -9}}, {{13, -6}, {13, -9}}};
    case Mark::Tilde:
      return {{{-20, -1}, {-11, -13}, {11, -3}, {20, -15}}};
    case Mark::Ring:
      return {circle({0, -9}, 9)};
    case Mark::Breve:
      return {{{-13, -15}, {-8, -5}, {0, -2}, {8, -5}, {13, -15}}};
    case Mark::DoubleAcute:
      return {{{-12, 0}, {-3, -18}}, {{5, 0}, {14, -18}}};
    case Mark::Dot:
      return {{{0, -6}, {0, -9}}};
    case Mark::Macron:
      return {{{-14, -8}, {14, -8}}};
    case Mark::Cedilla:
      return {{{0, 0}, {7, 8}, {7, 15}, {0, 20}, {-8, 18}}};
    case Mark::Ogonek:
      return {{{0, 0}, {-7, 9}, {-5, 17}, {4, 19}}};
    case Mark::Stroke:
      break;
  }
  return {};
}

/// Small i and j lose their dot under a mark that stands above.
void takeOffDot(Strokes& strokes, double cap) {
  std::erase_if(strokes, [&](const auto& s) { return boundsOf(Strokes{s}).bottom < -0.70 * cap; });
}

Strokes strokeThrough(const Strokes& base, char letter, double cap) {
  const Box b = boundsOf(base);
  const Point c = b.centre();
  if (letter == 'O' || letter == 'o')
    return {
        {{b.left - 0.02 * cap, b.bottom + 0.04 * cap}, {b.right + 0.02 * cap, b.top - 0.04 * cap}}};
  if (letter == 'L' || letter == 'l') {
    const double x = letter == 'L' ? b.left : c.x;
    return {{{x - 0.14 * cap, -0.38 * cap}, {x + 0.20 * cap, -0.62 * cap}}};
  }
  if (letter == 'D') return {{{b.left - 0.14 * cap, c.y}, {b.left + 0.24 * cap, c.y}}};
  const double x = letter == 'd' ? b.right : b.left, y = -0.82 * cap;
  if (letter == 'H')
    return {{{b.left - 0.1 * cap, -0.78 * cap}, {b.right + 0.1 * cap, -0.78 * cap}}};
  return {{{x - 0.18 * cap, y}, {x + 0.18 * cap, y}}};
}

StrokeGlyph withMark(StrokeGlyph glyph, char letter, Mark mark, double cap) {
  if (mark == Mark::Stroke) {
    for (auto& s : strokeThrough(glyph.strokes, letter, cap)) glyph.strokes.push_back(std::move(s));
    return glyph;
  }
  const bool below = mark == Mark::Cedilla || mark == Mark::Ogonek;
  if (!below && (letter == 'i' || letter == 'j')) takeOffDot(glyph.strokes, cap);
  const Box b = boundsOf(glyph.strokes);
  const double x = mark == Mark::Ogonek ? b.right - 0.1 * cap : b.centre().x;
  const Point at = below ? Point{x, 0} : Point{x, b.top - 0.15 * cap};
  for (auto& s : drawn(mark)) {
    for (Point& p : s) p = at + p * (cap / 100);
    glyph.strokes.push_back(std::move(s));
  }
  return glyph;
}

/// Two letters in one, the second moved so far over the first.
StrokeGlyph fused(const StrokeGlyph& a, const StrokeGlyph& b, double lap) {
  StrokeGlyph out = a;
  const double by = a.right - b.left - lap;
  for (auto s : b.strokes) {
    for (Point& p : s) p.x += by;
    out.strokes.push_back(std::move(s));
  }
  out.right = b.right + by;
  return out;
}

StrokeGlyph sharpS(double cap) {
  auto at = [&](double x, double y) { return Point{x * cap / 100, -y * cap / 100}; };
  StrokeGlyph g;
  g.left = -0.40 * cap;
  g.right = 0.44 * cap;
  g.strokes = {{at(-24, 0), at(-24, 76), at(-20, 90), at(-10, 98), at(2, 100), at(14, 96),
                at(20, 86), at(18, 74), at(8, 62), at(2, 54), at(4, 46), at(16, 36), at(24, 24),
                at(24, 12), at(16, 3), at(4, 0), at(-6, 4)}};
  return g;
}

}  // namespace

void addAccented(std::map<char32_t, StrokeGlyph>& glyphs, double cap) {
  for (const Family& f : kFamilies)
    for (size_t i = 0; i < f.bases.size() && i < f.letters.size(); ++i)
      if (const auto base = glyphs.find(static_cast<char32_t>(f.bases[i])); base != glyphs.end())
        glyphs.try_emplace(f.letters[i], withMark(base->second, f.bases[i], f.mark, cap));
  auto fuse = [&](char32_t letter, char32_t a, char32_t b, double lap) {
    if (glyphs.contains(a) && glyphs.contains(b))
      glyphs.try_emplace(letter, fused(glyphs[a], glyphs[b], lap * cap));
  };
  fuse(U'æ', U'a', U'e', 0.24);
  fuse(U'Æ', U'A', U'E', 0.30);
  fuse(U'œ', U'o', U'e', 0.24);
  fuse(U'Œ', U'O', U'E', 0.30);
  if (glyphs.contains(U's')) glyphs.try_emplace(U'ß', sharpS(cap));
  if (glyphs.contains(U'\'')) glyphs.try_emplace(U'’', glyphs[U'\'']);
  if (glyphs.contains(U'-')) glyphs.try_emplace(U'–', glyphs[U'-']);
}

}  // namespace rt
