#include "findings.h"

#include <algorithm>
#include <array>

#include "error.h"
#include "length.h"
#include "perforation.h"
#include "stitch_limits.h"

namespace rt {
namespace {

constexpr double kShortShare = 0.03;  // up to this part of short stitches is ordinary
constexpr double kMostScale = 4.0;
constexpr double kFarthestApart_mm = 20'000;  // more than anything that is sewn as one

Finding findingOf(FindingKind kind, Verdict severity, double limit = 0) {
  Finding f;
  f.kind = kind;
  f.severity = severity;
  f.limit = limit;
  return f;
}

void nameCause(Finding& finding, const ThreadIndex& thread, const Limit& limit,
               const Fabric& fabric, const std::vector<Zone>& zones) {
  const double broke = finding.severity == Verdict::Stop ? limit.stop : limit.check;
  finding.cause = thread.causeAt(finding.at, finding.value, broke, fabric, zones);
}

/// The same thread does the same thing at both.
bool alike(const Finding& a, const Finding& b) {
  const auto head = [](const Cause& c) {  // the two pieces that most of it comes from
    return std::vector(c.pieces.begin(),
                       c.pieces.begin() + std::min<long>(2, std::ssize(c.pieces)));
  };
  return a.severity == b.severity && a.cause.plain == b.cause.plain &&
         a.cause.over_thick == b.cause.over_thick && head(a.cause) == head(b.cause);
}

/// Many places with one cause are one finding: its worst place, with the area of all.
std::vector<Finding> mergedAlike(std::vector<Finding> findings) {
  std::vector<Finding> out;
  for (Finding& f : findings) {
    const auto same =
        std::find_if(out.begin(), out.end(), [&](const Finding& o) { return alike(o, f); });
    if (same == out.end()) {
      f.places = {f.bounds};
      out.push_back(std::move(f));
      continue;
    }
    same->area_mm2 += f.area_mm2;
    same->places.push_back(f.bounds);
  }
  return out;
}

std::vector<Finding> regionFindings(const Pattern& pattern, const DensityMap& map, Measure measure,
                                    const Limit& limit, const Fabric& fabric,
                                    const std::vector<Zone>& zones) {
  auto stopAt = [&](Point p) { return limit.stop * limitFactorAt(zones, p); };
  auto checkAt = [&](Point p) { return limit.check * limitFactorAt(zones, p); };
  const std::vector<Region> stops = regionsOver(map, measure, stopAt);
  const std::vector<Region> checks = regionsOver(map, measure, checkAt);
  std::vector<Finding> findings;
  if (checks.empty()) return findings;
  const ThreadIndex thread(pattern);
  for (const Region& region : checks) {
    if (region.area_mm2 < kLeastRegion_mm2) continue;
    Finding finding;
    finding.kind = measure == Measure::Thread ? FindingKind::Density : FindingKind::Holes;
    finding.at = region.peak_at;
    finding.bounds = region.bounds;
    finding.area_mm2 = region.area_mm2;
    finding.value = region.peak;
    for (const Region& stop : stops)
      if (stop.area_mm2 >= kLeastRegion_mm2 && region.bounds.contains(stop.bounds) &&
          region.bounds.contains(stop.peak_at))
        finding.severity = Verdict::Stop;
    finding.limit = finding.severity == Verdict::Stop ? stopAt(finding.at) : checkAt(finding.at);
    nameCause(finding, thread, limit, fabric, zones);
    findings.push_back(std::move(finding));
  }
  return mergedAlike(std::move(findings));
}

void addLengthFindings(const Pattern& pattern, std::vector<Finding>& findings) {
  Finding shorts = findingOf(FindingKind::ShortStitches, Verdict::Check, kShortestStitch_mm);
  Finding longs = findingOf(FindingKind::LongStitches, Verdict::Check, kLongestStitch_mm);
  size_t sewn = 0, shortCount = 0, longCount = 0;
  double shortest = kShortestStitch_mm;
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    const double mm = distance(a, b);
    if (mm <= 0 || pattern.stitches[row].kind == Kind::Tie) return;
    sewn += 1;
    if (mm < kShortestStitch_mm - 1e-3) {
      shortCount += 1;
      shorts.bounds.add(b);
      if (mm < shortest) shortest = mm, shorts.at = b;
    }
    if (mm > kLongestStitch_mm + 1e-3) {
      longCount += 1;
      longs.bounds.add(a);
      longs.bounds.add(b);
      if (mm > longs.value) longs.value = mm, longs.at = mix(a, b, 0.5);
    }
  });
  if (shortCount >= 10 &&
      static_cast<double>(shortCount) > kShortShare * static_cast<double>(sewn)) {
    shorts.value = shortest;
    shorts.count = shortCount, shorts.of = sewn;
    findings.push_back(shorts);
  }
  if (longCount > 0) {
    longs.count = longCount, longs.of = sewn;
    findings.push_back(longs);
  }
}

void addKeepOutFindings(const Pattern& pattern, const std::vector<Zone>& zones,
                        std::vector<Finding>& findings) {
  for (const Zone& zone : zones) {
    if (zone.kind != ZoneKind::KeepOut) continue;
    const ZoneEntry entry(zone);
    Finding finding = findingOf(FindingKind::KeepOut, Verdict::Stop);
    size_t count = 0;
    forEachSegment(pattern, [&](Point a, Point b, size_t) {
      const std::optional<Point> in = entry.of(a, b);
      if (!in) return;
      if (count++ == 0) finding.at = *in;
      finding.bounds.add(*in);
    });
    if (count == 0) continue;
    finding.value = static_cast<double>(count);
    finding.count = count, finding.zone = zone.name;
    findings.push_back(finding);
  }
}

