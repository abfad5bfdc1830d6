#include "density_png.h"

#include <cairo.h>

#include <memory>
#include <string>

#include "error.h"
#include "file_io.h"
#include "ramp.h"

namespace rt {
namespace {

constexpr int64_t kMostPixels = 30000;

struct Release {
  void operator()(cairo_surface_t* s) const { cairo_surface_destroy(s); }
};

cairo_status_t collect(void* closure, const unsigned char* data, unsigned length) {
  static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
  return CAIRO_STATUS_SUCCESS;
}

}  // namespace

void writeDensityPng(const Weighing& w, const Limit& limit, const std::filesystem::path& path) {
  if (w.frame.columns > kMostPixels || w.frame.rows > kMostPixels)
    throw Error("the picture would be over 30,000 pixels wide or high", path.string(),
                "take a larger cell");
  const int columns = std::max<int>(1, static_cast<int>(w.frame.columns));
  const int rows = std::max<int>(1, static_cast<int>(w.frame.rows));
  const std::unique_ptr<cairo_surface_t, Release> surface(
      cairo_image_surface_create(CAIRO_FORMAT_ARGB32, columns, rows));
  if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS)
    throw Error("the picture does not fit the memory", path.string(), "take a larger cell");
  unsigned char* pixels = cairo_image_surface_get_data(surface.get());
  const int stride = cairo_image_surface_get_stride(surface.get());
  for (int r = 0; r < rows && w.frame.rows > 0; ++r) {
    auto* line = reinterpret_cast<uint32_t*>(pixels + static_cast<ptrdiff_t>(r) * stride);
    for (int c = 0; c < columns; ++c) {
      const double d = w.map.density(c, r);
      if (d < kCovered_mm_per_mm2) continue;
      const bool hatch = d > limit.stop && (r + c) % 6 < 2;
      line[c] = 0xff000000u | (hatch ? 0xffe0d0u : rampColour(d, limit.stop).rgb);
    }
  }
  cairo_surface_mark_dirty(surface.get());
  std::string png;
  cairo_surface_write_to_png_stream(surface.get(), collect, &png);
  writeFile(path, png);
}

}  // namespace rt
