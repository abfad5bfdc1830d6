// What a station may ask of the cloth: points to be clicked, a line to be drawn.
#pragma once

#include <QString>
#include <functional>
#include <vector>

#include "geometry.h"

namespace rt {

class Gestures {
 public:
  using Taken = std::function<void(const std::vector<Point>& layout_mm)>;
  virtual ~Gestures() = default;
  /// The next drag is a line of points; Escape gives up. Asking again replaces what was asked.
  virtual void askForStroke(const QString& prompt, Taken taken) = 0;
  /// The next drag is a box.
  virtual void askForBox(const QString& prompt, Taken corners) = 0;
  /// Keys go to the cloth from now on.
  virtual void focusCloth() = 0;
  /// The next `count` clicks are points.
  virtual void askForPoints(int count, const QString& prompt, Taken taken) = 0;
  /// Moves the cloth until a place of it lies in the middle of the view.
  virtual void lookAt(Point layout_mm) = 0;
  /// What lies in the middle of the view.
  virtual Point seenMiddle() const = 0;
};

}  // namespace rt
