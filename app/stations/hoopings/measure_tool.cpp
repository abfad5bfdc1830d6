#include "measure_tool.h"

#include <QPainter>

#include "file_io.h"
#include "frame_words.h"
#include "look.h"
#include "shelf.h"
#include "tool_shelf.h"

namespace rt {

FramePicture::FramePicture(QWidget* parent) : QWidget(parent) {
  setFixedHeight(118);
  setAccessibleName(tr("The frame as measured"));
}

void FramePicture::show(const FrameMeasures& measures) {
  measures_ = measures;
  frame_.reset();
  try {
    frame_ = frameFrom(measures);
  } catch (const Error&) {
    // what is measured so far is drawn
  }
  update();
}

void FramePicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const FrameMeasures& m = measures_;
  Box all = Box::around({}, std::max({m.field_width_mm, m.inner_width_mm, m.outer_width_mm, 10.0}),
                        std::max({m.field_height_mm, m.inner_height_mm, m.outer_height_mm, 10.0}));
  if (frame_) all.add(clampedBox(*frame_, 0));
  const double scale = std::min((width() - 8) / all.width(), (height() - 8) / all.height());
  p.translate(width() / 2.0, height() / 2.0);
  p.scale(scale, scale);
  p.translate(-all.centre().x, -all.centre().y);
  const auto rect = [](double w, double h) { return QRectF(-w / 2, -h / 2, w, h); };
  const auto pen = [&](const QColor& colour, double px, Qt::PenStyle style = Qt::SolidLine) {
    QPen out(colour, px, style);
    out.setCosmetic(true);
    return out;
  };
  const look::Palette& c = look::colours();
  const bool oval = m.kind == FrameKind::Oval;
  const auto draw = [&](const QRectF& r) {
    if (oval)
      p.drawEllipse(r);
    else
      p.drawRoundedRect(r, 3, 3);
  };
  if (m.outer_width_mm > 0 && m.outer_height_mm > 0) {
    p.setPen(pen(c.quiet, 1.2));
    p.setBrush(c.panel);
    draw(rect(m.outer_width_mm, m.outer_height_mm));
  }
  if (m.inner_width_mm > 0 && m.inner_height_mm > 0) {
    p.setPen(pen(c.quiet, 1));
    p.setBrush(c.ground);
    draw(rect(m.inner_width_mm, m.inner_height_mm));
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(pen(c.accent, 1.6));
  if (frame_)
    for (const PlacedField& f : fieldsOf(*frame_, 0))
      draw(QRectF(f.box.left, f.box.top, f.box.width(), f.box.height()));
  else if (m.field_width_mm > 0 && m.field_height_mm > 0)
    draw(rect(m.field_width_mm, m.field_height_mm));
  p.setPen(pen(c.accent, 1, Qt::DashLine));
  p.drawLine(QPointF(-8, 0), QPointF(8, 0));
  p.drawLine(QPointF(0, -8), QPointF(0, 8));
  if (!frame_) return;
  p.setPen(Qt::NoPen);
  p.setBrush(c.ink);
  for (const TagPlace& t : frame_->tags) {
    const double s = frame_->tag_size_mm;
    p.drawRect(QRectF(t.at.x - s / 2, t.at.y - s / 2, s, s));
  }
}

MeasureTool::MeasureTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      name_(new QLineEdit),
      kind_(new QComboBox),
      fieldW_(new LengthEdit(tr("Field width"))),
      fieldH_(new LengthEdit(tr("Field height"))),
      innerW_(new LengthEdit(tr("Opening width"))),
      innerH_(new LengthEdit(tr("Opening height"))),
      outerW_(new LengthEdit(tr("Outside width"))),
      outerH_(new LengthEdit(tr("Outside height"))),
      diagonal_(new LengthEdit(tr("Diagonal of the opening"))),
      lap_(new LengthEdit(tr("Overlap of the fields"))),
      step_(new LengthEdit(tr("Way between positions, or of the rail"))),
      tag_(new LengthEdit(tr("Tag size"))),
      tagHeight_(new LengthEdit(tr("Tags above the cloth"))),
      positions_(new QSpinBox),
      firstTag_(new QSpinBox),
      picture_(new FramePicture),
      doubts_(paragraph({}, true)),
      keep_(button(tr("Keep the frame"), tr("It stands on the shelf of every job from now on"),
                   true)),
      own_(new QVBoxLayout) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  buildFields(*column);
  column->addWidget(doubts_);
  column->addWidget(picture_);
  column->addWidget(keep_);
  column->addLayout(own_);
  connect(keep_, &QPushButton::clicked, this, &MeasureTool::keep);
  show();
}

