#include "cures.h"

#include <algorithm>

#include "density_words.h"
#include "error.h"
#include "length.h"
#include "remedies.h"
#include "resize.h"
#include "sizing.h"
#include "statistics.h"
#include "zone_cures.h"

namespace rt {
namespace {

constexpr double kLittle = 0.4;  // of the heavy area: what may be left of it by a cure
constexpr double kNearlyRegion =
    0.75;  // of the least region: maps of a part and of all may differ by a cell
constexpr double kHiddenMargins_mm[] = {1.0, 0.7, 0.5};
constexpr double kAround_mm = 3;  // weighed around a place, so that its edges come out right

/// How closely a part is looked at: samples of the map, cells of the cover, mm.
struct Closeness {
  double cell_mm = 0.25, raster_mm = HiddenOptions{}.raster_mm;
};
constexpr Closeness kGlance{0.5, 0.2};  // cells that still close the gaps of a cover
constexpr double kPlain = 2;  // a glance that finds this many times the least region need not look

/// Weighs the part of the layout inside a window.
Weighing weighPart(const Job& job, const Bench& bench, const Box& window, Closeness how = {}) {
  return weigh(cropped(sewnNear(job, window, how.raster_mm), window), clothOf(job, bench),
               job.zones, how.cell_mm);
}

/// Heaviest sample near the finding, so that a cure is judged by the place it is for, and the area
/// over the check limit there.
struct NearPlace {
  double peak = 0, over_mm2 = 0;
};

NearPlace near(const Weighing& w, const Box& place, const Limit& limit,
               const std::vector<Zone>& zones) {
  NearPlace out;
  const Lattice& l = w.frame.lattice;
  const Box box = place.grown(2);
  const auto column0 = static_cast<int64_t>((box.left - l.origin.x) / l.cell_mm);
  const auto column1 = static_cast<int64_t>((box.right - l.origin.x) / l.cell_mm);
  const auto row0 = static_cast<int64_t>((box.top - l.origin.y) / l.cell_mm);
  const auto row1 = static_cast<int64_t>((box.bottom - l.origin.y) / l.cell_mm);
  for (int64_t r = row0; r <= row1; ++r)
    for (int64_t c = column0; c <= column1; ++c) {
      const double d = w.map.density(c, r);
      out.peak = std::max(out.peak, d);
      if (d > limit.check && d > limit.check * limitFactorAt(zones, l.sample(c, r)))
        out.over_mm2 += l.cell_mm * l.cell_mm;
    }
  return out;
}

/// Verdict of thread density alone around the place.
Verdict verdictNear(const Weighing& w, const Box& place) {
  Verdict verdict = Verdict::Sew;
  for (const Finding& f : w.report.findings)
    if (f.kind == FindingKind::Density && f.bounds.grown(1).overlaps(place.grown(1)))
      verdict = std::max(verdict, f.severity);
  return verdict;
}

class Doctor {
 public:
  Doctor(const Job& job, const Finding& finding, const Bench& bench, const Watch& watch)
      : job_(job), finding_(finding), bench_(bench), watch_(watch), fabric_(clothOf(job, bench)) {}

  std::vector<Cure> run() {
    names_ = namesIn(job_.pieces);  // as findings say them: copies of one name have numbers
    for (size_t i = 0; i < job_.pieces.size(); ++i)
      if (std::find(finding_.cause.pieces.begin(), finding_.cause.pieces.end(), names_[i]) !=
          finding_.cause.pieces.end())
        involved_.push_back(i);
    over_mm2_ = tried(job_).over_mm2;
    takeHidden();
    for (size_t i : involved_) respace(i);
    if (involved_.size() > 1) move(involved_.back());
    for (size_t i : involved_)
      if (cures_.size() < 3) withoutUnderlay(i);
    if (!involved_.empty() && limitFactorAt(job_.zones, finding_.at) < 1) leaveZone();
    changeBacking();
    // a size is changed last: it is only tried where few milder cures were found
    if (!involved_.empty() && cures_.size() < 3 && job_.sequence.hidden_margin_mm <= 0) enlarge();
    if (!involved_.empty() && cures_.empty()) leaveOut(involved_.back());
    std::stable_sort(cures_.begin(), cures_.end(),
                     [](const Cure& a, const Cure& b) { return a.verdict < b.verdict; });
    return std::move(cures_);
  }

