#include "photo.h"

#include <png.h>
#include <turbojpeg.h>

#include <algorithm>
#include <fstream>
#include <iterator>
#include <opencv2/imgproc.hpp>

#include "error.h"

namespace rt {

struct Photo::Pixels {
  cv::Mat bgr, grey;
};

namespace {

constexpr double kMostPixels = 120e6;

Photo::Pixels withGrey(cv::Mat bgr) {
  Photo::Pixels p;
  p.bgr = std::move(bgr);
  cv::cvtColor(p.bgr, p.grey, cv::COLOR_BGR2GRAY);
  return p;
}

bool tooLarge(double width, double height) {
  return width * height > kMostPixels;
}

/// Empty where it is no PNG, or a damaged one.
cv::Mat readPng(const std::vector<uint8_t>& bytes) {
  png_image png{};
  png.version = PNG_IMAGE_VERSION;
  if (!png_image_begin_read_from_memory(&png, bytes.data(), bytes.size())) return {};
  png.format = PNG_FORMAT_BGR;
  cv::Mat image;
  if (!tooLarge(png.width, png.height)) {
    image.create(static_cast<int>(png.height), static_cast<int>(png.width), CV_8UC3);
    const png_color white{255, 255, 255};
    if (!png_image_finish_read(&png, &white, image.data, 0, nullptr)) image.release();
  }
  png_image_free(&png);
  return image;
}

cv::Mat readJpeg(const std::vector<uint8_t>& bytes) {
  const tjhandle handle = tjInitDecompress();
  int width = 0, height = 0, sampling = 0, space = 0;
  cv::Mat image;
  const auto size = static_cast<unsigned long>(bytes.size());
  if (tjDecompressHeader3(handle, bytes.data(), size, &width, &height, &sampling, &space) == 0 &&
      !tooLarge(width, height)) {
    image.create(height, width, CV_8UC3);
    const bool read = tjDecompress2(handle, bytes.data(), size, image.data, width, 0, height,
                                    TJPF_BGR, TJFLAG_ACCURATEDCT) == 0;
    if (!read && tjGetErrorCode(handle) == TJERR_FATAL) image.release();
  }
  tjDestroy(handle);
  return image;
}

/// The picture's own note on how it is held (EXIF 2.3, tag 0x0112); 1 where it says nothing.
int orientationOf(const std::vector<uint8_t>& b) {
  const auto has = [&](size_t at, size_t n) { return at + n <= b.size(); };
  for (size_t at = 2; has(at, 4) && b[at] == 0xFF && b[at + 1] != 0xDA;) {
    const size_t length = static_cast<size_t>(b[at + 2]) << 8 | b[at + 3];
    const size_t tiff = at + 10;
    if (b[at + 1] == 0xE1 && has(tiff, 8) &&
        std::equal(b.begin() + static_cast<long>(at) + 4, b.begin() + static_cast<long>(at) + 8,
                   "Exif")) {
      const bool little = b[tiff] == 'I';
      const auto number = [&](size_t from, size_t n) {
        size_t v = 0;
        for (size_t i = 0; has(from, n) && i < n; ++i)
          v |= static_cast<size_t>(b[from + i]) << (8 * (little ? i : n - 1 - i));
        return v;
      };
      const size_t list = tiff + number(tiff + 4, 4);
      for (size_t i = 0, n = number(list, 2); i < n && has(list + 2 + 12 * i, 12); ++i)
        if (const size_t entry = list + 2 + 12 * i; number(entry, 2) == 0x0112)
          return static_cast<int>(number(entry + 8, 2));
    }
    if (length < 2) break;
    at += 2 + length;
  }
  return 1;
}

/// As it is meant to be seen.
cv::Mat upright(cv::Mat image, int orientation) {
  cv::Mat out = image;
  if (orientation >= 5 && orientation <= 8) cv::transpose(image, out);
  switch (orientation) {
    case 2:
    case 6:
      cv::flip(out.clone(), out, 1);
      break;
    case 3:
    case 7:
      cv::flip(out.clone(), out, -1);
      break;
    case 4:
    case 8:
      cv::flip(out.clone(), out, 0);
      break;
    default:
      break;
  }
  return out;
}

}  // namespace

Photo Photo::read(const std::filesystem::path& path) {
  std::error_code ignored;
  if (!std::filesystem::is_regular_file(path, ignored))
    throw Error("there is no such file", path.string(), "check the name");
  std::ifstream in(path, std::ios::binary);
  const std::vector<uint8_t> bytes{std::istreambuf_iterator<char>(in), {}};
  cv::Mat image;
  if (bytes.size() > 3 && bytes[0] == 0x89)
    image = readPng(bytes);
  else if (bytes.size() > 3 && bytes[0] == 0xFF && bytes[1] == 0xD8)
    image = upright(readJpeg(bytes), orientationOf(bytes));
  if (image.empty())
    throw Error("this is not a photo that can be read", path.string(),
                "give a PNG or JPEG file of at most 120 megapixels");
  if (static_cast<double>(image.cols) * image.rows > kMostPixels || image.cols < 16 ||
      image.rows < 16)
    throw Error("a photo of " + std::to_string(image.cols) + " x " + std::to_string(image.rows) +
                    " pixels is of no use",
                path.string(), "take one of 1 to 50 megapixels");
  Photo photo;
  photo.pixels_ = std::make_shared<Pixels>(withGrey(std::move(image)));
  return photo;
}

Photo Photo::fromPixels(int width, int height, const std::vector<uint8_t>& bgr) {
  const cv::Mat view(height, width, CV_8UC3, const_cast<uint8_t*>(bgr.data()));
  Photo photo;
  photo.pixels_ = std::make_shared<Pixels>(withGrey(view.clone()));
  return photo;
}

int Photo::width() const {
  return pixels_->grey.cols;
}
int Photo::height() const {
  return pixels_->grey.rows;
}
const uint8_t* Photo::greyPixels() const {
  return pixels_->grey.data;
}

double Photo::grey(Point p) const {
  const cv::Mat& g = pixels_->grey;
  const double x = std::clamp(p.x, 0.0, g.cols - 1.001), y = std::clamp(p.y, 0.0, g.rows - 1.001);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const double u = x - i, v = y - j;
  const uint8_t *a = g.ptr<uint8_t>(j) + i, *b = g.ptr<uint8_t>(j + 1) + i;
  return (1 - v) * ((1 - u) * a[0] + u * a[1]) + v * ((1 - u) * b[0] + u * b[1]);
}

void Photo::colour(Point p, double out[3]) const {
  const cv::Mat& c = pixels_->bgr;
  const double x = std::clamp(p.x, 0.0, c.cols - 1.001), y = std::clamp(p.y, 0.0, c.rows - 1.001);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const double u = x - i, v = y - j;
  const uint8_t *a = c.ptr<uint8_t>(j) + 3 * i, *b = c.ptr<uint8_t>(j + 1) + 3 * i;
  for (int k = 0; k < 3; ++k)
    out[k] = (1 - v) * ((1 - u) * a[k] + u * a[3 + k]) + v * ((1 - u) * b[k] + u * b[3 + k]);
}

std::string Photo::pngOf(int width, int height, std::vector<uint8_t>& bgr) {
  png_image png{};
  png.version = PNG_IMAGE_VERSION;
  png.width = static_cast<png_uint_32>(width);
  png.height = static_cast<png_uint_32>(height);
  png.format = PNG_FORMAT_BGR;
  png_alloc_size_t size = 0;
  std::string out;
  if (png_image_write_to_memory(&png, nullptr, &size, 0, bgr.data(), 0, nullptr)) {
    out.resize(size);
    if (png_image_write_to_memory(&png, out.data(), &size, 0, bgr.data(), 0, nullptr)) {
      out.resize(size);
      return out;
    }
  }
  throw Error("the picture cannot be written", "rectified photo", "check the free memory");
}

}  // namespace rt
