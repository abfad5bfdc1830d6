// The window: one cloth, a thread of work, a verdict, a ribbon, a command field.
#pragma once

#include <QElapsedTimer>
#include <QMainWindow>
#include <QSystemTrayIcon>
#include <QThreadPool>

#include "choice_bar.h"
#include "cloth_view.h"
#include "command_field.h"
#include "sew_ribbon.h"
#include "verdict_panel.h"
#include "work_thread.h"

namespace rt {

class AlignStation;
class ComposeStation;
class DensityStation;
class Phone;
class PhoneDialog;
class SewStation;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  /// `asker` outlives the window; null asks with the usual dialogs.
  explicit MainWindow(Desk& desk, std::unique_ptr<FileAsker> asker = nullptr);
  ~MainWindow() override;

  void go(Station station);
  Station station() const { return station_; }
  ClothView& cloth() { return *cloth_; }
  SewRibbon& ribbon() { return *ribbon_; }
  /// At the start: the window stands at once and shows that it is opening; the job comes as soon as
  /// it is read. Empty: edits of an earlier run, else the demo. Nothing pressed meanwhile is
  /// carried out.
  void begin(const QString& path, bool demo);
  bool openPath(const QString& path);
  void openDemo(const std::string& name);
  bool save();
  bool saveAs();

 signals:
  /// What `begin` was given stands in the window, or it was said why not.
  void begun();

 public:
  ComposeStation& compose();
  DensityStation& density();
  AlignStation& align();
  SewStation& sew();
  Phone& phone() { return *phone_; }

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* buildTop();
  void buildStations();
  template <class T>
  T& as() const;
  void buildActions();
  void buildJobActions();
  void buildSewingActions();
  void buildViewActions();
  QAction* action(const QString& name, const QKeySequence& keys, std::function<void()> run);
  /// The job's file was saved by others: both states are shown, and either can be kept, or both.
  void askWhichState(const QString& problem);
  /// A plan was made of a layout that has no more what lies on the cloth.
  void askOfCloth();
  bool saveTo(const std::filesystem::path& path, JobDocument::Over over, const QString& told);
  void compareWithTheirs();
  void saveBeside();
  void saveOverTheirs();
  void takeTheirs();
  std::vector<Command> commands() const;
  void tell(const QString& text, bool problem);
  void refreshTop();
  /// When a machine needs a hand next, on every station.
  void showCall();
  /// What has no room in the head gives way to what is needed more.
  void fitHead();
  void showPhone();
  /// Another job in place of the one in hand, which is kept first.
  void takeInstead(const Job& job, Station station, const QString& words);
  bool mayLeave();
  void makeSwatch();
  void makeLearningSwatch();
  /// The machine waits for a person, who may be elsewhere.
  void call(const QString& words);

  Desk& desk_;
  std::unique_ptr<FileAsker> asker_;
  VerdictBoard board_;
  Station station_ = Station::Brief;
  WorkThread* thread_;
  ClothView* cloth_;
  VerdictPanel* verdict_;
  SewRibbon* ribbon_;
  CommandField* field_;
  ChoiceBar* choice_;
  QLabel *title_, *facts_, *call_, *saved_, *notice_;
  Phone* phone_;
  PhoneDialog* phoneDialog_ = nullptr;
  QPushButton *undoButton_, *unit_;
  QSystemTrayIcon* tray_ = nullptr;
  QTimer noticeTimer_;
  QThreadPool opener_;
  std::string askedOf_;  ///< The plan that the cloth was asked about.
  QElapsedTimer leaveAsked_;
  std::vector<QAction*> actions_;
  std::vector<StationPanel*> stations_;
};

}  // namespace rt
