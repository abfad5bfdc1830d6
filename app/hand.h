// What mouse and keys do on the cloth at a station.
#pragma once

#include <QKeyEvent>

#include "eye.h"
#include "piece.h"

namespace rt {

/// A press, a move or a release over the cloth.
struct Touch {
  QPointF at;
  Qt::KeyboardModifiers modifiers;
};

/// Gestures come to the station's hand first; what it does not take pans and zooms. Anything that
/// changes the look is followed by a repaint of the cloth.
class Hand {
 public:
  virtual ~Hand() = default;
  /// True if the drag that begins here is the hand's.
  virtual bool press(const Touch&, const Eye&) { return false; }
  virtual bool doubleClick(const Touch&, const Eye&) { return false; }
  virtual void drag(const Touch&, const Eye&) {}
  virtual void release() {}
  /// The pointer moves without a button. True if the look changed.
  virtual bool hover(const Touch&, const Eye&) { return false; }
  virtual void leave() {}
  virtual bool key(const QKeyEvent&) { return false; }
  /// While true all keys but those with Ctrl come here before they are shortcuts.
  virtual bool typing() const { return false; }
  /// Escape, another station, or a gesture that was asked for.
  virtual void giveUp() {}
  /// The focus leaves the cloth, or the station is left: what was typed is kept.
  virtual void keep() {}
  virtual void jobChanged() {}
  virtual Qt::CursorShape cursor(QPointF, const Eye&) const { return Qt::ArrowCursor; }
  /// Where a piece is drawn while the hand holds it.
  virtual Placement placeOf(const Piece& piece) const { return piece.place; }
  /// A piece that is drawn instead of the one with its id; null: none.
  virtual const Piece* draft() const { return nullptr; }
  /// Over the lens.
  virtual void paint(QPainter&, const Eye&) {}
};

}  // namespace rt
