#include "scan_tool.h"

#include <QBuffer>
#include <QClipboard>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QTimer>
#include <QToolButton>

#include "demo.h"
#include "hooping_place.h"

namespace rt {
namespace {

constexpr int kThumb_px = 44, kLine_px = 20;
constexpr qint64 kLargest = 200 << 20;
constexpr int kLookAgain_ms = 400;
const QStringList kPhotos{QStringLiteral("*.png"),  QStringLiteral("*.jpg"),
                          QStringLiteral("*.jpeg"), QStringLiteral("*.PNG"),
                          QStringLiteral("*.JPG"),  QStringLiteral("*.JPEG")};

QIcon thumbOf(const ScanTaken& scan) {
  QImage image;
  image.loadFromData(reinterpret_cast<const uchar*>(scan.scan.bytes->data()),
                     static_cast<int>(scan.scan.bytes->size()));
  return QPixmap::fromImage(
      image.scaled(kThumb_px, kThumb_px, Qt::KeepAspectRatio, Qt::SmoothTransformation));
}

}  // namespace

ScanTool::ScanTool(Desk& desk, FileAsker& asker, AlignHand& hand)
    : desk_(desk),
      asker_(asker),
      hand_(hand),
      shoot_(button(tr("Take a scan"), tr("A photo by the camera over the machine"), true)),
      open_(button(tr("Open a photo …"), tr("PNG or JPEG; or drop it on the cloth, or paste it"))),
      watch_(button(tr("Watch …"),
                    tr("Photos that come into it, from a phone for one, are taken as they come"))),
      guides_(button(tr("Point at the field's corners"),
                     tr("Where the frame has no tags: four places on it give the plane"))),
      check_(button(tr("Measure the seams"),
                    tr("Both sides are sewn: how far they lie apart in this scan"))),
      lens_(
          button(tr("Forget this lens"), tr("Learn the camera's lens anew from its next photos"))),
      demo_(
          button(tr("Open its demo scan"), tr("A photo of this hooping that ships with the demo"))),
      scans_(new QHBoxLayout),
      marks_(new QVBoxLayout),
      stamp_(paragraph({}, true)),
      plane_(paragraph({}, true)),
      seams_(paragraph({})),
      progress_(new QProgressBar),
      strength_(new QSlider(Qt::Horizontal)) {
  nameParts();
  layOut();
  connectAll();
}

void ScanTool::nameParts() {
  shoot_->setObjectName(QStringLiteral("takeScan"));
  open_->setObjectName(QStringLiteral("openScan"));
  demo_->setObjectName(QStringLiteral("openDemoScan"));
  watch_->setObjectName(QStringLiteral("watchFolder"));
  guides_->setObjectName(QStringLiteral("pointGuides"));
  lens_->setObjectName(QStringLiteral("forgetLens"));
  check_->setObjectName(QStringLiteral("measureSeams"));
  seams_->setObjectName(QStringLiteral("seamWords"));
  strength_->setObjectName(QStringLiteral("scanStrength"));
  strength_->setAccessibleName(tr("Strength of the scan under the layout"));
  for (QPushButton* small : {watch_, lens_}) small->setProperty("flat", true);
}

void ScanTool::layOut() {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(pair(shoot_, open_));
  column->addWidget(demo_);
  column->addWidget(progress_);
  scans_->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addLayout(scans_, 1);
  row->addWidget(watch_);
  column->addLayout(row);
  column->addWidget(stamp_);
  marks_->setSpacing(3);
  column->addLayout(marks_);
  for (QWidget* part : std::initializer_list<QWidget*>{plane_, lens_, guides_, seams_, check_})
    column->addWidget(part);
  column->addWidget(pair(paragraph(tr("Strength of the scan"), true), strength_));
  strength_->setRange(0, 100);
  progress_->setRange(0, 100);
  progress_->setTextVisible(false);
  progress_->setFixedHeight(6);
}

void ScanTool::connectAll() {
  connect(demo_, &QPushButton::clicked, this, &ScanTool::openDemoScan);
  connect(lens_, &QPushButton::clicked, &desk_, &Desk::forgetLens);
  connect(check_, &QPushButton::clicked, &desk_, &Desk::checkSeams);
  connect(shoot_, &QPushButton::clicked, &desk_.camera(), &ClothCamera::shoot);
  connect(open_, &QPushButton::clicked, this, &ScanTool::openPhoto);
  connect(watch_, &QPushButton::clicked, this, [this] {
    const QString folder = asker_.folder(this, tr("Watch a folder for photos"));
    if (!folder.isEmpty()) watch(folder);
  });
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &ScanTool::lookIntoFolder);
  connect(guides_, &QPushButton::clicked, this, [this] {
    hand_.askForGuides();
    refresh();
  });
  connect(strength_, &QSlider::valueChanged, this, [this](int v) {
    ViewChoices view = desk_.view();
    view.scan_strength = v / 100.0;
    desk_.setView(view);
  });
}

