#include "verdict_panel.h"

#include <QPainter>
#include <QScrollArea>

namespace rt {

VerdictPanel::VerdictPanel(Desk& desk, const VerdictBoard& board)
    : board_(board), word_(new QLabel), sentence_(new QLabel), stack_(new QStackedWidget) {
  setFixedWidth(look::kPanelWidth);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 20, 0, 0);
  column->setSpacing(8);
  word_->setFont(look::text(14.5, true));
  word_->setContentsMargins(58, 0, 16, 0);
  word_->setMinimumHeight(28);
  word_->setObjectName(QStringLiteral("verdictWord"));
  word_->setWordWrap(true);
  sentence_->setFont(look::text(10.5));
  sentence_->setWordWrap(true);
  sentence_->setContentsMargins(20, 0, 16, 6);
  sentence_->setObjectName(QStringLiteral("verdictSentence"));
  column->addWidget(word_);
  column->addWidget(sentence_);
  column->addWidget(stack_, 1);
  connect(&board, &VerdictBoard::changed, this, &VerdictPanel::refreshVerdict);
  desk.on(Part::Job | Part::View, this, [this] {
    if (!panels_.empty()) panels_[static_cast<size_t>(station_)]->refresh();
  });
}

void VerdictPanel::add(StationPanel* panel) {
  panel->setMaximumWidth(look::kPanelWidth);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(panel);
  scroll->setFocusPolicy(Qt::NoFocus);
  stack_->addWidget(scroll);
  panels_.push_back(panel);
}

void VerdictPanel::setStation(Station station) {
  station_ = station;
  stack_->setCurrentIndex(static_cast<int>(station));
  panels_[static_cast<size_t>(station)]->refresh();
  refreshVerdict();
}

void VerdictPanel::refreshVerdict() {
  const StationVerdict& v = board_.of(station_);
  state_ = v.state;
  word_->setText(v.word);
  sentence_->setText(v.sentence);
  sentence_->setVisible(!v.sentence.isEmpty());
  setAccessibleName(tr("Verdict: %1. %2").arg(v.word, v.sentence));
  update();
}

void VerdictPanel::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), look::colours().panel);
  p.setPen(QPen(look::colours().line, 1));
  p.drawLine(0, 0, 0, height());
  p.drawLine(20, stack_->y() - 2, width() - 20, stack_->y() - 2);
  look::drawState(p, QRectF(20, word_->y() + 1, 26, 26), state_);
}

}  // namespace rt
