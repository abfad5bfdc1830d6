#include "density_station.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include "actions.h"
#include "density_words.h"
#include "tool_shelf.h"
#include "weight_picture.h"

namespace rt {
namespace {

constexpr size_t kCuresShown = 2;  // the best; the others fold

enum FindingRole { kFindingDetail = Qt::UserRole + 1, kSeverity };

class FindingDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {200, 50};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(option.rect).adjusted(0, 1, 0, -1);
    if (option.state & QStyle::State_Selected) {
      p->setPen(Qt::NoPen);
      p->setBrush(look::colours().cloth);
      p->drawRoundedRect(box, 8, 8);
    }
    look::drawState(*p, QRectF(box.left() + 6, box.top() + 7, 16, 16),
                    index.data(kSeverity).toInt() == 2 ? look::State::Stop : look::State::Check);
    p->setPen(look::colours().ink);
    p->setFont(look::text(10, true));
    const int width = static_cast<int>(box.width()) - 40;
    p->drawText(QRectF(box.left() + 32, box.top() + 4, width, 20), Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, width));
    p->setPen(look::colours().quiet);
    p->setFont(look::figures(9));
    p->drawText(
        QRectF(box.left() + 32, box.top() + 25, width, 18), Qt::AlignVCenter,
        p->fontMetrics().elidedText(index.data(kFindingDetail).toString(), Qt::ElideRight, width));
    p->restore();
  }
};

QString titleOf(const Finding& f) {
  switch (f.kind) {
    case FindingKind::Density:
      return QObject::tr("%1, %2 mm²")
          .arg(f.cause.pieces.size() > 1 ? QObject::tr("Pieces on one another")
                                         : QObject::tr("Too much thread"))
          .arg(f.area_mm2, 0, 'f', 0);
    case FindingKind::Holes:
      return QObject::tr("Needle holes too close, %1 mm²").arg(f.area_mm2, 0, 'f', 0);
    case FindingKind::ShortStitches:
      return QObject::tr("Short stitches");
    case FindingKind::LongStitches:
      return QObject::tr("Long stitches");
    case FindingKind::Perforation:
      return QObject::tr("A line of holes, %1 mm").arg(f.value, 0, 'f', 0);
    case FindingKind::KeepOut:
      break;
  }
  return QObject::tr("Sewing in a keep-out zone");
}

QString detailOf(const Finding& f) {
  const QString who = QString::fromStdString(inWords(f));
  if (f.kind == FindingKind::Density || f.kind == FindingKind::Holes)
    return QObject::tr("peak %1 · %2").arg(f.value, 0, 'f', 1).arg(who);
  return who;
}

/// A cure as a button: what it does, and in smaller type what that leads to.
class CureButton : public QAbstractButton {  // no QPushButton: the style sheet would size it
 public:
  CureButton(QString title, QString detail, bool first)
      : title_(std::move(title)), detail_(std::move(detail)), first_(first) {
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_Hover);
    setAccessibleName(title_);
    setAccessibleDescription(detail_);
    setFixedHeight(static_cast<int>(textHeight(title_, true) + textHeight(detail_, false)) + 18);
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const look::Palette& c = look::colours();
    const QColor ink = first_ ? (look::isDark() ? c.ground : QColor(Qt::white)) : c.ink;
    p.setPen(QPen(c.accent, hasFocus() ? 2.5 : 1));
    p.setBrush(first_         ? (underMouse() ? c.accent.darker(110) : c.accent)
               : underMouse() ? c.accentSoft
                              : c.raised);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 8, 8);
    p.setPen(ink);
    double y = 8;
    for (const auto& [text, strong] : {std::pair{title_, true}, {detail_, false}}) {
      p.setFont(look::figures(strong ? 10 : 9, strong));
      p.drawText(QRectF(12, y, width() - 24, 200), Qt::TextWordWrap, text);
      y += textHeight(text, strong);
    }
  }

 private:
  static double textHeight(const QString& text, bool strong) {
    const QFontMetricsF metrics(look::figures(strong ? 10 : 9, strong));
    return metrics.boundingRect(QRectF(0, 0, look::kPanelWidth - 114, 200), Qt::TextWordWrap, text)
               .height() +
           2;
  }
  QString title_, detail_;
  bool first_;
};

