#include "repeat_tool.h"

#include <QFileInfo>

#include "job_file.h"
#include "ledger_entry.h"

namespace rt {

RepeatTool::RepeatTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      text_(new QLineEdit),
      words_(paragraph({}, true)),
      jobs_(new QVBoxLayout),
      other_(button(tr("Another job file …"), tr("Repeat a job that is not in the list"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  text_->setObjectName(QStringLiteral("repeatText"));
  text_->setPlaceholderText(tr("As the customer wrote it; / parts lines"));
  other_->setObjectName(QStringLiteral("repeatOther"));
  column->addWidget(labelled(tr("New order text"), text_));
  column->addWidget(words_);
  jobs_->setSpacing(4);
  column->addLayout(jobs_);
  column->addWidget(other_);
  connect(other_, &QPushButton::clicked, this, [this] {
    const QString path = asker_.toOpen(this, tr("Repeat a job"), tr("Jobs (*.rapt)"));
    if (!path.isEmpty()) repeat(path);
  });
}

void RepeatTool::repeat(const QString& path) {
  guarded(desk_, [&] {
    const Job old = loadWork(path.toStdString()).job;
    QString text = text_->text().trimmed().replace(QStringLiteral("/"), QStringLiteral("\n"));
    if (text.isEmpty()) text = QString::fromStdString(old.brief.order_text);
    Job next = actions::repeatedFor(old, text.toStdString(), desk_.bench());
    next.id = newId();
    emit takeAsked(next);
  });
}

void RepeatTool::refresh() {
  clear(*jobs_);
  const auto recent = desk_.recentJobs();
  words_->setText(recent.empty()
                      ? tr("Jobs that were opened or saved here will stand here.")
                      : tr("Everything of the job is taken over but its text: lettering that sewed "
                           "the old order sews the new one, no longer than before."));
  int n = 0;
  for (const std::filesystem::path& path : recent) {
    const QString file = QString::fromStdString(path.string());
    auto* b = button(tr("Repeat %1").arg(QFileInfo(file).completeBaseName()), file);
    b->setObjectName(QStringLiteral("repeatJob%1").arg(n++));
    connect(b, &QPushButton::clicked, this, [this, file] { repeat(file); });
    jobs_->addWidget(b);
    if (n == 6) break;
  }
}

}  // namespace rt
