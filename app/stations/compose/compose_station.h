// Compose: size, combine, letter.
#pragma once

#include <QCheckBox>

#include "block_tools.h"
#include "compose_hand.h"
#include "draw_tools.h"
#include "group_tools.h"
#include "order_tools.h"
#include "piece_list.h"
#include "piece_tools.h"
#include "proof_tools.h"
#include "sewing_tools.h"
#include "station.h"
#include "text_tools.h"
#include "tool_shelf.h"

namespace rt {

class ComposeStation : public StationPanel {
  Q_OBJECT
 public:
  explicit ComposeStation(const StationContext& context);
  void refresh() override;
  Lens* lens() override { return &compare_; }
  Hand* hand() override { return &hand_; }
  std::vector<StationAction> actions() override;
  void addFile(const QString& path);
  void addLettering();
  void removeSelected();
  /// Sews the chosen piece earlier or later; refused, with the reason, where it would then cover
  /// what lay on it, unless that is on purpose.
  void reorder(int by, bool on_purpose = false);
  void sewAt(int piece_id, int row, bool on_purpose);
  void mirror();
  PieceTools& tools() { return *tools_; }
  SewingTools& sewing() { return *sewing_; }
  TextTools& lettering() { return *lettering_; }
  GroupTools& groups() { return *groups_; }
  DrawTools& draw() { return *draw_; }
  ProofTools& proof() { return *proof_; }
  OrderTools& order() { return *order_; }

 private:
  void buildShelf();
  static QWidget* stacked(std::initializer_list<QWidget*> widgets);
  void buildPlacing();
  /// An action on the chosen piece as one step; what is thrown becomes a message.
  void edit(const QString& name, const std::function<Job(Job, int)>& action);

  FileAsker& asker_;
  Gestures& gestures_;
  CompareLine line_;
  CompareLens compare_;
  ComposeHand hand_;
  PieceList* list_;
  QWidget* placing_;
  LengthEdit *x_, *y_, *width_, *height_;
  QLineEdit* turn_;
  QCheckBox *locked_, *mirrored_;
  TextTools* lettering_;
  ProofTools* proof_;
  GroupTools* groups_;
  DrawTools* draw_;
  BlockTools* blocks_;
  PieceTools* tools_;
  SewingTools* sewing_;
  OrderTools* order_;
  ToolShelf* shelf_;
  QWidget* size_ = nullptr;
  QLabel* hint_;
};

}  // namespace rt
