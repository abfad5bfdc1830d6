#include "artwork.h"

#include <cairo-svg.h>
#include <librsvg/rsvg.h>

#include <algorithm>
#include <cstring>
#include <memory>
#include <pugixml.hpp>
#include <sstream>

#include "artwork_elements.h"
#include "artwork_layers.h"
#include "error.h"
#include "file_io.h"
#include "length.h"
#include "svg_path.h"
#include "uncovered.h"

namespace rt {
namespace {

constexpr double kFlatness_px = 0.04;  // about 0.01 mm
constexpr double kLeastPage_px = 400;
constexpr double kPastPage =
    0.02;  // of its longer side: a stroke along the edge is no part that is cut
constexpr size_t kLargestDrawing = 64u << 20;
constexpr size_t kMostPoints = 300'000;
constexpr double kLargestInk_mm = 3'000;  // more than any item that goes under a machine

struct Release {
  void operator()(GObject* object) const { g_object_unref(object); }
  void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
  void operator()(cairo_t* context) const { cairo_destroy(context); }
};

struct Size {
  double width = 0, height = 0;
};

cairo_status_t collect(void* closure, const unsigned char* data, unsigned length) {
  static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
  return CAIRO_STATUS_SUCCESS;
}

struct Page {
  Size size;
  Point origin;         ///< Of the ink, where that is the page.
  bool own = true;      ///< The drawing says how large it is.
  double enlarged = 1;  ///< Painted so much larger than it is.
};

/// The drawing as librsvg paints it, again as SVG but with plain paths, matrices and clips only.
std::string resolved(const std::string& svg, const std::string& where, Page& page,
                     std::vector<NamedInk>& names) {
  Size& size = page.size;
  Point& origin = page.origin;
  GError* problem = nullptr;
  auto fail = [&](const std::string& what) {
    const std::string detail = problem ? std::string(": ") + problem->message : "";
    if (problem) g_error_free(problem);
    throw Error(what + detail, where, "export the drawing again as plain SVG");
  };
  RsvgHandle* raw =
      rsvg_handle_new_from_data(reinterpret_cast<const guint8*>(svg.data()), svg.size(), &problem);
  if (!raw) fail("the drawing cannot be read");
  const std::unique_ptr<GObject, Release> keep(G_OBJECT(raw));
  rsvg_handle_set_dpi(raw, 96);
  // effects are not sewn, and a few lines of them can keep a painter busy for an hour
  constexpr std::string_view kNoEffects = "*{filter:none !important}";
  rsvg_handle_set_stylesheet(raw, reinterpret_cast<const guint8*>(kNoEffects.data()),
                             kNoEffects.size(), nullptr);
  RsvgRectangle ink{0, 0, 0, 0}, viewBox{0, 0, 0, 0};
  gboolean hasWidth = 0, hasHeight = 0, hasBox = 0;
  RsvgLength w{}, h{};
  rsvg_handle_get_intrinsic_dimensions(raw, &hasWidth, &w, &hasHeight, &h, &hasBox, &viewBox);
  if (!rsvg_handle_get_intrinsic_size_in_pixels(raw, &size.width, &size.height)) {
    if (hasBox) {
      size = {viewBox.width, viewBox.height};
    } else {
      // without size and viewBox the drawing's own bounds are its size
      page.own = false;
      if (!rsvg_handle_get_geometry_for_element(raw, nullptr, &ink, nullptr, &problem))
        fail("the drawing has no size");
      origin = {std::min(0.0, ink.x), std::min(0.0, ink.y)};
      size = {ink.x + ink.width - origin.x, ink.y + ink.height - origin.y};
    }
  }
  if (!(size.width > 0) || !(size.height > 0) || size.width > 1e6 || size.height > 1e6)
    fail("the drawing has no usable size");
  // curves of a page of few pixels would be coarse
  const double by = std::max(1.0, kLeastPage_px / std::max(size.width, size.height));
  const RsvgRectangle viewport{0, 0, size.width, size.height};
  page.enlarged = by;
  size = {size.width * by, size.height * by};
  std::string out;
  const std::unique_ptr<cairo_surface_t, Release> surface(
      cairo_svg_surface_create_for_stream(collect, &out, size.width, size.height));
  cairo_svg_surface_set_document_unit(surface.get(), CAIRO_SVG_UNIT_PX);
  const std::unique_ptr<cairo_t, Release> context(cairo_create(surface.get()));
  cairo_scale(context.get(), by, by);
  cairo_translate(context.get(), -origin.x, -origin.y);
  if (!rsvg_handle_render_document(raw, context.get(), &viewport, &problem))
    fail("the drawing cannot be painted");
  if (names.size() > kMostNamed) names.clear();
  for (NamedInk& n : names) {
    RsvgRectangle box{0, 0, 0, 0};
    if (rsvg_handle_get_geometry_for_layer(raw, ("#" + n.id).c_str(), &viewport, &box, nullptr,
                                           nullptr) &&
        box.width + box.height > 0)
      n.ink_px = {(box.x - origin.x) * by, (box.y - origin.y) * by,
                  (box.x + box.width - origin.x) * by, (box.y + box.height - origin.y) * by};
  }
  cairo_surface_finish(surface.get());
  return out;
}

/// Collects painted paths from the resolved drawing.
class Collector {
 public:
  Collector(const pugi::xml_document& doc, const std::string& where, Artwork& out)
      : where_(where), out_(out), paints_(doc) {}

