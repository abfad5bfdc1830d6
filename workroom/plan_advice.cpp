#include "plan_advice.h"

#include <algorithm>

#include "actions.h"
#include "error.h"

namespace rt {
namespace {

constexpr double kMoves_mm[] = {2, 4, 8};
constexpr double kLeastOverlap_mm = 6;
constexpr size_t kMostAdvice = 4, kMostPieces = 4;

class Adviser {
 public:
  Adviser(const Job& job, const HoopingPlan& plan, const Bench& bench, const Watch& watch)
      : job_(job), plan_(plan), bench_(bench), watch_(watch) {}

  std::vector<PlanAdvice> run() {
    turnedFrames();
    otherFrames();
    lessOverlap();
    movedPieces();
    std::stable_sort(found_.begin(), found_.end(), [](const PlanAdvice& a, const PlanAdvice& b) {
      return std::tuple(a.hoopings, a.cut, length(a.by)) <
             std::tuple(b.hoopings, b.cut, length(b.by));
    });
    if (found_.size() > kMostAdvice) found_.resize(kMostAdvice);
    return std::move(found_);
  }

 private:
  /// Plans the job with a change; keeps it if it gains anything.
  bool attempt(PlanAdvice advice, Job changed) {
    watched(watch_, 0, "trying small changes");
    try {
      const HoopingPlan other =
          planHoopings(sewnLayout(changed), planOptionsOf(changed, bench_), watch_);
      advice.hoopings = static_cast<int>(other.hoopings.size());
      advice.cut = static_cast<int>(other.crossings.size());
    } catch (const Error&) {
      return false;  // what cannot be planned is no advice
    }
    const auto now = std::pair(plan_.hoopings.size(), plan_.crossings.size());
    if (!(std::pair(static_cast<size_t>(advice.hoopings), static_cast<size_t>(advice.cut)) < now))
      return false;
    advice.job = std::move(changed);
    found_.push_back(std::move(advice));
    return true;
  }

  void turnedFrames() {
    if (job_.plan_settings.turn) return;
    PlanSettings s = job_.plan_settings;
    s.turn = true;
    attempt({PlanAdvice::What::TurnFrames, "", {}, 0, 0, 0, {}}, actions::plannedWith(job_, s));
  }

  void otherFrames() {
    for (const Hoop& h : bench_.shop.hoops) {
      if (h.id == job_.plan_settings.hoop) continue;
      PlanSettings s = job_.plan_settings;
      s.hoop = h.id;
      s.more_hoops.clear();
      s.pinned.clear();
      attempt({PlanAdvice::What::OtherFrame, h.name, {}, 0, 0, 0, {}},
              actions::plannedWith(job_, s));
    }
  }

  void lessOverlap() {
    if (job_.plan_settings.overlap_mm <= kLeastOverlap_mm) return;
    PlanSettings s = job_.plan_settings;
    s.overlap_mm = kLeastOverlap_mm;
    attempt({PlanAdvice::What::LessOverlap, "", {}, s.overlap_mm, 0, 0, {}},
            actions::plannedWith(job_, s));
  }

  /// Of each cut piece the shortest move that helps.
  void movedPieces() {
    size_t tried = 0;
    for (const Piece& p : job_.pieces) {
      const bool cut = std::find(plan_.crossings.begin(), plan_.crossings.end(), p.name) !=
                       plan_.crossings.end();
      if (!cut || ++tried > kMostPieces) continue;
      movePiece(p);
    }
  }
  void movePiece(const Piece& p) {
    for (double mm : kMoves_mm)
      for (Point way : {Point{1, 0}, Point{-1, 0}, Point{0, 1}, Point{0, -1}})
        if (attempt({PlanAdvice::What::MovePiece, p.name, way * mm, 0, 0, 0, {}},
                    actions::moved(job_, {p.id}, way * mm)))
          return;
  }

  const Job& job_;
  const HoopingPlan& plan_;
  const Bench& bench_;
  const Watch& watch_;
  std::vector<PlanAdvice> found_;
};

}  // namespace

std::vector<PlanAdvice> planAdvice(const Job& job, const HoopingPlan& plan, const Bench& bench,
                                   const Watch& watch) {
  return Adviser(job, plan, bench, watch).run();
}

}  // namespace rt