void ScanTool::openPhoto() {
  const QString path =
      asker_.toOpen(this, tr("Open a photo of the hooping"), tr("Photos (*.png *.jpg *.jpeg)"));
  if (!path.isEmpty()) takeFile(path);
}

void ScanTool::takeFile(const QString& path) {
  QFile file(path);
  if (file.size() > kLargest)
    return emit desk_.failed(
        tr("%1 has over 200 MB: give a photo of at most 120 megapixels.").arg(path));
  if (!file.open(QIODevice::ReadOnly))
    return emit desk_.failed(tr("%1 cannot be read: check that you may.").arg(path));
  desk_.scans().take(
      file.readAll().toStdString(), QFileInfo(path).fileName(),
      QFileInfo(path).lastModified().toUTC().toString(QStringLiteral("yyyy-MM-ddThh:mm:ss")) + 'Z');
}

bool ScanTool::openDemoScan() {
  const auto path = demoScan(desk_.bench(), desk_.job(), desk_.hooping());
  if (!QFileInfo::exists(QString::fromStdString(path.string()))) return false;
  takeFile(QString::fromStdString(path.string()));
  return true;
}

void ScanTool::paste() {
  const QMimeData* held = QGuiApplication::clipboard()->mimeData();
  if (held && held->hasUrls() && !held->urls().isEmpty() && held->urls().front().isLocalFile())
    return takeFile(held->urls().front().toLocalFile());
  const QImage image = QGuiApplication::clipboard()->image();
  if (image.isNull()) return desk_.say(tr("There is no photo on the clipboard."));
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  image.save(&buffer, "PNG");
  desk_.scans().take(bytes.toStdString(), tr("pasted"), {});
}

void ScanTool::watch(const QString& folder) {
  if (!watcher_.directories().isEmpty()) watcher_.removePaths(watcher_.directories());
  seen_.clear();
  if (!watcher_.addPath(folder))
    return emit desk_.failed(tr("%1 cannot be watched: check that it is a folder.").arg(folder));
  // what lies there already is not new
  for (const QFileInfo& file : QDir(folder).entryInfoList(kPhotos, QDir::Files))
    seen_[file.filePath()] = -1;
  desk_.say(tr("Photos that come into %1 are taken.").arg(folder));
  refresh();
}

/// A photo is taken when it has stopped growing.
void ScanTool::lookIntoFolder() {
  bool grows = false;
  for (const QString& folder : watcher_.directories())
    for (const QFileInfo& file : QDir(folder).entryInfoList(kPhotos, QDir::Files, QDir::Time)) {
      const qint64 before = seen_.value(file.filePath(), 0);
      if (before < 0) continue;
      const bool still = file.size() > 0 && file.size() == before;
      seen_[file.filePath()] = still ? -1 : file.size();
      grows = grows || !still;
      if (still) takeFile(file.filePath());
    }
  if (grows) QTimer::singleShot(kLookAgain_ms, this, &ScanTool::lookIntoFolder);
}

QString ScanTool::stampOf(const ScanTaken& scan) const {
  const QDateTime shot =
      QDateTime::fromString(QString::fromStdString(scan.scan.shot), Qt::ISODate).toLocalTime();
  QString words =
      tr("%1, hooping %2, %3 × %4 px")
          .arg(shot.isValid() ? QLocale().toString(shot, QStringLiteral("d MMM hh:mm:ss"))
                              : tr("time not known"))
          .arg(desk_.hooping())
          .arg(scan.scan.width)
          .arg(scan.scan.height);
  if (desk_.scans().old(scan))
    words += tr(". Taken before the cloth was clamped: shown, not measured");
  return words;
}

void ScanTool::showScans() {
  clear(*scans_);
  const auto all = desk_.scans().scans();
  const ScanTaken* shown = desk_.scans().shown();
  constexpr size_t kMostShown = 2;
  for (size_t i = all.size() > kMostShown ? all.size() - kMostShown : 0; i < all.size(); ++i) {
    auto* thumb = new QToolButton;
    thumb->setIcon(thumbOf(*all[i]));
    thumb->setIconSize(QSize(kThumb_px, kThumb_px));
    thumb->setCheckable(true);
    thumb->setChecked(all[i] == shown);
    thumb->setToolTip(stampOf(*all[i]));
    thumb->setAccessibleName(tr("Scan %1").arg(i + 1));
    scans_->addWidget(thumb);
    connect(thumb, &QToolButton::clicked, this,
            [this, id = all[i]->scan.id] { desk_.scans().choose(id); });
  }
  if (shown) {
    auto* drop = button(tr("Drop"), tr("Take this scan out of the job"));
    drop->setProperty("flat", true);
    drop->setObjectName(QStringLiteral("dropScan"));
    scans_->addWidget(drop);
    connect(drop, &QPushButton::clicked, this,
            [this, id = shown->scan.id] { desk_.scans().drop(id); });
  }
  scans_->addStretch();
  stamp_->setText(shown ? stampOf(*shown)
                        : tr("No scan of this hooping yet. Take one from above with the frame's "
                             "tags and the marks in it."));
}

