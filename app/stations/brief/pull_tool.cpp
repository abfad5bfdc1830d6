#include "pull_tool.h"

#include <set>

#include "actions.h"
#include "cloth_file.h"
#include "length.h"
#include "scan_reading.h"
#include "shelf.h"
#include "swatch.h"

namespace rt {

void PullLens::paint(QPainter& p, const Eye& eye) {
  if (!looked_ || !movement_ || movement_->goes.empty()) return;
  // movements are tenths of a millimetre; from afar they are drawn larger still
  constexpr double kNear = 10, kFar = 40, kSeen_px = 12;
  constexpr int kApart_px = 12;
  const bool near = movement_->drawn.worst_mm * kNear * eye.px_per_mm >= kSeen_px;
  const double enlarge = near ? kNear : kFar;
  std::set<std::pair<int, int>> taken;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::colours().stop, 1.6, Qt::SolidLine, Qt::RoundCap));
  p.setBrush(look::colours().stop);
  for (const auto& [from, by] : movement_->goes) {
    const QPointF at = eye.px(from), to = eye.px(from + by * enlarge);
    if (!taken.insert({int(at.x()) / kApart_px, int(at.y()) / kApart_px}).second) continue;
    p.drawLine(at, to);
    p.drawEllipse(at, 0.9, 0.9);
  }
  p.setFont(look::text(8.5));
  p.setPen(look::colours().quiet);
  p.drawText(
      QPointF(eye.view.left() + 34, eye.view.bottom() - 32),
      QObject::tr("Dot: where a needle point is drawn. Stroke: where the cloth takes it when "
                  "it is sewn as drawn, %1 times as far.")
          .arg(enlarge));
  p.restore();
}

