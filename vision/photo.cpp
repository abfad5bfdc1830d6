#include "photo.h"

#include <algorithm>
#include <opencv2/imgcodecs.hpp>
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

}  // namespace

Photo Photo::read(const std::filesystem::path& path) {
  std::error_code ignored;
  if (!std::filesystem::exists(path, ignored))
    throw Error("there is no such file", path.string(), "check the name");
  cv::Mat image;
  try {
    image = cv::imread(path.string(), cv::IMREAD_COLOR);
  } catch (const cv::Exception&) {
    image.release();
  }
  if (image.empty())
    throw Error("this is not a photo that can be read", path.string(), "give a PNG or JPEG file");
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
  const cv::Mat image(height, width, CV_8UC3, bgr.data());
  std::vector<uint8_t> bytes;
  if (!cv::imencode(".png", image, bytes))
    throw Error("the picture cannot be written", "rectified photo", "check the free memory");
  return {bytes.begin(), bytes.end()};
}

}  // namespace rt
