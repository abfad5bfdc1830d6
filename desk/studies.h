// What follows from the job: each figure a study, asked anew when what it rests on changes.
#pragma once

#include "cloth_reading.h"
#include "cures.h"
#include "figures.h"
#include "next_plan.h"
#include "plan_advice.h"
#include "statistics.h"
#include "study.h"
#include "work.h"

namespace rt {

/// Stitches that are shared and compared by content.
struct SharedPattern {
  std::shared_ptr<const Pattern> stitches = std::make_shared<const Pattern>();
  const Pattern& operator*() const { return *stitches; }
  friend bool operator==(const SharedPattern& a, const SharedPattern& b) {
    return a.stitches == b.stitches || *a.stitches == *b.stitches;
  }
};

/// All that the sewn layout is made of.
struct SequenceInput {
  std::vector<Piece> pieces;
  SequenceSettings settings;
  friend bool operator==(const SequenceInput&, const SequenceInput&) = default;
};
SequenceInput sequenceOf(const Job& job);

struct WeighInput {
  SharedPattern layout;
  Fabric fabric;
  std::vector<Zone> zones;
  friend bool operator==(const WeighInput&, const WeighInput&) = default;
};

struct CureInput {
  Job job;
  Finding finding;
  Fabric fabric;                       ///< With limits as they were: another limit, other cures.
  std::shared_ptr<const Bench> bench;  ///< What cures are made with; its limits are in `fabric`.
  friend bool operator==(const CureInput& a, const CureInput& b) {
    return a.job == b.job && a.finding == b.finding && a.fabric == b.fabric;
  }
};

struct PlanInput {
  SharedPattern layout;
  /// With what was sewn, to go on from; null: nothing was, it is planned from nothing.
  std::shared_ptr<const Work> sewn;
  size_t facts = 0;  ///< Of `sewn`.
  PlanOptions options;
  PlanSettings settings;  ///< What the options were made of.
  size_t document = 0;    ///< Number of the job in hand: a plan is never another job's.
  friend bool operator==(const PlanInput& a, const PlanInput& b) {
    return a.layout == b.layout && a.facts == b.facts && a.options == b.options &&
           a.settings == b.settings && a.document == b.document;
  }
};

struct AdviceInput {
  Job job;
  std::string plan;  ///< Id of the plan that it is to beat.
  std::shared_ptr<const HoopingPlan> made;
  std::shared_ptr<const Bench> bench;
  friend bool operator==(const AdviceInput& a, const AdviceInput& b) {
    return a.plan == b.plan && a.job == b.job;
  }
};

struct FiguresInput {
  SequenceInput sequence;
  TimeModel time;
  friend bool operator==(const FiguresInput&, const FiguresInput&) = default;
};

struct CompareInput {
  Job job;
  Fabric fabric;
  friend bool operator==(const CompareInput&, const CompareInput&) = default;
};

struct MovementInput {
  SequenceInput sequence;
  ClothKnown cloth;
  friend bool operator==(const MovementInput&, const MovementInput&) = default;
};

/// Photos of a sewn swatch.
struct ClothLessonInput {
  std::vector<std::string> files;
  ClothKnown before;
  SharedPattern sewn;
  PhotoSetup setup;
  friend bool operator==(const ClothLessonInput&, const ClothLessonInput&) = default;
};

/// The studies of one job in hand. `refresh` is told the job whenever it changes.
class Studies : public QObject {
  Q_OBJECT
 public:
  explicit Studies(const Bench& bench, QObject* parent = nullptr);

  /// Takes the job as it is now; asks for the layout's weight.
  void refresh(const Job& job, const Fabric& fabric, const TimeModel& time);
  /// Another job is in hand: nothing of the last one is told any more.
  void reset();

  /// The sewn layout; while hidden stitches are being sought it still holds them.
  const SharedPattern& layout() const { return layout_; }
  size_t layoutPrint() const { return print_; }
  const Statistics& statistics() const { return statistics_; }
  bool sequencing() const { return sequencing_; }

  /// The last weighing; null until the first. `weighingCurrent`: it is of this very layout.
  std::shared_ptr<const Weighing> weighing() const { return weigh_.last(); }
  bool weighingCurrent() const;

  void seekCures(const Job& job, int finding);
  /// Nobody looks at them any more.
  void stopCures() { cure_.stop(); }
  const std::vector<Cure>& cures() const;
  /// The job that the cures were worked out for.
  const Job& curesOf() const { return cure_.lastInput()->job; }
  int cureFinding() const { return cureFinding_; }
  bool curing() const { return cure_.running(); }

  Study<PlanInput, NextPlan>& plan() { return plan_; }
  const Study<PlanInput, NextPlan>& plan() const { return plan_; }

  /// Small changes that would better the plan; asked by a person.
  Study<AdviceInput, std::vector<PlanAdvice>>& advice() { return advice_; }
  const Study<AdviceInput, std::vector<PlanAdvice>>& advice() const { return advice_; }

  /// Figures of the sewing order; asked only while someone looks at them.
  void askFigures(const Job& job, const TimeModel& time);
  std::shared_ptr<const SequenceFigures> figures() const { return figures_.last(); }
  bool figuresRunning() const { return figures_.running(); }

  /// What the job's cloth does; asked only while someone looks at it.
  Study<MovementInput, ClothMovement>& movement() { return movement_; }
  /// What photos of a swatch say of a cloth.
  Study<ClothLessonInput, ClothPhotoLesson>& clothLesson() { return clothLesson_; }

  void compare(Job other, const Fabric& fabric);
  void endComparison();
  std::shared_ptr<const Weighing> compared() const;

  /// Whether anything is still being computed.
  bool busy() const;

 signals:
  void layoutChanged();  ///< Hidden stitches were found: the layout is another.
  void weighed();
  void cured();
  void planned();
  void advised();
  void figured();
  void comparedTo();

 private:
  void takeLayout(SharedPattern layout);
  void weigh();
  const Bench& bench_;
  Job job_;
  Fabric fabric_;
  TimeModel time_;
  SharedPattern layout_;
  std::optional<SequenceInput> laid_;
  size_t print_ = 0;
  Statistics statistics_;
  bool sequencing_ = false;
  int cureFinding_ = -1;
  Study<SequenceInput, Pattern> sequence_;
  Study<WeighInput, Weighing> weigh_;
  Study<CureInput, std::vector<Cure>> cure_;
  Study<PlanInput, NextPlan> plan_;
  Study<AdviceInput, std::vector<PlanAdvice>> advice_;
  Study<FiguresInput, SequenceFigures> figures_;
  Study<CompareInput, Weighing> compare_;
  Study<MovementInput, ClothMovement> movement_;
  Study<ClothLessonInput, ClothPhotoLesson> clothLesson_;
};

}  // namespace rt
