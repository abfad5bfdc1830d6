// Steps of editing, by name, each with the job before and after it.
#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <vector>

#include "job.h"

namespace rt {

/// Undo and redo over whole jobs. What happened (the record) is no part of a job and stays.
class History : public QObject {
  Q_OBJECT
 public:
  /// `put` makes a job the one in hand.
  explicit History(std::function<void(const Job&)> put, QObject* parent = nullptr);

  /// A step that was just made; steps that were undone before it are gone. Steps that follow one
  /// another under the same word for a run of typing are one step.
  void push(const QString& name, Job before, Job after, const QString& run = {});
  /// Whatever is typed next is a step of its own.
  void endRun() { run_.clear(); }
  void undo();
  void redo();
  /// Undoes or redoes until so many steps are done.
  void setIndex(int index);
  void clear();

  bool canUndo() const { return index_ > 0; }
  bool canRedo() const { return index_ < count(); }
  QString undoText() const;
  QString redoText() const;
  int count() const { return static_cast<int>(steps_.size()); }
  /// Steps that are done.
  int index() const { return index_; }
  /// Whether the job stands where it was saved.
  bool isClean() const { return clean_ == index_; }
  void setClean();
  /// No place of the history is what was saved.
  void resetClean();

 signals:
  void indexChanged(int index);

 private:
  struct Step {
    QString name;
    Job before, after;
  };
  std::function<void(const Job&)> put_;
  std::vector<Step> steps_;
  int index_ = 0, clean_ = 0;
  QString run_;  ///< Of the step that was made last; empty: it is closed.
};

}  // namespace rt