void MeasureTool::buildFields(QVBoxLayout& column) {
  kind_->addItems({tr("Plain"), tr("Oval"), tr("Turned half round"), tr("Four quarters"),
                   tr("Long, with positions"), tr("On rails")});
  name_->setObjectName(QStringLiteral("frameName"));
  kind_->setObjectName(QStringLiteral("frameKind"));
  fieldW_->line()->setObjectName(QStringLiteral("frameFieldW"));
  fieldH_->line()->setObjectName(QStringLiteral("frameFieldH"));
  innerW_->line()->setObjectName(QStringLiteral("frameInnerW"));
  innerH_->line()->setObjectName(QStringLiteral("frameInnerH"));
  outerW_->line()->setObjectName(QStringLiteral("frameOuterW"));
  outerH_->line()->setObjectName(QStringLiteral("frameOuterH"));
  lap_->line()->setObjectName(QStringLiteral("frameLap"));
  keep_->setObjectName(QStringLiteral("keepFrame"));
  doubts_->setObjectName(QStringLiteral("frameDoubts"));
  positions_->setRange(0, 40);
  firstTag_->setRange(0, 586);  // the numbers of family 36h11
  for (QSpinBox* box : {positions_, firstTag_}) box->setButtonSymbols(QAbstractSpinBox::NoButtons);
  column.addWidget(pair(labelled(tr("Name"), name_), labelled(tr("Kind"), kind_)));
  column.addWidget(pair(labelled(tr("Field, width"), fieldW_), labelled(tr("Height"), fieldH_)));
  lapRow_ = labelled(tr("Fields overlap by"), lap_);
  positionsRow_ = labelled(tr("Positions"), positions_);
  stepRow_ = labelled(tr("Way between them, or of the rail"), step_);
  column.addWidget(lapRow_);
  column.addWidget(pair(positionsRow_, stepRow_));
  column.addWidget(pair(labelled(tr("Opening, width"), innerW_), labelled(tr("Height"), innerH_)));
  auto* more = new QWidget;
  auto* box = new QVBoxLayout(more);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(6);
  box->addWidget(pair(labelled(tr("Outside, width"), outerW_), labelled(tr("Height"), outerH_)));
  box->addWidget(labelled(tr("Diagonal of the opening"), diagonal_));
  box->addWidget(pair(labelled(tr("Tag size"), tag_), labelled(tr("Above the cloth"), tagHeight_)));
  box->addWidget(labelled(tr("Number of the first tag, top left"), firstTag_));
  column.addWidget(new Fold(tr("Outside, diagonal, tags"), QStringLiteral("FrameMore"), more));
  connect(kind_, &QComboBox::currentIndexChanged, this, &MeasureTool::show);
  connect(name_, &QLineEdit::textChanged, this, &MeasureTool::show);
  for (LengthEdit* e : {fieldW_, fieldH_, innerW_, innerH_, outerW_, outerH_, diagonal_, lap_,
                        step_, tag_, tagHeight_})
    connect(e, &LengthEdit::edited, this, &MeasureTool::show);
  for (QSpinBox* b : {positions_, firstTag_})
    connect(b, &QSpinBox::valueChanged, this, &MeasureTool::show);
}

