#include "data_folder.h"

#include <cstdlib>
#include <vector>

#include "error.h"

namespace rt {

std::filesystem::path dataFolder() {
  namespace fs = std::filesystem;
  std::vector<fs::path> places;
  if (const char* set = std::getenv("RAPT_THIMBLE_DATA")) places.emplace_back(set);
  std::error_code ignored;
  const fs::path program = fs::read_symlink("/proc/self/exe", ignored);
  if (!program.empty())
    places.push_back(program.parent_path().parent_path() / "share" / "rapt-thimble");
  places.emplace_back(RT_SOURCE_DATA);
  places.emplace_back(RT_INSTALL_DATA);
  for (const fs::path& place : places)
    if (fs::exists(place / "fabrics.json", ignored)) return place;
  throw Error("the program's data folder is missing", "data",
              "install the program again, or set RAPT_THIMBLE_DATA to the folder");
}

}  // namespace rt
