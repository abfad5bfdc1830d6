#include "hooping_hand.h"

namespace rt {

bool HoopingHand::press(const Touch& touch, const Eye& eye) {
  const Hooping* current = desk_.currentHooping();
  if (!current || current->field.contains(eye.mm(touch.at))) return false;
  for (const Hooping& h : desk_.plan()->hoopings)
    if (h.index != desk_.hooping() && h.field.contains(eye.mm(touch.at))) {
      desk_.setHooping(h.index);
      return true;
    }
  return false;
}

}  // namespace rt
