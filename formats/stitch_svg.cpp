#include "stitch_svg.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstring>
#include <pugixml.hpp>

#include "blocks.h"
#include "error.h"
#include "file_io.h"
#include "file_limits.h"
#include "length.h"
#include "svg_path.h"
#include "xml_depth.h"

namespace rt {
namespace {

pugi::xml_document load(std::string_view text, const std::string& where) {
  requireUtf8(text, where);
  pugi::xml_document doc;
  const pugi::xml_parse_result result = doc.load_buffer(text.data(), text.size());
  if (!result)
    throw Error(std::string("this is not well-formed XML: ") + result.description(),
                where + " byte " + std::to_string(result.offset), "export the drawing again");
  return doc;
}

std::string_view localName(const char* name) {
  const char* colon = std::strrchr(name, ':');
  return colon ? colon + 1 : name;
}

struct SewnRun {
  std::vector<Point> points;
  Colour colour;
  Kind kind = Kind::Unknown;
  std::string piece;
};

Kind kindOf(std::string_view word, const std::string& where) {
  if (word.empty()) return Kind::Unknown;
  for (int k = 1; k <= static_cast<int>(Kind::Mark); ++k)
    if (name(static_cast<Kind>(k)) == word) return static_cast<Kind>(k);
  throw Error("unknown data-kind \"" + std::string(word) + "\"", where,
              "use run, satin, fill, underlay, basting or mark");
}

Colour strokeOf(const pugi::xml_node& node, const std::string& where) {
  const std::string_view text = node.attribute("stroke").value();
  if (const std::optional<Colour> colour = Colour::parsed(text)) return *colour;
  throw Error("the stroke \"" + std::string(text.substr(0, 40)) + "\" is not a colour", where,
              "write it like #2f5d50");
}

class DrawingReader {
 public:
  explicit DrawingReader(const std::string& where) : where_(where) {}

  void visit(const pugi::xml_node& node, const Transform& to_mm) {
    for (const pugi::xml_node& child : node.children()) {
      const Transform here = to_mm * parseMatrix(child.attribute("transform").value());
      if (child.attribute("transform") &&
          !std::strstr(child.attribute("transform").value(), "matrix("))
        throw Error("a transform other than matrix(…) in a stitch drawing",
                    where_ + " <" + child.name() + ">", "write the stitches where they lie");
      const std::string_view tag = localName(child.name());
      if (tag == "path")
        addPath(child, here);
      else if (tag == "g")
        visit(child, here);
    }
  }

  std::vector<SewnRun> runs;

 private:
  void addPath(const pugi::xml_node& node, const Transform& to_mm) {
    const std::string id = node.attribute("id").value();
    const std::string where =
        where_ + " path " + (id.empty() ? std::to_string(runs.size() + 1) : id);
    SewnRun run{{},
                strokeOf(node, where),
                kindOf(node.attribute("data-kind").value(), where),
                node.attribute("data-piece").value()};
    for (const SubPath& sub : parsePath(node.attribute("d").value(), 0.01, where)) {
      run.points.clear();
      for (Point p : sub.points) run.points.push_back(check(to_mm(p), where));
      if (sub.closed && !run.points.empty()) run.points.push_back(run.points.front());
      runs.push_back(run);
    }
  }

  static Point check(Point p, const std::string& where) {
    if (!(std::abs(p.x) <= kFarthest_mm) || !(std::abs(p.y) <= kFarthest_mm))
      throw Error("a needle point is not within 100,000 mm", where, "check the drawing's size");
    return p;
  }

