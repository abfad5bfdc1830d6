// Pointing at marks in the scan under a magnifier, and holding the scan under the layout by eye.
#pragma once

#include "hooping_hand.h"
#include "scan_layer.h"

namespace rt {

class AlignHand : public HoopingHand {
 public:
  explicit AlignHand(Desk& desk) : HoopingHand(desk), desk_(desk), magnifier_(desk) {}

  /// The next press says where this mark is in the scan.
  void askForMark(const std::string& mark);
  /// The next four presses say where the corners of the field are guided on the frame.
  void askForGuides();
  /// Keys move and turn the scan under the layout.
  void setNudging(bool on);
  bool nudging() const { return nudging_; }
  const std::string& asked() const { return mark_; }
  bool guiding() const { return guiding_; }
  std::function<void()> done;  ///< Called when what was asked for is there.

  bool press(const Touch& touch, const Eye& eye) override;
  bool hover(const Touch& touch, const Eye& eye) override;
  void leave() override { pointer_.reset(); }
  bool key(const QKeyEvent& event) override;
  void giveUp() override;
  Qt::CursorShape cursor(QPointF at, const Eye& eye) const override;
  void paint(QPainter& painter, const Eye& eye) override;

 private:
  bool asking() const { return !mark_.empty() || guiding_; }
  Desk& desk_;
  ScanLayer magnifier_;
  std::string mark_;
  bool guiding_ = false, nudging_ = false;
  std::optional<QPointF> pointer_;
};

}  // namespace rt