 private:
  struct Trial {
    Job job;
    double peak = 0, over_mm2 = 0;
    Verdict verdict = Verdict::Stop;
  };

  /// Passes, lifts the verdict, or leaves little of the heavy area.
  bool helps(const Trial& t) const {
    return t.verdict < finding_.severity ||
           (t.verdict == finding_.severity && t.over_mm2 < kLittle * over_mm2_);
  }

  Trial tried(Job job) const {
    watched(watch_, 0, "trying cures");
    const Weighing w = weighPart(job, bench_, finding_.bounds.grown(kAround_mm));
    const Limit limit = clothOf(job, bench_).density_mm_per_mm2;
    const NearPlace n = near(w, finding_.bounds, limit, job.zones);
    Trial trial{std::move(job), n.peak, n.over_mm2, verdictNear(w, finding_.bounds)};
    // a peak too small to count as a region still must not stand beside the word "check"
    if (trial.peak > limit.stop * limitFactorAt(job_.zones, finding_.at))
      trial.verdict = Verdict::Stop;
    // nor one that a cell more would make a region
    if (trial.verdict == Verdict::Sew && n.over_mm2 > kNearlyRegion * kLeastRegion_mm2)
      trial.verdict = Verdict::Check;
    return trial;
  }

  /// Takes out what later sewing covers, over the whole layout.
  void takeHidden() {
    if (job_.sequence.hidden_margin_mm > 0 || involved_.size() < 2) return;
    std::optional<Trial> best;
    for (double margin : kHiddenMargins_mm) {  // the widest margin that cures
      Job job = job_;
      job.sequence.hidden_margin_mm = margin;
      Trial trial = tried(std::move(job));
      if (!best || trial.verdict < best->verdict) best = std::move(trial);
      if (best->verdict < finding_.severity) break;
    }
    if (!helps(*best)) return;
    const Job& job = best->job;
    const Statistics before = statisticsOf(laidOut(job_.pieces), bench_.shop.time);
    const Statistics after = statisticsOf(sewnLayout(job), bench_.shop.time);
    if (after.thread_mm >= before.thread_mm) return;
    const double saved_s = before.sewing_time_s - after.sewing_time_s;  // under 0: cuts cost more
    const std::string& top = names_[involved_.back()];
    const std::string margin = formatNumber(job.sequence.hidden_margin_mm, 1);
    add(std::move(*best), "Take out what the " + top + " hides",
        margin + " mm stay under its edge; " +
            std::to_string(before.stitches - std::min(before.stitches, after.stitches)) +
            " stitches, " + formatNumber((before.thread_mm - after.thread_mm) / 1000, 1) + " m, " +
            formatNumber(std::abs(saved_s) / 60, 1) + (saved_s < 0 ? " min more" : " min less") +
            " in all");
  }

  /// The job with a piece sewn again at a spacing; unset for pieces that cannot be.
  std::optional<Job> withSpacing(size_t index, double spacing_mm) const {
    Job job = job_;
    Piece& piece = job.pieces[index];
    if (auto* art = std::get_if<ArtworkSource>(&piece.source))
      art->row_spacing_mm = spacing_mm;
    else if (auto* text = std::get_if<TextSource>(&piece.source))
      text->spacing_mm = spacing_mm;
    else
      return withReadSpacing(std::move(job), index, spacing_mm);
    piece = remade(piece, fabric_, bench_).piece;
    return job;
  }

  /// Stitches that were read open by the factor that leads to the spacing.
  std::optional<Job> withReadSpacing(Job job, size_t index, double spacing_mm) const {
    const double now = spacingOf(job.pieces[index]);
    if (!(now > 0)) return std::nullopt;
    const auto& source = std::get<StitchSource>(job.pieces[index].source);
    job.pieces[index] =
        respaced(job.pieces[index], fabric_, source.spacing_factor * spacing_mm / now);
    return job;
  }

  /// Spacing of the block that lays most thread in the piece.
  static double readSpacing(const Pattern& pattern) {
    double most = 0, spacing = 0;
    for (const Block& b : blocksOf(pattern)) {
      if (b.thread_mm <= most) continue;
      const Kind hint = declaredKind(pattern, b);
      for (const auto& list : needlePoints(pattern, b))
        if (const Recognised r = recognise(list, hint); r.kind != Kind::Run)
          most = b.thread_mm, spacing = r.spacing_mm;
    }
    return spacing;
  }

