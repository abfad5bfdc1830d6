#include "plan_advice.h"

#include <algorithm>

#include "compose_actions.h"
#include "error.h"
#include "field_cover.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kMoves_mm[] = {2, 4, 8};
constexpr double kLeastOverlap_mm = 6;
constexpr double kSmaller_percent[] = {1, 2};  // nobody sees it, and the stitches stay as they are
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
    smaller();
    std::stable_sort(found_.begin(), found_.end(), [](const PlanAdvice& a, const PlanAdvice& b) {
      return std::tuple(a.hoopings, a.cut, a.percent, length(a.by)) <
             std::tuple(b.hoopings, b.cut, b.percent, length(b.by));
    });
    if (found_.size() > kMostAdvice) found_.resize(kMostAdvice);
    return std::move(found_);
  }

 private:
  /// Plans the job with a change; keeps it if it gains anything.
  bool attempt(PlanAdvice advice, Job changed) {
    if (enoughAsked(watch_, {0, "trying small changes", static_cast<int>(found_.size())}))
      return false;
    try {
      const HoopingPlan other =
          planHoopings(sewnLayout(changed), planOptionsOf(changed, bench_), whole());
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

  /// Each change is planned to its end, unless all is stopped: half a plan gives no advice.
  Watch whole() const {
    return [this](WorkProgress at) {
      at.best = static_cast<int>(found_.size());
      return stopAsked(watch_, at.part, at.stage) ? Go::Stop : Go::On;
    };
  }

  void turnedFrames() {
    if (job_.plan_settings.turn) return;
    PlanSettings s = job_.plan_settings;
    s.turn = true;
    attempt({PlanAdvice::What::TurnFrames, "", {}, 0, 0, 0, 0, {}}, actions::plannedWith(job_, s));
  }

  void otherFrames() {
    for (const Hoop& h : bench_.shop.hoops) {
      if (h.id == job_.plan_settings.hoop) continue;
      PlanSettings s = job_.plan_settings;
      s.hoop = h.id;
      s.more_hoops.clear();
      s.pinned.clear();
      attempt({PlanAdvice::What::OtherFrame, h.name, {}, 0, 0, 0, 0, {}},
              actions::plannedWith(job_, s));
    }
  }

  void lessOverlap() {
    if (job_.plan_settings.overlap_mm <= kLeastOverlap_mm) return;
    PlanSettings s = job_.plan_settings;
    s.overlap_mm = kLeastOverlap_mm;
    attempt({PlanAdvice::What::LessOverlap, "", {}, s.overlap_mm, 0, 0, 0, {}},
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
        if (attempt({PlanAdvice::What::MovePiece, p.name, way * mm, 0, 0, 0, 0, {}},
                    actions::moved(job_, {p.id}, way * mm)))
          return;
  }

  /// The least that helps, of the whole layout and of each cut piece.
  void smaller() {
    for (double percent : kSmaller_percent)
      if (smallerBy(PlanAdvice::What::SmallerLayout, "", percent,
                    actions::scaledWhole(job_, 1 - percent / 100, bench_)))
        break;
    size_t tried = 0;
    for (const Piece& p : job_.pieces) {
      const bool cut = std::find(plan_.crossings.begin(), plan_.crossings.end(), p.name) !=
                       plan_.crossings.end();
      if (!cut || ++tried > kMostPieces) continue;
      for (double percent : kSmaller_percent) {
        const Box box = boundsOf(p);
        Job other = actions::sized(job_, p.id, box.width() * (1 - percent / 100), 0, true, bench_);
        other = actions::centredAt(std::move(other), p.id, box.centre());
        if (smallerBy(PlanAdvice::What::SmallerPiece, p.name, percent, std::move(other))) break;
      }
    }
  }
  bool smallerBy(PlanAdvice::What what, const std::string& name, double percent, Job job) {
    return attempt({what, name, {}, 0, percent, 0, 0, {}}, std::move(job));
  }

  const Job& job_;
  const HoopingPlan& plan_;
  const Bench& bench_;
  const Watch& watch_;
  std::vector<PlanAdvice> found_;
};

std::string wayOf(Point by) {
  const std::string mm = formatNumber(std::abs(by.x != 0 ? by.x : by.y), 0) + " mm ";
  return mm + (by.x < 0 ? "left" : by.x > 0 ? "right" : by.y < 0 ? "up" : "down");
}

}  // namespace

std::string inWords(const PlanAdvice& a) {
  switch (a.what) {
    case PlanAdvice::What::TurnFrames:
      return "Let the frame be turned";
    case PlanAdvice::What::OtherFrame:
      return "Take " + a.name;
    case PlanAdvice::What::MovePiece:
      return "Move " + a.name + " " + wayOf(a.by);
    case PlanAdvice::What::LessOverlap:
      return "Overlap fields by " + formatNumber(a.mm, 0) + " mm only";
    case PlanAdvice::What::SmallerPiece:
      return "Make " + a.name + " " + formatNumber(a.percent, 0) + " % smaller";
    case PlanAdvice::What::SmallerLayout:
      return "Make everything " + formatNumber(a.percent, 0) + " % smaller";
  }
  return "";
}

std::vector<PlanAdvice> planAdvice(const Job& job, const HoopingPlan& plan, const Bench& bench,
                                   const Watch& watch) {
  return Adviser(job, plan, bench, watch).run();
}

std::vector<std::string> canBeWhole(const Job& job, const HoopingPlan& plan, const Bench& bench) {
  const PlanOptions options = planOptionsOf(job, bench);
  std::vector<std::string> out;
  for (const std::string& name : plan.crossings) {
    Box box;  // of all that bear the name: they are kept together
    for (const Piece& p : job.pieces)
      if (p.name == name) box.add(boundsOf(p));
    if (!box.empty() && fitsSomeField(box, options.hoops, options.turn)) out.push_back(name);
  }
  return out;
}

}  // namespace rt
