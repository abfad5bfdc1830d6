#include "actions.h"

#include <algorithm>

#include "error.h"
#include "length.h"
#include "making_words.h"
#include "measured_curve.h"
#include "sizing.h"

namespace rt::actions {
namespace {

const Fabric& clothIn(const Job& job, const Bench& bench, Fabric& keep) {
  return keep = clothOf(job, bench);
}

Job resettled(Job job, int id, const Bench& bench) {
  Fabric fabric;
  Piece& piece = pieceOf(job, id);
  piece = settled(piece, clothIn(job, bench, fabric), bench);
  return job;
}

/// Takes a changed field over, unless both sides changed it to something else.
template <class T>
void mergeField(const T& base, const T& changed, T& now) {
  if (!(changed == base)) now = changed;
}

void mergeBrief(const Brief& base, const Brief& changed, Brief& now) {
  mergeField(base.item, changed.item, now.item);
  mergeField(base.order_text, changed.order_text, now.order_text);
  mergeField(base.customer, changed.customer, now.customer);
  mergeField(base.fabric, changed.fabric, now.fabric);
  mergeField(base.holding, changed.holding, now.holding);
  mergeField(base.backing, changed.backing, now.backing);
  mergeField(base.topper, changed.topper, now.topper);
  mergeField(base.needle_nm, changed.needle_nm, now.needle_nm);
  mergeField(base.thread_weight, changed.thread_weight, now.thread_weight);
  mergeField(base.place_width_mm, changed.place_width_mm, now.place_width_mm);
  mergeField(base.place_height_mm, changed.place_height_mm, now.place_height_mm);
  mergeField(base.centre_line_deg, changed.centre_line_deg, now.centre_line_deg);
}

void mergeSequence(const SequenceSettings& base, const SequenceSettings& changed,
                   SequenceSettings& now) {
  mergeField(base.fewest_colours, changed.fewest_colours, now.fewest_colours);
  mergeField(base.hidden_margin_mm, changed.hidden_margin_mm, now.hidden_margin_mm);
  mergeField(base.needles, changed.needles, now.needles);
  mergeField(base.shortest_travel, changed.shortest_travel, now.shortest_travel);
  mergeField(base.thin_under_letters, changed.thin_under_letters, now.thin_under_letters);
  mergeField(base.colours_by_hand, changed.colours_by_hand, now.colours_by_hand);
  mergeField(base.stops, changed.stops, now.stops);
  mergeField(base.cloth, changed.cloth, now.cloth);
}

const Piece* find(const std::vector<Piece>& pieces, int id) {
  for (const Piece& p : pieces)
    if (p.id == id) return &p;
  return nullptr;
}

void mergePieces(const Job& base, const Job& changed, Job& now) {
  for (const Piece& was : base.pieces) {
    const Piece* will = find(changed.pieces, was.id);
    const Piece* is = find(now.pieces, was.id);
    if (will && *will == was) continue;
    if (!is && !will) continue;  // both took it out
    if (!is || !(*is == was))
      throw Error("\"" + was.name + "\" was edited meanwhile", "piece " + std::to_string(was.id),
                  "look at it again: the change was worked out for it as it was");
    if (will)
      pieceOf(now, was.id) = *will;
    else
      std::erase_if(now.pieces, [&](const Piece& p) { return p.id == was.id; });
  }
  for (const Piece& more : changed.pieces)
    if (!find(base.pieces, more.id)) now = added(std::move(now), more);
}

}  // namespace

const Piece& pieceOf(const Job& job, int id) {
  if (const Piece* p = find(job.pieces, id)) return *p;
  std::string known;
  for (const Piece& p : job.pieces)
    known += (known.empty() ? "" : ", ") + std::to_string(p.id) + " " + p.name;
  throw Error("there is no piece " + std::to_string(id), "job",
              known.empty() ? "the job has no pieces" : "its pieces are " + known);
}

Piece& pieceOf(Job& job, int id) {
  return const_cast<Piece&>(pieceOf(std::as_const(job), id));
}

Job added(Job job, Piece piece, int* id) {
  piece.id = job.next_piece_id++;
  if (id) *id = piece.id;
  job.pieces.push_back(std::move(piece));
  return job;
}

Job removed(Job job, int id) {
  pieceOf(job, id);
  std::erase_if(job.pieces, [id](const Piece& p) { return p.id == id; });
  return job;
}

Job moved(Job job, const std::vector<int>& ids, Point by) {
  for (int id : ids) {
    Piece& p = pieceOf(job, id);
    p.place.at = p.place.at + by;
  }
  return job;
}

Job centredAt(Job job, int id, Point at) {
  const Point by = at - boundsOf(pieceOf(job, id)).centre();  // before the job is given away
  return moved(std::move(job), {id}, by);
}

Job placed(Job job, int id, const Placement& place, const Bench& bench) {
  pieceOf(job, id).place = place;
  return resettled(std::move(job), id, bench);
}

Job sized(Job job, int id, double width_mm, double height_mm, bool in_proportion,
          const Bench& bench) {
  Piece& p = pieceOf(job, id);
  const Box box = boundsOf(p);
  double fx = width_mm > 0 ? width_mm / std::max(1e-6, box.width()) : 0;
  double fy = height_mm > 0 ? height_mm / std::max(1e-6, box.height()) : 0;
  if (!(fx >= 0 && fy >= 0 && fx + fy > 0))
    throw Error("a size must be over 0 mm", "piece " + std::to_string(id),
                "give a width or height");
  // of a turned piece the two sizes cannot be told apart: it is sized as a whole
  const bool whole = in_proportion || std::abs(std::remainder(p.place.turn_deg, 180)) > 0.01;
  if (whole) fx = fy = fx > 0 ? fx : fy;
  if (fx == 0) fx = 1;
  if (fy == 0) fy = 1;
  p.place.scale_x *= fx;
  p.place.scale_y *= fy;
  return resettled(std::move(job), id, bench);
}

Job turned(Job job, int id, double turn_deg, const Bench& bench) {
  pieceOf(job, id).place.turn_deg = wrapDegrees(turn_deg);
  return resettled(std::move(job), id, bench);
}

Job mirrored(Job job, int id, const Bench& bench) {
  Placement& p = pieceOf(job, id).place;
  p.mirrored = !p.mirrored;
  p.turn_deg = wrapDegrees(-p.turn_deg);
  return resettled(std::move(job), id, bench);
}

Job sewnAt(Job job, int id, size_t position, bool on_purpose) {
  const auto at = std::find_if(job.pieces.begin(), job.pieces.end(),
                               [id](const Piece& p) { return p.id == id; });
  pieceOf(job, id);
  const auto from = static_cast<size_t>(at - job.pieces.begin());
  if (position >= job.pieces.size())
    throw Error("there is no place " + std::to_string(position + 1) + " in the order",
                "piece " + std::to_string(id), "give 1 to " + std::to_string(job.pieces.size()));
  if (const auto why = on_purpose ? std::nullopt : whyNotMoved(job, from, position))
    throw Error(inWords(*why), "piece " + std::to_string(id), "do it on purpose if you mean it");
  Piece piece = *at;
  job.pieces.erase(at);
  job.pieces.insert(job.pieces.begin() + static_cast<long>(position), std::move(piece));
  return job;
}

Job grouped(Job job, const std::vector<int>& ids) {
  const int group = freeGroup(job);
  for (int id : ids) pieceOf(job, id).group = group;
  return job;
}

Job ungrouped(Job job, const std::vector<int>& ids) {
  for (int id : ids) pieceOf(job, id).group = 0;
  return job;
}

namespace {

/// A curve whose points lie on the cloth stays there: where the baseline's radius changes the text
/// moves away from the circle's centre or toward it.
void keepOnCurve(Piece& piece, const TextSource& was, const TextSource& now) {
  if (now.curve.given != MeasuredCurve::Given::Points || was.curve.given != now.curve.given ||
      was.curve.points_mm != now.curve.points_mm || was.arc_side != now.arc_side)
    return;
  const double out = now.arc_radius_mm - was.arc_radius_mm;
  piece.place.at = piece.place.at +
                   transformOf(piece.place).turn({0, now.arc_side == ArcSide::Inside ? out : -out});
}

}  // namespace

Job relettered(Job job, int id, const TextSource& source, const Bench& bench,
               std::vector<std::string>* warnings) {
  Piece& piece = pieceOf(job, id);
  if (!std::holds_alternative<TextSource>(piece.source))
    throw Error("\"" + piece.name + "\" is no lettering", "piece " + std::to_string(id),
                "choose a piece of text");
  // a piece that is called by its text goes on being so
  if (piece.name == std::get<TextSource>(piece.source).text) piece.name = source.text;
  const TextSource was = std::get<TextSource>(piece.source);
  piece.source = source;
  auto& now = std::get<TextSource>(piece.source);
  follow(now);
  keepOnCurve(piece, was, now);
  Made made = remade(piece, clothOf(job, bench), bench);
  piece = made.piece;
  if (warnings) *warnings = std::move(made.warnings);
  return job;
}

namespace {

/// Pieces that are made here sewn again where the brief asks for other spacing or pull.
Job resewn(Job job, const Fabric& before, const Bench& bench) {
  const Fabric cloth = clothOf(job, bench);
  if (cloth.spacing == before.spacing &&
      cloth.pull_compensation_mm == before.pull_compensation_mm &&
      cloth.least_column_mm == before.least_column_mm)
    return job;
  for (Piece& piece : job.pieces)
    if (!std::holds_alternative<StitchSource>(piece.source))
      piece = remade(piece, cloth, bench).piece;
  return job;
}

}  // namespace

Job onFabric(Job job, const std::string& fabric, const Bench& bench) {
  const Fabric& f = fabricById(bench.shop.fabrics, fabric);
  const Fabric before = clothOf(job, bench);
  if (job.brief.fabric != f.id) job.sequence.cloth.reset();  // it is of another cloth
  job.brief.fabric = f.id;
  job.brief.backing = f.backing;
  job.brief.topper = !f.topper.empty();
  return resewn(std::move(job), before, bench);
}

Job withZone(Job job, Zone zone) {
  if (zone.polygon_mm.size() < 3)
    throw Error("a zone needs three corners or more", "zone " + zone.name, "draw it again");
  job.zones.push_back(std::move(zone));
  return job;
}

Job withoutZone(Job job, const std::string& name) {
  if (std::erase_if(job.zones, [&](const Zone& z) { return z.name == name; }) == 0)
    throw Error("there is no zone \"" + name + "\"", "job", "name one that is there");
  return job;
}

Job withoutZone(Job job, size_t index) {
  if (index >= job.zones.size())
    throw Error("there is no zone " + std::to_string(index + 1), "job", "name one that is there");
  job.zones.erase(job.zones.begin() + static_cast<long>(index));
  return job;
}
Job titled(Job job, const std::string& title) {
  job.title = title;
  return job;
}
Job briefed(Job job, Brief brief, const Bench& bench) {
  for (double mm : {brief.place_width_mm, brief.place_height_mm})
    if (!(mm > 0 && mm <= 20'000))
      throw Error("a place of " + formatNumber(mm, 1) + " mm is none", "brief",
                  "give over 0 and up to 20,000 mm");
  const Fabric before = clothOf(job, bench);
  if (job.brief.fabric != brief.fabric) job.sequence.cloth.reset();
  job.brief = std::move(brief);
  return resewn(std::move(job), before, bench);
}
Job onClothKnown(Job job, std::optional<ClothKnown> cloth, const Bench& bench) {
  if (cloth && cloth->fabric != job.brief.fabric)
    throw Error("the cloth is of " + cloth->fabric + ", the job's fabric is " + job.brief.fabric,
                "cloth", "learn from a swatch of the job's own fabric, or change the fabric");
  const Fabric before = clothOf(job, bench);
  job.sequence.cloth = std::move(cloth);
  return resewn(std::move(job), before, bench);
}
Job sequencedWith(Job job, SequenceSettings settings) {
  if (settings.needles < 1 || settings.needles > 100)
    throw Error(std::to_string(settings.needles) + " needles are on no machine", "needles",
                "give 1 to 100");
  if (!(settings.hidden_margin_mm == 0 ||
        (settings.hidden_margin_mm >= 0.3 && settings.hidden_margin_mm <= 20)))
    throw Error("a margin of " + formatNumber(settings.hidden_margin_mm, 2) + " mm would show",
                "hidden margin", "give 0.3 to 20 mm; 1 mm is usual");
  job.sequence = std::move(settings);
  return job;
}
Job colouredAs(Job job, std::vector<Colour> wish) {
  job.sequence.colours_by_hand = std::move(wish);
  if (!job.sequence.colours_by_hand.empty()) job.sequence.fewest_colours = false;
  return job;
}
namespace {

/// A drawing keeps what its colours are sewn in, for when it is sewn again.
void swapIn(ArtworkSource& art, Colour from, Colour to) {
  bool drawn = false;
  for (ThreadSwap& s : art.threads) {
    drawn = drawn || s.drawn == from;
    if (s.sewn == from) s.sewn = to;
  }
  if (!drawn) art.threads.push_back({from, to});
  std::erase_if(art.threads, [](const ThreadSwap& s) { return s.drawn == s.sewn; });
}

bool sewnIn(const Piece& piece, Colour colour) {
  const Pattern& p = *piece.stitches;
  return std::any_of(p.stitches.begin(), p.stitches.end(),
                     [&](const Stitch& s) { return p.colourOf(s) == colour; });
}

void thread(Piece& piece, Colour from, Colour to) {
  const auto other = [&](Colour c) { return c == from ? to : c; };
  const auto with = [&](const Pattern& p) {
    return std::make_shared<const Pattern>(rethreaded(p, other));
  };
  piece.stitches = with(*piece.stitches);
  if (auto* art = std::get_if<ArtworkSource>(&piece.source)) swapIn(*art, from, to);
  if (auto* text = std::get_if<TextSource>(&piece.source)) text->colour = other(text->colour);
  if (auto* read = std::get_if<StitchSource>(&piece.source); read && read->bare)
    read->bare = with(*read->bare);
}

}  // namespace

Job threadedAs(Job job, Colour from, Colour to, std::optional<int> piece) {
  bool any = false;
  for (Piece& p : job.pieces) {
    if ((piece && p.id != *piece) || !sewnIn(p, from)) continue;
    any = true;
    thread(p, from, to);
  }
  if (!any)
    throw Error("nothing is sewn in " + from.hex(),
                piece ? "piece " + std::to_string(*piece) : "job",
                "give the thread of something on the cloth");
  std::vector<Colour>& wish = job.sequence.colours_by_hand;
  if (wish.empty()) return job;
  const bool left = std::any_of(job.pieces.begin(), job.pieces.end(),
                                [&](const Piece& p) { return sewnIn(p, from); });
  const auto before = std::find(wish.begin(), wish.end(), from);
  if (left && before != wish.end() && std::find(wish.begin(), wish.end(), to) == wish.end())
    wish.insert(before + 1, to);
  if (!left) std::replace(wish.begin(), wish.end(), from, to);
  wish.erase(std::unique(wish.begin(), wish.end()), wish.end());
  return job;
}

Job toleratedAt(Job job, double tolerance_mm) {
  job.tolerance_mm = std::clamp(tolerance_mm, 0.05, 10.0);
  return job;
}
Job remadeAs(Job job, const Piece& piece, const Bench& bench) {
  pieceOf(job, piece.id) = remade(piece, clothOf(job, bench), bench).piece;
  return job;
}
Job stretchedTo(Job job, int id, const Placement& place) {
  pieceOf(job, id).place = place;
  return job;
}
Job waiting(Job job, const OperatorStop& stop) {
  pieceOf(job, stop.piece);
  std::erase_if(job.sequence.stops, [&](const OperatorStop& o) {
    return o.piece == stop.piece && o.blocks_before == stop.blocks_before;
  });
  job.sequence.stops.push_back(stop);
  return job;
}

Job proofAccepted(Job job) {
  job.proof_accepted = proofKey(job);
  return job;
}

Job hoopedInOrder(Job job, const HoopingPlan& plan, const std::vector<int>& order) {
  std::vector<int> sorted = order;
  std::sort(sorted.begin(), sorted.end());
  for (size_t i = 0; i < sorted.size(); ++i)
    if (sorted[i] != static_cast<int>(i) + 1 || sorted.size() != plan.hoopings.size())
      throw Error("that is no order of the plan's hoopings", "order",
                  "name each of 1 to " + std::to_string(plan.hoopings.size()) + " once");
  job.plan_settings.order_by_hand.clear();
  for (int index : order)
    job.plan_settings.order_by_hand.push_back(plan.hoopings[static_cast<size_t>(index) - 1].origin);
  return job;
}

Job cutAlong(Job job, const AskedCut& line) {
  if (!(distance(line.from, line.to) >= kShortestCut_mm))
    throw Error("a cut along a line of no length is none", "cut",
                "draw it across the piece that is to be parted");
  job.plan_settings.cuts.push_back(line);
  return job;
}

Job withoutCut(Job job, int which) {
  auto& cuts = job.plan_settings.cuts;
  if (which < 1 || static_cast<size_t>(which) > cuts.size())
    throw Error("there is no cut " + std::to_string(which), "cut",
                cuts.empty() ? "none is asked for" : "give 1 to " + std::to_string(cuts.size()));
  cuts.erase(cuts.begin() + which - 1);
  return job;
}

Job plannedWith(Job job, PlanSettings settings) {
  if (!(settings.overlap_mm >= 0 && settings.overlap_mm <= 200))
    throw Error("an overlap of " + formatNumber(settings.overlap_mm, 1) + " mm is none", "overlap",
                "give 0 to 200 mm; 10 mm is usual");
  if (settings.hoop.empty()) throw Error("no frame is named", "hoop", "choose one");
  job.plan_settings = std::move(settings);
  return job;
}

namespace {

constexpr double kSamePlace_mm = 0.01;

void letGoAt(PlanSettings& s, Point origin) {
  std::erase_if(s.pinned,
                [&](const PinnedFrame& p) { return distance(p.origin, origin) < kSamePlace_mm; });
}

}  // namespace

Job heldAt(Job job, const Hooping& hooping, Point by) {
  PlanSettings& s = job.plan_settings;
  const Point to = hooping.origin + by;
  letGoAt(s, hooping.origin);
  s.pinned.push_back({hooping.hoop_id, hooping.turn_deg, to});
  // an order that was asked for knows clampings by their places: it goes along
  for (Point& at : s.order_by_hand)
    if (distance(at, hooping.origin) < kSamePlace_mm) at = to;
  if (s.order_by_hand.empty() && hooping.index == 1) s.order_by_hand.push_back(to);
  return job;
}

Job letGo(Job job, const Hooping& hooping) {
  letGoAt(job.plan_settings, hooping.origin);
  // asked for by holding it, not by an order of several
  if (job.plan_settings.order_by_hand.size() == 1 &&
      distance(job.plan_settings.order_by_hand.front(), hooping.origin) < kSamePlace_mm)
    job.plan_settings.order_by_hand.clear();
  return job;
}

Job merged(const Job& base, const Job& changed, const Job& now) {
  Job out = now;
  mergePieces(base, changed, out);
  mergeBrief(base.brief, changed.brief, out.brief);
  mergeSequence(base.sequence, changed.sequence, out.sequence);
  mergeField(base.title, changed.title, out.title);
  mergeField(base.zones, changed.zones, out.zones);
  mergeField(base.plan_settings, changed.plan_settings, out.plan_settings);
  mergeField(base.tolerance_mm, changed.tolerance_mm, out.tolerance_mm);
  mergeField(base.proof_accepted, changed.proof_accepted, out.proof_accepted);
  return out;
}

}  // namespace rt::actions