PullTool::PullTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      follow_(new QComboBox),
      words_(paragraph({}, true)),
      lesson_(paragraph({}, true)),
      swatch_(button(tr("Make the swatch"),
                     tr("A job of 60 x 60 mm and six minutes for a scrap of this cloth, backed and "
                        "hooped as the item will be"))),
      photo_(button(tr("Add a photo …"),
                    tr("The sewn swatch still in its frame, with the frame's tags in sight; two or "
                       "three photos are better than one"))),
      forget_(button(tr("Forget"), tr("What was learned of this fabric goes; starting values "
                                      "stand in for it"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  follow_->setObjectName(QStringLiteral("followCloth"));
  swatch_->setObjectName(QStringLiteral("pullSwatch"));
  photo_->setObjectName(QStringLiteral("pullPhoto"));
  forget_->setObjectName(QStringLiteral("forgetCloth"));
  words_->setObjectName(QStringLiteral("pullWords"));
  lesson_->setObjectName(QStringLiteral("pullLesson"));
  follow_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  column->addWidget(labelled(tr("Needle points go"), follow_));
  column->addWidget(words_);
  column->addWidget(pair(swatch_, photo_));
  column->addWidget(lesson_);
  column->addWidget(forget_);
  connect(follow_, &QComboBox::activated, this,
          [this](int i) { choose(follow_->itemData(i).toInt()); });
  connect(swatch_, &QPushButton::clicked, this, &PullTool::swatchAsked);
  connect(photo_, &QPushButton::clicked, this, &PullTool::addPhoto);
  connect(forget_, &QPushButton::clicked, this, &PullTool::forget);
  connect(&desk.studies().movement(), &StudyBase::changed, this, &PullTool::showMovement);
  connect(&desk.studies().clothLesson(), &StudyBase::changed, this, &PullTool::takeLesson);
}

QString PullTool::size(double mm) const {
  return QString::fromStdString(desk_.inches() ? formatInches(mm) : formatMillimetres(mm, 2));
}

ClothKnown PullTool::startingValues() const {
  return startingCloth(desk_.bench().data, desk_.shopFabric().id);
}

ClothKnown PullTool::shown() const {
  return desk_.job().sequence.cloth.value_or(
      desk_.shop().cloth(desk_.shopFabric().id).value_or(startingValues()));
}

PullTool::Choice PullTool::choiceOf(const std::optional<ClothKnown>& followed) const {
  if (!followed) return Drawn;
  if (followed->learned_from == 0) return Starting;
  return followed == desk_.shop().cloth(desk_.shopFabric().id) ? Learned : Kept;
}

void PullTool::choose(int choice) {
  guarded(desk_, [&] {
    if (choice == choiceOf(desk_.job().sequence.cloth)) return;
    std::optional<ClothKnown> cloth;
    if (choice == Starting) cloth = startingValues();
    if (choice == Learned) cloth = desk_.shop().cloth(desk_.shopFabric().id);
    desk_.change(cloth ? tr("needle points follow the cloth") : tr("needle points as drawn"),
                 actions::onClothKnown(desk_.job(), std::move(cloth), desk_.bench()));
  });
}

void PullTool::forget() {
  guarded(desk_, [this] {
    desk_.shop().forgetCloth(desk_.shopFabric().id);
    desk_.studies().clothLesson().reset();  // the same photo teaches again when it is added again
    photos_.clear();
    before_.reset();
    if (desk_.job().sequence.cloth) choose(Drawn);
    refresh();
  });
}

void PullTool::addPhoto() {
  const QString path =
      asker_.toOpen(this, tr("A photo of the sewn swatch"), tr("Photos (*.png *.jpg *.jpeg)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    const Fabric& fabric = desk_.shopFabric();
    const Hoop frame = hoopFor(desk_.bench().shop.hoops, desk_.job().plan_settings.hoop);
    if (!frame.settings.empty() || frame.rail)
      throw Error("a frame of several settings is not learned in", frame.name,
                  "choose a plain frame at Hoopings (4), and sew the swatch in it");
    if (!before_ || before_->fabric != fabric.id) {  // a swatch of its own
      photos_.clear();
      before_ = desk_.shop().cloth(fabric.id).value_or(startingValues());
    }
    const std::string file = path.toStdString();
    if (std::find(photos_.begin(), photos_.end(), file) == photos_.end()) photos_.push_back(file);
    desk_.studies().clothLesson().ask(
        {photos_,
         *before_,
         {std::make_shared<const Pattern>(learningSwatch(fabric).pattern)},
         frameSetup(frame)});
    refresh();
  });
}

/// What was learned is the shop's from now on; a job that follows its cloth goes on doing so. A
/// photo that cannot be read is put aside, those before it stay.
void PullTool::takeLesson() {
  const auto& study = desk_.studies().clothLesson();
  if (study.state() == StudyState::Failed && !photos_.empty()) photos_.pop_back();
  if (study.state() == StudyState::Ready && study.last() && !photos_.empty()) {
    guarded(desk_, [&] {
      const ClothKnown known = study.last()->lesson.known;
      if (desk_.shop().cloth(known.fabric) == known) return;
      const bool follows = choiceOf(desk_.job().sequence.cloth) == Learned;
      desk_.shop().keepCloth(known);
      if (follows && desk_.shopFabric().id == known.fabric) choose(Learned);
    });
  }
  if (isVisible()) refresh();
}

void PullTool::showLesson() {
  const auto& study = desk_.studies().clothLesson();
  QString words;
  if (study.running())
    words = tr("Looking for the thread in %n photo(s) …", nullptr, int(photos_.size()));
  if (study.state() == StudyState::Failed && study.error())
    words = QString::fromUtf8(study.error()->what());
  if (study.state() == StudyState::Ready && study.last() && !photos_.empty()) {
    const ClothPhotoLesson& l = *study.last();
    words =
        tr("%1 of %2 places of the swatch were found. Its thread lies %3 from where it was sewn "
           "(%4 at 95 of 100 places); by what was learned %5 (%6).")
            .arg(l.sights)
            .arg(l.sought)
            .arg(size(l.lesson.before.median_mm), size(l.lesson.before.p95_mm),
                 size(l.lesson.after.median_mm), size(l.lesson.after.p95_mm));
  }
  lesson_->setText(words);
  lesson_->setVisible(!words.isEmpty());
}

void PullTool::showMovement() {
  const bool bare = desk_.layout().stitches.empty();
  const auto movement =
      bare ? nullptr : desk_.studies().movement().resultFor({sequenceOf(desk_.job()), shown()});
  lens_.show(movement);
  emit lookChanged();
  if (!movement) {
    words_->setText(bare ? tr("Lay something on the cloth at Compose (2) to see how it will lie.")
                         : tr("Letting the cloth go …"));
    return;
  }
  const ClothMovement& m = *movement;
  const bool follows = desk_.job().sequence.cloth.has_value();
  const QString aside = tr("Needle points are moved by up to %1").arg(size(m.aside.worst_mm));
  QString words;
  if (shown().learned_from == 0) {
    words =
        tr("By starting values, about half of what such cloth usually does, thread that is sewn "
           "as drawn lies up to %1 off its place, half of it over %2.")
            .arg(size(m.drawn.worst_mm), size(m.drawn.median_mm));
    if (follows) words += QLatin1Char(' ') + aside + QLatin1Char('.');
    words += QLatin1Char(' ') + tr("Make the swatch and add photos of it to know this cloth.");
  } else {
    words = tr("Sewn as drawn, thread lies up to %1 off its place, half of it over %2.")
                .arg(size(m.drawn.worst_mm), size(m.drawn.median_mm));
    words += QLatin1Char(' ');
    words += follows ? aside + tr(": 95 of 100 then lie within %1 of the drawing. Nothing is added "
                                  "against pull besides.")
                                   .arg(size(m.bound_mm))
                     : tr("Followed, 95 of 100 needle points lie within %1 of the drawing.")
                           .arg(size(m.bound_mm));
  }
  words_->setText(words);
}

void PullTool::listChoices() {
  const std::optional<ClothKnown> known = desk_.shop().cloth(desk_.shopFabric().id);
  const std::optional<ClothKnown>& followed = desk_.job().sequence.cloth;
  const Choice now = choiceOf(followed);
  follow_->clear();
  follow_->addItem(tr("where they are drawn"), Drawn);
  follow_->addItem(tr("by starting values of this fabric"), Starting);
  if (known)
    follow_->addItem(tr("by what %n swatch(es) taught", nullptr, known->learned_from), Learned);
  if (now == Kept)
    follow_->addItem(tr("as learned before, from %n swatch(es)", nullptr, followed->learned_from),
                     Kept);
  follow_->setCurrentIndex(follow_->findData(now));
  forget_->setVisible(known.has_value());
}

void PullTool::refresh() {
  guarded(desk_, [this] {
    listChoices();
    if (!desk_.layout().stitches.empty())
      desk_.studies().movement().ask({sequenceOf(desk_.job()), shown()});
    showMovement();
    showLesson();
  });
}

}  // namespace rt
