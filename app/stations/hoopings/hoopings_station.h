// Hoopings: the layout split over hoopings, with its seam errors before a stitch is sewn.
#pragma once

#include <QCheckBox>
#include <QGridLayout>
#include <QListWidget>
#include <QTimer>
#include <QToolButton>

#include "batch_tool.h"
#include "frames_hand.h"
#include "frames_lens.h"
#include "hooping_sheets.h"
#include "measure_tool.h"
#include "station.h"
#include "tool_shelf.h"

namespace rt {

class HoopingsStation : public StationPanel {
  Q_OBJECT
 public:
  explicit HoopingsStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  std::vector<StationAction> actions() override;
  void writeFiles(const QString& folder);
  void writeSheets(const QString& path);

 signals:
  /// Another job shall take the place of the one in hand.
  void takeAsked(const rt::Job& job);

 private:
  /// A field that was held, and how the plan stood before.
  struct Held {
    Point origin;
    int index = 0;
    size_t hoopings = 0;
  };
  std::optional<Held> held_;
  void nameParts();
  void connectFrames();
  void connectAll();
  QWidget* frameTool();
  QWidget* planTool();
  QWidget* betterTool();
  void set(const QString& name, const std::function<void(PlanSettings&)>& edit);
  void fillFrames();
  void namePlan();
  void showSquare();
  void mixMenu();
  void showFigures();
  void showHoopings();
  void showCuts(const HoopingPlan& plan);
  void showBetter();
  void sayHeld();
  void pinCurrent(Point by);
  void letGo();
  void exchange(int by);
  void addField();
  void askForCut();
  void showOrder();
  void play();
  void followFrame();
  void askAndWriteSheets();
  HoopingSheets makeSheets(const QString& path) const;

  FileAsker& asker_;
  Gestures& gestures_;
  FramesLens lens_;
  FramesHand hand_;
  QComboBox* hoop_;
  QToolButton* mix_;
  LengthEdit* overlap_;
  QCheckBox* turn_;
  QComboBox *style_, *order_, *school_;
  QPushButton *plan_, *sheets_, *write_, *play_, *enlarge_, *pin_, *seek_, *cut_;
  QWidget* figures_;
  QGridLayout* figureGrid_;
  QListWidget* list_;
  QPushButton *sooner_, *later_, *asPlanned_;
  QVBoxLayout* better_;
  QLabel *doubts_, *schoolWords_, *square_;
  ToolShelf* shelf_;
  QWidget *frameTool_, *planTool_, *betterTool_;
  BatchTool* batch_;
  MeasureTool* measure_;
  QPushButton* look_;
  QWidget* papers_;
  QTimer playTimer_;
};

}  // namespace rt
