// A photo in memory.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "geometry.h"

namespace rt {

/// Pixels as they are seen, upright by the picture's own note. (0, 0) is the centre of the first.
class Photo {
 public:
  /// Reads PNG or JPEG. Throws Error for what is none, is damaged, or has over 120 megapixels.
  static Photo read(const std::filesystem::path& path);
  /// From rows of blue, green and red bytes.
  static Photo fromPixels(int width, int height, const std::vector<uint8_t>& bgr);

  int width() const;
  int height() const;
  /// Brightness at a place between pixels, 0 to 255, linear between them; clamped at the edge.
  double grey(Point px) const;
  /// Blue, green and red likewise.
  void colour(Point px, double out[3]) const;
  /// Rows of grey bytes, `width` each.
  const uint8_t* greyPixels() const;

  /// The part of a plane that a map from plane to photo shows, `step_mm` a pixel, as PNG bytes.
  template <class ToPhoto>
  std::string rectified(const Box& plane, double step_mm, ToPhoto&& toPhoto) const {
    const int w = static_cast<int>(plane.width() / step_mm) + 1,
              h = static_cast<int>(plane.height() / step_mm) + 1;
    std::vector<uint8_t> out(static_cast<size_t>(w) * static_cast<size_t>(h) * 3);
    for (int y = 0; y < h; ++y)
      for (int x = 0; x < w; ++x) {
        double c[3];
        colour(toPhoto(Point{plane.left + x * step_mm, plane.top + y * step_mm}), c);
        for (int k = 0; k < 3; ++k)
          out[(static_cast<size_t>(y) * static_cast<size_t>(w) + static_cast<size_t>(x)) * 3 +
              static_cast<size_t>(k)] = static_cast<uint8_t>(c[k] + 0.5);
      }
    return pngOf(w, h, out);
  }

  struct Pixels;

 private:
  static std::string pngOf(int width, int height, std::vector<uint8_t>& bgr);
  std::shared_ptr<const Pixels> pixels_;
};

}  // namespace rt