/// The ramp with the two limits marked on it.
class RampBar : public QWidget {
 public:
  explicit RampBar(Desk& desk) : desk_(desk) { setFixedHeight(38); }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    const Limit limit = desk_.fabric().density_mm_per_mm2;
    const double most = 1.15 * limit.stop;
    for (int x = 0; x < width(); ++x)
      p.fillRect(x, 0, 1, 14, weightColour(most * x / width(), limit.stop));
    p.setFont(look::figures(8.5));
    for (const auto& [value, words, colour] :
         {std::tuple{limit.check, QObject::tr("check %1"), look::colours().check},
          {limit.stop, QObject::tr("stop %1"), look::colours().stop}}) {
      const double x = width() * value / most;
      p.setPen(QPen(colour, 2));
      p.drawLine(QPointF(x, 0), QPointF(x, 19));
      p.drawText(QRectF(x - 60, 20, 90, 16), Qt::AlignHCenter, words.arg(value, 0, 'f', 1));
    }
    p.setPen(look::colours().quiet);
    p.drawText(QRectF(0, 20, 90, 16), Qt::AlignLeft, QObject::tr("0 mm/mm²"));
  }

 private:
  Desk& desk_;
};

}  // namespace

DensityStation::DensityStation(const StationContext& context)
    : StationPanel(Station::Density, context.desk),
      line_(context.desk),
      lens_(context.desk, line_),
      hand_(context.desk, line_, lens_, [this](int i) { pick(i); }),
      found_(heading({})),
      list_(new QListWidget),
      cureBox_(new QWidget),
      cures_(new QVBoxLayout(cureBox_)),
      moreBox_(new QWidget),
      moreCures_(new QVBoxLayout(moreBox_)),
      limits_(new LimitTools(context.desk)),
      overruleBox_(new QWidget),
      reason_(new QLineEdit) {
  Desk& desk = context.desk;
  list_->setObjectName(QStringLiteral("findingList"));
  list_->setAccessibleName(tr("Findings, worst first"));
  list_->setItemDelegate(new FindingDelegate(list_));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setStyleSheet(QStringLiteral("background:transparent"));
  cures_->setContentsMargins(0, 0, 0, 0);
  cures_->setSpacing(8);
  moreCures_->setContentsMargins(0, 0, 0, 0);
  moreCures_->setSpacing(8);
  column_->addWidget(new RampBar(desk));
  column_->addWidget(found_);
  column_->addWidget(list_, 1);
  column_->addWidget(cureBox_);
  auto* over = new QVBoxLayout(overruleBox_);
  over->setContentsMargins(0, 0, 0, 0);
  over->addWidget(
      caution(tr("Sewing over a stop: needle breaks throw splinters. Glasses on, hands clear, and "
                 "follow the machine's manual.")));
  reason_->setPlaceholderText(tr("Reason, for the ledger"));
  reason_->setObjectName(QStringLiteral("overruleReason"));
  reason_->setAccessibleName(tr("Reason for overruling"));
  auto* sew =
      button(tr("Overrule"), tr("Sew in spite of the stop; the reason goes into the ledger"));
  over->addWidget(pair(reason_, sew));
  more_ = new Fold(tr("More cures"), QStringLiteral("Cures"), moreBox_);
  column_->addWidget(more_);
  over_ = new Fold(tr("Sew over the stop"), QStringLiteral("Overrule"), overruleBox_);
  column_->addWidget(over_);
  column_->addWidget(new Fold(tr("Limits of this fabric"), QStringLiteral("Limits"), limits_));
  column_->addStretch();
  connect(list_, &QListWidget::currentRowChanged, this, &DensityStation::pick);
  connect(sew, &QPushButton::clicked, this, &DensityStation::overrule);
  desk.on(Part::Weighing, this, &DensityStation::refresh);
  desk.on(Part::Cures, this, &DensityStation::showCures);
}

void DensityStation::refresh() {
  const auto w = desk_.weighing();
  const QSignalBlocker block(list_);
  list_->clear();
  limits_->refresh();
  const size_t n = w && desk_.weighingCurrent() ? w->report.findings.size() : 0;
  found_->setText(n == 0 ? tr("NOTHING FOUND") : tr("FOUND %1").arg(n));
  for (size_t i = 0; i < n; ++i) {
    const Finding& finding = w->report.findings[i];
    auto* item = new QListWidgetItem(titleOf(finding), list_);
    item->setData(kFindingDetail, detailOf(finding));
    item->setData(kSeverity, static_cast<int>(finding.severity));
  }
  list_->setMinimumHeight(std::min(static_cast<int>(n), 2) * 50 + 4);
  list_->setMaximumHeight(static_cast<int>(n) * 50 + 4);
  over_->setVisible(n > 0 && w->report.verdict == Verdict::Stop && desk_.overruled().empty());
  const int keep = n == 0 ? -1 : std::clamp(picked_, 0, static_cast<int>(n) - 1);
  list_->setCurrentRow(keep);
  if (isVisible()) pick(keep);
}

