// A press on another field makes its hooping the current one.
#pragma once

#include "desk.h"
#include "hand.h"

namespace rt {

class HoopingHand : public Hand {
 public:
  explicit HoopingHand(Desk& desk) : desk_(desk) {}
  bool press(const Touch& touch, const Eye& eye) override;

 private:
  Desk& desk_;
};

}  // namespace rt
