#include "answers.h"

#include <iostream>

namespace rt::cli {
namespace {

void printLines(const Json& value, const std::string& indent) {
  for (const auto& [key, item] : value.items()) {
    if (item.is_object() || (item.is_array() && !item.empty() && item[0].is_structured())) {
      std::cout << indent << key << ":\n";
      printLines(item, indent + "  ");
    } else {
      std::cout << indent << key << ": "
                << (item.is_string() ? item.get<std::string>() : item.dump()) << '\n';
    }
  }
}

}  // namespace

void print(const Json& answer, bool as_json) {
  if (as_json)
    std::cout << answer.dump(2, ' ', false, Json::error_handler_t::replace) << '\n';
  else
    printLines(answer, "");
}

Json pair(Point p) {
  return Json::array({p.x, p.y});
}

Json boundsJson(const Box& box) {
  if (box.empty()) return {{"x_mm", 0}, {"y_mm", 0}, {"width_mm", 0}, {"height_mm", 0}};
  return {{"x_mm", box.left},
          {"y_mm", box.top},
          {"width_mm", box.width()},
          {"height_mm", box.height()}};
}

Json infoOf(const Pattern& pattern, const ShopData& shop) {
  const Statistics s = statisticsOf(pattern, shop.time);
  Json colours = Json::array();
  for (Colour c : s.colours) colours.push_back(c.hex());
  return {{"stitches", s.stitches},
          {"jumps", s.jumps},
          {"trims", s.trims},
          {"colour_changes", s.colour_changes},
          {"colours", colours},
          {"bounds", boundsJson(s.bounds)},
          {"thread_length_mm", s.thread_mm},
          {"longest_stitch_mm", s.longest_mm},
          {"shortest_stitch_mm", s.shortest_mm},
          {"sewing_time_s", s.sewing_time_s}};
}

}  // namespace rt::cli