/// What became of each mark that should be in the picture.
void ScanTool::showMarks() {
  clear(*marks_);
  const Hooping* h = desk_.currentHooping();
  const auto reading = desk_.scans().reading();
  if (!h || !reading || desk_.oneTag()) return;
  const std::vector<Mark> have = desk_.marksOf(h->index);
  const std::optional<Alignment> a = desk_.alignmentOf(h->index);
  for (const Mark& m : expectedMarks(*h)) {
    const QString id = QString::fromStdString(m.id);
    QString words = tr("not found");
    bool found = false;
    for (const Mark& t : have)
      if (t.id == m.id) {
        found = true;
        words = tr("found, ± %1 mm").arg(t.error_mm, 0, 'f', 2);
      }
    for (size_t i = 0; a && i < a->marks.size(); ++i)
      if (a->marks[i].id == m.id)
        words = tr("%1 mm off, ± %2")
                    .arg(a->fit.residual_mm[i], 0, 'f', 2)
                    .arg(a->marks[i].error_mm, 0, 'f', 2);
    for (size_t i = 0; a && i < a->missing.size(); ++i)
      if (found && a->missing[i].id == m.id) words = tr("not believed");
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* name = new QLabel(QString("<b>%1</b>  %2").arg(id, words));
    auto* point = button(hand_.asked() == m.id ? tr("Click it …") : tr("Point"),
                         tr("Show in the scan where this mark is"));
    point->setProperty("flat", true);
    point->setProperty("slim", true);
    point->setFixedHeight(kLine_px);
    point->setObjectName(QStringLiteral("point") + id);
    row->addWidget(name, 1);
    row->addWidget(point);
    marks_->addWidget(line);
    connect(point, &QPushButton::clicked, this, [this, mark = m.id] {
      hand_.askForMark(mark);
      refresh();
    });
  }
}

/// After sewing: the real seams beside what was predicted.
void ScanTool::showSeams() {
  const ScanTaken* scan = desk_.scans().shown();
  const auto answer = scan ? desk_.seams().answerFor(scan->scan.id) : nullptr;
  check_->setVisible(scan && desk_.seamsSewn() && !answer);
  check_->setEnabled(!desk_.seams().busy() && !desk_.scans().busy());
  QStringList words;
  if (answer)
    for (const SeamSeen& s : answer->seams)
      words << (s.asPredicted() ? tr("As predicted, %1.") : tr("Worse than predicted, %1."))
                   .arg(QString::fromStdString(s.inWords()));
  if (answer && answer->not_told > 0)
    words << tr("%1 cannot be told from this scan: take one with the seam in the open.")
                 .arg(counted(answer->not_told, tr("seam"), tr("seams")));
  seams_->setText(words.join('\n'));
  seams_->setVisible(!words.isEmpty());
}

void ScanTool::refresh() {
  const ScanTable& table = desk_.scans();
  const bool busy = table.busy() || desk_.camera().busy() || desk_.seams().busy();
  shoot_->setEnabled(desk_.currentHooping() && !busy);
  open_->setEnabled(desk_.currentHooping() && !busy);
  demo_->setVisible(desk_.currentHooping() && table.scans().empty() &&
                    std::filesystem::exists(demoScan(desk_.bench(), desk_.job(), desk_.hooping())));
  progress_->setVisible(busy);
  progress_->setValue(static_cast<int>(table.progress().part * 100));
  const QSignalBlocker block(strength_);
  watch_->setText(watcher_.directories().isEmpty()
                      ? tr("Watch …")
                      : tr("Watching %1").arg(QDir(watcher_.directories().front()).dirName()));
  strength_->setValue(static_cast<int>(desk_.view().scan_strength * 100));
  showScans();
  showMarks();
  showSeams();
  const auto reading = table.reading();
  QString plane;
  bool guides = false;
  if (reading && reading->photo.problem) {
    plane = QString::fromUtf8(reading->photo.problem->what());
    guides = !reading->flat;
  } else if (reading) {
    const PhotoAlignment& f = reading->photo.found;
    plane = tr("Plane from %1, %2 px off; the lens bends %3 % at the corner.")
                .arg(counted(f.plane_tags.size(), tr("tag"), tr("tags")))
                .arg(f.rms_px, 0, 'f', 2)
                .arg(std::abs(f.k1) * 100, 0, 'f', 1);
  }
  const std::optional<LearnedLens> lens = desk_.lens();
  lens_->setVisible(lens.has_value());
  if (lens && !plane.isEmpty())
    plane += tr(" %1: known from %2.")
                 .arg(QString::fromStdString(table.shown()->scan.camera),
                      counted(static_cast<size_t>(lens->photos), tr("photo"), tr("photos")));
  plane_->setText(plane);
  plane_->setVisible(!plane.isEmpty());
  guides_->setVisible(guides || hand_.guiding());
  guides_->setText(hand_.guiding()
                       ? tr("Corner %1 of 4: top left first, clockwise").arg(table.guides() + 1)
                       : tr("Point at the field's corners"));
}

}  // namespace rt