  const std::string& where_;
};

/// User units to mm from width, height and viewBox.
Transform unitsOf(const pugi::xml_node& root, const std::string& where) {
  double box[4] = {0, 0, 0, 0};
  std::string text = root.attribute("viewBox").value();
  for (char& c : text)
    if (c == ',') c = ' ';
  if (text.empty()) return {};
  if (std::sscanf(text.c_str(), "%lf %lf %lf %lf", box, box + 1, box + 2, box + 3) != 4 ||
      !(box[2] > 0) || !(box[3] > 0))
    throw Error("the viewBox cannot be read", where, "give four numbers, width and height over 0");
  const std::string width = root.attribute("width").value();
  double scale = 1;
  if (width.ends_with("mm") || width.ends_with("cm") || width.ends_with("in"))
    scale = parseLength_mm(width) / box[2];
  if (std::abs(scale - 1) < 0.01) scale = 1;  // a viewBox in mm, rounded
  // needle points keep the coordinates they are written with; the viewBox only says what is shown
  return Transform::scaling(scale, scale);
}

Pattern assemble(const std::vector<SewnRun>& runs) {
  Pattern pattern;
  uint32_t block = 0;
  for (const SewnRun& run : runs) {
    if (run.points.empty()) continue;
    const uint16_t thread = pattern.threadIndex(run.colour), piece = pattern.pieceIndex(run.piece);
    if (!pattern.stitches.empty()) {
      const Stitch last = pattern.stitches.back();
      if (last.thread != thread || distance(last.at, run.points[0]) > kLongestLooseMove_mm)
        pattern.stitches.push_back(
            {last.at, last.block, last.thread, last.piece, Op::Trim, Kind::Unknown});
    }
    ++block;
    pattern.stitches.push_back({run.points[0], block, thread, piece, Op::Jump, Kind::Unknown});
    for (Point p : run.points)
      pattern.stitches.push_back({p, block, thread, piece, Op::Stitch, run.kind});
  }
  if (!pattern.stitches.empty()) {
    Stitch end = pattern.stitches.back();
    end.op = Op::End;
    end.kind = Kind::Unknown;
    pattern.stitches.push_back(end);
  }
  return pattern;
}

/// Thread without a cut or a move: one path each, of the kind that most of it is.
std::vector<SewnRun> unbrokenRuns(const Pattern& pattern) {
  std::vector<SewnRun> runs;
  NeedleWalk walk;
  std::array<size_t, 8> kinds{};
  bool open = false;
  auto close = [&] {
    if (open) {
      kinds[static_cast<size_t>(Kind::Tie)] = 0;  // ties belong to what they hold
      runs.back().kind =
          static_cast<Kind>(std::max_element(kinds.begin(), kinds.end()) - kinds.begin());
    }
    open = false;
    kinds = {};
  };
  for (const Stitch& s : pattern.stitches) {
    const NeedleWalk::Step step = walk.next(s);
    if (s.op == Op::Jump || s.op == Op::Trim || s.op == Op::End) close();
    if (s.op != Op::Stitch) continue;
    if (open && (step.fresh || runs.back().piece != pattern.pieces[s.piece])) close();
    if (!open) {
      runs.push_back({{step.from}, pattern.colourOf(s), Kind::Unknown, pattern.pieces[s.piece]});
      open = true;
      if (distance(step.from, s.at) == 0) {
        kinds[static_cast<size_t>(s.kind)] += 1;
        continue;
      }
    }
    runs.back().points.push_back(s.at);
    kinds[static_cast<size_t>(s.kind)] += 1;
  }
  close();
  return runs;
}

std::string escaped(const std::string& text) {
  std::string out;
  for (char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '"')
      out += "&quot;";
    else
      out += c;
  }
  return out;
}

}  // namespace

bool isStitchSvg(std::string_view text) {
  const size_t root = text.find("<svg");
  if (root == std::string_view::npos) return false;
  const std::string_view tag =
      text.substr(root, std::min(text.find('>', root), text.size()) - root);
  return tag.find("data-rapt=\"stitches\"") != std::string_view::npos ||
         tag.find("data-rapt='stitches'") != std::string_view::npos;
}

ReadResult readStitchSvg(std::string_view text, const std::string& where) {
  const pugi::xml_document doc = load(text, where);
  requireShallow(doc, where);
  const pugi::xml_node root = doc.document_element();
  DrawingReader reader(where);
  reader.visit(root, unitsOf(root, where));
  ReadResult out;
  out.pattern = assemble(reader.runs);
  out.pattern.title = root.child("title").child_value();
  if (reader.runs.empty()) out.warnings.push_back("the drawing holds no sewn run");
  return out;
}

std::string writeStitchSvg(const Pattern& pattern, Digits digits) {
  const std::vector<SewnRun> runs = unbrokenRuns(pattern);
  Box box;
  for (const SewnRun& run : runs) box.add(boundsOf(std::span<const Point>(run.points)));
  if (box.empty()) box.add(Point{0, 0});
  box = box.grown(1);
  auto n = [digits](double v) { return formatNumber(v, digits == Digits::AsRead ? 6 : 2); };
  std::string out =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
      "data-rapt=\"stitches\" width=\"" +
      n(box.width()) + "mm\" height=\"" + n(box.height()) + "mm\" viewBox=\"" + n(box.left) + " " +
      n(box.top) + " " + n(box.width()) + " " + n(box.height()) + "\">\n";
  if (!pattern.title.empty()) out += "<title>" + escaped(pattern.title) + "</title>\n";
  for (const SewnRun& run : runs) {
    out +=
        "<path fill=\"none\" stroke-width=\"0.4\" stroke-linecap=\"round\" "
        "stroke-linejoin=\"round\" stroke=\"" +
        run.colour.hex() + "\"";
    if (run.kind != Kind::Unknown) out += " data-kind=\"" + std::string(name(run.kind)) + "\"";
    if (!run.piece.empty()) out += " data-piece=\"" + escaped(run.piece) + "\"";
    out += " d=\"";
    for (size_t i = 0; i < run.points.size(); ++i)
      out += (i == 0 ? "M" : " L") + n(run.points[i].x) + " " + n(run.points[i].y);
    out += "\"/>\n";
  }
  return out + "</svg>\n";
}

}  // namespace rt
