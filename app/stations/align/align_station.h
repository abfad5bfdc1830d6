// Align: four ways to find out how the cloth lies, one result, and whether to sew.
#pragma once

#include "align_hand.h"
#include "eye_tools.h"
#include "gauge_tool.h"
#include "landing_lens.h"
#include "needle_tool.h"
#include "scan_tool.h"
#include "station.h"
#include "tool_shelf.h"

namespace rt {

class AlignStation : public StationPanel {
  Q_OBJECT
 public:
  explicit AlignStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &lens_; }
  Hand* hand() override { return &hand_; }
  std::vector<StationAction> actions() override;
  /// Types a mark's place as the machine shows it.
  void setPoint(const std::string& id, Point hoop) { needle_->setPoint(id, hoop); }
  void record();
  ScanTool& scans() { return *scan_; }
  ToolShelf& tools() { return *shelf_; }

 private:
  void showResult(const Hooping& hooping);
  LandingLens lens_;
  AlignHand hand_;
  QComboBox* hooping_;
  LengthEdit* tolerance_;
  ToolShelf* shelf_;
  ScanTool* scan_;
  NeedleTool* needle_;
  OneTagTool* tag_;
  EyeTool* eye_;
  GaugeTool* gauge_;
  PracticeTool* practice_;
  QLabel* facts_;
  QPushButton *record_, *clear_;
};

}  // namespace rt
