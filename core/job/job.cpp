#include "job.h"

#include <algorithm>
#include <cstring>

#include "hidden.h"
#include "length.h"
#include "order.h"

namespace rt {

bool operator==(const MadePlan& a, const MadePlan& b) {
  return a.layout_print == b.layout_print &&
         (a.plan == b.plan || (a.plan && b.plan && *a.plan == *b.plan));
}

namespace {

/// Stops go in front of the first row of their piece.
void addStops(Pattern& layout, const Job& job) {
  for (const OperatorStop& stop : job.sequence.stops)
    for (size_t i = 0, row = 0; i < job.pieces.size(); ++i) {
      if (job.pieces[i].id != stop.piece) continue;
      const std::vector<Piece> before(job.pieces.begin(),
                                      job.pieces.begin() + static_cast<long>(i));
      row = laidOut(before).stitches.size();
      if (!before.empty() && row > 0 && layout.stitches.size() > row) {
        Stitch s = layout.stitches[row - 1];
        s.op = Op::Stop;
        s.kind = Kind::Unknown;
        layout.stitches.insert(layout.stitches.begin() + static_cast<long>(row), s);
      }
      break;
    }
}

}  // namespace

Pattern sewnLayout(const Job& job) {
  Pattern layout = laidOut(job.pieces);
  addStops(layout, job);
  if (threadBounds(layout).empty()) return layout;
  if (job.sequence.fewest_colours) layout = orderColours(layout).pattern;
  if (job.sequence.hidden_margin_mm > 0)
    layout = withoutHidden(layout, {job.sequence.hidden_margin_mm}).pattern;
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

const HoopingMarks* marksFor(const Job& job, int hooping) {
  for (const HoopingMarks& m : job.alignments)
    if (m.hooping == hooping) return &m;
  return nullptr;
}

HoopingMarks& marksFor(Job& job, int hooping) {
  for (HoopingMarks& m : job.alignments)
    if (m.hooping == hooping) return m;
  job.alignments.push_back({hooping, 0.5, {}});
  return job.alignments.back();
}

Progress& progressFor(Job& job, int hooping) {
  for (Progress& p : job.progress)
    if (p.hooping == hooping) return p;
  job.progress.push_back({hooping, 0, false});
  return job.progress.back();
}

Transform intendedPlace(const Hooping& hooping) {
  return Transform::turning(-hooping.turn_deg) *
         Transform::moving(Point{} - hooping.field.centre());
}

Pattern inHoop(const Hooping& hooping) {
  return transformed(hooping.pattern, intendedPlace(hooping));
}

std::vector<Mark> expectedMarks(const Hooping& hooping) {
  const Transform to = intendedPlace(hooping);
  std::vector<Mark> marks;
  char name = 'A';
  auto add = [&](Point layout) {
    marks.push_back({std::string(1, name++), layout, to(layout), kNeedleError_mm});
  };
  for (const PlanMark& m : hooping.marks) {
    add(m.at);
    marks.back().id += " (" + m.id + ")";
  }
  // ends of the centre lines, as far out as the field reaches, when the planner's marks are few
  const Box room = hooping.field.grown(-6);
  if (room.top <= 0 && room.bottom >= 0) {
    if (marks.size() < 4) add({room.left, 0});
    if (marks.size() < 4) add({room.right, 0});
  }
  if (room.left <= 0 && room.right >= 0) {
    if (marks.size() < 4) add({0, room.top});
    if (marks.size() < 4) add({0, room.bottom});
  }
  for (int corner = 0; marks.size() < 3 && corner < 4; ++corner) add(room.corner(corner));
  return marks;
}

std::string proofOf(const Job& job) {
  auto bare = [](const std::string& text) {
    std::u32string out;
    for (char32_t c : decodeUtf8(text))
      if (c != U' ' && c != U'\n' && c != U'\t' && c != U'\r') out.push_back(c);
    return out;
  };
  std::u32string sewn;
  for (const Piece& p : job.pieces)
    if (const auto* text = std::get_if<TextSource>(&p.source)) sewn += bare(text->text);
  const std::u32string ordered = bare(job.brief.order_text);
  if (ordered == sewn) return "";
  size_t i = 0;
  while (i < ordered.size() && i < sewn.size() && ordered[i] == sewn[i]) ++i;
  const std::string want =
      i < ordered.size() ? "\"" + encodeUtf8(ordered[i]) + "\"" : "nothing more";
  const std::string have = i < sewn.size() ? "\"" + encodeUtf8(sewn[i]) + "\"" : "nothing more";
  return "letter " + std::to_string(i + 1) + ": the order has " + want + ", the layout sews " +
         have;
}

}  // namespace rt
