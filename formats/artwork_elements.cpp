#include "artwork_elements.h"

#include <algorithm>
#include <array>
#include <cstring>
#include <map>
#include <pugixml.hpp>
#include <sstream>

#include "error.h"
#include "xml_depth.h"

namespace rt {

std::string_view localName(const char* name) {
  const char* colon = std::strrchr(name, ':');
  return colon ? colon + 1 : name;
}

namespace {

constexpr size_t kMostPainted = 50'000;
constexpr size_t kMostFigures = 600'000;
constexpr size_t kMostExpanded = 64u << 20;

/// The words that a drawing's own document type declares, by name. Only plain ones: none that names
/// a file or another entity.
std::map<std::string, std::string, std::less<>> declaredWords(std::string_view declarations) {
  std::map<std::string, std::string, std::less<>> words;
  static const std::string_view kEntity = "<!ENTITY";
  for (size_t at = 0; (at = declarations.find(kEntity, at)) != std::string_view::npos;) {
    at += kEntity.size();
    const size_t quote = declarations.find_first_of("\"'>", at);
    if (quote == std::string_view::npos || declarations[quote] == '>') continue;
    const size_t end = declarations.find(declarations[quote], quote + 1);
    if (end == std::string_view::npos) break;
    std::istringstream head(std::string(declarations.substr(at, quote - at)));
    std::string name, more;
    head >> name >> more;
    const std::string_view value = declarations.substr(quote + 1, end - quote - 1);
    at = end + 1;
    if (!name.empty() && name != "%" && more.empty() && value.find('&') == std::string_view::npos)
      words.emplace(name, value);
  }
  return words;
}

/// The drawing with the words that its own document type declares in their places.
std::string withEntities(std::string_view svg, const std::string& where) {
  const size_t type = svg.find("<!DOCTYPE");
  const size_t open = type == std::string_view::npos ? type : svg.find_first_of("[>", type);
  if (open == std::string_view::npos || svg[open] == '>') return std::string(svg);
  const size_t close = svg.find(']', open);
  if (close == std::string_view::npos) return std::string(svg);
  const auto words = declaredWords(svg.substr(open, close - open));
  if (words.empty()) return std::string(svg);
  std::string out(svg.substr(0, close));
  for (size_t at = close; at < svg.size();) {
    const size_t next = std::min(svg.find('&', at), svg.size());
    out += svg.substr(at, next - at);
    at = next;
    if (at == svg.size()) break;
    const size_t end = svg.find(';', at);
    const auto it =
        end == std::string_view::npos ? words.end() : words.find(svg.substr(at + 1, end - at - 1));
    out += it == words.end() ? std::string_view("&") : std::string_view(it->second);
    at = it == words.end() ? at + 1 : end + 1;
    if (out.size() > kMostExpanded)
      throw Error("the drawing's own abbreviations make over 64 MiB of it", where,
                  "export the drawing again as plain SVG");
  }
  return out;
}

/// Takes out what is not sewn, with a word on each, and lists the shapes' names in order.
class Cleaner {
 public:
  explicit Cleaner(CleanDrawing& out) : out_(out) {}

  std::string run(std::string_view svg, const std::string& where) {
    pugi::xml_document doc;
    const std::string text = withEntities(svg, where);
    const auto result =
        doc.load_buffer(text.data(), text.size(),
                        pugi::parse_default | pugi::parse_doctype | pugi::parse_ws_pcdata);
    if (!result)
      throw Error(std::string("this is not well-formed XML: ") + result.description(),
                  where + " byte " + std::to_string(result.offset), "export the drawing again");
    requireShallow(doc, where);
    if (localName(doc.document_element().name()) != "svg")
      throw Error("this is not an SVG drawing", where, "choose an SVG file");
    for (pugi::xml_node child = doc.first_child(); child;) {
      const pugi::xml_node next = child.next_sibling();
      if (child.type() == pugi::node_doctype) doc.remove_child(child);
      child = next;
    }
    clean(doc.document_element());
    requireFewUses(doc.document_element(), where);
    nameAll(doc.document_element());
    std::ostringstream out;
    doc.save(out, "", pugi::format_raw);
    return out.str();
  }

 private:
  /// A few `use` elements that name one another paint millions.
  void requireFewUses(const pugi::xml_node& root, const std::string& where) {
    size_t figures = 0;
    for (pugi::xml_node n = root; n; n = next(n, root)) {
      if (const char* id = n.attribute("id").value(); *id) byId_.emplace(id, n);
      figures += figuresIn(n.attribute("d").value()) + figuresIn(n.attribute("points").value());
    }
    if (figures > kMostFigures)  // before anybody paints them
      throw Error("the drawing's paths have over " + std::to_string(kMostFigures) + " figures",
                  where, "simplify its paths and export it again");
    if (painted(root) > kMostPainted)
      throw Error("the drawing paints over " + std::to_string(kMostPainted) + " elements", where,
                  "take repeated parts out of it, and repeat them on the cloth");
  }
  /// Numbers in path data.
  static size_t figuresIn(const char* data) {
    size_t count = 0;
    bool inside = false;
    for (; *data; ++data) {
      const bool digit = (*data >= '0' && *data <= '9') || *data == '.';
      count += digit && !inside;
      inside = digit;
    }
    return count;
  }
  static pugi::xml_node next(pugi::xml_node n, const pugi::xml_node& root) {
    if (n.first_child()) return n.first_child();
    while (n && n != root && !n.next_sibling()) n = n.parent();
    return n && n != root ? n.next_sibling() : pugi::xml_node();
  }
  /// Elements that a node paints, with what its `use` elements stand for.
  size_t painted(const pugi::xml_node& node) {
    size_t count = 1;
    for (const pugi::xml_node& child : node.children()) {
      count += painted(child);
      if (count > kMostPainted) return count;
    }
    if (localName(node.name()) != "use") return count;
    std::string to = node.attribute("href").value();
    if (to.empty()) to = node.attribute("xlink:href").value();
    const auto target = byId_.find(to.empty() ? to : to.substr(1));
    if (target == byId_.end()) return count;
    const auto known = paintedBy_.find(target->first);
    if (known != paintedBy_.end()) return count + known->second;
    paintedBy_[target->first] = 0;  // one that names itself paints nothing: the painter says so
    const size_t more = painted(target->second);
    paintedBy_[target->first] = more;
    return count + more;
  }

