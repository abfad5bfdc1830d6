// A photo in memory.
#pragma once

#include <filesystem>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "geometry.h"

namespace rt {

/// A plane seen straight from above.
struct FlatPicture {
  Box plane;           ///< What it shows, mm: the middles of its outermost pixels.
  double step_mm = 1;  ///< From pixel to pixel.
  int width = 0, height = 0;
  std::vector<uint8_t> bgr;  ///< Rows of blue, green, red.
  /// As file bytes. Throws Error without memory.
  std::string png() const;
};

/// Pixels as they are seen, upright by the picture's own note. (0, 0) is the centre of the first.
class Photo {
 public:
  /// Reads PNG or JPEG. Throws Error for what is none, is damaged, or has over 120 megapixels.
  static Photo read(const std::filesystem::path& path);
  /// The same from bytes in memory; `where` names them in an Error.
  static Photo fromBytes(std::span<const uint8_t> bytes, const std::string& where);
  /// From rows of blue, green and red bytes.
  static Photo fromPixels(int width, int height, const std::vector<uint8_t>& bgr);

  /// The same picture, at most so many px a side: for a first look, not to measure by.
  Photo within(int px) const;
  /// The whole of it as bytes of a JPEG file; quality 1 to 100.
  std::string jpeg(int quality) const;

  int width() const;
  int height() const;
  /// Brightness at a place between pixels, 0 to 255, linear between them; clamped at the edge.
  double grey(Point px) const;
  /// Blue, green and red likewise.
  void colour(Point px, double out[3]) const;
  /// Rows of grey bytes, `width` each.
  const uint8_t* greyPixels() const;

  /// The part of a plane that a map from plane to photo shows, `step_mm` a pixel.
  template <class ToPhoto>
  FlatPicture flattened(const Box& plane, double step_mm, ToPhoto&& toPhoto) const {
    FlatPicture out{plane,
                    step_mm,
                    static_cast<int>(plane.width() / step_mm) + 1,
                    static_cast<int>(plane.height() / step_mm) + 1,
                    {}};
    out.bgr.reserve(static_cast<size_t>(out.width) * static_cast<size_t>(out.height) * 3);
    for (int y = 0; y < out.height; ++y)
      for (int x = 0; x < out.width; ++x) {
        double c[3];
        colour(toPhoto(Point{plane.left + x * step_mm, plane.top + y * step_mm}), c);
        for (double v : c) out.bgr.push_back(static_cast<uint8_t>(v + 0.5));
      }
    return out;
  }

  struct Pixels;

 private:
  std::shared_ptr<const Pixels> pixels_;
};

}  // namespace rt
