#include "outline_face.h"

#include <hb-ot.h>
#include <hb.h>

#include <algorithm>

#include "error.h"

namespace rt {
namespace {

constexpr double kFlat = 0.0006;  // outlines stay this near to their curves, in cap heights
constexpr int kMostParts = 16;    // of one curve

template <auto destroy>
struct By {
  template <class T>
  void operator()(T* p) const {
    destroy(p);
  }
};
template <class T, void (*destroy)(T*)>
using Owned = std::unique_ptr<T, By<destroy>>;

/// Collects one glyph's rings; font units, y up as in font files.
struct Pen {
  Area rings;
  Point at;
  double flat = 1;  ///< Farthest that a straight part may lie off its curve, font units.

  static Pen& of(void* data) { return *static_cast<Pen*>(data); }
  void move(Point p) {
    rings.emplace_back();
    to(p);
  }
  void to(Point p) {
    if (rings.empty()) rings.emplace_back();
    rings.back().push_back(p);
    at = p;
  }
  void curve(Point a, Point b, Point c) {
    const Point p = at;
    // a cubic strays from n even parts by at most 3/4 of its second differences over n squared
    const double bend = std::max(length(p - a * 2 + b), length(a - b * 2 + c));
    const int parts =
        std::clamp(static_cast<int>(std::ceil(std::sqrt(0.75 * bend / flat))), 1, kMostParts);
    for (int k = 1; k <= parts; ++k) {
      const double t = static_cast<double>(k) / parts, u = 1 - t;
      to(p * (u * u * u) + a * (3 * u * u * t) + b * (3 * u * t * t) + c * (t * t * t));
    }
  }
};

Owned<hb_draw_funcs_t, hb_draw_funcs_destroy> makeFuncs() {
  hb_draw_funcs_t* f = hb_draw_funcs_create();
  hb_draw_funcs_set_move_to_func(
      f,
      [](hb_draw_funcs_t*, void* pen, hb_draw_state_t*, float x, float y, void*) {
        Pen::of(pen).move({x, y});
      },
      nullptr, nullptr);
  hb_draw_funcs_set_line_to_func(
      f,
      [](hb_draw_funcs_t*, void* pen, hb_draw_state_t*, float x, float y, void*) {
        Pen::of(pen).to({x, y});
      },
      nullptr, nullptr);
  hb_draw_funcs_set_cubic_to_func(  // the library turns quadratic curves into these
      f,
      [](hb_draw_funcs_t*, void* pen, hb_draw_state_t*, float ax, float ay, float bx, float by,
         float x, float y, void*) {
        Pen::of(pen).curve({ax, ay}, {bx, by}, {x, y});
      },
      nullptr, nullptr);
  return Owned<hb_draw_funcs_t, hb_draw_funcs_destroy>(f);
}

class FontOutlines : public OutlineSource {
 public:
  explicit FontOutlines(const std::filesystem::path& file) {
    Owned<hb_blob_t, hb_blob_destroy> blob(hb_blob_create_from_file_or_fail(file.c_str()));
    if (!blob) throw Error("the font file cannot be read", file.string(), "install the data again");
    Owned<hb_face_t, hb_face_destroy> face(hb_face_create(blob.get(), 0));
    font_.reset(hb_font_create(face.get()));
    funcs_ = makeFuncs();
    hb_codepoint_t capital = 0;
    hb_glyph_extents_t extents{};
    if (hb_font_get_nominal_glyph(font_.get(), 'H', &capital) &&
        hb_font_get_glyph_extents(font_.get(), capital, &extents))
      cap_ = -extents.height;  // a script's H may reach below its baseline
    if (!(cap_ > 0)) throw Error("the font has no letter H", file.string(), "use another font");
    hb_font_make_immutable(font_.get());
  }

  std::vector<OutlineGlyph> shape(const std::u32string& text, bool ligatures,
                                  std::u32string& missing) const override {
    const std::u32string known = withoutMissing(text, missing);
    Owned<hb_buffer_t, hb_buffer_destroy> buffer(hb_buffer_create());
    hb_buffer_add_utf32(buffer.get(), reinterpret_cast<const uint32_t*>(known.data()),
                        static_cast<int>(known.size()), 0, -1);
    hb_buffer_set_direction(buffer.get(), HB_DIRECTION_LTR);
    // letters that only change their form together stay letters of their own
    hb_buffer_set_cluster_level(buffer.get(), HB_BUFFER_CLUSTER_LEVEL_MONOTONE_CHARACTERS);
    hb_buffer_guess_segment_properties(buffer.get());
    const hb_feature_t off[] = {{HB_TAG('l', 'i', 'g', 'a'), 0, 0, ~0u},
                                {HB_TAG('c', 'l', 'i', 'g'), 0, 0, ~0u}};
    hb_shape(font_.get(), buffer.get(), off, ligatures ? 0 : 2);
    return glyphsOf(buffer.get(), known);
  }

 private:
  std::u32string withoutMissing(const std::u32string& text, std::u32string& missing) const {
    std::u32string known;
    for (char32_t c : text) {
      if (c == U'\t' || c == 0xA0) c = U' ';
      hb_codepoint_t glyph = 0;
      if (hb_font_get_nominal_glyph(font_.get(), c, &glyph))
        known.push_back(c);
      else
        missing.push_back(c);
    }
    return known;
  }

  /// Shapes of one cluster (a letter with its marks, a ligature) are one glyph.
  std::vector<OutlineGlyph> glyphsOf(hb_buffer_t* buffer, const std::u32string& text) const {
    unsigned count = 0;
    const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(buffer, &count);
    const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer, &count);
    std::vector<OutlineGlyph> out;
    for (unsigned i = 0; i < count; ++i) {
      const bool goesOn = i > 0 && infos[i].cluster == infos[i - 1].cluster;
      if (!goesOn) out.emplace_back();
      OutlineGlyph& g = out.back();
      if (!goesOn) {
        unsigned end = i;
        while (end < count && infos[end].cluster == infos[i].cluster) ++end;
        const size_t to = end < count ? infos[end].cluster : text.size();
        for (size_t k = infos[i].cluster; k < to; ++k) g.text += encodeUtf8(text[k]);
      }
      const Point pen{g.advance * cap_ + places[i].x_offset, double(places[i].y_offset)};
      g.outline = united(g.outline, outlineOf(infos[i].codepoint, pen));
      g.advance += places[i].x_advance / cap_;
    }
    return out;
  }

  Area outlineOf(hb_codepoint_t glyph, Point pen) const {
    Pen drawn;
    drawn.flat = kFlat * cap_;
    hb_font_get_glyph_shape(font_.get(), glyph, funcs_.get(), &drawn);
    // simplified at 1,000 to the cap height, well within the clipper's lattice
    const Transform large = Transform::scaling(1000 / cap_, -1000 / cap_) * Transform::moving(pen);
    const Area clean = simplified(transformed(drawn.rings, large), FillRule::NonZero);
    return transformed(clean, Transform::scaling(0.001, 0.001));
  }

  Owned<hb_font_t, hb_font_destroy> font_;
  Owned<hb_draw_funcs_t, hb_draw_funcs_destroy> funcs_;
  double cap_ = 0;
};

}  // namespace

std::shared_ptr<const OutlineSource> openOutlines(const std::filesystem::path& file) {
  return std::make_shared<FontOutlines>(file);
}

}  // namespace rt