  void run(const pugi::xml_node& root, const Page& page) {
    page_ = page.size;
    if (page.own)
      clipped_ = {{{0, 0}, {page_.width, 0}, {page_.width, page_.height}, {0, page_.height}}};
    for (const pugi::xml_node& child : root.children())
      if (localName(child.name()) == "g") visit(child, {}, 1, nullptr);
    if (faint_ > 0)
      out_.warnings.push_back(faint_ == 1
                                  ? "1 tint hardly changes the colour below and is not sewn"
                                  : std::to_string(faint_) +
                                        " tints hardly change the colour below and are not sewn");
  }

 private:
  void visit(const pugi::xml_node& node, const Transform& outer, double opacity, const Area* clip) {
    if (++depth_ > 200)
      throw Error("the drawing nests too deep", where_, "export the drawing again as plain SVG");
    const Transform here = outer * parseMatrix(node.attribute("transform").value());
    Area clipped;
    if (const pugi::xml_node path = paints_.referred(node.attribute("clip-path").value())) {
      clipped = clipArea(path, here);
      if (clip) clipped = intersection(clipped, *clip);
      clip = &clipped;
    }
    opacity *= maskOpacity(node);
    const std::string_view tag = localName(node.name());
    if (tag == "path") {
      addPath(node, here, opacity, clip);
    } else if (tag == "rect") {
      // cairo paints only pages and masks as rectangles
    } else if (tag == "use") {
      const Transform moved = here * Transform::moving({node.attribute("x").as_double(),
                                                        node.attribute("y").as_double()});
      if (const pugi::xml_node target = paints_.referred(node.attribute("xlink:href").value()))
        visit(target, moved, opacity, clip);
    } else if (tag == "image") {
      out_.warnings.push_back("a picture is not sewn: draw over it instead");
    } else {
      for (const pugi::xml_node& child : node.children()) visit(child, here, opacity, clip);
    }
    --depth_;
  }

  Area clipArea(const pugi::xml_node& clipPath, const Transform& here) const {
    Area area;
    for (const pugi::xml_node& child : clipPath.children()) {
      if (localName(child.name()) == "rect") {
        const double x = child.attribute("x").as_double(), y = child.attribute("y").as_double();
        const double w = child.attribute("width").as_double(),
                     h = child.attribute("height").as_double();
        area.push_back({here({x, y}), here({x + w, y}), here({x + w, y + h}), here({x, y + h})});
        continue;
      }
      const bool evenOdd = std::strcmp(child.attribute("clip-rule").value(), "evenodd") == 0;
      const Area part = pathArea(child.attribute("d").value(), here,
                                 evenOdd ? FillRule::EvenOdd : FillRule::NonZero);
      area.insert(area.end(), part.begin(), part.end());
    }
    return area;
  }

  /// Areas of very many points take forever to lay out, and no needle could follow them.
  void count(const SubPath& sub) const {
    points_ += sub.points.size();
    if (points_ > kMostPoints)
      throw Error("the drawing has over " + std::to_string(kMostPoints) + " points", where_,
                  "simplify its paths and export it again");
  }

  Area pathArea(const char* data, const Transform& to, FillRule rule) const {
    Area area;
    const double tolerance = kFlatness_px / std::max(1e-6, std::sqrt(std::abs(to.determinant())));
    for (const SubPath& sub : parsePath(data, tolerance, where_)) {
      Ring ring;
      count(sub);
      for (Point p : sub.points) ring.push_back(to(p));
      if (ring.size() >= 3) area.push_back(std::move(ring));
    }
    return simplified(area, rule);
  }

