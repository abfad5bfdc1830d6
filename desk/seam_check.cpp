#include "seam_check.h"

namespace rt {

SeamCheck::SeamCheck(QObject* parent)
    : QObject(parent),
      read_([](const SeamQuestion& q, const Watch& watch) { return readSeams(q, watch); }) {
  connect(&read_, &StudyBase::changed, this, &SeamCheck::take);
}

std::shared_ptr<const SeamAnswer> SeamCheck::answerFor(const std::string& scan) const {
  return read_.lastInput() && read_.lastInput()->scan->scan.id == scan ? read_.last() : nullptr;
}

void SeamCheck::take() {
  if (read_.state() == StudyState::Failed) emit failed(QString::fromUtf8(read_.error()->what()));
  if (read_.state() == StudyState::Ready && read_.last()) {
    const SeamQuestion& question = *read_.lastInput();
    if (const std::string& scan = question.scan->scan.id; scan != told_) {
      told_ = scan;
      emit measured(question, *read_.last());
    }
  }
  emit changed();
}

}  // namespace rt
