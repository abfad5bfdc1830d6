#include "shots.h"

#include <QCoreApplication>
#include <QDir>
#include <QEventLoop>
#include <QTemporaryDir>
#include <cstdio>

#include "align_station.h"
#include "demo.h"
#include "density_station.h"
#include "error.h"
#include "file_io.h"
#include "gauge_tool.h"
#include "main_window.h"
#include "page_view.h"
#include "proof_tools.h"

namespace rt {
namespace {

void pump(Desk& desk) {
  desk.settle();
  for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();
}

void waitForCamera(const Desk& desk) {
  while (desk.camera().busy() || desk.scans().busy()) waitForEvents();
}

/// A crooked but sound hooping, as the stand-in's camera sees it.
void scan(Desk& desk) {
  constexpr quint32 kCloth = 12;
  desk.camera().practise(1, kCloth);
  waitForCamera(desk);
}

/// Part of a hooping is sewn, until a colour is asked for.
void sewSome(Desk& desk) {
  using Phase = MachineLink::Phase;
  MachineLink& m = desk.run().machine();
  const auto until = [&](std::initializer_list<Phase> wanted) {
    while (m.phase() != Phase::Away &&
           std::find(wanted.begin(), wanted.end(), m.phase()) == wanted.end())
      waitForEvents();
  };
  desk.overrule("trial on scrap");
  until({Phase::Idle});
  desk.sendHooping(desk.hooping());
  until({Phase::Loaded});
  m.setSpeedUp(10000);
  for (int colours = 0; colours < 6 && m.phase() != Phase::Away; ++colours) {
    desk.sewOn();
    until({Phase::ColourWait, Phase::Done});
    if (colours < 5) m.threadNeedle(desk.run().needleFor(m.thread()), m.thread());
  }
}

bool keep(QWidget& window, const QString& file) {
  QCoreApplication::processEvents();
  if (window.grab().save(file)) return true;
  std::fprintf(stderr, "error: cannot write %s; check that the folder is writable\n",
               qPrintable(file));
  return false;
}

/// A frame as somebody measures it, with its opening still missing.
void measureFrame(MainWindow& window) {
  const std::pair<const char*, const char*> typed[] = {
      {"frameName", "Long blue"}, {"frameFieldW", "300"}, {"frameFieldH", "110"}};
  for (const auto& [name, text] : typed)
    if (auto* line = window.findChild<QLineEdit*>(QString::fromLatin1(name))) {
      line->setText(QString::fromLatin1(text));
      line->setModified(true);
      emit line->editingFinished();
    }
}

/// Pages as they will be printed.
bool keepPages(MainWindow& window, const QString& file) {
  auto* preview = window.findChild<QPushButton*>(QStringLiteral("previewJobSheet"));
  if (!preview) return true;
  preview->click();
  auto* pages = window.findChild<PageView*>();
  if (!pages) return false;
  const bool kept = keep(*pages, file);
  delete pages;
  return kept;
}

/// A stretch and an arc of the scan, as somebody measures them.
void measureScan(MainWindow& window) {
  auto* gauge = window.findChild<GaugeTool*>();
  auto* what = window.findChild<QComboBox*>(QStringLiteral("gaugeWhat"));
  if (!gauge || !what) return;
  gauge->measure({{-120, -40}, {120, -36}});
  what->setCurrentIndex(3);
  gauge->measure({{-90, 40}, {-45, 52}, {0, 56}, {45, 52}, {90, 40}});
}

/// A batch of tags, laid into frames.
bool keepBatch(MainWindow& window, Desk& desk, const QString& path) {
  window.openDemo("tally-tags");
  pump(desk);
  window.go(Station::Hoopings);
  auto* tool = window.findChild<QPushButton*>(QStringLiteral("toolbatchTool"));
  auto* make = window.findChild<QPushButton*>(QStringLiteral("batchMake"));
  if (!tool || !make) return false;
  tool->click();
  pump(desk);
  make->click();
  pump(desk);
  desk.makePlan();
  pump(desk);
  if (auto* plan = window.findChild<QPushButton*>(QStringLiteral("toolplanTool"))) plan->click();
  window.cloth().fitAll();
  pump(desk);
  if (auto* notice = window.findChild<QWidget*>(QStringLiteral("notice"))) notice->hide();
  return keep(window, path);
}

/// Tools that have a picture of their own.
bool keepTools(MainWindow& window, Desk& desk, Station station, const QString& folder) {
  static const std::vector<std::tuple<Station, const char*, const char*>> tools{
      {Station::Brief, "toolPull", "1-brief-pull"},
      {Station::Brief, "toolItems", "1-brief-items"},
      {Station::Brief, "toolShopping", "1-brief-shopping"},
      {Station::Hoopings, "toolmeasureTool", "4-hoopings-measure"},
      {Station::Paper, "toolPrice", "5-paper-price"},
      {Station::Align, "toolEye", "6-align-eye"},
      {Station::Align, "toolGauge", "6-align-measure"},
      {Station::Ledger, "toolCharts", "8-ledger-charts"}};
  for (const auto& [of, button, name] : tools) {
    if (of != station) continue;
    auto* tool = window.findChild<QPushButton*>(QString::fromLatin1(button));
    if (!tool) continue;
    tool->click();
    if (station == Station::Hoopings) measureFrame(window);
    if (button == std::string_view("toolGauge")) measureScan(window);
    pump(desk);
    if (!keep(window, QStringLiteral("%1/%2.png").arg(folder, QString::fromLatin1(name))))
      return false;
  }
  return true;
}

/// A photo of a hooping as practice of a level clamps it, with the trouble that is wanted; without
/// one, such as can be sewn.
bool keepScan(Desk& desk, int hooping, int level, const QString& fault, const QString& folder) {
  constexpr quint32 kMostTried = 40;
  for (quint32 seed = 1; seed <= kMostTried; ++seed) {
    desk.setHooping(hooping);
    desk.camera().practise(level, seed);
    waitForCamera(desk);
    const ScanTaken* scan = desk.scans().shown();
    if (!scan) return false;
    const std::string bytes = *scan->scan.bytes;
    const auto lies = desk.alignmentOf(hooping);
    if (fault.isEmpty() && (!lies || lies->status != Readiness::Ready)) continue;
    desk.camera().askTruth();
    waitForCamera(desk);
    if (!desk.camera().truth() || desk.camera().truth()->fault != fault) continue;
    const auto path = demoScan(desk.bench(), desk.job(), hooping).filename();
    writeFile(std::filesystem::path(folder.toStdString()) / path, bytes);
    return true;
  }
  return false;
}

}  // namespace

int makeDemoScans(const QString& folder) {
  constexpr int kCrooked = 1, kWrong = 3;
  try {
    if (!QDir().mkpath(folder))
      throw Error("the folder cannot be made", folder.toStdString(), "choose another");
    QTemporaryDir state;
    Desk desk(openBench(), {state.path().toStdString()});
    for (const std::string& name : demoJobs(desk.bench())) {
      desk.take(demoJob(desk.bench(), name), {});
      desk.settle();
      desk.makePlan();
      pump(desk);
      const bool banner = name == demoJobs(desk.bench()).front();
      if (!keepScan(desk, 1, kCrooked, {}, folder) ||
          (banner && !keepScan(desk, 2, kWrong, QStringLiteral("wrong mark"), folder)))
        throw Error("the stand-in's camera made no such photo", name, "build the stand-in too");
    }
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "error: %s\n", problem.what());
    return 1;
  }
  return 0;
}