  double maskOpacity(const pugi::xml_node& node) const {
    const pugi::xml_node mask = paints_.referred(node.attribute("mask").value());
    if (!mask) return 1;
    // a mask of one even rectangle is group opacity; others are let through with a warning
    const pugi::xml_node inner = mask.first_child();
    pugi::xml_node rect;
    for (const pugi::xml_node& child : inner.children())
      if (localName(child.name()) == "rect" && !child.next_sibling()) rect = child;
    return rect ? numberOr(styleOf(rect, "fill-opacity"), 1) : 1;
  }

  /// Ink reaches past the page by more than a stroke along its edge does.
  bool pastPage(const Box& px) const {
    const double slack = kPastPage * std::max(page_.width, page_.height);
    return !clipped_.empty() && !Box{0, 0, page_.width, page_.height}.grown(slack).contains(px);
  }
  /// What lies past the page's edge is not in the picture, as viewers show it.
  Area onPage(const Area& px, const std::string& called) {
    Area kept = intersection(px, clipped_);
    out_.warnings.push_back(kept.empty() ? called + " lies beside the page and is not sewn"
                                         : called + " is cut off at the page's edge");
    return kept;
  }

  std::string nextName() { return "shape " + std::to_string(++count_); }

  void addPath(const pugi::xml_node& node, const Transform& here, double opacity,
               const Area* clip) {
    called_ = nextName();
    addFill(node, here, opacity, clip);
    addStroke(node, here, opacity, clip);
  }

  /// A paint as it lies on the drawing; unset for none.
  std::optional<Tint> tint(const pugi::xml_node& node, const std::string& which,
                           const Transform& here, double opacity,
                           const Paints::Samples& places_px) {
    const std::optional<Transform> back = here.inverse();
    std::optional<Tint> out = paints_.of(
        node, which,
        [&] {
          std::vector<Point> places = places_px();
          for (Point& p : places) p = back.value_or(Transform{})(p);
          return places;
        },
        out_.warnings);
    if (out) out->opacity *= opacity;
    return out;
  }

  void addFill(const pugi::xml_node& node, const Transform& here, double opacity,
               const Area* clip) {
    const std::string painted = styleOf(node, "fill");
    if (painted.empty() || painted.find("none") == 0) return;
    const bool evenOdd = styleOf(node, "fill-rule") == "evenodd";
    Area area = pathArea(node.attribute("d").value(), here,
                         evenOdd ? FillRule::EvenOdd : FillRule::NonZero);
    if (clip) area = intersection(area, *clip);
    if (const auto fill = tint(node, "fill", here, opacity, [&] { return spreadOver(area); }))
      addArea(area, *fill);
  }

  void addArea(const Area& px, const Tint& tint) {
    if (px.empty()) return;
    const Box box = boundsOf(px);
    if (pastPage(box)) return addArea(onPage(px, called_), tint);
    const bool page = out_.shapes.empty() && tint.opacity > 0.5 && tint.colour().rgb == 0xffffff &&
                      box.left <= 0.5 && box.top <= 0.5 && box.right >= page_.width - 0.5 &&
                      box.bottom >= page_.height - 0.5;
    if (page) return;  // a white page behind everything is paper, not ink
    Shape shape;
    shape.area = transformed(px, Transform::scaling(kPixel_mm, kPixel_mm));
    addShape(std::move(shape), tint, "");
  }

  /// `what` is added to its name where it is not sewn.
  void addShape(Shape shape, const Tint& tint, const std::string& what) {
    shape.element = called_;
    Layers::Painted painted = layers_.paint(std::move(shape), tint);
    const bool none = painted.shapes.empty();
    if (painted.onPaper)
      out_.warnings.push_back(called_ + what + " is half-transparent and is not sewn" +
                              (none ? "" : " where nothing lies below it"));
    else if (none && painted.faint)
      ++faint_;
    for (Shape& s : painted.shapes) out_.shapes.push_back(std::move(s));
  }

