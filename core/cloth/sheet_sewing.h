// A stitch list on the sheet, step by step, so that what stays the same is solved once. Part of
// this room.
#pragma once

#include "cloth_motion.h"
#include "cloth_sheet.h"

namespace rt {

/// Sewn one after another without letting the cloth go in between.
struct SewingStep {
  size_t end = 0;  ///< Row.
  double length_mm = 0;
};

/// What follows from the list and the field alone.
class SheetSewing {
 public:
  SheetSewing(const Pattern& pattern, const Field& field);

  /// The cloth as stiff as it becomes while the list is sewn, stage by stage: follows from
  /// thread_stiffness, stretch_ratio, shear and reach.
  using Stages = std::vector<std::shared_ptr<const ClothSheet::Stiffened>>;
  Stages stages(const ClothLaw& law) const;
  /// Where every node is when each step begins, and in the end: follows from the pulls and the push
  /// besides.
  using Course = std::vector<SheetField>;
  Course course(const Stages& stages, const ClothLaw& law) const;
  /// The course for a law beside the one that `stages` and `near` were solved for, to first order
  /// in what differs (ClothSheet::pulledBeside).
  Course beside(const Stages& stages, const Course& near, const ClothLaw& law) const;
  /// Where needle points of `pattern` go: the list that was given or one of the same rows, moved by
  /// less than the sheet tells apart.
  ClothMotion motion(const Course& course, const ClothLaw& law, const Pattern& pattern,
                     const std::vector<ClothPoint>& points) const;

 private:
  LaidThreads onCloth(size_t stage) const;
  Course summed(const std::vector<SheetField>& moves) const;
  size_t firstStep(size_t stage) const;
  size_t stageCount() const;
  size_t stepOf(size_t row) const;
  Point movedOn(const Course& course, Point p, size_t step, double part) const;

  std::vector<SewingStep> steps_;
  Box fine_;
  ClothSheet sheet_;
  std::vector<LaidThreads> laid_;
};

}  // namespace rt