  /// Drawing elements in painting order; what only serves others (clips, symbols) draws nothing.
  void nameAll(pugi::xml_node node) {
    static constexpr std::array<std::string_view, 8> kDraw{"path", "rect",     "circle",  "ellipse",
                                                           "line", "polyline", "polygon", "use"};
    static constexpr std::array<std::string_view, 6> kServe{"defs",   "clipPath", "mask",
                                                            "symbol", "pattern",  "marker"};
    for (pugi::xml_node child : node.children()) {
      const std::string_view tag = localName(child.name());
      if (std::find(kServe.begin(), kServe.end(), tag) != kServe.end()) continue;
      if (std::find(kDraw.begin(), kDraw.end(), tag) != kDraw.end()) {
        const std::string number = std::to_string(out_.names.size() + 1);
        pugi::xml_attribute id = child.attribute("id");
        const std::string own = id.value();
        if (own.empty()) {
          if (!id) id = child.append_attribute("id");
          id.set_value(("rt-shape-" + number).c_str());
        }
        out_.names.push_back({id.value(), own.empty() ? std::string(tag) + " " + number : own, {}});
      }
      nameAll(child);
    }
  }

  void clean(pugi::xml_node node) {
    for (pugi::xml_node child = node.first_child(); child;) {
      const pugi::xml_node next = child.next_sibling();
      const std::string_view tag = localName(child.name());
      const std::string id = child.attribute("id").value();
      const std::string called = id.empty() ? "" : " " + id;
      if (tag == "text" || tag == "foreignObject") {
        out_.warnings.push_back("text" + called + " is not sewn: set it as lettering");
        node.remove_child(child);
      } else if (tag == "image") {
        out_.warnings.push_back("picture" + called + " is not sewn: draw over it instead");
        node.remove_child(child);
      } else {
        for (const char* effect : {"filter", "mask"})
          if (child.attribute(effect) && std::strcmp(child.attribute(effect).value(), "none") != 0)
            out_.warnings.push_back(std::string(effect) + " on " + std::string(tag) + called +
                                    " is not followed exactly");
        clean(child);
      }
      child = next;
    }
  }
  CleanDrawing& out_;
  std::map<std::string, pugi::xml_node> byId_;
  std::map<std::string, size_t> paintedBy_;
};

Box inkBounds_px(const Shape& shape) {
  const Box mm = boundsOf(shape.line.empty() ? shape.area : inkOf(shape));
  Box px;
  if (mm.empty()) return px;
  px.add(Point{mm.left / kPixel_mm, mm.top / kPixel_mm});
  px.add(Point{mm.right / kPixel_mm, mm.bottom / kPixel_mm});
  return px;
}

constexpr double kNear_px = 1.5;

bool near(const Box& a, const Box& b) {
  return std::abs(a.left - b.left) < kNear_px && std::abs(a.right - b.right) < kNear_px &&
         std::abs(a.top - b.top) < kNear_px && std::abs(a.bottom - b.bottom) < kNear_px;
}

}  // namespace

CleanDrawing cleaned(std::string_view svg, const std::string& where) {
  CleanDrawing out;
  out.svg = Cleaner(out).run(svg, where);
  return out;
}

void nameShapes(Artwork& artwork, const std::vector<NamedInk>& names) {
  std::vector<std::string> order;  // painted elements by number; fill and stroke are one
  std::map<std::string, Box> inks;
  for (const Shape& s : artwork.shapes) {
    if (order.empty() || order.back() != s.element) order.push_back(s.element);
    inks[s.element].add(inkBounds_px(s));
  }
  std::vector<int> match(order.size(), -1);
  std::vector<bool> taken(names.size(), false);
  for (size_t i = 0; i < order.size(); ++i)
    for (size_t k = 0; k < names.size() && match[i] < 0; ++k)
      if (!taken[k] && !names[k].ink_px.empty() && near(names[k].ink_px, inks[order[i]]))
        match[i] = static_cast<int>(k), taken[k] = true;
  for (size_t i = 0; i < order.size(); ++i) {
    if (match[i] >= 0) continue;
    int from = -1, to = static_cast<int>(names.size()), only = -1, holders = 0;
    for (size_t j = 0; j < i; ++j) from = std::max(from, match[j]);
    for (size_t j = order.size(); j-- > i + 1;)
      if (match[j] >= 0) to = std::min(to, match[j]);
    for (int k = from + 1; k < to; ++k)
      if (!taken[static_cast<size_t>(k)] &&
          names[static_cast<size_t>(k)].ink_px.grown(kNear_px).contains(inks[order[i]]))
        only = k, ++holders;
    if (holders == 1) match[i] = only, taken[static_cast<size_t>(only)] = true;
  }
  std::map<std::string, std::string> named;
  for (size_t i = 0; i < order.size(); ++i)
    if (match[i] >= 0) named[order[i]] = names[static_cast<size_t>(match[i])].name;
  for (Shape& s : artwork.shapes)
    if (const auto it = named.find(s.element); it != named.end()) s.element = it->second;
}

}  // namespace rt
