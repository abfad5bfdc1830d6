// How the cloth moves under thread: whose figures the job follows, what that changes, and learning
// them from photos of a sewn swatch.
#pragma once

#include "lens.h"
#include "station.h"

namespace rt {

/// Strokes from where thread is drawn to where it will lie, ten times as long, from afar forty.
/// Under them the pieces are pale.
class PullLens : public Lens {
 public:
  void paint(QPainter& painter, const Eye& eye) override;
  double pieces() const override { return looked_ && movement_ ? 0.55 : 1; }
  void show(std::shared_ptr<const ClothMovement> movement) { movement_ = std::move(movement); }
  /// Whether somebody looks at the tool; else nothing is laid over the cloth.
  void look(bool at) { looked_ = at; }

 private:
  std::shared_ptr<const ClothMovement> movement_;
  bool looked_ = false;
};

class PullTool : public QWidget {
  Q_OBJECT
 public:
  PullTool(Desk& desk, FileAsker& asker);
  void refresh();
  PullLens& lens() { return lens_; }

 signals:
  void swatchAsked();
  void lookChanged();

 private:
  /// Kept: what the job follows was learned earlier, or in another shop.
  enum Choice { Drawn, Starting, Learned, Kept };
  Choice choiceOf(const std::optional<ClothKnown>& followed) const;
  ClothKnown startingValues() const;
  /// The figures of the choice that is shown; the starting values where the job is sewn as drawn.
  ClothKnown shown() const;
  void choose(int choice);
  void addPhoto();
  void forget();
  void listChoices();
  void takeLesson();
  void showMovement();
  void showLesson();
  QString size(double mm) const;

  Desk& desk_;
  FileAsker& asker_;
  QComboBox* follow_;
  QLabel *words_, *lesson_;
  QPushButton *swatch_, *photo_, *forget_;
  /// Photos of one swatch, the fabric that it is of, and what was known before it was sewn.
  std::vector<std::string> photos_;
  std::optional<ClothKnown> before_;
  PullLens lens_;
};

}  // namespace rt
