// The layout's weight over the cloth, and another state held against it.
#pragma once

#include "desk.h"
#include "hand.h"
#include "lens.h"
#include "weight_picture.h"

namespace rt {

class Layers;

/// Two weights with a line between them that a hand drags. Shared by the stations that compare.
class CompareLine {
 public:
  explicit CompareLine(const Desk& desk) : desk_(desk) {}
  /// The line begins over the place that is looked at.
  void place(const Eye& eye, std::optional<Point> at);
  bool holds(QPointF at, const Eye& eye) const;
  void drag(QPointF at, const Eye& eye);
  void step(double by);
  double x(const Eye& eye) const { return line_ * eye.view.width(); }

 private:
  const Desk& desk_;
  double line_ = 0.5;  ///< Of the view's width: to the left now, to the right the other state.
};

class WeightLens : public Lens {
 public:
  WeightLens(const Desk& desk, CompareLine& line);
  ~WeightLens() override;
  void paint(QPainter& painter, const Eye& eye) override;
  double pieces() const override { return desk_.weighing() ? 0.25 : 1; }
  void setFinding(int finding) { finding_ = finding; }
  int finding() const { return finding_; }
  void setProbe(std::optional<Point> at) { probe_ = at; }
  /// What the line is first laid over.
  std::optional<Point> lookedAt() const;

 private:
  void paintCompared(QPainter& p, const Eye& eye);
  void paintProbe(QPainter& p, const Eye& eye);
  void freshen();
  const Desk& desk_;
  CompareLine& line_;
  int finding_ = -1;
  std::optional<Point> probe_;
  WeightPicture weight_, otherWeight_;
  std::shared_ptr<const Weighing> weightOf_, otherOf_;
  std::unique_ptr<Pattern> layersPattern_;
  std::unique_ptr<Layers> layers_;
  size_t layersOf_ = 0;
};

/// Two weights side by side, where only a comparison is shown.
class CompareLens : public Lens {
 public:
  CompareLens(const Desk& desk, CompareLine& line) : weight_(desk, line), desk_(desk) {}
  void paint(QPainter& painter, const Eye& eye) override {
    if (desk_.comparison()) weight_.paint(painter, eye);
  }

 private:
  WeightLens weight_;
  const Desk& desk_;
};

/// Drags the line, asks for the place under the pointer, picks findings.
class WeightHand : public Hand {
 public:
  WeightHand(const Desk& desk, CompareLine& line, WeightLens& lens, std::function<void(int)> picked)
      : desk_(desk), line_(line), lens_(lens), picked_(std::move(picked)) {}
  bool press(const Touch& touch, const Eye& eye) override;
  void drag(const Touch& touch, const Eye& eye) override;
  bool hover(const Touch& touch, const Eye& eye) override;
  void leave() override { lens_.setProbe(std::nullopt); }
  bool key(const QKeyEvent& event) override;

 private:
  const Desk& desk_;
  CompareLine& line_;
  WeightLens& lens_;
  std::function<void(int)> picked_;
};

}  // namespace rt