  double spacingOf(const Piece& piece) const {
    if (const auto* art = std::get_if<ArtworkSource>(&piece.source))
      return art->row_spacing_mm.value_or(fabric_.spacing.rows_mm);
    if (const auto* text = std::get_if<TextSource>(&piece.source))
      return text->spacing_mm.value_or(fabric_.spacing.satin_mm);
    return readSpacing(*piece.stitches) * std::sqrt(piece.place.scale_x * piece.place.scale_y);
  }

  /// The closest spacing that passes: the least opening that cures, up to twice the spacing, as
  /// beyond that the cloth shows through.
  void respace(size_t index) {
    const double now = spacingOf(job_.pieces[index]);
    std::optional<Trial> best;
    double used = 0;
    for (double spacing = std::ceil(now * 100 + 1) / 100; spacing <= 2 * now + 1e-9;
         spacing += 0.02) {
      const std::optional<Job> job = withSpacing(index, spacing);
      if (!job) return;
      Trial trial = tried(*job);
      const bool better = !best || trial.verdict < best->verdict ||
                          (trial.verdict == best->verdict && spacing <= 1.5 * now + 1e-9 &&
                           trial.over_mm2 < 0.9 * best->over_mm2);
      if (better) best = std::move(trial), used = spacing;
      if (best->verdict == Verdict::Sew) break;
    }
    if (!best || !helps(*best)) return;
    add(std::move(*best), "Re-space " + names_[index] + " to " + formatNumber(used, 2) + " mm",
        "was " + formatNumber(now, 2) + " mm" +
            (used > 1.5 * now ? "; cloth may show through" : "; cover stays closed"));
  }

  /// One layer less: the piece without what lies under its cover.
  void withoutUnderlay(size_t index) {
    const auto* art = std::get_if<ArtworkSource>(&job_.pieces[index].source);
    if (!art || art->underlay == Underlay::None) return;
    Job job = job_;
    std::get<ArtworkSource>(job.pieces[index].source).underlay = Underlay::None;
    job.pieces[index] = remade(job.pieces[index], fabric_, bench_).piece;
    Trial trial = tried(std::move(job));
    if (helps(trial))
      add(std::move(trial), "Sew " + names_[index] + " without underlay",
          "one layer less; on this backing the cover holds a little less well");
  }

  /// All that is involved, by the shortest way out of the thick zone that stays on the place.
  void leaveZone() {
    const Box room = Box::around({0, 0}, job_.brief.place_width_mm, job_.brief.place_height_mm);
    for (double mm = 1; mm <= 60; mm += 1)
      for (int k = 0; k < 4; ++k) {
        const Point way = Transform::turning(k * 90.0).turn({mm, 0});
        Job job = job_;
        bool stays = true;
        for (size_t i : involved_) {
          job.pieces[i].place.at = job.pieces[i].place.at + way;
          const Box box = boundsOf(job.pieces[i]);
          stays &= room.contains(box);
          for (const Zone& z : job_.zones)  // still over the zone: nothing to weigh
            stays &= z.kind != ZoneKind::Thick || !box.overlaps(boundsOf(z.polygon_mm));
        }
        if (!stays) continue;
        Trial trial = tried(std::move(job));
        Finding there = finding_;  // the heavy place went along: it is weighed where it is now
        there.bounds = finding_.bounds.moved(way);
        const Weighing w = weighPart(trial.job, bench_, there.bounds.grown(kAround_mm));
        trial.verdict = std::max(trial.verdict, verdictNear(w, there.bounds));
        trial.peak = near(w, there.bounds, fabric_.density_mm_per_mm2, job_.zones).peak;
        if (trial.verdict >= finding_.severity) continue;
        return add(std::move(trial),
                   "Move " + names_[involved_.front()] + " by " + formatNumber(mm, 0) + " mm " +
                       wayName(way),
                   "the shortest way out of the thick zone that stays on the place");
      }
  }

  /// A backing that holds more.
  void changeBacking() {
    if (job_.brief.backing.find("cut-away") != std::string::npos) return;
    Job job = job_;
    job.brief.backing = "cut-away";
    const Limit limit = clothOf(job, bench_).density_mm_per_mm2;
    if (limit.stop <= fabric_.density_mm_per_mm2.stop) return;
    const double factor = limitFactorAt(job_.zones, finding_.at);
    Trial trial = tried(std::move(job));
    if (trial.verdict < finding_.severity)
      add(std::move(trial), "Back it with cut-away",
          "the limits rise to " + formatNumber(limit.check * factor, 1) + " and " +
              formatNumber(limit.stop * factor, 1) + " mm/mm² there");
  }

