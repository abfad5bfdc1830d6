// How a piece that is made here is sewn: spacings, stitch length, angle, underlay, pull; with what
// follows from them before they are taken.
#pragma once

#include "desk.h"
#include "fields.h"
#include "sewing_preview.h"

namespace rt {

class SewingTools : public QWidget {
  Q_OBJECT
 public:
  explicit SewingTools(Desk& desk);
  void refresh();
  /// Waits for the figures of what was typed.
  void settle();

 private:
  struct Input {
    Piece piece;
    PieceSource then;
    Fabric fabric;
    std::shared_ptr<const Bench> bench;
    friend bool operator==(const Input& a, const Input& b) {
      return a.piece == b.piece && a.then == b.then && a.fabric == b.fabric;
    }
  };

  void build();
  void show(const Piece& piece);
  /// The piece's source with what the fields say.
  PieceSource typed(const Piece& piece) const;
  void weigh();
  void tell();
  void take();
  void asAsked();
  void change(const PieceSource& source, const QString& name);

  Desk& desk_;
  LengthEdit *rows_, *satin_, *length_, *pull_;
  QLineEdit* angle_;
  QComboBox* underlay_;
  QWidget *rowsField_, *lengthRow_, *underlayRow_;
  QPushButton *take_, *usual_;
  QLabel* figures_;
  Study<Input, SewingPreview> preview_;
  std::optional<Piece> shown_;
  Fabric shownOn_;
  bool shownInches_ = false;
};

}  // namespace rt