FrameMeasures MeasureTool::typed() const {
  FrameMeasures m;
  m.name = name_->text().trimmed().toStdString();
  m.kind = static_cast<FrameKind>(kind_->currentIndex());
  m.field_width_mm = fieldW_->value_mm(), m.field_height_mm = fieldH_->value_mm();
  m.inner_width_mm = innerW_->value_mm(), m.inner_height_mm = innerH_->value_mm();
  m.outer_width_mm = outerW_->value_mm(), m.outer_height_mm = outerH_->value_mm();
  m.inner_diagonal_mm = diagonal_->value_mm();
  m.lap_mm = lap_->value_mm(), m.step_mm = step_->value_mm();
  m.positions = positions_->value(), m.first_tag = firstTag_->value();
  m.tag_size_mm = tag_->value_mm(), m.tag_height_mm = tagHeight_->value_mm();
  return m;
}

void MeasureTool::show() {
  const FrameMeasures m = typed();
  lapRow_->setVisible(m.kind == FrameKind::HalfRound || m.kind == FrameKind::Quarters);
  positionsRow_->setVisible(m.kind == FrameKind::Long);
  stepRow_->setVisible(m.kind == FrameKind::Long || m.kind == FrameKind::Rails);
  positionsRow_->parentWidget()->setVisible(stepRow_->isVisibleTo(stepRow_->parentWidget()));
  picture_->setVisible(m.field_width_mm > 0 && m.field_height_mm > 0);
  picture_->show(m);
  QStringList lines;
  bool forbidden = false;
  for (const FrameDoubt& d : doubtsOf(m)) {
    forbidden = forbidden || d.forbids;
    lines << (d.forbids ? QStringLiteral("<b>%1</b>") : QStringLiteral("%1"))
                 .arg(QString::fromStdString(inWords(d)).toHtmlEscaped());
  }
  doubts_->setText(lines.join(QStringLiteral("<br>")));
  doubts_->setVisible(!lines.isEmpty());
  keep_->setEnabled(!forbidden);
}

void MeasureTool::keep() {
  guarded(desk_, [&] {
    const Hoop frame = frameFrom(typed());
    desk_.keepFrame(frame);
    desk_.say(tr("%1 stands on the shelf.").arg(QString::fromStdString(frame.name)));
    refresh();
  });
}

void MeasureTool::showOwn() {
  clear(*own_);
  const std::vector<Hoop>& own = desk_.ownFrames();
  auto* in = button(tr("Read frames …"), tr("A shelf file of another shop, JSON"));
  auto* out = button(tr("Write frames …"), tr("The shop's own frames, JSON"));
  out->setEnabled(!own.empty());
  connect(in, &QPushButton::clicked, this, &MeasureTool::readFile);
  connect(out, &QPushButton::clicked, this, &MeasureTool::writeFile);
  own_->addWidget(pair(in, out));
  for (const Hoop& h : own) {
    auto* away =
        button(tr("Take off"), tr("Take %1 off the shelf").arg(QString::fromStdString(h.name)));
    away->setObjectName(QStringLiteral("frameOff_%1").arg(QString::fromStdString(h.id)));
    connect(away, &QPushButton::clicked, this, [this, id = h.id] {
      guarded(desk_, [&] { desk_.dropFrame(id); });
      QMetaObject::invokeMethod(this, &MeasureTool::refresh, Qt::QueuedConnection);
    });
    own_->addWidget(
        pair(paragraph(tr("%1, field %2 × %3")
                           .arg(QString::fromStdString(h.name), oneUnit(desk_, h.field.width_mm),
                                oneUnit(desk_, h.field.height_mm))),
             away));
  }
}

void MeasureTool::readFile() {
  const QString path = asker_.toOpen(this, tr("Read frames"), tr("Frames (*.json)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    for (const Hoop& h : readShelf(path.toStdString())) desk_.keepFrame(h);
    refresh();
  });
}

void MeasureTool::writeFile() {
  const QString path =
      asker_.toSave(this, tr("Write frames"), QStringLiteral("frames.json"), tr("Frames (*.json)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    rt::writeFile(path.toStdString(), shelfJson(desk_.ownFrames()));
    desk_.say(tr("Written: %1.").arg(path));
  });
}

void MeasureTool::refresh() {
  showOwn();
}

}  // namespace rt
