#include "artwork.h"

#include <cairo-svg.h>
#include <librsvg/rsvg.h>

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstring>
#include <map>
#include <memory>
#include <pugixml.hpp>
#include <sstream>

#include "artwork_elements.h"
#include "error.h"
#include "file_io.h"
#include "length.h"
#include "svg_path.h"

namespace rt {
namespace {

constexpr double kFlatness_px = 0.04;  // about 0.01 mm
constexpr double kLeastOpacity = 0.5;
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
  Point origin;     ///< Of the ink, where that is the page.
  bool own = true;  ///< The drawing says how large it is.
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
  std::string out;
  const std::unique_ptr<cairo_surface_t, Release> surface(
      cairo_svg_surface_create_for_stream(collect, &out, size.width, size.height));
  cairo_svg_surface_set_document_unit(surface.get(), CAIRO_SVG_UNIT_PX);
  const std::unique_ptr<cairo_t, Release> context(cairo_create(surface.get()));
  cairo_translate(context.get(), -origin.x, -origin.y);
  const RsvgRectangle viewport{0, 0, size.width, size.height};
  if (!rsvg_handle_render_document(raw, context.get(), &viewport, &problem))
    fail("the drawing cannot be painted");
  if (names.size() > kMostNamed) names.clear();
  for (NamedInk& n : names) {
    RsvgRectangle box{0, 0, 0, 0};
    if (rsvg_handle_get_geometry_for_layer(raw, ("#" + n.id).c_str(), &viewport, &box, nullptr,
                                           nullptr) &&
        box.width + box.height > 0)
      n.ink_px = {box.x - origin.x, box.y - origin.y, box.x + box.width - origin.x,
                  box.y + box.height - origin.y};
  }
  cairo_surface_finish(surface.get());
  return out;
}

struct Paint {
  bool on = false;
  Colour colour;
  double opacity = 1;
};

/// Collects painted paths from the resolved drawing.
class Collector {
 public:
  Collector(const pugi::xml_document& doc, const std::string& where, Artwork& out)
      : where_(where), out_(out) {
    index(doc.document_element());
  }

  void run(const pugi::xml_node& root, const Page& page) {
    page_ = page.size;
    if (page.own)
      clipped_ = {{{0, 0}, {page_.width, 0}, {page_.width, page_.height}, {0, page_.height}}};
    for (const pugi::xml_node& child : root.children())
      if (localName(child.name()) == "g") visit(child, {}, 1, nullptr);
  }

 private:
  void index(const pugi::xml_node& node) {
    for (const pugi::xml_node& child : node.children()) {
      if (const char* id = child.attribute("id").value(); *id) byId_[id] = child;
      index(child);
    }
  }

  pugi::xml_node referred(std::string_view url) const {
    const size_t hash = url.find('#');
    if (hash == std::string_view::npos) return {};
    std::string id(url.substr(hash + 1));
    if (!id.empty() && id.back() == ')') id.pop_back();
    const auto it = byId_.find(id);
    return it == byId_.end() ? pugi::xml_node() : it->second;
  }