int makeShots(const QString& folder) {
  if (!QDir().mkpath(folder)) {
    std::fprintf(stderr, "error: cannot make the folder %s; choose another\n", qPrintable(folder));
    return 1;
  }
  QTemporaryDir state;
  Desk desk(openBench(), {state.path().toStdString()});
  MainWindow window(desk);
  window.resize(1280, 800);
  window.show();
  window.openDemo("hide-banner");
  pump(desk);
  desk.makePlan();
  pump(desk);
  for (int i = 0; i < kStations; ++i) {
    const auto station = static_cast<Station>(i);
    window.go(station);
    if (station == Station::Compose) desk.select(desk.job().pieces.back().id);
    if (station == Station::Density) window.density().pick(0);
    if (station == Station::Align) {
      desk.setHooping(2);
      scan(desk);
      window.align().record();
    }
    if (station == Station::Sew) {
      window.findChild<ProofTools*>()->accept();
      sewSome(desk);
    }
    pump(desk);
    if (auto* notice = window.findChild<QWidget*>(QStringLiteral("notice"))) notice->hide();
    if (!keep(window,
              QString("%1/%2-%3.png").arg(folder).arg(i + 1).arg(nameOf(station).toLower())))
      return 1;
    if (!keepTools(window, desk, station, folder)) return 1;
    if (station == Station::Paper && !keepPages(window, folder + "/5-paper-pages.png")) return 1;
    if (station == Station::Sew) window.cloth().clearMoment();
  }
  return keepBatch(window, desk, folder + "/4-hoopings-batch.png") ? 0 : 1;
}

}  // namespace rt
