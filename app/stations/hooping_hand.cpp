#include "hooping_hand.h"

namespace rt {

bool HoopingHand::press(const Touch& touch, const Eye& eye) {
  const Hooping* current = desk_.currentHooping();
  const PlanSetting* setting = desk_.currentSetting();
  if (!current || !setting || setting->field.holds(eye.mm(touch.at))) return false;
  for (const Hooping& h : desk_.plan()->hoopings)
    for (const PlanSetting& s : h.settings)
      if (s.field.holds(eye.mm(touch.at))) {
        desk_.setHooping(h.index, s.index);
        return true;
      }
  return false;
}

}  // namespace rt