  void visit(const pugi::xml_node& node, const Transform& outer, double opacity, const Area* clip) {
    if (++depth_ > 200)
      throw Error("the drawing nests too deep", where_, "export the drawing again as plain SVG");
    const Transform here = outer * parseMatrix(node.attribute("transform").value());
    Area clipped;
    if (const pugi::xml_node path = referred(node.attribute("clip-path").value())) {
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
      if (const pugi::xml_node target = referred(node.attribute("xlink:href").value()))
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
    const pugi::xml_node mask = referred(node.attribute("mask").value());
    if (!mask) return 1;
    // a mask of one even rectangle is group opacity; others are let through with a warning
    const pugi::xml_node inner = mask.first_child();
    pugi::xml_node rect;
    for (const pugi::xml_node& child : inner.children())
      if (localName(child.name()) == "rect" && !child.next_sibling()) rect = child;
    return rect ? number(property(rect, "fill-opacity"), 1) : 1;
  }

  static std::string property(const pugi::xml_node& node, const std::string& key) {
    const std::string style = ";" + std::string(node.attribute("style").value());
    size_t at = 0;
    while ((at = style.find(key + ":", at)) != std::string::npos) {
      if (style[at - 1] == ';' || style[at - 1] == ' ') {
        const size_t start = at + key.size() + 1;
        return style.substr(start, style.find(';', start) - start);
      }
      at += key.size();
    }
    return node.attribute(key.c_str()).value();
  }

  static double number(const std::string& text, double otherwise) {
    try {
      return text.empty() ? otherwise : std::stod(text);
    } catch (const std::exception&) {
      return otherwise;
    }
  }

  static Colour colourFrom(double r, double g, double b) {
    auto byte = [](double v) {
      return static_cast<uint32_t>(std::clamp(std::lround(v * 255), 0L, 255L));
    };
    return {byte(r) << 16 | byte(g) << 8 | byte(b)};
  }

  Paint paint(const pugi::xml_node& node, const std::string& which) {
    Paint p;
    const std::string text = property(node, which);
    p.opacity = number(property(node, which + "-opacity"), 1);
    if (text.empty() || text.find("none") == 0) return p;
    p.on = true;
    double r = 0, g = 0, b = 0;
    if (std::sscanf(text.c_str(), "rgb(%lf%%,%lf%%,%lf%%)", &r, &g, &b) == 3)
      p.colour = colourFrom(r / 100, g / 100, b / 100);
    else if (const pugi::xml_node server = referred(text))
      p.colour = meanColour(server, p);
    return p;
  }

  /// A gradient's stops weighted by what lies between them; a pattern's paths alike.
  Colour meanColour(const pugi::xml_node& server, Paint& p) {
    double sum[4] = {0, 0, 0, 0};
    std::vector<std::pair<double, std::array<double, 4>>> stops;
    const bool gradient = localName(server.name()).ends_with("Gradient");
    gather(server, stops);
    if (gradient && !stops.empty()) {
      stops.insert(stops.begin(), {0, stops.front().second});
      stops.push_back({1, stops.back().second});
      for (size_t i = 1; i < stops.size(); ++i)
        for (size_t k = 0; k < 4; ++k)
          sum[k] += (stops[i].first - stops[i - 1].first) *
                    (stops[i].second[k] + stops[i - 1].second[k]) / 2;
    } else {
      for (const auto& stop : stops)
        for (size_t k = 0; k < 4; ++k) sum[k] += stop.second[k] / static_cast<double>(stops.size());
    }
    if (stops.empty())
      out_.warnings.push_back("a pattern's colour could not be told; grey is sewn");
    if (!stops.empty()) p.opacity *= sum[3];
    return stops.empty() ? Colour{0x808080} : colourFrom(sum[0], sum[1], sum[2]);
  }

  void gather(const pugi::xml_node& node,
              std::vector<std::pair<double, std::array<double, 4>>>& stops) const {
    for (const pugi::xml_node& child : node.children()) {
      const bool stop = localName(child.name()) == "stop";
      double r = 0, g = 0, b = 0;
      const std::string text = property(child, stop ? "stop-color" : "fill");
      if (std::sscanf(text.c_str(), "rgb(%lf%%,%lf%%,%lf%%)", &r, &g, &b) == 3)
        stops.push_back(
            {child.attribute("offset").as_double(),
             {r / 100, g / 100, b / 100, stop ? number(property(child, "stop-opacity"), 1) : 1}});
      if (localName(child.name()) == "use") {
        if (const pugi::xml_node target = referred(child.attribute("xlink:href").value()))
          gather(target, stops);
      } else {
        gather(child, stops);
      }
    }
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
    const Paint fill = paint(node, "fill"), stroke = paint(node, "stroke");
    const std::string called = nextName();
    if (fill.on) {
      const bool evenOdd = property(node, "fill-rule") == "evenodd";
      Area area = pathArea(node.attribute("d").value(), here,
                           evenOdd ? FillRule::EvenOdd : FillRule::NonZero);
      if (clip) area = intersection(area, *clip);
      if (fill.opacity * opacity > kLeastOpacity)
        addArea(area, fill.colour, called);
      else if (!area.empty())
        out_.warnings.push_back(called + " is half-transparent and is not sewn");
    }
    if (stroke.on) addStroke(node, here, stroke, opacity, clip, called);
  }

  void addArea(const Area& px, Colour colour, const std::string& called) {
    if (px.empty()) return;
    const Box box = boundsOf(px);
    if (pastPage(box)) return addArea(onPage(px, called), colour, called);
    const bool page = out_.shapes.empty() && colour.rgb == 0xffffff && box.left <= 0.5 &&
                      box.top <= 0.5 && box.right >= page_.width - 0.5 &&
                      box.bottom >= page_.height - 0.5;
    if (page) return;  // a white page behind everything is paper, not ink
    Shape shape;
    shape.element = called;
    shape.colour = colour;
    shape.area = transformed(px, Transform::scaling(kPixel_mm, kPixel_mm));
    out_.shapes.push_back(std::move(shape));
  }

  void addStroke(const pugi::xml_node& node, const Transform& here, const Paint& stroke,
                 double opacity, const Area* clip, const std::string& called) {
    const double scale = std::sqrt(std::abs(here.determinant()));
    const double width_px = number(property(node, "stroke-width"), 1) * scale;
    if (width_px <= 0) return;
    if (stroke.opacity * opacity <= kLeastOpacity) {
      out_.warnings.push_back(called + "'s stroke is half-transparent and is not sewn");
      return;
    }
    const std::string cap = property(node, "stroke-linecap");
    const LineEnd end = cap == "round"    ? LineEnd::Round
                        : cap == "square" ? LineEnd::Square
                                          : LineEnd::Butt;
    const std::vector<double> dashes = dashesOf(property(node, "stroke-dasharray"));
    for (SubPath sub :
         parsePath(node.attribute("d").value(), kFlatness_px / std::max(scale, 1e-6), where_)) {
      count(sub);
      if (sub.closed) sub.points.push_back(sub.points.front());
      for (std::vector<Point>& line : dashed(sub.points, dashes)) {
        for (Point& p : line) p = here(p);
        addLine(line, width_px, end, sub.closed && dashes.empty(), stroke.colour, clip, called);
      }
    }
  }

  void addLine(std::vector<Point>& line, double width_px, LineEnd end, bool closed, Colour colour,
               const Area* clip, const std::string& called) {
    line.erase(std::unique(line.begin(), line.end(),
                           [](Point a, Point b) { return distance(a, b) < 1e-4; }),
               line.end());
    if (line.size() < 2) return;
    if (pastPage(boundsOf(line)))
      return addArea(
          clip ? intersection(widened(line, width_px, end), *clip) : widened(line, width_px, end),
          colour, called);
    if (clip) {
      const Area ink = widened(line, width_px, end);
      const Area kept = intersection(ink, *clip);
      if (area_mm2(difference(ink, *clip)) > 1e-3) return addArea(kept, colour, called);
    }
    Shape shape;
    shape.element = called;
    shape.colour = colour;
    shape.line_width_mm = width_px * kPixel_mm;
    shape.closed = closed;
    shape.end = end;
    for (Point p : line) shape.line.push_back(p * kPixel_mm);
    out_.shapes.push_back(std::move(shape));
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
  std::map<std::string, pugi::xml_node> byId_;
  Size page_;
  Area clipped_;  // the page; empty where the drawing has none of its own
  int depth_ = 0, count_ = 0;
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
constexpr double kUnderlap_mm = 0.5;   // what stays of a shape under the edge of one above it

/// Stretches of a line outside an area, found to a quarter of a millimetre.
std::vector<std::vector<Point>> visibleParts(const std::vector<Point>& line, const Area& hidden) {
  std::vector<std::vector<Point>> parts;
  bool open = false;
  for (size_t i = 0; i + 1 < line.size(); ++i) {
    const int steps =
        std::max(1, static_cast<int>(std::ceil(distance(line[i], line[i + 1]) / 0.25)));
    for (int k = i == 0 ? 0 : 1; k <= steps; ++k) {
      const Point p = mix(line[i], line[i + 1], static_cast<double>(k) / steps);
      const bool seen = !contains(hidden, p);
      if (seen && !open) parts.emplace_back();
      open = seen;
      if (!seen) continue;
      const bool corner = k == 0 || k == steps || parts.back().size() < 2;
      if (corner)
        parts.back().push_back(p);
      else
        parts.back().back() = p;  // straight on: only the last point moves
    }
  }
  std::erase_if(parts, [](const auto& part) { return polylineLength(part) < 0.5; });
  return parts;
}

/// Each filled shape without what later shapes hide, so that no lump is sewn.
std::vector<Shape> withoutHidden(const Artwork& artwork, std::vector<std::string>& warnings) {
  std::vector<Shape> shown;  // from the top down
  std::vector<std::pair<Box, Area>> later;
  for (size_t i = artwork.shapes.size(); i-- > 0;) {
    Shape shape = artwork.shapes[i];
    const Area ink = inkOf(shape);
    const Box box = boundsOf(ink);
    Area above;  // only what can lie over it
    for (const auto& [bounds, area] : later)
      if (bounds.overlaps(box)) above = united(above, area);
    later.emplace_back(box, ink);
    const bool under = !above.empty();
    const Area hidden = under ? grown(above, -kUnderlap_mm) : Area{};
    const size_t before = shown.size();
    if (!under) {
      shown.push_back(std::move(shape));
    } else if (shape.line.empty()) {
      const bool seen = area_mm2(difference(ink, above)) >= 0.01 * area_mm2(ink);
      shape.area = difference(ink, hidden);
      if (seen) shown.push_back(std::move(shape));
    } else {
      std::vector<Point> line = shape.line;
      if (shape.closed) line.push_back(line.front());
      const std::vector<std::vector<Point>> parts = visibleParts(line, hidden);
      const bool whole =
          parts.size() == 1 && std::abs(polylineLength(parts[0]) - polylineLength(line)) < 0.3;
      for (size_t k = parts.size(); k-- > 0;) {
        Shape part = shape;
        if (!whole) part.line = parts[k], part.closed = false;
        shown.push_back(std::move(part));
      }
    }
    if (shown.size() == before)
      warnings.push_back(artwork.shapes[i].element +
                         " lies hidden under later shapes and is not sewn");
  }
  std::reverse(shown.begin(), shown.end());
  return shown;
}

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
  for (const Shape& shape : withoutHidden(artwork, out.warnings)) {
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