/// The longest lines of holes that tear; lines past the third add nothing to know.
void addPerforationFindings(const Pattern& pattern, const Fabric& fabric,
                            std::vector<Finding>& findings) {
  if (!fabric.holes_tear) return;
  const std::vector<HoleLine> lines = holeLines(pattern, fabric.perforation);
  for (size_t i = 0; i < std::min<size_t>(3, lines.size()); ++i) {
    const HoleLine& line = lines[i];
    const bool tears = line.length_mm >= fabric.perforation.length_mm.stop;
    Finding f = findingOf(FindingKind::Perforation, tears ? Verdict::Stop : Verdict::Check);
    f.at = mix(line.from, line.to, 0.5);
    f.bounds.add(line.from);
    f.bounds.add(line.to);
    f.value = line.length_mm;
    f.limit = tears ? fabric.perforation.length_mm.stop : fabric.perforation.length_mm.check;
    f.count = static_cast<size_t>(line.holes), f.apart_mm = line.distance_mm();
    findings.push_back(std::move(f));
  }
}

}  // namespace

std::string_view name(Verdict verdict) {
  constexpr std::array<std::string_view, 3> kNames{"sew", "check", "stop"};
  return kNames[static_cast<size_t>(verdict)];
}

std::string_view name(FindingKind kind) {
  constexpr std::array<std::string_view, 6> kNames{"density",       "holes",    "short-stitches",
                                                   "long-stitches", "keep-out", "perforation"};
  return kNames[static_cast<size_t>(kind)];
}

DensityReport judge(const Pattern& pattern, const DensityMap& map, const Fabric& fabric,
                    const std::vector<Zone>& zones) {
  DensityReport report;
  report.summary = summaryOf(map);
  const Limit& limit = fabric.density_mm_per_mm2;
  report.findings = regionFindings(pattern, map, Measure::Thread, limit, fabric, zones);
  const Point worst = report.findings.empty() ? report.summary.peak_at : report.findings[0].at;
  report.limit_mm_per_mm2 = limit.stop * limitFactorAt(zones, worst);
  report.check_limit_mm_per_mm2 = limit.check * limitFactorAt(zones, worst);
  auto stopAt = [&](Point p) { return limit.stop * limitFactorAt(zones, p); };
  for (const Region& region : regionsOver(map, Measure::Thread, stopAt))
    report.over_limit_mm2 += region.area_mm2;
  for (Finding& f :
       regionFindings(pattern, map, Measure::Holes, fabric.holes_per_mm2, fabric, zones))
    report.findings.push_back(std::move(f));
  addLengthFindings(pattern, report.findings);
  addKeepOutFindings(pattern, zones, report.findings);
  addPerforationFindings(pattern, fabric, report.findings);
  std::stable_sort(report.findings.begin(), report.findings.end(),
                   [](const Finding& a, const Finding& b) { return a.severity > b.severity; });
  for (const Finding& f : report.findings) report.verdict = std::max(report.verdict, f.severity);
  return report;
}

Weighing weigh(const Pattern& pattern, const Fabric& fabric, const std::vector<Zone>& zones,
               double cell_mm) {
  const Box bounds = threadBounds(pattern);
  if (bounds.width() > kFarthestApart_mm || bounds.height() > kFarthestApart_mm)
    throw Error("the layout spans " +
                    formatNumber(std::max(bounds.width(), bounds.height()) / 1000, 0) +
                    " m; it is weighed up to 20 m",
                "layout", "look for a stitch that lies far off, and take it out");
  const Frame frame = frameFor(bounds, cell_mm);
  DensityMap map(frame.lattice);
  map.add(pattern);
  DensityReport report = judge(pattern, map, fabric, zones);
  return {frame, std::move(map), std::move(report)};
}

Pattern cropped(const Pattern& pattern, const Box& window) {
  Pattern out;
  out.threads = pattern.threads;
  out.pieces = pattern.pieces;
  const Box reach = window.grown(kDisc_mm);
  Point last{NAN, NAN};
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    if (std::max(a.x, b.x) < reach.left || std::min(a.x, b.x) > reach.right) return;
    if (std::max(a.y, b.y) < reach.top || std::min(a.y, b.y) > reach.bottom) return;
    Stitch s = pattern.stitches[row];
    if (!(last == a)) {
      Stitch jump = s;
      jump.at = a;
      jump.op = Op::Jump;
      out.stitches.push_back(jump);
    }
    out.stitches.push_back(s);
    last = b;
  });
  return out;
}

Remedy remedyScale(const Pattern& pattern, const Fabric& fabric, const std::vector<Zone>& zones) {
  Remedy remedy;
  remedy.kind = "scale";
  auto passes = [&](double scale) {
    const Weighing w = weigh(transformed(pattern, Transform::scaling(scale, scale)), fabric, zones);
    remedy.result = w.report.summary.peak_mm_per_mm2;
    return std::none_of(w.report.findings.begin(), w.report.findings.end(), [](const Finding& f) {
      return f.kind == FindingKind::Density || f.kind == FindingKind::Holes;
    });
  };
  int low = 100, high = static_cast<int>(kMostScale * 100);
  if (!passes(kMostScale)) return remedy;
  while (high - low > 1) {
    const int middle = (low + high) / 2;
    (passes(middle / 100.0) ? high : low) = middle;
  }
  passes(high / 100.0);
  remedy.value = high / 100.0;
  return remedy;
}

}  // namespace rt
