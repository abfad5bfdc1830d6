#include "photo.h"

#include <png.h>
#include <turbojpeg.h>

#include <algorithm>
#include <cstring>
#include <fstream>
#include <iterator>
#include <opencv2/imgproc.hpp>

#include "error.h"
#include "exif.h"

namespace rt {

struct Photo::Pixels {
  cv::Mat bgr, grey;
};

namespace {

constexpr double kMostPixels = 120e6;
constexpr int kWidest = 30'000;  // px; the tag library counts half pixels in 16 bits

Photo::Pixels withGrey(cv::Mat bgr) {
  Photo::Pixels p;
  p.bgr = std::move(bgr);
  cv::cvtColor(p.bgr, p.grey, cv::COLOR_BGR2GRAY);
  return p;
}

bool tooLarge(double width, double height) {
  return width * height > kMostPixels || width > kWidest || height > kWidest;
}

/// Empty where it is no PNG, or a damaged one.
cv::Mat readPng(std::span<const uint8_t> bytes) {
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

/// What a decoder says of a picture that it could show, though not all of it was there. Bytes
/// between its parts that nobody asked for harm nothing: some cameras leave them.
bool harmless(const char* words) {
  return std::strstr(words, "extraneous bytes") != nullptr;
}

[[noreturn]] void notWhole(const std::string& where) {
  throw Error("the photo is not whole: its end is missing, or it was damaged on its way", where,
              "copy it once more, or take another");
}

/// Bounded in scans of the picture, too: thousands of empty ones take minutes and show nothing.
cv::Mat readJpeg(std::span<const uint8_t> bytes, const std::string& where) {
  const tjhandle handle = tjInitDecompress();
  int width = 0, height = 0, sampling = 0, space = 0;
  cv::Mat image;
  const auto size = static_cast<unsigned long>(bytes.size());
  if (tjDecompressHeader3(handle, bytes.data(), size, &width, &height, &sampling, &space) == 0 &&
      !tooLarge(width, height)) {
    image.create(height, width, CV_8UC3);
    const bool read = tjDecompress2(handle, bytes.data(), size, image.data, width, 0, height,
                                    TJPF_BGR, TJFLAG_ACCURATEDCT | TJFLAG_LIMITSCANS) == 0;
    const bool fatal = !read && tjGetErrorCode(handle) == TJERR_FATAL;
    const bool torn = !read && !fatal && !harmless(tjGetErrorStr2(handle));
    tjDestroy(handle);
    if (torn) notWhole(where);
    if (fatal) image.release();
    return image;
  }
  tjDestroy(handle);
  return image;
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

std::string pngOf(int width, int height, const uint8_t* bgr) {
  png_image png{};
  png.version = PNG_IMAGE_VERSION;
  png.width = static_cast<png_uint_32>(width);
  png.height = static_cast<png_uint_32>(height);
  png.format = PNG_FORMAT_BGR;
  png_alloc_size_t size = 0;
  std::string out;
  if (png_image_write_to_memory(&png, nullptr, &size, 0, bgr, 0, nullptr)) {
    out.resize(size);
    if (png_image_write_to_memory(&png, out.data(), &size, 0, bgr, 0, nullptr)) {
      out.resize(size);
      return out;
    }
  }
  throw Error("the picture cannot be written", "flattened photo", "check the free memory");
}

}  // namespace

Photo Photo::read(const std::filesystem::path& path) {
  std::error_code ignored;
  if (!std::filesystem::is_regular_file(path, ignored))
    throw Error("there is no such file", path.string(), "check the name");
  std::ifstream in(path, std::ios::binary);
  const std::vector<uint8_t> bytes{std::istreambuf_iterator<char>(in), {}};
  return fromBytes(bytes, path.string());
}

Photo Photo::fromBytes(std::span<const uint8_t> bytes, const std::string& where) {
  cv::Mat image;
  if (bytes.size() > 3 && bytes[0] == 0x89)
    image = upright(readPng(bytes), photoNotes(bytes).orientation);
  else if (bytes.size() > 3 && bytes[0] == 0xFF && bytes[1] == 0xD8)
    image = upright(readJpeg(bytes, where), photoNotes(bytes).orientation);
  if (image.empty())
    throw Error("this is not a photo that can be read", where,
                "give a whole PNG or JPEG file of at most 120 megapixels and 30,000 pixels a side");
  if (static_cast<double>(image.cols) * image.rows > kMostPixels || image.cols < 16 ||
      image.rows < 16)
    throw Error("a photo of " + std::to_string(image.cols) + " x " + std::to_string(image.rows) +
                    " pixels is of no use",
                where, "take one of 1 to 50 megapixels");
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

Photo Photo::within(int px) const {
  const int side = std::max(width(), height());
  if (side <= px) return *this;
  const double by = static_cast<double>(px) / side;
  cv::Mat small;
  cv::resize(pixels_->bgr, small, {}, by, by, cv::INTER_AREA);
  Photo out;
  out.pixels_ = std::make_shared<Pixels>(withGrey(std::move(small)));
  return out;
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

std::string Photo::jpeg(int quality) const {
  const tjhandle handle = tjInitCompress();
  unsigned char* bytes = nullptr;
  unsigned long size = 0;
  const int failed = tjCompress2(handle, pixels_->bgr.data, width(), 0, height(), TJPF_BGR, &bytes,
                                 &size, TJSAMP_444, quality, TJFLAG_ACCURATEDCT);
  std::string out;
  if (failed == 0) out.assign(reinterpret_cast<const char*>(bytes), size);
  tjFree(bytes);
  tjDestroy(handle);
  if (out.empty()) throw Error("the photo cannot be packed", "scan", "check the free memory");
  return out;
}

std::string FlatPicture::png() const {
  return pngOf(width, height, bgr.data());
}

}  // namespace rt
