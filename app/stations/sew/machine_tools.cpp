#include "machine_tools.h"

#include <QGridLayout>

#include "blocks.h"

namespace rt {
namespace {

/// Speed-ups on an even slider: 1, 2, 5, 10, … 1000.
constexpr std::array<int, 10> kSpeeds{1, 2, 5, 10, 20, 50, 100, 200, 500, 1000};
constexpr int kUsualSpeed = 5;

QVBoxLayout* columnOf(QWidget* widget) {
  auto* column = new QVBoxLayout(widget);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  return column;
}

}  // namespace

StepTool::StepTool(Desk& desk) : desk_(desk), words_(paragraph({}, true)) {
  auto* column = columnOf(this);
  column->addWidget(words_);
  auto* board = new QWidget;
  auto* grid = new QGridLayout(board);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(4);
  int place = 0;
  const auto add = [&](const QString& text, const QString& tip, const QString& key,
                       std::function<void()> run) {
    auto* b = button(text, tip);
    b->setObjectName(key);
    grid->addWidget(b, place / 4, place % 4);
    ++place;
    buttons_.push_back(b);
    connect(b, &QPushButton::clicked, this, std::move(run));
  };
  for (int n : {-100, -10, -1, 1, 10, 100})
    add(n < 0 ? tr("− %1").arg(-n) : tr("+ %1").arg(n),
        n < 0 ? tr("So many stitches back") : tr("Pass by so many stitches on purpose"),
        QStringLiteral("step%1").arg(n), [this, n] { step(n); });
  add(tr("Block"), tr("Pass by the rest of this block on purpose"), QStringLiteral("stepBlock"),
      [this] { stepBlock(); });
  add(tr("Colour"), tr("Pass by the rest of this colour on purpose"), QStringLiteral("stepColour"),
      [this] { stepColour(); });
  column->addWidget(board);
  auto* outline =
      button(tr("Trace the outline"),
             tr("Drive the frame once around all that will be sewn, without the needle"));
  outline->setObjectName(QStringLiteral("traceOutline"));
  column->addWidget(outline);
  buttons_.push_back(outline);
  connect(outline, &QPushButton::clicked, &desk.run().machine(), &MachineLink::outline);
}

/// So many needle points on from where it would go on.
void StepTool::step(int stitches) {
  const auto& sent = desk_.run().sent();
  if (!sent) return;
  const std::vector<Stitch>& rows = sent->rows.stitches;
  size_t row = desk_.resumeRow();
  for (int n = std::abs(stitches); n > 0;) {
    if (stitches < 0 ? row == 0 : row >= rows.size()) break;
    row = stitches < 0 ? row - 1 : row + 1;
    const size_t passed = stitches < 0 ? row : row - 1;
    n -= rows[passed].op == Op::Stitch;
  }
  desk_.run().moveTo(row);
}

void StepTool::stepBlock() {
  const size_t now = desk_.resumeRow();
  for (size_t start : desk_.run().blockStarts())
    if (start > now) return desk_.run().moveTo(start);
  if (desk_.run().sent()) desk_.run().moveTo(desk_.run().sent()->rows.stitches.size());
}

void StepTool::stepColour() {
  const auto& sent = desk_.run().sent();
  if (!sent) return;
  const std::vector<Stitch>& rows = sent->rows.stitches;
  const size_t now = desk_.resumeRow();
  for (size_t start : desk_.run().blockStarts())
    if (start > now && now < rows.size() && rows[start].thread != rows[now].thread)
      return desk_.run().moveTo(start);
  desk_.run().moveTo(rows.size());
}

void StepTool::refresh() {
  using Phase = MachineLink::Phase;
  const Phase phase = desk_.run().machine().phase();
  const bool can = desk_.run().sent() && (phase == Phase::Loaded || phase == Phase::Paused ||
                                          phase == Phase::ColourWait || phase == Phase::Broken);
  for (QPushButton* b : buttons_) b->setEnabled(can);
  words_->setText(can ? tr("It goes on at row %1. What is passed by is kept in the ledger.")
                            .arg(desk_.resumeRow())
                      : tr("While the machine stands: where it shall go on."));
}

FilesTool::FilesTool(Desk& desk)
    : desk_(desk),
      words_(paragraph({}, true)),
      list_(button(tr("In its memory"), tr("List the files in the machine's memory"))),
      stick_(
          button(tr("On the stick"), tr("List the files on the stick, as far as it shows them"))),
      remove_(button(tr("Remove the old ones"), tr("Files of this job that are not in use"))) {
  auto* column = columnOf(this);
  column->addWidget(pair(list_, stick_));
  column->addWidget(words_);
  column->addWidget(remove_);
  list_->setObjectName(QStringLiteral("listFiles"));
  remove_->setObjectName(QStringLiteral("removeStale"));
  MachineLink& m = desk.run().machine();
  connect(list_, &QPushButton::clicked, this, [&m] { m.listFiles(false); });
  connect(stick_, &QPushButton::clicked, this, [&m] { m.listFiles(true); });
  connect(&m, &MachineLink::listed, this, &FilesTool::show);
  connect(remove_, &QPushButton::clicked, this, [this, &m] {
    for (const QString& name : std::exchange(stale_, {})) m.removeFile(name, onStick_);
  });
}

void FilesTool::show(const QVector<MachineFile>& files, bool stick) {
  onStick_ = stick;
  stale_.clear();
  const QString job = QString::fromStdString(desk_.job().id).left(8) + ' ';
  const auto& sent = desk_.run().sent();
  QStringList lines;
  qint64 bytes = 0;
  for (const MachineFile& f : files) {
    bytes += f.bytes;
    const bool current = sent && f.name == SewingRun::fileOf(*sent);
    if (f.name.startsWith(job) && !current) stale_ << f.name;
    lines << tr("%1, %2 kB%3")
                 .arg(f.name)
                 .arg(f.bytes / 1024)
                 .arg(current                  ? tr(", in use")
                      : f.name.startsWith(job) ? tr(", old")
                                               : QString());
  }
  lines << tr("%1, %2 kB in all.")
               .arg(counted(static_cast<size_t>(files.size()), tr("file"), tr("files")))
               .arg(bytes / 1024);
  words_->setText(lines.join('\n'));
  refresh();
}

void FilesTool::refresh() {
  using Phase = MachineLink::Phase;
  const Phase phase = desk_.run().machine().phase();
  const bool here = phase != Phase::Away && phase != Phase::Connecting;
  list_->setEnabled(here);
  stick_->setEnabled(here);
  remove_->setVisible(here && !stale_.isEmpty());
}

FaultTool::FaultTool(Desk& desk)
    : desk_(desk),
      speed_(new QSlider(Qt::Horizontal)),
      words_(paragraph({}, true)),
      fault_(new QComboBox),
      after_(new QSpinBox),
      strike_(button(tr("Let it happen"), tr("The practice machine has this trouble then"))) {
  auto* column = columnOf(this);
  speed_->setObjectName(QStringLiteral("speedSlider"));
  speed_->setRange(0, static_cast<int>(kSpeeds.size()) - 1);
  speed_->setValue(kUsualSpeed);
  speed_->setAccessibleName(tr("Speed-up of the practice machine"));
  strike_->setObjectName(QStringLiteral("breakButton"));
  fault_->setObjectName(QStringLiteral("faultKind"));
  fault_->addItem(tr("Thread breaks"), QStringLiteral("break"));
  fault_->addItem(tr("Bobbin not caught"), QStringLiteral("bobbin-missed"));
  fault_->addItem(tr("Bobbin empty"), QStringLiteral("bobbin-empty"));
  fault_->addItem(tr("Fold under the foot"), QStringLiteral("fold"));
  fault_->addItem(tr("Power goes"), QStringLiteral("power"));
  fault_->setAccessibleName(tr("Trouble to practise"));
  after_->setAccessibleName(tr("After how many stitches"));
  after_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  after_->setRange(1, 100000);
  after_->setValue(200);
  after_->setSuffix(tr(" stitches on"));
  column->addWidget(pair(words_, speed_));
  column->addWidget(pair(fault_, after_));
  column->addWidget(strike_);
  MachineLink& m = desk.run().machine();
  connect(speed_, &QSlider::valueChanged, this, [this, &m] {
    m.setSpeedUp(speed());
    words_->setText(tr("Time × %1").arg(speed()));
  });
  connect(strike_, &QPushButton::clicked, this, [this, &m] {
    m.strike(fault_->currentData().toString(), after_->value());
    desk_.say(tr("%1 in %2 stitches.").arg(fault_->currentText()).arg(after_->value()));
  });
  words_->setText(tr("Time × %1").arg(speed()));
}

double FaultTool::speed() const {
  return kSpeeds[static_cast<size_t>(speed_->value())];
}

}  // namespace rt
