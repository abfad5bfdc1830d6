#include "nest_list.h"

#include <cmath>

#include "csv_table.h"
#include "error.h"

namespace rt {

std::vector<NestKind> readNestList(const std::filesystem::path& path) {
  const CsvTable table(path, {"name", "width_mm", "height_mm", "count"});
  std::vector<NestKind> kinds;
  for (size_t row = 0; row < table.rows(); ++row) {
    NestKind k;
    k.name = table.text(row, "name");
    k.width_mm = table.number(row, "width_mm");
    k.height_mm = table.number(row, "height_mm");
    const double count = table.number(row, "count");
    if (count < 0 || count != std::floor(count))
      throw Error("the count is no whole number", table.where(row), "give 0 or more pieces");
    if (!(k.width_mm > 0) || !(k.height_mm > 0))
      throw Error("a piece has no size", table.where(row), "give width and height over 0 mm");
    k.count = static_cast<int>(count);
    if (k.count > 0) kinds.push_back(std::move(k));
  }
  if (kinds.empty()) throw Error("the list holds no piece", path.string(), "add at least one row");
  return kinds;
}

}  // namespace rt
