#include "xml_depth.h"

#include "error.h"

namespace rt {

void requireShallow(const pugi::xml_node& root, const std::string& where) {
  int depth = 0;
  for (pugi::xml_node node = root; node;) {
    if (node.first_child()) {
      node = node.first_child();
      if (++depth > kDeepestElement)
        throw Error("the drawing nests over " + std::to_string(kDeepestElement) + " deep", where,
                    "ungroup it and export it again as plain SVG");
      continue;
    }
    while (node && node != root && !node.next_sibling()) {
      node = node.parent();
      --depth;
    }
    if (!node || node == root) return;
    node = node.next_sibling();
  }
}

}  // namespace rt
