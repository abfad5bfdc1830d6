// Brief: the item, the cloth, the materials.
#pragma once

#include <QPlainTextEdit>

#include "cloth_tool.h"
#include "item_tool.h"
#include "pull_tool.h"
#include "repeat_tool.h"
#include "shopping_tool.h"
#include "station.h"
#include "tool_shelf.h"
#include "zone_tools.h"

namespace rt {

class BriefStation : public StationPanel {
  Q_OBJECT
 public:
  explicit BriefStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override;
  ZoneTools& zones() { return *zones_; }

 signals:
  void swatchAsked();
  void learningSwatchAsked();
  /// Another job shall take the place of the one in hand.
  void takeAsked(const rt::Job& job);

 private:
  void set(const QString& name, const std::function<void(Brief&)>& edit, const QString& run = {});
  QLineEdit *title_, *item_;
  QPlainTextEdit* order_;
  LengthEdit *width_, *height_;
  QLineEdit* angle_;
  ToolShelf* shelf_;
  ItemTool* kinds_;
  ClothTool* cloth_;
  PullTool* pull_;
  ZoneTools* zones_;
  ShoppingTool* shopping_;
  RepeatTool* repeat_;
};

}  // namespace rt