  void addStroke(const pugi::xml_node& node, const Transform& here, double opacity,
                 const Area* clip) {
    const double scale = std::sqrt(std::abs(here.determinant()));
    const double width_px = numberOr(styleOf(node, "stroke-width"), 1) * scale;
    const std::string painted = styleOf(node, "stroke");
    if (width_px <= 0 || painted.empty() || painted.find("none") == 0) return;
    std::vector<SubPath> subs =
        parsePath(node.attribute("d").value(), kFlatness_px / std::max(scale, 1e-6), where_);
    for (const SubPath& sub : subs) count(sub);
    const std::optional<Tint> stroke = tint(node, "stroke", here, opacity, [&] {
      std::vector<Point> places;
      for (const SubPath& sub : subs) {
        if (sub.points.size() < 2) continue;
        for (Point p : resample(sub.points, std::max(0.1, polylineLength(sub.points) / 200)))
          places.push_back(here(p));
      }
      return places;
    });
    if (!stroke) return;
    const std::string cap = styleOf(node, "stroke-linecap");
    const LineEnd end = cap == "round"    ? LineEnd::Round
                        : cap == "square" ? LineEnd::Square
                                          : LineEnd::Butt;
    const std::vector<double> dashes = dashesOf(styleOf(node, "stroke-dasharray"));
    Shape style;
    style.line_width_mm = width_px * kPixel_mm;
    style.end = end;
    style.join = joinOf(styleOf(node, "stroke-linejoin"));
    style.mitre_limit = numberOr(styleOf(node, "stroke-miterlimit"), style.mitre_limit);
    for (SubPath& sub : subs) {
      style.closed = sub.closed && dashes.empty();
      if (sub.closed && !dashes.empty()) sub.points.push_back(sub.points.front());
      for (const std::vector<Point>& line : dashed(sub.points, dashes)) {
        style.line.clear();
        for (Point p : line) style.line.push_back(here(p) * kPixel_mm);
        addLine(style, *stroke, clip);
      }
    }
  }

  static LineJoin joinOf(const std::string& word) {
    return word == "round" ? LineJoin::Round : word == "bevel" ? LineJoin::Bevel : LineJoin::Mitre;
  }

  void addLine(Shape shape, const Tint& stroke, const Area* clip) {
    std::vector<Point>& line = shape.line;
    auto same = [](Point a, Point b) { return distance(a, b) < 1e-4 * kPixel_mm; };
    line.erase(std::unique(line.begin(), line.end(), same), line.end());
    while (shape.closed && line.size() > 1 && same(line.front(), line.back())) line.pop_back();
    if (line.size() < 2) return;
    if (line.size() < 3) shape.closed = false;
    const Transform toPx = Transform::scaling(1 / kPixel_mm, 1 / kPixel_mm);
    const bool past = pastPage(boundsOf(transformed({line}, toPx)));
    if (!clip && !past) return addShape(std::move(shape), stroke, "'s stroke");
    const Area ink = transformed(inkOf(shape), toPx);
    const Area kept = clip ? intersection(ink, *clip) : ink;
    if (past || (clip && area_mm2(difference(ink, *clip)) > 1e-3)) return addArea(kept, stroke);
    addShape(std::move(shape), stroke, "'s stroke");
  }

  static std::vector<double> dashesOf(std::string text) {
    std::replace(text.begin(), text.end(), ',', ' ');
    std::istringstream in(text);
    std::vector<double> out;
    for (double v; in >> v;) out.push_back(v);
    double sum = 0;
    for (double v : out) sum += v;
    return sum > 0 ? out : std::vector<double>{};
  }

  static std::vector<std::vector<Point>> dashed(const std::vector<Point>& line,
                                                const std::vector<double>& dashes) {
    if (dashes.empty()) return {line};
    std::vector<std::vector<Point>> out;
    size_t k = 0;
    double left = dashes[0];
    bool on = true;
    out.push_back({line[0]});
    for (size_t i = 1; i < line.size(); ++i) {
      Point at = line[i - 1];
      for (double rest = distance(at, line[i]); rest > 0 && out.size() < 20000;) {
        const double step = std::min(rest, left);
        at = mix(at, line[i], step / rest);
        rest -= step;
        left -= step;
        if (on) out.back().push_back(at);
        if (left > 0) continue;
        k = (k + 1) % dashes.size();
        left = std::max(dashes[k], 1e-6);
        on = !on;
        if (on) out.push_back({at});
      }
    }
    return out;
  }

