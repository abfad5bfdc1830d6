#include "batch_tool.h"

#include "file_io.h"
#include "verdicts.h"

namespace rt {

namespace {
constexpr int kAsk = -1;
}

BatchTool::BatchTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      count_(new QSpinBox),
      gap_(new LengthEdit(tr("Gap between pieces"))),
      turn_(new QCheckBox(tr("Pieces may be turned"))),
      baste_(new QCheckBox(tr("Baste around each"))),
      names_(new QPlainTextEdit),
      long_(new QComboBox),
      words_(paragraph({})),
      more_(button(tr("One more"), tr("One more piece"))),
      fill_(button(tr("Fill the frame"), tr("As many as cost no further hooping"))),
      make_(button(tr("Make the batch"), tr("A job of its own with all pieces, each frame held"),
                   true)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  count_->setRange(1, 500);
  count_->setValue(24);
  count_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  count_->setAccessibleName(tr("Pieces"));
  count_->setObjectName(QStringLiteral("batchCount"));
  gap_->setValue_mm(5, desk.inches());
  names_->setPlaceholderText(tr("or one piece a name: a line each"));
  names_->setAccessibleName(tr("Names"));
  names_->setObjectName(QStringLiteral("batchNames"));
  names_->setMaximumHeight(70);
  names_->setTabChangesFocus(true);
  long_->addItem(tr("Too long a name: choose …"), kAsk);
  long_->addItem(tr("in two lines"), static_cast<int>(BatchWish::Long::TwoLines));
  long_->addItem(tr("left out"), static_cast<int>(BatchWish::Long::LeaveOut));
  long_->addItem(tr("sewn small all the same"), static_cast<int>(BatchWish::Long::SewSmall));
  long_->setAccessibleName(tr("What is done with names that come out too small"));
  long_->setObjectName(QStringLiteral("batchLong"));
  long_->hide();
  words_->setObjectName(QStringLiteral("batchWords"));
  fill_->setObjectName(QStringLiteral("batchFill"));
  more_->setObjectName(QStringLiteral("batchMore"));
  make_->setObjectName(QStringLiteral("batchMake"));
  auto* file = button(tr("Names from a file …"), tr("A line each, or CSV with a column name"));
  file->setObjectName(QStringLiteral("batchFile"));
  column->addWidget(pair(labelled(tr("Pieces"), count_), labelled(tr("Gap"), gap_)));
  column->addWidget(pair(more_, fill_));
  column->addWidget(names_);
  column->addWidget(file);
  column->addWidget(long_);
  column->addWidget(turn_);
  column->addWidget(baste_);
  column->addWidget(words_);
  column->addWidget(make_);
  column->addStretch();
  connect(count_, &QSpinBox::valueChanged, this, &BatchTool::show);
  connect(gap_, &LengthEdit::edited, this, &BatchTool::show);
  connect(names_, &QPlainTextEdit::textChanged, this, &BatchTool::show);
  connect(long_, &QComboBox::activated, this, &BatchTool::show);
  for (QCheckBox* box : {turn_, baste_}) connect(box, &QCheckBox::toggled, this, &BatchTool::show);
  connect(more_, &QPushButton::clicked, this, [this] { count_->setValue(count_->value() + 1); });
  connect(fill_, &QPushButton::clicked, this, [this] {
    if (per_ > 0) count_->setValue((count_->value() + per_ - 1) / per_ * per_);
  });
  connect(file, &QPushButton::clicked, this, &BatchTool::readNames);
  connect(make_, &QPushButton::clicked, this, &BatchTool::make);
}

BatchWish BatchTool::wish() {
  BatchWish w;
  blank_ = 0;
  w.count = count_->value();
  const std::string typed = names_->toPlainText().toStdString();
  if (typed.find_first_not_of(" \t\r\n") != std::string::npos) w.names = namesFrom(typed, &blank_);
  w.hoop = desk_.job().plan_settings.hoop;
  w.gap_mm = gap_->value_mm();
  w.turn = turn_->isChecked();
  w.baste = baste_->isChecked();
  if (const int how = long_->currentData().toInt(); how != kAsk)
    w.long_names = static_cast<BatchWish::Long>(how);
  return w;
}

std::optional<Batch> BatchTool::worked() {
  try {
    return batchOf(desk_.job(), wish(), desk_.bench(), &known_);
  } catch (const std::exception& problem) {
    words_->setText(QString::fromUtf8(problem.what()));
    return std::nullopt;
  }
}

/// What a person has to know of the names before a batch is made of them.
QString BatchTool::nameWords(const Batch& b) const {
  QStringList out;
  if (blank_ > 0)
    out << tr("%1 left out.")
               .arg(counted(static_cast<size_t>(blank_), tr("empty line is"),
                            tr("empty lines are")));
  if (!b.left_out.empty())
    out << tr("%1 left out as too long: %2.")
               .arg(counted(b.left_out.size(), tr("name is"), tr("names are")),
                    QString::fromStdString(b.left_out.front()));
  if (!b.small.empty())
    out << tr("%1 too small: \"%2\" would be %3 high, its face is sewn well from %4. Choose two "
              "lines, "
              "a larger place, a shorter name, or leave it out.")
               .arg(counted(b.small.size(), tr("name comes out"), tr("names come out")),
                    QString::fromStdString(b.small.front().name),
                    oneUnit(desk_, b.small.front().height_mm),
                    oneUnit(desk_, b.small.front().least_mm));
  return out.join(QStringLiteral(" "));
}

void BatchTool::show() {
  if (!isVisible()) return;
  const bool named = !names_->toPlainText().trimmed().isEmpty();
  try {
    const Batch b = batchOf(desk_.job(), wish(), desk_.bench(), &known_);
    per_ = b.per_hooping;
    if (named) {
      const QSignalBlocker block(count_);
      count_->setValue(b.pieces);
    }
    words_->setText(
        tr("%1 in %2, %3 a hooping; %4. %5 m² of cloth and backing, %6 % of the field "
           "sewn over. %7")
            .arg(counted(static_cast<size_t>(b.pieces), tr("piece"), tr("pieces")),
                 counted(static_cast<size_t>(b.hoopings), tr("hooping"), tr("hoopings")))
            .arg(b.per_hooping)
            .arg(b.free_places == 0 ? tr("the last one is full")
                                    : tr("room for %1 more").arg(b.free_places))
            .arg(b.cloth_mm2 / 1e6, 0, 'f', 2)
            .arg(b.field_use * 100, 0, 'f', 0)
            .arg(nameWords(b)));
    const bool chosen = long_->currentData().toInt() != kAsk;
    long_->setVisible(!b.small.empty() || chosen);
    make_->setEnabled(b.small.empty() ||
                      long_->currentData().toInt() == static_cast<int>(BatchWish::Long::SewSmall));
    fill_->setEnabled(b.free_places > 0 && !named);
    count_->setEnabled(!named);
    more_->setEnabled(!named);
  } catch (const std::exception& problem) {
    words_->setText(QString::fromUtf8(problem.what()));
    make_->setEnabled(false);
    fill_->setEnabled(false);
  }
}

void BatchTool::make() {
  std::optional<Batch> batch = worked();
  if (batch) emit takeAsked(batch->job);
}

void BatchTool::readNames() {
  const QString path =
      asker_.toOpen(this, tr("Names of the batch"), tr("Lists (*.txt *.csv);;All files (*)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    QStringList lines;
    int blank = 0;
    for (const std::string& name : namesFrom(readFile(path.toStdString()), &blank))
      lines << QString::fromStdString(name);
    names_->setPlainText(lines.join('\n'));
    if (blank > 0)
      desk_.say(tr("%1 in the list were left out.")
                    .arg(counted(static_cast<size_t>(blank), tr("empty line"), tr("empty lines"))));
  });
}

void BatchTool::refresh() {
  show();
}

}  // namespace rt
