// Lettering by hand on the cloth: typing where it will be sewn, bending the baseline, and marks at
// gaps that do not join or crowd. No widget: the cloth view hands events in and draws it.
#pragma once

#include <QKeyEvent>
#include <QPainter>

#include "desk.h"
#include "eye.h"

namespace rt {

class LetterHand {
 public:
  explicit LetterHand(Desk& desk) : desk_(desk) {}

  /// The piece as it would be if what is under way were kept; null when nothing is.
  const Piece* draft() const { return draft_ ? &*draft_ : nullptr; }
  bool typing() const { return typing_; }

  void paint(QPainter& painter, const Eye& eye);

  /// Begins typing in the chosen lettering; false if it is none.
  bool beginTyping();
  /// Takes a key while typing; false for keys that typing does not use.
  bool key(const QKeyEvent& event);
  /// Keeps what was typed as one step.
  void keep();
  void giveUp();
  /// Gives up when the piece was changed meanwhile (undone, removed) by others.
  void refresh();

  /// The handle that bends the baseline, if the chosen piece has one.
  std::optional<QPointF> handle(const Eye& eye) const;
  bool press(QPointF at, const Eye& eye);
  void drag(QPointF at, const Eye& eye);
  void release();

 private:
  const Piece* piece() const;
  const TextSource* text() const;
  std::shared_ptr<const Lettering> lettering();
  Transform toLayout() const;
  double advance();
  void change(const std::function<void(TextSource&)>& edit);
  void bend(double sagitta_mm);
  Transform caretPlace();
  void paintCaret(QPainter& p, const Eye& eye);
  void paintArc(QPainter& p, const Eye& eye);
  void paintGaps(QPainter& p, const Eye& eye);

  Desk& desk_;
  std::optional<Piece> draft_, base_;
  bool typing_ = false, bending_ = false;
  size_t caret_ = 0;  ///< Before this character of the text.
  QPointF pressed_;
  double sagittaThen_ = 0;
};

}  // namespace rt
