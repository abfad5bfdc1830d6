#include "tags_tool.h"

#include "hooping_place.h"
#include "page_view.h"
#include "scan_reading.h"

namespace rt {

TagsTool::TagsTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      first_(new QSpinBox),
      count_(new QSpinBox),
      size_(new QSpinBox),
      words_(paragraph({}, true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  first_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  first_->setRange(0, tagCount() - 1);
  first_->setAccessibleName(tr("First tag"));
  count_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  count_->setRange(1, tagCount());
  count_->setValue(12);
  count_->setAccessibleName(tr("How many tags"));
  size_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  size_->setRange(5, 100);
  size_->setValue(15);
  size_->setSuffix(tr(" mm"));
  size_->setAccessibleName(tr("Edge of a tag"));
  auto* write_ = button(tr("Write tags …"), tr("Sheets of tags with a check ruler, as PDF"), true);
  write_->setObjectName(QStringLiteral("writeTags"));
  column->addWidget(words_);
  column->addWidget(pair(labelled(tr("From tag"), first_), labelled(tr("How many"), count_)));
  column->addWidget(labelled(tr("Edge of the black square"), size_));
  auto* look = PageView::button(desk_, asker_, [this] {
    return PaperToLookAt{tr("Tags"), QStringLiteral("tags.pdf"), [this](const QString& path) {
                           writeTagSheets(options(), path.toStdString());
                         }};
  });
  look->setObjectName(QStringLiteral("previewTags"));
  column->addWidget(pair(write_, look));
  connect(write_, &QPushButton::clicked, this, &TagsTool::write);
}

/// Which numbers this job needs.
void TagsTool::refresh() {
  const HoopingPlan* plan = desk_.plan();
  if (!plan)
    return words_->setText(
        tr("Cloth tags are 15 mm, tags of frames 12 mm. Cut along the dashed line: "
           "the white margin belongs to a tag."));
  std::set<int> cloth, frames;
  for (const Hooping& h : plan->hoopings) {
    for (const Mark& m : expectedMarks(h)) cloth.insert(tagOfMark(m.id));
    for (const Hoop& known : desk_.bench().shop.hoops)
      if (known.id == h.hoop_id)
        for (const TagPlace& t : known.tags) frames.insert(t.id);
  }
  const auto list = [](const std::set<int>& ids) {
    QStringList out;
    for (int id : ids) out << QString::number(id);
    return out.join(QStringLiteral(", "));
  };
  words_->setText(tr("This plan: tags %1 on the cloth (15 mm) where its marks are, and %2 on the "
                     "frames (12 mm).")
                      .arg(list(cloth), frames.empty() ? tr("none") : list(frames)));
}

TagSheetOptions TagsTool::options() const {
  TagSheetOptions o;
  o.paper = paper_;
  o.printer = printer_;
  o.first = first_->value();
  o.count = std::min(count_->value(), tagCount() - o.first);
  o.size_mm = size_->value();
  return o;
}

void TagsTool::write() {
  const QString path =
      asker_.toSave(this, tr("Write tags"), QStringLiteral("tags.pdf"), tr("PDF (*.pdf)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    const TagSheets r = writeTagSheets(options(), path.toStdString());
    desk_.say(tr("%1 of tags written to %2. Print at 100 %.")
                  .arg(counted(static_cast<size_t>(r.pages), tr("sheet"), tr("sheets")), path));
  });
}

}  // namespace rt
