#include "job.h"

#include <algorithm>
#include <cstring>
#include <map>
#include <set>

#include "cloth_compensation.h"
#include "hand_order.h"
#include "length.h"
#include "order.h"
#include "resize.h"
#include "travel.h"

namespace rt {

namespace {

/// Stops go in front of the first row of their block, the last first so that rows keep their
/// numbers.
void addStops(Pattern& layout, const Job& job) {
  const std::vector<Block> blocks = blocksOf(layout);
  std::set<size_t, std::greater<>> rows;
  for (const OperatorStop& stop : job.sequence.stops)
    for (size_t i = 0; i < job.pieces.size(); ++i) {
      if (job.pieces[i].id != stop.piece) continue;
      int left = stop.blocks_before;
      for (const Block& b : blocks)  // laidOut names pieces in order, from 1
        if (b.piece == i + 1 && left-- == 0) rows.insert(b.first);
    }
  for (size_t row : rows) {
    if (row == 0) continue;  // nothing is sewn before it: the machine waits anyway
    Stitch s = layout.stitches[row - 1];
    s.op = Op::Stop;
    s.kind = Kind::Mark;  // asked for by a person: it stays whatever the order becomes
    layout.stitches.insert(layout.stitches.begin() + static_cast<long>(row), s);
  }
}

/// Names in a laid out pattern of the pieces that are lettering.
std::vector<uint16_t> letteringIn(const Pattern& layout, const Job& job) {
  std::vector<uint16_t> out;
  for (size_t i = 0; i < job.pieces.size(); ++i)
    if (std::holds_alternative<TextSource>(job.pieces[i].source) && i + 1 < layout.pieces.size())
      out.push_back(static_cast<uint16_t>(i + 1));  // laidOut names pieces in order, from 1
  return out;
}

/// Fills under lettering sewn again with rows `factor` times as far apart.
Pattern thinnedUnder(const Pattern& layout, const std::vector<uint16_t>& lettering, double factor) {
  const std::vector<Block> blocks = blocksOf(layout);
  auto isLettering = [&](const Block& b) {
    return std::find(lettering.begin(), lettering.end(), b.piece) != lettering.end();
  };
  RespaceOptions options;
  options.block_factors.assign(blocks.size(), 1);
  bool any = false;
  for (const auto& [under, over] : overlappingBlocks(layout, blocks)) {
    const Block &low = blocks[static_cast<size_t>(under)],
                &high = blocks[static_cast<size_t>(over)];
    if (low.kind != Kind::Fill || isLettering(low) || !isLettering(high)) continue;
    options.block_factors[static_cast<size_t>(under)] = factor;
    any = true;
  }
  return any ? resizeRespacing(layout, options).pattern : layout;
}

}  // namespace

std::optional<Covered> whyNotMoved(const Job& job, size_t from, size_t to) {
  if (from >= job.pieces.size() || to >= job.pieces.size()) return std::nullopt;
  const Piece& moved = job.pieces[from];
  const Box box = boundsOf(moved).grown(kThreadWidth_mm);
  const size_t low = std::min(from, to), high = std::max(from, to);
  for (size_t i = low; i <= high; ++i) {
    const Piece& other = job.pieces[i];
    if (i == from || !box.overlaps(boundsOf(other))) continue;
    const std::vector<Piece> two{moved, other};
    const Pattern both = laidOut(two);
    const std::vector<Block> blocks = blocksOf(both);
    for (const auto& [a, b] : overlappingBlocks(both, blocks))
      if (blocks[static_cast<size_t>(a)].piece != blocks[static_cast<size_t>(b)].piece) {
        const std::string& top = from > i ? moved.name : other.name;
        const std::string& under = from > i ? other.name : moved.name;
        return Covered{top, under};
      }
  }
  return std::nullopt;
}

size_t sequencePrint(const Job& job) {
  const SequenceSettings& s = job.sequence;
  size_t print = printOf(laidOut(job.pieces));
  auto add = [&](double v) { print = print * 31 + std::hash<double>()(v); };
  for (double v : {static_cast<double>(s.fewest_colours), static_cast<double>(s.shortest_travel),
                   s.hidden_margin_mm, s.thin_under_letters, static_cast<double>(s.needles)})
    add(v);
  for (Colour c : s.colours_by_hand) add(c.rgb);
  if (s.cloth)
    for (const ClothValue& v : s.cloth->law.figures) add(v.value);
  for (const OperatorStop& stop : s.stops) add(stop.piece), add(stop.blocks_before);
  for (const Piece& p : job.pieces) add(std::holds_alternative<TextSource>(p.source));
  return print;
}

HandOrder coloursTried(const Job& job, const std::vector<Colour>& wish) {
  Pattern layout = laidOut(job.pieces);
  addStops(layout, job);
  return inColourOrder(layout, wish);
}

std::optional<OperatorStop> stopAt(const Job& job, const Pattern& sewn, size_t row) {
  const std::vector<Block> blocks = blocksOf(sewn);
  const auto next =
      std::find_if(blocks.begin(), blocks.end(), [row](const Block& b) { return b.last > row; });
  if (next == blocks.end()) return std::nullopt;
  // the sewn layout may be in another order and lack what is hidden: the piece's block that begins
  // nearest is meant
  const Pattern laid = laidOut(job.pieces);
  std::optional<OperatorStop> out;
  double least = INFINITY;
  std::map<uint16_t, int> count;
  for (const Block& b : blocksOf(laid)) {
    const int index = count[b.piece]++;
    if (b.piece == 0 || laid.pieces[b.piece] != sewn.pieces[next->piece] ||
        !(laid.threads[b.thread] == sewn.threads[next->thread]))
      continue;
    if (const double mm = distance(b.entry, next->entry); mm < least) {
      least = mm;
      out = OperatorStop{job.pieces[b.piece - size_t{1}].id, {}, index};
    }
  }
  return out;
}

std::string placeOf(const Job& job, const OperatorStop& stop) {
  for (const Piece& p : job.pieces)
    if (p.id == stop.piece)
      return stop.blocks_before == 0
                 ? p.name
                 : "block " + std::to_string(stop.blocks_before + 1) + " of " + p.name;
  return {};
}

int freeGroup(const Job& job) {
  int most = 0;
  for (const Piece& p : job.pieces) most = std::max(most, p.group);
  return most + 1;
}

namespace {

/// Which blocks lay thread in a window.
std::vector<bool> blocksIn(const Pattern& layout, const Box& window) {
  const std::vector<Block> blocks = blocksOf(layout);
  std::vector<bool> in(blocks.size());
  size_t b = 0;
  forEachSegment(layout, [&](Point from, Point to, size_t row) {
    while (b < blocks.size() && blocks[b].last <= row) ++b;
    if (b == blocks.size() || row < blocks[b].first || in[b]) return;
    Box box;
    box.add(from), box.add(to);
    in[b] = window.overlaps(box);
  });
  return in;
}

/// Fills under lettering thinned and covered stitches taken out, as the job wants it; in a window
/// alone, if one is given.
void takeCovered(Pattern& layout, const Job& job, const std::optional<Box>& window,
                 double raster_mm = HiddenOptions{}.raster_mm) {
  HiddenOptions hidden;
  hidden.raster_mm = raster_mm;
  if (job.sequence.thin_under_letters > 1) {
    hidden.open_pieces = letteringIn(layout, job);
    layout = thinnedUnder(layout, hidden.open_pieces, job.sequence.thin_under_letters);
  }
  hidden.margin_mm = job.sequence.hidden_margin_mm;
  if (!(hidden.margin_mm > 0)) return;
  if (window) hidden.asked = blocksIn(layout, *window);
  layout = withoutHidden(layout, hidden).pattern;
}

}  // namespace

Pattern sewnNear(const Job& job, const Box& window, double raster_mm) {
  Pattern layout = laidOut(job.pieces);
  if (!threadBounds(layout).empty()) takeCovered(layout, job, window, raster_mm);
  return layout;
}

Pattern sewnLayout(const Job& job) {
  Pattern layout = laidOut(job.pieces);
  addStops(layout, job);
  if (threadBounds(layout).empty()) return layout;
  if (!job.sequence.colours_by_hand.empty())
    layout = inColourOrder(layout, job.sequence.colours_by_hand).pattern;
  else if (job.sequence.fewest_colours)
    layout = orderColours(layout).pattern;
  takeCovered(layout, job, {});
  if (job.sequence.shortest_travel) layout = shortestTravel(layout).pattern;
  if (job.sequence.cloth)
    layout = compensated(layout, job.sequence.cloth->law, clothAround(layout)).sewn;
  return layout;
}

size_t printOf(const Pattern& layout) {
  uint64_t hash = 1469598103934665603ull;  // FNV-1a
  auto mix = [&](uint64_t v) { hash = (hash ^ v) * 1099511628211ull; };
  for (const Stitch& s : layout.stitches) {
    mix(static_cast<uint64_t>(std::llround(s.at.x * 1000)));
    mix(static_cast<uint64_t>(std::llround(s.at.y * 1000)));
    mix(static_cast<uint64_t>(s.op) << 32 | layout.threads[s.thread].rgb);
  }
  return static_cast<size_t>(hash);
}

namespace {

std::string sewnText(std::vector<const Piece*> pieces) {
  std::string out;
  for (const Piece* p : pieces) out += std::get<TextSource>(p->source).text + kProofSeam;
  return out;
}

size_t differencesIn(const std::vector<ProofMark>& marks) {
  return static_cast<size_t>(std::count_if(
      marks.begin(), marks.end(), [](const ProofMark& m) { return m.kind != ProofKind::Same; }));
}

}  // namespace

std::vector<ProofMark> proofMarks(const Job& job) {
  std::vector<const Piece*> texts;
  for (const Piece& p : job.pieces)
    if (std::holds_alternative<TextSource>(p.source)) texts.push_back(&p);
  std::vector<ProofMark> asSewn = proofOf(job.brief.order_text, sewnText(texts));
  if (differencesIn(asSewn) == 0) return asSewn;
  std::stable_sort(texts.begin(), texts.end(), [](const Piece* a, const Piece* b) {
    return boundsOf(*a).centre().y < boundsOf(*b).centre().y;
  });
  std::vector<ProofMark> asRead = proofOf(job.brief.order_text, sewnText(texts));
  return differencesIn(asRead) < differencesIn(asSewn) ? asRead : asSewn;
}

std::string proofKey(const Job& job) {
  std::string all = job.brief.order_text;
  bool any = false;
  for (const Piece& p : job.pieces)
    if (const auto* text = std::get_if<TextSource>(&p.source)) {
      all += "\x1f" + std::to_string(p.id) + "\x1e" + text->text + "\x1e" + text->face;
      if (p.place.mirrored) all += "\x1emirrored";
      any = true;
    }
  if (!any && job.brief.order_text.empty()) return {};
  return all;
}

bool proofAccepted(const Job& job) {
  const std::string key = proofKey(job);
  return key.empty() || key == job.proof_accepted;
}

}  // namespace rt
