#include "compare_tool.h"

#include <QDateTime>

namespace rt {
namespace {

QString dayOf(const std::string& time) {
  return QDateTime::fromString(QString::fromStdString(time), Qt::ISODateWithMs)
      .toLocalTime()
      .toString(QStringLiteral("yyyy-MM-dd HH:mm"));
}

QString minutes(double seconds) {
  return seconds > 0 ? QObject::tr("%1 min").arg(seconds / 60, 0, 'f', 1) : QStringLiteral("–");
}

QString times(int n) {
  return n == 0 ? QStringLiteral("–") : QString::number(n);
}

}  // namespace

CompareTool::CompareTool(Desk& desk)
    : desk_(desk),
      left_(new QComboBox),
      right_(new QComboBox),
      table_(new QGridLayout),
      words_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  for (QComboBox* box : {left_, right_})  // long titles do not widen the panel
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  left_->setObjectName(QStringLiteral("compareLeft"));
  right_->setObjectName(QStringLiteral("compareRight"));
  left_->setAccessibleName(tr("One run"));
  right_->setAccessibleName(tr("The other run"));
  table_->setHorizontalSpacing(10);
  table_->setVerticalSpacing(4);
  column->addWidget(left_);
  column->addWidget(right_);
  column->addLayout(table_);
  column->addWidget(words_);
  column->addStretch();
  for (QComboBox* box : {left_, right_})
    connect(box, &QComboBox::activated, this, &CompareTool::compare);
}

void CompareTool::fill(QComboBox& box, size_t otherwise) {
  const int kept = box.currentIndex();
  const bool same = box.count() == static_cast<int>(stories_.size());
  box.clear();
  for (const RunStory& s : stories_)
    box.addItem(tr("%1 · hooping %2 · %3")
                    .arg(QString::fromStdString(s.job_title))
                    .arg(s.hooping)
                    .arg(dayOf(s.began)));
  box.setCurrentIndex(same && kept >= 0 ? kept : static_cast<int>(otherwise));
}

void CompareTool::show(std::vector<RunStory> stories) {
  stories_ = std::move(stories);
  const size_t n = stories_.size();
  fill(*left_, n > 1 ? n - 2 : 0);
  fill(*right_, n > 0 ? n - 1 : 0);
  for (QWidget* w : {static_cast<QWidget*>(left_), static_cast<QWidget*>(right_)})
    w->setVisible(n > 1);
  words_->setText(n > 1 ? QString()
                        : tr("Two hoopings have to be sewn before they can be held side by side."));
  compare();
}

void CompareTool::compare() {
  clear(*table_);
  const int a = left_->currentIndex(), b = right_->currentIndex();
  if (stories_.size() < 2 || a < 0 || b < 0) return;
  const RunStory &one = stories_[static_cast<size_t>(a)], &two = stories_[static_cast<size_t>(b)];
  int row = 0;
  const auto add = [&](const QString& name, const auto& figure) {
    const QString left = figure(one), right = figure(two);
    const bool differs = left != right;  // what differs stands out
    table_->addWidget(paragraph(name, true), row, 0);
    int place = 1;
    for (const QString& text : {left, right}) {
      auto* cell = new QLabel(text);
      cell->setFont(look::figures(10, differs));
      table_->addWidget(cell, row, place++, Qt::AlignRight);
    }
    ++row;
  };
  add(tr("Sewn through"), [](const RunStory& s) { return s.ended.empty() ? tr("no") : tr("yes"); });
  add(tr("Planned"), [](const RunStory& s) { return minutes(s.planned_s); });
  add(tr("Taken"), [](const RunStory& s) { return minutes(s.taken_s); });
  add(tr("Aligned"), [](const RunStory& s) {
    return s.aligned.empty() ? QStringLiteral("–") : QString::fromStdString(s.aligned);
  });
  add(tr("Turned"), [](const RunStory& s) {
    return s.aligned.empty() ? QStringLiteral("–") : tr("%1°").arg(s.rotation_deg, 0, 'f', 2);
  });
  add(tr("Worst corner"), [](const RunStory& s) {
    return s.aligned.empty() ? QStringLiteral("–") : tr("%1 mm").arg(s.worst_mm, 0, 'f', 2);
  });
  add(tr("Overruled"), [](const RunStory& s) { return s.overruled ? tr("yes") : tr("no"); });
  add(tr("Thread breaks"), [](const RunStory& s) { return times(s.breaks); });
  add(tr("Bobbin"), [](const RunStory& s) { return times(s.bobbins); });
  add(tr("Folds"), [](const RunStory& s) { return times(s.folds); });
  add(tr("Machine lost"), [](const RunStory& s) { return times(s.lost); });
  add(tr("Back, passed by"), [](const RunStory& s) { return times(s.stepped_back + s.skipped); });
  add(tr("Sewed out"), [](const RunStory& s) {
    return s.outcome.empty() ? QStringLiteral("–") : QString::fromStdString(s.outcome);
  });
}

}  // namespace rt