  const std::string& where_;
  Artwork& out_;
  Paints paints_;
  Layers layers_;
  std::string called_;  // the path at hand
  Size page_;
  Area clipped_;  // the page; empty where the drawing has none of its own
  int depth_ = 0, count_ = 0, faint_ = 0;
  mutable size_t points_ = 0;
};

}  // namespace

Artwork readArtwork(std::string_view svg, const std::string& where) {
  if (svg.size() > kLargestDrawing)
    throw Error("the drawing is over 64 MiB", where, "take pictures out of it");
  requireUtf8(svg, where);
  Artwork out;
  CleanDrawing clean = cleaned(svg, where);
  out.warnings = std::move(clean.warnings);
  std::vector<NamedInk>& names = clean.names;
  Page page;
  const std::string plain = resolved(clean.svg, where, page, names);
  pugi::xml_document doc;
  if (!doc.load_buffer(plain.data(), plain.size()))
    throw Error("the drawing could not be resolved", where,
                "export the drawing again as plain SVG");
  Collector(doc, where, out).run(doc.document_element(), page);
  nameShapes(out, names);
  sizeArtwork(out, 1 / page.enlarged, 1 / page.enlarged);
  if (out.shapes.empty()) {
    std::string why;
    for (const std::string& w : out.warnings) why += " (" + w + ")";
    throw Error("the drawing shows no ink that can be sewn" + why, where,
                "add filled or stroked shapes");
  }
  return out;
}

namespace {

void carry(Artwork& artwork, const Transform& to, double widen) {
  for (Shape& s : artwork.shapes) {
    s.area = transformed(s.area, to);
    for (Point& p : s.line) p = to(p);
    s.line_width_mm *= widen;
  }
}

}  // namespace

void placeArtwork(Artwork& artwork, double width_mm) {
  Box ink;
  for (const Shape& s : artwork.shapes) ink.add(boundsOf(inkOf(s)));
  const double scale = width_mm > 0 && ink.width() > 0 ? width_mm / ink.width() : 1;
  const Transform to = Transform::scaling(scale, scale) * Transform::moving(Point{} - ink.centre());
  carry(artwork, to, scale);
}

void sizeArtwork(Artwork& artwork, double scale_x, double scale_y) {
  if (scale_x == 1 && scale_y == 1) return;
  carry(artwork, Transform::scaling(scale_x, scale_y), std::sqrt(scale_x * scale_y));
}

namespace {

constexpr size_t kMostNamedSmall = 5;  // shapes that are named one by one

}  // namespace

Digitised digitiseArtwork(const Artwork& artwork, const DigitiseOptions& options,
                          const std::string& piece) {
  Digitised out;
  out.warnings = artwork.warnings;
  Box ink;
  for (const Shape& s : artwork.shapes) ink.add(boundsOf(s.line.empty() ? s.area : inkOf(s)));
  if (ink.width() > kLargestInk_mm || ink.height() > kLargestInk_mm)
    throw Error("the drawing's ink is " + formatNumber(ink.width() / 1000, 1) + " x " +
                    formatNumber(ink.height() / 1000, 1) + " m, more than 3 m",
                "artwork", "give the width that it shall have, in mm");
  Point at{};
  std::vector<Strand> pending;
  Colour colour;
  struct {
    size_t shapes = 0;
    double mm2 = 0;
    std::vector<std::string> words;
  } small;
  auto flush = [&] {
    if (!pending.empty()) appendStrands(out.pattern, pending, {colour, piece, options.ties});
    pending.clear();
  };
  std::vector<std::string> hidden;
  const std::vector<Shape> shown = withoutHidden(artwork.shapes, hidden);
  for (const std::string& element : hidden)
    out.warnings.push_back(element + " lies hidden under later shapes and is not sewn");
  for (const Shape& shape : shown) {
    SewnShape sewn = digitise(shape, options, at);
    if (sewn.kind == Kind::Unknown) {
      ++small.shapes, small.mm2 += sewn.area_mm2;
      small.words.push_back(sewn.element +
                            " is too small to sew: " + formatNumber(sewn.area_mm2, 2) + " mm²");
    }
    if (shape.colour != colour) flush();
    colour = shape.colour;
    if (!sewn.strands.empty()) at = sewn.strands.back().exit();
    for (Strand& s : sewn.strands) pending.push_back(std::move(s));
    sewn.strands.clear();
    out.shapes.push_back(std::move(sewn));
  }
  flush();
  if (small.shapes > kMostNamedSmall)
    out.warnings.push_back(std::to_string(small.shapes) + " shapes are too small to sew, " +
                           formatNumber(small.mm2, 1) +
                           " mm² in all: make the drawing larger, or " + "leave them out");
  else
    out.warnings.insert(out.warnings.end(), small.words.begin(), small.words.end());
  if (out.pattern.stitches.empty())
    throw Error("nothing in the drawing is large enough to sew", "artwork",
                "enlarge it with a width in mm");
  return out;
}

}  // namespace rt
