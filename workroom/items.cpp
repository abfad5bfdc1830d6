#include "items.h"

#include <algorithm>

#include "error.h"
#include "faces.h"
#include "length.h"
#include "order_usage.h"
#include "thread_shelf.h"

namespace rt {
namespace {

constexpr double kWaste = 0.1;           // of thread and backing: ends, trials, tearing
constexpr double kTopperRoom_mm = 25;    // around the sewing
constexpr double kNeedleStitches = 5e6;  // that a needle is worth, shop practice: about eight hours
constexpr double kSeenApart = 5;         // CIEDE2000: plain to see
constexpr int kNeedlesAtLeast = 2;       // one breaks

template <class T, class NameOf>
std::string namesOf(const std::vector<T>& list, NameOf name) {
  std::string out;
  for (const T& t : list) out += (out.empty() ? "" : ", ") + name(t);
  return out;
}

std::vector<std::string> linesOf(const std::string& text) {
  std::vector<std::string> out{""};
  for (char c : text) {
    if (c == '\n')
      out.emplace_back();
    else if (c != '\r')
      out.back() += c;
  }
  for (std::string& line : out) {
    const size_t from = line.find_first_not_of(" \t"), to = line.find_last_not_of(" \t");
    line = from == std::string::npos ? "" : line.substr(from, to - from + 1);
  }
  std::erase(out, "");
  return out;
}

std::string joined(const std::vector<std::string>& lines, size_t from, size_t count) {
  std::string out;
  for (size_t i = from; i < std::min(lines.size(), from + count); ++i)
    out += (i > from ? "\n" : "") + lines[i];
  return out;
}

/// A thread to buy: one of the shelf, or a colour that the shelf has nothing near to.
struct Wanted {
  ShoppingLine line;
  size_t stitches = 0;
  double cone_m = 0, difference = 0;
};

std::vector<ShoppingLine> threadLines(const Pattern& layout, int pieces, const Fabric& fabric,
                                      const Bench& bench) {
  const ThreadTake take{fabric.thickness_mm, bench.shop.practice.sewing.bobbin_share};
  std::vector<Wanted> wanted;
  double bobbin = 0;
  for (const ThreadNeed& need : threadNeeds(layout, take)) {
    const auto match = nearestThread(bench.shop.threads, need.colour);
    const std::string what =
        "Thread " + (match ? match->thread->code + " " + match->thread->name : need.colour.hex());
    // colours that come to one thread are one line
    auto at = std::find_if(wanted.begin(), wanted.end(),
                           [&](const Wanted& w) { return w.line.what == what; });
    if (at == wanted.end()) {
      at = wanted.insert(wanted.end(), Wanted{});
      at->line.what = what;
      at->line.unit = "m";
    }
    at->line.amount += need.top_mm * pieces * (1 + kWaste) / 1000;
    at->stitches += need.stitches;
    at->cone_m = match ? match->thread->metres : 0;
    at->difference = std::max(at->difference, match ? match->difference : 0);
    bobbin += need.bobbin_mm;
  }
  std::vector<ShoppingLine> out;
  for (Wanted& w : wanted) {
    if (w.cone_m > 0) w.line.packs = static_cast<int>(std::ceil(w.line.amount / w.cone_m));
    w.line.why = std::to_string(w.stitches) + " stitches a piece" +
                 (w.difference > kSeenApart ? "; the nearest on the shelf, seen to differ" : "");
    out.push_back(std::move(w.line));
  }
  ShoppingLine line;
  line.what = "Bobbin thread";
  line.amount = bobbin * pieces * (1 + kWaste) / 1000;
  line.unit = "m";
  line.packs = static_cast<int>(std::ceil(line.amount * 1000 / bench.shop.bobbin_mm));
  line.why = "bobbins of " + formatNumber(bench.shop.bobbin_mm / 1000, 0) + " m, wound before";
  if (line.amount > 0) out.push_back(line);
  return out;
}

}  // namespace

std::vector<Item> itemsOf(const Bench& bench) {
  return readItems(bench.data / "items.json");
}

const Item& itemById(const std::vector<Item>& items, const std::string& id) {
  for (const Item& i : items)
    if (i.id == id) return i;
  throw Error("there is no item \"" + id + "\"", "items",
              "give one of: " + namesOf(items, [](const Item& i) { return i.id; }));
}

const ItemPlace& placeById(const Item& item, const std::string& id) {
  for (const ItemPlace& p : item.places)
    if (p.id == id) return p;
  throw Error(item.name + " has no place \"" + id + "\"", "items",
              "give one of: " + namesOf(item.places, [](const ItemPlace& p) { return p.id; }));
}

size_t sizeByName(const Item& item, const std::string& name) {
  if (name.empty()) return 0;
  const auto at = std::find(item.sizes.begin(), item.sizes.end(), name);
  if (at != item.sizes.end()) return static_cast<size_t>(at - item.sizes.begin());
  throw Error(item.name + " has no size \"" + name + "\"", "items",
              "give one of: " + namesOf(item.sizes, [](const std::string& s) { return s; }));
}

std::vector<Advice> adviceFor(const std::string& fabric, const Bench& bench) {
  const std::filesystem::path path = bench.data / "advice.json";
  if (!std::filesystem::exists(path)) return {};
  const auto all = readAdvice(path);
  const auto own = all.find(fabric);
  return own == all.end() ? std::vector<Advice>{} : own->second;
}

std::vector<ShoppingLine> shoppingFor(const Pattern& layout, const Brief& b,
                                      const HoopingPlan* plan, int pieces, const Bench& bench) {
  if (pieces < 1 || pieces > 100'000)
    throw Error(std::to_string(pieces) + " pieces cannot be shopped for", "pieces",
                "give 1 to 100,000");
  const Order order = orderOf(layout, b.fabric, plan, bench);
  std::vector<ShoppingLine> out;
  out.push_back({b.item.empty() ? "Blanks" : b.item, static_cast<double>(pieces), "pieces", 0,
                 "one or two more than ordered, for a trial and for the one that fails"});
  for (ShoppingLine& line :
       threadLines(layout, pieces, fabricById(bench.shop.fabrics, b.fabric), bench))
    out.push_back(std::move(line));
  out.push_back({"Backing, " + b.backing, order.usage.backing_mm2 * pieces * (1 + kWaste) / 1e6,
                 "m²", 0,
                 std::to_string(order.usage.hoopings) +
                     (order.usage.hoopings == 1 ? " hooping a piece" : " hoopings a piece")});
  if (b.topper) {
    const Box box = threadBounds(layout).grown(kTopperRoom_mm);
    out.push_back({"Topper, wash-away", box.width() * box.height() * pieces * (1 + kWaste) / 1e6,
                   "m²", 0, "over the sewing and 25 mm around it"});
  }
  const double stitches = static_cast<double>(countRows(layout.stitches, Op::Stitch)) * pieces;
  const int needles =
      std::max(kNeedlesAtLeast, static_cast<int>(std::ceil(stitches / kNeedleStitches)) + 1);
  out.push_back({"Needles, size " + std::to_string(b.needle_nm), static_cast<double>(needles),
                 "pieces", needles, "a fresh one to begin with; one breaks"});
  return out;
}

std::string csvOf(const std::vector<ShoppingLine>& list) {
  const auto quoted = [](const std::string& text) {
    std::string out = "\"";
    for (char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
    return out + "\"";
  };
  std::string out = "what,amount,unit,packs,why\n";
  for (const ShoppingLine& l : list)
    out += quoted(l.what) + "," + formatNumber(l.amount, 2) + "," + quoted(l.unit) + "," +
           std::to_string(l.packs) + "," + quoted(l.why) + "\n";
  return out;
}

namespace actions {

Job laidOn(Job job, const Item& item, const ItemPlace& place, size_t size, const Bench& bench) {
  const double width = forSize(place.width_mm, size), height = forSize(place.height_mm, size);
  job = onFabric(std::move(job), item.fabric, bench);
  const std::string named = item.sizes.size() > 1 ? ", " + item.sizes.at(size) : "";
  job.brief.item = item.name + named + ": " + place.name;
  job.brief.place_width_mm = width;
  job.brief.place_height_mm = height;
  job.brief.holding = place.floated ? Holding::Floated : Holding::Hooped;
  for (const Item& other : itemsOf(bench))
    for (const ItemPlace& p : other.places)
      for (const ItemEdge& e : p.edges)
        std::erase_if(job.zones, [&](const Zone& z) { return z.name == e.name; });
  for (const ItemEdge& e : place.edges) job.zones.push_back(zoneOf(e, width, height));
  return job;
}

Job fitted(Job job, int id, const std::string& text, const Bench& bench) {
  const Piece& piece = pieceOf(std::as_const(job), id);
  const auto* was = std::get_if<TextSource>(&piece.source);
  if (!was)
    throw Error("the piece is no lettering", "piece " + std::to_string(id), "choose lettering");
  const Fabric cloth = clothOf(job, bench);
  const double room = letteringOf(*was, cloth, bench).advance_mm;
  TextSource next = *was;
  next.text = text;
  next.gaps_mm.clear();  // they were for other letters
  double long_mm = letteringOf(next, cloth, bench).advance_mm;
  // the quotient is near; gaps do not shrink with the letters, so that a little more may be needed
  if (long_mm > room) next.height_mm = std::floor(next.height_mm * room / long_mm * 10) / 10;
  while (next.height_mm > 0 && (long_mm = letteringOf(next, cloth, bench).advance_mm) > room)
    next.height_mm = std::round(next.height_mm * 10 - 1) / 10;
  if (!(next.height_mm > 0))
    throw Error("no height of \"" + text + "\" fits " + formatNumber(room, 1) + " mm",
                "piece " + std::to_string(id), "take a shorter text or a longer place");
  return relettered(std::move(job), id, next, bench);
}

Job repeatedFor(Job job, const std::string& order_text, const Bench& bench) {
  const std::vector<std::string> old = linesOf(job.brief.order_text), now = linesOf(order_text);
  std::vector<std::pair<int, std::string>> texts;
  for (const Piece& p : job.pieces) {
    const auto* source = std::get_if<TextSource>(&p.source);
    if (!source) continue;
    const std::vector<std::string> own = linesOf(source->text);
    const auto at = std::search(old.begin(), old.end(), own.begin(), own.end());
    const bool all = joined(own, 0, own.size()) == joined(old, 0, old.size());
    if (own.empty() || at == old.end()) continue;
    const size_t from = static_cast<size_t>(at - old.begin());
    const std::string text = all ? joined(now, 0, now.size()) : joined(now, from, own.size());
    if (!text.empty()) texts.emplace_back(p.id, text);
  }
  for (const auto& [id, text] : texts) job = fitted(std::move(job), id, text, bench);
  job.brief.order_text = order_text;
  job.proof_accepted.clear();
  job.id.clear();
  return job;
}

}  // namespace actions
}  // namespace rt
