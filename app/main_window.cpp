#include "main_window.h"

#include <QAction>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QMimeData>

#include "actions.h"
#include "align_station.h"
#include "all_stations.h"
#include "brief_station.h"
#include "compose_station.h"
#include "demo.h"
#include "density_station.h"
#include "error.h"
#include "hoopings_station.h"
#include "job_file.h"
#include "machine_now.h"
#include "phone.h"
#include "phone_dialog.h"
#include "sew_station.h"
#include "swatch.h"

namespace rt {
namespace {

class DialogAsker : public FileAsker {
 public:
  QString toOpen(QWidget* parent, const QString& title, const QString& filter) override {
    return QFileDialog::getOpenFileName(parent, title, {}, filter);
  }
  QString toSave(QWidget* parent, const QString& title, const QString& name,
                 const QString& filter) override {
    return QFileDialog::getSaveFileName(parent, title, name, filter);
  }
  QString folder(QWidget* parent, const QString& title) override {
    return QFileDialog::getExistingDirectory(parent, title);
  }
};

constexpr int kNotice_ms = 9000;
constexpr int kLeaveAnyway_ms = 20000;

}  // namespace

MainWindow::MainWindow(Desk& desk, std::unique_ptr<FileAsker> asker)
    : desk_(desk),
      asker_(asker ? std::move(asker) : std::make_unique<DialogAsker>()),
      board_(desk),
      thread_(new WorkThread(board_)),
      cloth_(new ClothView(desk)),
      verdict_(new VerdictPanel(desk, board_)),
      ribbon_(new SewRibbon(desk)),
      phone_(new Phone(desk, desk.bench().data, desk.stateFolder(), this)) {
  setMinimumSize(1024, 680);
  resize(1280, 800);
  setAcceptDrops(true);
  auto* body = new QWidget;
  auto* grid = new QGridLayout(body);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(0);
  setCentralWidget(body);
  grid->addWidget(buildTop(), 0, 0, 1, 3);
  grid->addWidget(thread_, 1, 0, 2, 1);
  grid->addWidget(cloth_, 1, 1);
  grid->addWidget(verdict_, 1, 2);
  grid->addWidget(ribbon_, 2, 1, 1, 2);
  grid->setColumnStretch(1, 1);
  grid->setRowStretch(1, 1);
  notice_ = new QLabel(cloth_);
  notice_->setObjectName(QStringLiteral("notice"));
  notice_->setWordWrap(true);
  notice_->hide();
  choice_ = new ChoiceBar(cloth_);
  noticeTimer_.setSingleShot(true);
  connect(&noticeTimer_, &QTimer::timeout, notice_, &QWidget::hide);
  buildStations();
  buildActions();
  connect(thread_, &WorkThread::chosen, this, &MainWindow::go);
  connect(
      ribbon_, &SewRibbon::momentChosen, this,
      [this](const std::shared_ptr<const Pattern>& pattern, size_t row, int hooping, int setting) {
        if (hooping > 0 && (hooping != desk_.hooping() || setting != desk_.setting()))
          desk_.setHooping(hooping, setting);
        cloth_->setMoment(pattern, row);
        compose().order().standAt(*pattern, row);
      });
  connect(ribbon_, &SewRibbon::momentLeft, cloth_, &ClothView::clearMoment);
  connect(ribbon_, &SewRibbon::momentLeft, this, [this] { compose().order().standNowhere(); });
  connect(&sew(), &SewStation::called, this, &MainWindow::call);
  connect(&sew(), &SewStation::machineMoved, this,
          [this](int hooping, int setting, size_t row, bool running) {
            if (station_ != Station::Sew) return;
            cloth_->setRunning(running);
            ribbon_->followMachine(hooping, setting, row);
          });
  desk.on(Part::Job | Part::View | Part::Selection, this, &MainWindow::refreshTop);
  connect(&desk.undo(), &History::indexChanged, this, &MainWindow::refreshTop);
  desk.on(Part::Plan, this, &MainWindow::askOfCloth);
  desk.on(Part::Machine | Part::Record | Part::Rows, this, &MainWindow::showCall);
  connect(&desk, &Desk::said, this, [this](const QString& text) { tell(text, false); });
  connect(&desk, &Desk::failed, this, [this](const QString& text) { tell(text, true); });
  go(Station::Brief);
  refreshTop();
  cloth_->setFocus();
}

MainWindow::~MainWindow() {
  opener_.waitForDone();
  // a field that loses the focus on the way down still keeps what was typed; nobody shows it any
  // more
  QObject::disconnect(&desk_, &Desk::moved, nullptr, nullptr);
  cloth_->setLensAndHand(nullptr, nullptr);  // lens and hand go down with their stations
}

QWidget* MainWindow::buildTop() {
  auto* top = new QWidget;
  top->setFixedHeight(look::kTopHeight);
  top->setObjectName(QStringLiteral("top"));
  top->setStyleSheet(
      QStringLiteral("#top{border-bottom:1px solid %1}").arg(look::colours().line.name()));
  auto* row = new QHBoxLayout(top);
  row->setContentsMargins(20, 0, 16, 0);
  row->setSpacing(12);
  title_ = new QLabel;
  title_->setFont(look::text(13, true));
  facts_ = new QLabel;
  facts_->setFont(look::text(10));
  facts_->setStyleSheet(QStringLiteral("color:%1").arg(look::colours().quiet.name()));
  field_ = new CommandField([this] { return commands(); }, this);
  field_->setFixedWidth(330);
  undoButton_ = new QPushButton;
  undoButton_->setProperty("flat", true);
  undoButton_->setFocusPolicy(Qt::TabFocus);
  undoButton_->setObjectName(QStringLiteral("undoButton"));
  unit_ = new QPushButton;
  unit_->setProperty("flat", true);
  unit_->setToolTip(tr("Exchange millimetres and inches (Ctrl+U)"));
  saved_ = new QLabel;
  saved_->setFont(look::text(9.5));
  call_ = new QLabel;
  call_->setObjectName(QStringLiteral("nextHand"));
  call_->setFont(look::figures(10, true));
  call_->setToolTip(tr("When a machine needs a hand next"));
  row->addWidget(title_);
  row->addWidget(facts_);
  row->addWidget(call_);
  row->addStretch();
  row->addWidget(field_);
  row->addStretch();
  row->addWidget(undoButton_);
  row->addWidget(unit_);
  row->addWidget(saved_);
  connect(undoButton_, &QPushButton::clicked, this, [this] { desk_.undo().undo(); });
  return top;
}

void MainWindow::buildStations() {
  stations_ = makeStations({desk_, *asker_, *cloth_, *ribbon_});
  for (StationPanel* station : stations_) {
    verdict_->add(station);
    connect(station, &StationPanel::lookChanged, cloth_, qOverload<>(&QWidget::update));
    connect(station, &StationPanel::goAsked, this, &MainWindow::go);
    connect(station, &StationPanel::openAsked, this, [this, station] { go(station->id()); });
  }
  connect(&as<BriefStation>(), &BriefStation::swatchAsked, this, &MainWindow::makeSwatch);
  connect(&as<BriefStation>(), &BriefStation::learningSwatchAsked, this,
          &MainWindow::makeLearningSwatch);
  connect(&as<BriefStation>(), &BriefStation::takeAsked, this, [this](const Job& job) {
    takeInstead(
        job, Station::Compose,
        tr("The job lies here once more. Read the proof, and save it under a name of its own."));
  });
  connect(&as<HoopingsStation>(), &HoopingsStation::takeAsked, this, [this](Job job) {
    job.id = newId();
    takeInstead(
        job, Station::Hoopings,
        tr("The batch is a job of its own. Plan it, and read the proof of all its pieces."));
  });
}

template <class T>
T& MainWindow::as() const {
  for (StationPanel* station : stations_)
    if (T* found = qobject_cast<T*>(station)) return *found;
  qFatal("a station is missing");
}

ComposeStation& MainWindow::compose() {
  return as<ComposeStation>();
}
DensityStation& MainWindow::density() {
  return as<DensityStation>();
}
AlignStation& MainWindow::align() {
  return as<AlignStation>();
}
SewStation& MainWindow::sew() {
  return as<SewStation>();
}

QAction* MainWindow::action(const QString& name, const QKeySequence& keys,
                            std::function<void()> run) {
  auto* a = new QAction(name, this);
  a->setShortcut(keys);
  connect(a, &QAction::triggered, this, std::move(run));
  // a key alone is a letter wherever something can be typed: it acts on the cloth and the thread of
  // stations only
  if (keys.count() == 1 && keys[0].keyboardModifiers() == Qt::NoModifier &&
      keys[0].key() < Qt::Key_F1) {
    a->setShortcutContext(Qt::WidgetShortcut);
    thread_->addAction(a);
    cloth_->addAction(a);
  } else {
    addAction(a);
  }
  actions_.push_back(a);
  return a;
}

void MainWindow::buildActions() {
  buildJobActions();
  for (StationPanel* station : stations_)
    for (StationAction& a : station->actions())
      action(a.name, a.keys, [this, station, act = a] {
        if (act.opens) go(station->id());
        act.run();
      });
  buildSewingActions();
  buildViewActions();
}

void MainWindow::buildJobActions() {
  for (int i = 0; i < kStations; ++i)
    action(tr("Go to %1").arg(nameOf(static_cast<Station>(i))), QKeySequence(Qt::Key_1 + i),
           [this, i] { go(static_cast<Station>(i)); });
  action(tr("Find anything"), QKeySequence(tr("Ctrl+K")), [this] { field_->open(); });
  action(tr("Undo"), QKeySequence::Undo, [this] { desk_.undo().undo(); });
  // platforms differ over this one; both usual chords work everywhere
  action(tr("Redo"), QKeySequence::Redo, [this] {
    desk_.undo().redo();
  })->setShortcuts({QKeySequence(tr("Ctrl+Shift+Z")), QKeySequence(tr("Ctrl+Y"))});
  action(tr("Save"), QKeySequence::Save, [this] { save(); });
  action(tr("Save as …"), QKeySequence::SaveAs, [this] { saveAs(); });
  action(tr("Open a job …"), QKeySequence::Open, [this] {
    const QString path = asker_->toOpen(this, tr("Open a job"), tr("Jobs (*.rapt)"));
    if (!path.isEmpty() && mayLeave()) openPath(path);
  });
  action(tr("New job"), QKeySequence::New, [this] {
    if (!mayLeave()) return;
    Job job;
    job.id = QString("job-%1").arg(QDateTime::currentMSecsSinceEpoch()).toStdString();
    job.title = "New job";
    desk_.take(std::move(job), {});
    cloth_->fitAll();
    go(Station::Brief);
  });
}

void MainWindow::buildSewingActions() {
  action(tr("Phone at the machine: page with scan, machines and sheets …"), {},
         [this] { showPhone(); });
  action(tr("Play the sewing, or pause"), QKeySequence(tr("Ctrl+Space")),
         [this] { ribbon_->play(); });
  action(tr("Play faster"), QKeySequence(tr("Ctrl+.")), [this] {
    ribbon_->setPlaySpeed(std::min(3600.0, ribbon_->playSpeed() * 2));
    tell(tr("Plays %1 times as fast as it sews.").arg(ribbon_->playSpeed()), false);
  });
  action(tr("Play slower"), QKeySequence(tr("Ctrl+,")), [this] {
    ribbon_->setPlaySpeed(std::max(1.0, ribbon_->playSpeed() / 2));
    tell(tr("Plays %1 times as fast as it sews.").arg(ribbon_->playSpeed()), false);
  });
  action(tr("To the next colour"), QKeySequence(tr("Ctrl+PgDown")),
         [this] { ribbon_->stepColour(1); });
  action(tr("To the next trim"), QKeySequence(tr("Ctrl+J")), [this] { ribbon_->stepTrim(1); });
  action(tr("One stitch on"), QKeySequence(tr("Ctrl+Right")), [this] { ribbon_->stepStitch(1); });
  action(tr("One stitch back"), QKeySequence(tr("Ctrl+Left")), [this] { ribbon_->stepStitch(-1); });
  action(tr("Make a test swatch of this fabric"), {}, [this] { makeSwatch(); });
  action(tr("Make a swatch to learn how this cloth moves"), {}, [this] { makeLearningSwatch(); });
  action(tr("Another cloth: nothing of this job is sewn on it"), {}, [this] {
    desk_.replaceCloth();
    tell(tr("The job begins anew on another cloth. What was sewn stays in the ledger."), false);
  });
}

void MainWindow::buildViewActions() {
  action(tr("Show all of the cloth"), QKeySequence(tr("Ctrl+0")), [this] { cloth_->fitAll(); });
  action(tr("Millimetres or inches"), QKeySequence(tr("Ctrl+U")), [this] {
    ViewChoices view = desk_.view();
    view.inches = !view.inches;
    desk_.setView(view);
  });
  action(tr("Light or dark"), {}, [this] {
    look::setDark(!look::isDark());
    tell(tr("The look changes fully at the next start."), false);
    update();
  });
  action(tr("Help"), QKeySequence::HelpContents, [this] {
    tell(tr("Go down the thread from 1 to 8. Ctrl+K finds any action; tooltips name the keys. "
            "Every change can be undone with Ctrl+Z."),
         false);
  });
  action(tr("Quit"), QKeySequence::Quit, [this] { close(); });
  connect(unit_, &QPushButton::clicked, this, [this] {
    for (QAction* a : actions_)
      if (a->text() == tr("Millimetres or inches")) a->trigger();
  });
}

void MainWindow::call(const QString& words) {
  tell(words, false);
  QApplication::alert(this);
  if (!isActiveWindow() && QSystemTrayIcon::isSystemTrayAvailable()) {
    if (!tray_) tray_ = new QSystemTrayIcon(windowIcon(), this);
    tray_->show();
    tray_->showMessage(tr("The machine needs you"), words);
  }
}

void MainWindow::showCall() {
  const QString words = nextCallWords(desk_);
  if (words == call_->text()) return;
  call_->setText(words);
  fitHead();
}

void MainWindow::fitHead() {
  facts_->setVisible(width() > 1100 && call_->text().isEmpty());
}

void MainWindow::showPhone() {
  if (!phoneDialog_) phoneDialog_ = new PhoneDialog(desk_, *phone_, this);
  phoneDialog_->show();
  phoneDialog_->raise();
}

void MainWindow::takeInstead(const Job& job, Station station, const QString& words) {
  if (!mayLeave()) return;
  desk_.take(job, {});
  cloth_->fitAll();
  go(station);
  tell(words, false);
}

void MainWindow::makeSwatch() {
  if (!mayLeave()) return;
  guarded(desk_, [this] {
    Job job = swatchJob(desk_.shopFabric(), desk_.bench());
    job.id = QString("swatch-%1").arg(QDateTime::currentMSecsSinceEpoch()).toStdString();
    job.plan_settings = desk_.job().plan_settings;
    desk_.take(std::move(job), {});
    cloth_->fitAll();
    go(Station::Compose);
    tell(tr("Sew the swatch, then say at the Ledger (8) which step failed first."), false);
  });
}

void MainWindow::makeLearningSwatch() {
  if (!mayLeave()) return;
  guarded(desk_, [this] {
    Job job = learningJob(desk_.shopFabric(), desk_.bench());
    job.id = QString("swatch-%1").arg(QDateTime::currentMSecsSinceEpoch()).toStdString();
    job.plan_settings = desk_.job().plan_settings;
    desk_.take(std::move(job), {});
    cloth_->fitAll();
    go(Station::Compose);
    tell(tr("Sew it on a scrap, its cross on the frame's middle; leave it in the frame and add "
            "photos of it at Brief (1), Pull."),
         false);
  });
}

std::vector<Command> MainWindow::commands() const {
  auto* self = const_cast<MainWindow*>(this);
  std::vector<Command> out;
  for (QAction* a : actions_)
    if (a->text() != tr("Find anything"))
      out.push_back(
          {a->text(), a->shortcut().toString(QKeySequence::NativeText), [a] { a->trigger(); }});
  for (const Piece& p : desk_.job().pieces)
    out.push_back({tr("Piece: %1").arg(QString::fromStdString(p.name)), {}, [self, id = p.id] {
                     self->go(Station::Compose);
                     self->desk_.select(id);
                   }});
  if (desk_.plan())
    for (const Hooping& h : desk_.plan()->hoopings)
      out.push_back({tr("Hooping %1").arg(h.index), {}, [self, i = h.index] {
                       self->go(Station::Hoopings);
                       self->desk_.setHooping(i);
                     }});
  for (const Hoop& h : desk_.bench().shop.hoops)
    out.push_back({tr("Hoop: %1").arg(QString::fromStdString(h.name)), {}, [self, id = h.id] {
                     self->go(Station::Hoopings);
                     PlanSettings next = self->desk_.job().plan_settings;
                     next.hoop = id;
                     self->desk_.change(tr("hoop"),
                                        actions::plannedWith(self->desk_.job(), std::move(next)));
                   }});
  for (const std::string& name : demoJobs(desk_.bench()))
    out.push_back({tr("Demo job: %1").arg(QString::fromStdString(name)), {}, [self, name] {
                     if (self->mayLeave()) self->openDemo(name);
                   }});
  return out;
}

void MainWindow::go(Station station) {
  station_ = station;
  thread_->setStation(station);
  cloth_->setLensAndHand(verdict_->panel(station)->lens(), verdict_->panel(station)->hand());
  verdict_->setStation(station);
  refreshTop();
}

void MainWindow::refreshTop() {
  const Job& job = desk_.job();
  title_->setText(QString::fromStdString(job.title));
  const Hoop* hoop = nullptr;
  for (const Hoop& h : desk_.bench().shop.hoops)
    if (h.id == job.plan_settings.hoop) hoop = &h;
  const QString field =
      hoop ? tr("field %1 × %2 mm").arg(hoop->field.width_mm).arg(hoop->field.height_mm)
           : tr("field %1 mm").arg(QString::fromStdString(job.plan_settings.hoop));
  facts_->setText(QString("%1 · %2 · %3")
                      .arg(QString::fromStdString(desk_.fabric().name).toLower(),
                           QString::fromStdString(job.brief.backing), field));
  undoButton_->setEnabled(desk_.undo().canUndo());
  undoButton_->setText(
      desk_.undo().canUndo()
          ? tr("Undo: %1")
                .arg(fontMetrics().elidedText(desk_.undo().undoText(), Qt::ElideRight, 150))
          : tr("Nothing to undo"));
  undoButton_->setToolTip(tr("Undo (Ctrl+Z)"));
  unit_->setText(desk_.inches() ? tr("in · mm") : tr("mm · in"));
  const bool dirty = desk_.document().dirty();
  saved_->setText(desk_.path().empty() ? tr("Not saved yet") : dirty ? tr("Changed") : tr("Saved"));
  setWindowTitle(tr("%1 – Rapt Thimble").arg(QString::fromStdString(job.title)));
}

void MainWindow::tell(const QString& text, bool problem) {
  notice_->setText(problem ? tr("%1\nNothing was changed.").arg(text) : text);
  notice_->setProperty("problem", problem);
  notice_->setStyleSheet(
      QStringLiteral(
          "background:%1;color:%2;border-left:5px solid %3;border-radius:6px;padding:10px 14px")
          .arg(look::colours().raised.name(), look::colours().ink.name(),
               (problem ? look::colours().stop : look::colours().accent).name()));
  notice_->setFixedWidth(std::min(520, cloth_->width() - 80));
  notice_->adjustSize();
  notice_->move((cloth_->width() - notice_->width()) / 2, 40);
  notice_->show();
  notice_->raise();
  noticeTimer_.start(kNotice_ms);
}

void MainWindow::begin(const QString& path, bool demo) {
  setEnabled(false);
  tell(path.isEmpty() ? tr("Opening …") : tr("Opening %1 …").arg(QFileInfo(path).fileName()),
       false);
  noticeTimer_.stop();
  const auto shown = [this](Station station) {
    notice_->hide();
    setEnabled(true);
    cloth_->fitAll();
    go(station);
    cloth_->setFocus();
  };
  opener_.start([this, path, demo, shown] {
    std::function<void()> then;
    try {
      JobDocument::Read read;
      if (!path.isEmpty() || !demo) read = desk_.document().read(path.toStdString());
      std::optional<Job> first;
      if (!read.saved && !read.copy)
        first = demoJob(desk_.bench(), demoJobs(desk_.bench()).front());
      then = [this, read, first, shown] {
        shown(first ? Station::Density : Station::Compose);
        if (first)
          desk_.take(*first, {});
        else
          desk_.take(read);
        cloth_->fitAll();
      };
    } catch (const std::exception& problem) {
      then = [this, shown, words = QString::fromUtf8(problem.what())] {
        shown(Station::Brief);
        tell(words, true);
      };
    }
    QMetaObject::invokeMethod(
        this,
        [this, then] {
          guarded(desk_, then);
          emit begun();
        },
        Qt::QueuedConnection);
  });
}

bool MainWindow::openPath(const QString& path) {
  try {
    desk_.open(path.toStdString());
  } catch (const Error& problem) {
    tell(QString::fromUtf8(problem.what()), true);
    return false;
  }
  cloth_->fitAll();
  go(Station::Compose);
  return true;
}

void MainWindow::openDemo(const std::string& name) {
  guarded(desk_, [&] {
    desk_.take(demoJob(desk_.bench(), name), {});
    cloth_->fitAll();
    go(Station::Density);
  });
}

bool MainWindow::saveTo(const std::filesystem::path& path, JobDocument::Over over,
                        const QString& told) {
  try {
    desk_.save(path, over);
    choice_->hide();
    tell(told, false);
    return true;
  } catch (const FileChanged& changed) {
    askWhichState(QString::fromStdString(changed.problem()));
  } catch (const Error& problem) {
    tell(QString::fromUtf8(problem.what()), true);
  }
  return false;
}

bool MainWindow::save() {
  if (desk_.path().empty()) return saveAs();
  return saveTo(desk_.path(), JobDocument::Over::Refuse, tr("Saved."));
}

bool MainWindow::saveAs() {
  QString path = asker_->toSave(
      this, tr("Save the job"),
      QString::fromStdString(desk_.job().title).toLower().replace(' ', '-') + ".rapt",
      tr("Jobs (*.rapt)"));
  if (path.isEmpty()) return false;
  if (!path.endsWith(QStringLiteral(".rapt"))) path += QStringLiteral(".rapt");
  return saveTo(path.toStdString(), JobDocument::Over::Refuse,
                tr("Saved as %1.").arg(QFileInfo(path).fileName()));
}

void MainWindow::askWhichState(const QString& problem) {
  const QString name = QString::fromStdString(desk_.path().filename().string());
  choice_->ask(
      tr("%1: %2. Nothing is lost: yours is here and in its autosaved copy, the other lies in "
         "the file.")
          .arg(name, problem),
      {{tr("Show both"), tr("Hold the file's state against this one on the cloth"),
        [this] { compareWithTheirs(); }, false},
       {tr("Save this one beside it"), tr("Under a name of its own; the file stays"),
        [this] { saveBeside(); }, true},
       {tr("Take the file's"), tr("Yours stays one step of redo away"), [this] { takeTheirs(); },
        true},
       {tr("Save over it"), tr("The file's state is kept beside it under a name of its own"),
        [this] { saveOverTheirs(); }, true}});
}

namespace {

/// A name beside a file that nothing has yet: `bag-other.rapt`, `bag-other-2.rapt`, …
std::filesystem::path freeBeside(const std::filesystem::path& file, const std::string& word) {
  for (int n = 1;; ++n) {
    const std::filesystem::path path =
        file.parent_path() / (file.stem().string() + "-" + word +
                              (n > 1 ? "-" + std::to_string(n) : std::string()) + ".rapt");
    if (!std::filesystem::exists(path)) return path;
  }
}

}  // namespace

void MainWindow::askOfCloth() {
  const MadePlan* plan = desk_.planCurrent() ? desk_.madePlan() : nullptr;
  if (!plan || desk_.moment().gone == 0 || plan->id == askedOf_) return;
  askedOf_ = plan->id;
  choice_->ask(tr("%1 stitches lie on the cloth that the layout has no more: what takes their "
                  "place would be sewn "
                  "over them. Stitches that are taken out show.")
                   .arg(grouped(desk_.moment().gone)),
               {{tr("Undo the change"), tr("The layout is again what was sewn"),
                 [this] {
                   desk_.undo().undo();
                   desk_.makePlan();
                 }},
                {tr("Sew it over them"), tr("As it is planned now"), [] {}},
                {tr("It is another cloth"), tr("Nothing of this job is sewn on it"), [this] {
                   desk_.replaceCloth();
                   desk_.makePlan();
                 }}});
}

void MainWindow::compareWithTheirs() {
  guarded(desk_, [this] {
    desk_.compareWith(loadJob(desk_.path()), tr("this window"), tr("the file"));
    go(Station::Density);
  });
}

void MainWindow::saveBeside() {
  const std::filesystem::path path = freeBeside(desk_.path(), "mine");
  saveTo(path, JobDocument::Over::Refuse,
         tr("Saved as %1; the other file stays as it is.")
             .arg(QString::fromStdString(path.filename().string())));
}

void MainWindow::takeTheirs() {
  guarded(desk_, [this] {
    desk_.document().takeTheirs();
    tell(tr("This is what the file holds. Redo (Ctrl+Shift+Z) brings your edits back."), false);
  });
}

void MainWindow::saveOverTheirs() {
  guarded(desk_, [this] {
    const std::filesystem::path kept = freeBeside(desk_.path(), "other");
    std::filesystem::copy_file(desk_.path(), kept);
    saveTo(desk_.path(), JobDocument::Over::Replace,
           tr("Saved. What the file held before is kept as %1.")
               .arg(QString::fromStdString(kept.filename().string())));
  });
}

/// Edits are kept in recovery whatever is answered; where they cannot be, the job stays. Asked a
/// second time at once, a person may leave without.
bool MainWindow::mayLeave() {
  if (!desk_.document().dirty() || desk_.autosave()) return true;
  if (leaveAsked_.isValid() && leaveAsked_.elapsed() < kLeaveAnyway_ms) return true;
  leaveAsked_.start();
  tell(tr("The edits could not be kept, so this job stays open. Save it elsewhere (Ctrl+Shift+S), "
          "or "
          "do the same once more to leave without them."),
       true);
  return false;
}

void MainWindow::closeEvent(QCloseEvent* event) {
  event->setAccepted(mayLeave());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  for (const QUrl& url : event->mimeData()->urls()) {
    const QString path = url.toLocalFile();
    if (path.endsWith(QStringLiteral(".rapt"))) {
      if (mayLeave()) openPath(path);
    } else if (path.endsWith(QStringLiteral(".png"), Qt::CaseInsensitive) ||
               path.endsWith(QStringLiteral(".jpg"), Qt::CaseInsensitive) ||
               path.endsWith(QStringLiteral(".jpeg"), Qt::CaseInsensitive)) {
      go(Station::Align);
      align().tools().open(&align().scans());
      align().scans().takeFile(path);
    } else {
      go(Station::Compose);
      compose().addFile(path);
    }
  }
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  fitHead();
}

}  // namespace rt
