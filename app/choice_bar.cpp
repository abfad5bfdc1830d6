#include "choice_bar.h"

#include <QEvent>
#include <QPushButton>
#include <QVBoxLayout>

#include "fields.h"
#include "look.h"

namespace rt {

namespace {
constexpr int kWidth = 620, kEdge = 24;
}

ChoiceBar::ChoiceBar(QWidget* over) : QFrame(over), words_(new QLabel), ways_(new QHBoxLayout) {
  setObjectName(QStringLiteral("choiceBar"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 16, 12);
  column->setSpacing(8);
  words_->setWordWrap(true);
  words_->setFont(look::text(10));
  words_->setObjectName(QStringLiteral("choiceWords"));
  column->addWidget(words_);
  ways_->setSpacing(8);
  column->addLayout(ways_);
  over->installEventFilter(this);
  hide();
}

void ChoiceBar::ask(const QString& words, const std::vector<Way>& ways) {
  words_->setText(words);
  clear(*ways_);
  int n = 0;
  for (const Way& way : ways) {
    auto* b = button(way.name, way.tip);
    b->setObjectName(QStringLiteral("choice%1").arg(n++));
    ways_->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, way] {
      if (way.closes) hide();
      way.run();
    });
  }
  setStyleSheet(
      QStringLiteral("#choiceBar{background:%1;border:1px solid %2;border-left:5px solid %3;"
                     "border-radius:6px}")
          .arg(look::colours().raised.name(), look::colours().line.name(),
               look::colours().check.name()));
  setAccessibleName(words);
  place();
  show();
  raise();
}

void ChoiceBar::place() {
  const QWidget* over = parentWidget();
  const int width = std::min(kWidth, over->width() - 2 * kEdge);
  setFixedWidth(width);
  const int height = layout()->heightForWidth(width);
  setFixedHeight(std::max(height, sizeHint().height()));
  move((over->width() - width) / 2, over->height() - this->height() - kEdge);
}

bool ChoiceBar::eventFilter(QObject*, QEvent* event) {
  if (event->type() == QEvent::Resize && isVisible()) place();
  return false;
}

}  // namespace rt