  /// The smallest enlargement with the stitches kept, as long as the place holds it.
  void enlarge() {
    const Box room = Box::around({0, 0}, job_.brief.place_width_mm, job_.brief.place_height_mm);
    const size_t index = involved_.back();
    for (double scale = 1.05; scale <= 1.6; scale += 0.05) {
      Job job = job_;
      job.pieces[index].place.scale_x *= scale;
      job.pieces[index].place.scale_y *= scale;
      if (!room.contains(boundsOf(job.pieces[index]))) return;
      Trial trial = tried(std::move(job));
      // the heavy places spread with the piece: all of it is weighed
      const Weighing whole =
          weighPart(trial.job, bench_, boundsOf(trial.job.pieces[index]).grown(kAround_mm));
      for (const Finding& f : whole.report.findings)
        if (f.kind == FindingKind::Density) {
          trial.verdict = std::max(trial.verdict, f.severity);
          trial.peak = std::max(trial.peak, f.value);
        }
      if (trial.verdict >= finding_.severity) continue;
      return add(
          std::move(trial),
          "Enlarge " + names_[index] + " to " + formatNumber(100 * scale, 0) + " %, stitches kept",
          "the smallest size that passes on this place");
    }
  }

  void leaveOut(size_t index) {
    Job job = job_;
    job.pieces.erase(job.pieces.begin() + static_cast<long>(index));
    Trial trial = tried(std::move(job));
    if (helps(trial))
      add(std::move(trial), "Leave " + names_[index] + " out", "nothing milder passes");
  }

  /// Is the piece too heavy on others where it lies now? Most places are so plainly at a glance.
  bool liesHeavy(const Job& job, size_t index) const {
    const Box window = boundsOf(job.pieces[index]).grown(kAround_mm);
    const auto heavy = [&](const Weighing& w, double least_mm2) {
      return std::any_of(w.report.findings.begin(), w.report.findings.end(), [&](const Finding& f) {
        const auto& pieces = f.cause.pieces;
        return f.kind == FindingKind::Density && f.area_mm2 >= least_mm2 && pieces.size() > 1 &&
               std::find(pieces.begin(), pieces.end(), names_[index]) != pieces.end();
      });
    };
    return heavy(weighPart(job, bench_, window, kGlance), kPlain * kLeastRegion_mm2) ||
           heavy(weighPart(job, bench_, window), 0);
  }

  void move(size_t index) {
    constexpr int kWays = 8;
    for (double mm = 2; mm <= 60; mm += mm < 12 ? 2 : 4)
      for (int k = 0; k < kWays; ++k) {
        const Point way = Transform::turning(k * 360.0 / kWays).turn({mm, 0});
        Job job = job_;
        job.pieces[index].place.at = job.pieces[index].place.at + way;
        // a move that only carries the heavy place along is no cure
        if (liesHeavy(job, index)) continue;
        Trial trial = tried(std::move(job));
        if (!helps(trial)) continue;
        return add(std::move(trial),
                   "Move " + names_[index] + " by " + formatNumber(mm, 0) + " mm " + wayName(way),
                   "the shortest move that clears the place");
      }
  }

  void add(Trial trial, std::string title, std::string detail) {
    if (trial.verdict == finding_.severity)
      detail += "; " + formatNumber(over_mm2_, 0) + " mm² over the limit shrink to " +
                formatNumber(trial.over_mm2, 0);
    cures_.push_back({std::move(title), std::move(detail), trial.peak, trial.over_mm2,
                      trial.verdict, std::move(trial.job)});
  }

  const Job& job_;
  const Finding& finding_;
  const Bench& bench_;
  const Watch& watch_;
  const Fabric fabric_;
  double over_mm2_ = 0;  // over the check limit as it is
  std::vector<std::string> names_;
  std::vector<size_t> involved_;
  std::vector<Cure> cures_;
};

}  // namespace

std::vector<Cure> curesFor(const Job& job, const Finding& finding, const Bench& bench,
                           const Watch& watch) {
  if (finding.kind == FindingKind::KeepOut) return curesForKeepOut(job, finding);
  if (finding.kind != FindingKind::Density) return {};
  return Doctor(job, finding, bench, watch).run();
}

}  // namespace rt
