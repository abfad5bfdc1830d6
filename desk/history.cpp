#include "history.h"

namespace rt {

History::History(std::function<void(const Job&)> put, QObject* parent)
    : QObject(parent), put_(std::move(put)) {}

void History::push(const QString& name, Job before, Job after, const QString& run) {
  const bool goesOn = !run.isEmpty() && run == run_ && index_ == count() && index_ > 0;
  run_ = run;
  if (goesOn) {
    if (clean_ == index_) clean_ = -1;  // what was saved lies within the step now
    steps_.back().after = std::move(after);
    emit indexChanged(index_);
    return;
  }
  if (clean_ > index_) clean_ = -1;  // what was saved lies in the branch that goes
  steps_.resize(static_cast<size_t>(index_));
  steps_.push_back({name, std::move(before), std::move(after)});
  ++index_;
  emit indexChanged(index_);
}

void History::undo() {
  endRun();
  if (!canUndo()) return;
  --index_;
  put_(steps_[static_cast<size_t>(index_)].before);
  emit indexChanged(index_);
}

void History::redo() {
  endRun();
  if (!canRedo()) return;
  ++index_;
  put_(steps_[static_cast<size_t>(index_ - 1)].after);
  emit indexChanged(index_);
}

void History::setIndex(int index) {
  while (index_ > std::max(0, index)) undo();
  while (index_ < std::min(index, count())) redo();
}

void History::clear() {
  endRun();
  steps_.clear();
  index_ = clean_ = 0;
  emit indexChanged(0);
}

QString History::undoText() const {
  return canUndo() ? steps_[static_cast<size_t>(index_ - 1)].name : QString();
}

QString History::redoText() const {
  return canRedo() ? steps_[static_cast<size_t>(index_)].name : QString();
}

void History::setClean() {
  endRun();
  clean_ = index_;
  emit indexChanged(index_);
}

void History::resetClean() {
  clean_ = -1;
  emit indexChanged(index_);
}

}  // namespace rt
