#include "frame.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "error.h"
#include "length.h"

namespace rt {

bool PlacedField::holds(const Box& what) const {
  if (!box.grown(kSame_mm).contains(what)) return false;
  if (shape == HoopShape::Rectangle) return true;
  const Point c = box.centre();
  const double a = box.width() / 2 + kSame_mm, b = box.height() / 2 + kSame_mm;
  const double x = std::max(std::abs(what.left - c.x), std::abs(what.right - c.x)) / a;
  const double y = std::max(std::abs(what.top - c.y), std::abs(what.bottom - c.y)) / b;
  return x * x + y * y <= 1;  // the corner farthest from the middle decides
}

PlacedField fieldAt(const Hoop& hoop, const FrameSetting& setting, int turn_deg) {
  const Point o = turn_deg == 0 ? Point{setting.x_mm, setting.y_mm}
                                : quarterTurn(Point{setting.x_mm, setting.y_mm});
  const int turn = (setting.turn_deg + turn_deg) % 360;
  const bool across = turn % 180 != 0;
  const double w = across ? hoop.field.height_mm : hoop.field.width_mm;
  const double h = across ? hoop.field.width_mm : hoop.field.height_mm;
  return {Box::around(o, w, h), turn, hoop.field.shape};
}

std::vector<PlacedField> fieldsOf(const Hoop& hoop, int turn_deg) {
  std::vector<FrameSetting> settings = hoop.settings;
  if (hoop.rail)
    for (double at : {hoop.rail->from_mm, hoop.rail->to_mm})
      settings.push_back(hoop.rail->along_x ? FrameSetting{at, 0, 0} : FrameSetting{0, at, 0});
  if (settings.empty()) settings.push_back({});
  std::vector<PlacedField> out;
  for (const FrameSetting& s : settings) out.push_back(fieldAt(hoop, s, turn_deg));
  return out;
}

Box clampedBox(const Hoop& hoop, int turn_deg) {
  Box all;
  for (const PlacedField& f : fieldsOf(hoop, turn_deg)) all.add(f.box);
  return all.grown(hoop.clear_mm);
}

namespace {

/// Fields are a table's size at most: what is larger is a slip of the unit.
constexpr double kLargestFrame_mm = 20000;

bool reaches(double mm) {
  return std::isfinite(mm) && std::abs(mm) <= kLargestFrame_mm;
}

}  // namespace

void checkHoop(const Hoop& hoop, const std::string& where) {
  const Field& f = hoop.field;
  if (!(f.width_mm > 0 && f.height_mm > 0) || !reaches(f.width_mm) || !reaches(f.height_mm))
    throw Error("the field of " + formatNumber(f.width_mm, 1) + " x " +
                    formatNumber(f.height_mm, 1) + " mm cannot be sewn in",
                where, "give the stitching field's width and height in mm, each over 0");
  for (const FrameSetting& s : hoop.settings) {
    if (s.turn_deg != 0 && s.turn_deg != 90 && s.turn_deg != 180 && s.turn_deg != 270)
      throw Error("a setting is turned by " + std::to_string(s.turn_deg) + " degrees", where,
                  "give 0, 90, 180 or 270");
    if (!reaches(s.x_mm) || !reaches(s.y_mm))
      throw Error("a setting lies beyond reason", where, "give its place on the frame in mm");
  }
  if (hoop.rail && !hoop.settings.empty())
    throw Error("the frame has settings and a rail", where, "give one of the two");
  if (hoop.rail && !(reaches(hoop.rail->from_mm) && reaches(hoop.rail->to_mm) &&
                     hoop.rail->from_mm <= hoop.rail->to_mm))
    throw Error("the rail runs from " + formatNumber(hoop.rail->from_mm, 1) + " to " +
                    formatNumber(hoop.rail->to_mm, 1) + " mm",
                where, "give from_mm at most to_mm");
  if (!(hoop.setting_error_mm >= 0 && hoop.setting_error_mm <= 10))
    throw Error("the settings come back within " + formatNumber(hoop.setting_error_mm, 2) + " mm",
                where, "give setting_error_mm from 0 to 10");
  std::set<int> ids;
  for (const TagPlace& t : hoop.tags) {
    if (!reaches(t.at.x) || !reaches(t.at.y) || t.id < 0)
      throw Error("a tag lies beyond reason or has no number", where,
                  "give the number beside it and its centre in mm");
    if (!ids.insert(t.id).second)
      throw Error("the tag " + std::to_string(t.id) + " is on the frame twice", where,
                  "give each tag its own id");
  }
  if (!(hoop.tag_size_mm >= 3 && hoop.tag_size_mm <= 100) || !(std::abs(hoop.tag_height_mm) <= 100))
    throw Error("tags of " + formatNumber(hoop.tag_size_mm, 1) + " mm, " +
                    formatNumber(hoop.tag_height_mm, 1) + " mm above the cloth",
                where, "give tag_size_mm from 3 to 100 and tag_height_mm within 100");
  if (!(hoop.clear_mm >= 0 && hoop.clear_mm <= 1000))
    throw Error("the clamps take " + formatNumber(hoop.clear_mm, 0) + " mm", where,
                "give clear_mm from 0 to 1000");
}

}  // namespace rt
