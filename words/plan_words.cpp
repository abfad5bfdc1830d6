#include "plan_words.h"

#include "length.h"

namespace rt {

std::string inWords(const PlanDoubt& d) {
  const std::string first = std::to_string(d.first), second = std::to_string(d.second);
  switch (d.what) {
    case PlanDoubt::What::TurnedOver:
      return d.b + " lies on " + d.a + " and is sewn before it, as a seam runs through them";
    case PlanDoubt::What::ThinOverlap:
      return "hoopings " + first + " and " + second + " overlap by " + formatNumber(d.value, 1) +
             " mm only; no thread crosses between them";
    case PlanDoubt::What::MarkOnSewing:
      return "mark " + d.a + " of hooping " + first +
             " lies on sewing: no bare place is left; widen the overlap, or put a tag beside the "
             "layout";
    case PlanDoubt::What::NoSharedMarks:
      return "hooping " + first +
             " shares no two marks with an earlier one: draw its crosses from the layout's centre "
             "lines";
    case PlanDoubt::What::ClampOnZone:
      return "the frame of hooping " + first + " presses on \"" + d.a +
             "\": float the item on hooped stabiliser there";
    case PlanDoubt::What::CutElsewhere:
      return d.a + " is parted " + formatNumber(d.value, 0) +
             " mm beside the line that was asked for: no two fields of the plan share cloth there";
    case PlanDoubt::What::LittleRoom:
      return "sewing of hooping " + d.a + " comes within " + formatNumber(d.value, 1) +
             " mm of its field's edge: cloth that lies a little crooked will not fit; make what "
             "just fits smaller, or take a larger frame";
    case PlanDoubt::What::EndedEarly:
      return "the search was ended: " + second + " hoopings are the fewest found, " + first +
             " the fewest proven; plan again to seek on";
  }
  return "";
}

}  // namespace rt