void DensityStation::pick(int finding) {
  picked_ = finding;
  if (list_->currentRow() != finding) list_->setCurrentRow(finding);
  lens_.setFinding(finding);
  emit lookChanged();
  desk_.seekCures(finding);
  showCures();
}

void DensityStation::hideEvent(QHideEvent* event) {
  StationPanel::hideEvent(event);
  desk_.stopCures();  // they are sought again when the station opens
}

/// A cure to take, and a button that holds it against the layout as it is.
QWidget* DensityStation::cureRow(size_t i, bool keepOut) {
  const Cure& cure = desk_.cures()[i];
  const QString detail = keepOut ? QString::fromStdString(cure.detail)
                                 : tr("→ %1 mm/mm², %2 · %3")
                                       .arg(cure.result, 0, 'f', 1)
                                       .arg(cure.verdict == Verdict::Sew ? tr("sew") : tr("check"),
                                            QString::fromStdString(cure.detail));
  auto* b = new CureButton(QString::fromStdString(cure.title), detail, i == 0);
  b->setToolTip(tr("Take this cure; one undo brings the layout back"));
  b->setObjectName(QStringLiteral("cure%1").arg(i));
  connect(b, &QAbstractButton::clicked, this, [this, i] { take(static_cast<int>(i)); });
  auto* hold = button(QStringLiteral("⇄"),
                      tr("Hold it against the layout as it is: drag the line across the cloth"));
  hold->setAccessibleName(tr("Compare: %1").arg(b->accessibleName()));
  hold->setObjectName(QStringLiteral("compare%1").arg(i));
  hold->setCheckable(true);
  hold->setFixedWidth(36);
  connect(hold, &QPushButton::clicked, this, [this, i, hold](bool on) {
    if (!on || i >= desk_.cures().size()) return desk_.endComparison();
    compare(i);
    for (auto* rest : findChildren<QPushButton*>())
      if (rest->isCheckable() && rest != hold) rest->setChecked(false);
  });
  auto* row = new QWidget;
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(6);
  line->addWidget(b, 1);
  line->addWidget(hold, 0, Qt::AlignTop);
  return row;
}

Job DensityStation::jobWith(const Cure& cure) const {
  // edits that were made since it was worked out stay
  return actions::merged(desk_.studies().curesOf(), cure.job, desk_.job());
}

void DensityStation::compare(size_t cure) {
  const Cure& held = desk_.cures()[cure];
  const auto& f = desk_.weighing()->report.findings[static_cast<size_t>(std::max(0, picked_))];
  guarded(desk_, [&] {
    desk_.compareWith(jobWith(held), tr("now %1 there").arg(f.value, 0, 'f', 1),
                      tr("after %1 there").arg(held.result, 0, 'f', 1));
  });
}

void DensityStation::showCures() {
  clear(*cures_);
  clear(*moreCures_);
  more_->hide();
  const auto w = desk_.weighing();
  if (!w || picked_ < 0 || picked_ >= static_cast<int>(w->report.findings.size())) return;
  const Finding& finding = w->report.findings[static_cast<size_t>(picked_)];
  const bool keepOut = finding.kind == FindingKind::KeepOut;
  if (finding.kind != FindingKind::Density && !keepOut) {
    cures_->addWidget(paragraph(
        finding.kind == FindingKind::Holes
            ? tr("Fewer needle points cure this: longer stitches, wider spacing, or a larger size.")
            : tr("Choose the piece at Compose and size or move it."),
        true));
    return;
  }
  cures_->addWidget(heading(tr("Cures, each tried on the layout")));
  if (desk_.curing()) {
    cures_->addWidget(paragraph(tr("Trying cures …"), true));
    return;
  }
  const size_t all = desk_.cures().size();
  for (size_t i = 0; i < all; ++i)
    (i < kCuresShown ? cures_ : moreCures_)->addWidget(cureRow(i, keepOut));
  more_->setVisible(all > kCuresShown);
  more_->setTitle(
      tr("%1 more").arg(counted(all - std::min(all, kCuresShown), tr("cure"), tr("cures"))));
  if (desk_.cures().empty())
    cures_->addWidget(paragraph(
        tr("No single change cures this place. Size or move the pieces at Compose."), true));
}

void DensityStation::take(int cure) {
  if (cure < 0 || cure >= static_cast<int>(desk_.cures().size())) return;
  const Cure chosen = desk_.cures()[static_cast<size_t>(cure)];
  guarded(desk_, [&] { desk_.change(QString::fromStdString(chosen.title), jobWith(chosen)); });
}

void DensityStation::overrule() {
  const std::string reason = reason_->text().trimmed().toStdString();
  if (reason.empty()) return desk_.say(tr("Give a reason first: it goes into the ledger."));
  desk_.overrule(reason);
}

}  // namespace rt
