#include "cloth_patch.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace rt {
namespace {

constexpr double kBackground_mm = 2.2;  // half the width of what is cloth around: no line is wider
constexpr double kFinestCell_mm = 0.06, kWidestCell_mm = 0.35, kCellOfPixel = 0.8;
constexpr int kLeastCells = 8;

int cellsFor(int cells, double times) {
  return std::max(kLeastCells, static_cast<int>(std::lround(cells / times)));
}

}  // namespace

ClothPatch::ClothPatch(const Photo& photo, const Plane& plane, Point middle, double turn_deg,
                       double width_mm, double height_mm)
    : at_(middle),
      turn_deg_(turn_deg),
      step_(std::clamp(plane.mmPerPixel(middle) * kCellOfPixel, kFinestCell_mm, kWidestCell_mm)) {
  const int width = std::max(kLeastCells, static_cast<int>(width_mm / step_) + 1),
            height = std::max(kLeastCells, static_cast<int>(height_mm / step_) + 1);
  cv::Mat colour(height, width, CV_32FC3);
  difference_ = colour;  // toPlane() asks for its size
  std::vector<Point> row(static_cast<size_t>(width));
  const Point along = toPlane({1, 0}) - toPlane({0, 0});
  for (int y = 0; y < height; ++y) {
    plane.toPhoto(toPlane({0, y * 1.0}), along, row);
    for (int x = 0; x < width; ++x) {
      double c[3];
      photo.colour(row[static_cast<size_t>(x)], c);
      colour.at<cv::Vec3f>(y, x) = {static_cast<float>(c[0]), static_cast<float>(c[1]),
                                    static_cast<float>(c[2])};
    }
  }
  const double times = std::max(1.0, kRough_mm / step_);
  cv::Mat cells, around;
  cv::resize(colour, cells, {cellsFor(width, times), cellsFor(height, times)}, 0, 0,
             cv::INTER_AREA);
  cells.convertTo(cells, CV_8UC3);
  const int window = static_cast<int>(std::lround(kBackground_mm / (step_ * times)));
  cv::medianBlur(cells, cells, 2 * window + 1);
  cells.convertTo(around, CV_32FC3);
  cv::resize(around, around, {width, height}, 0, 0, cv::INTER_LINEAR);
  difference_ = colour - around;
}

Point ClothPatch::toPlane(Point cell) const {
  return at_ + Transform::turning(turn_deg_).turn((cell - middle()) * step_);
}

std::pair<cv::Mat, double> ClothPatch::coarse(double cell_mm) const {
  const double times = std::max(1.0, cell_mm / step_);
  cv::Mat small;
  cv::resize(difference_, small, {cellsFor(width(), times), cellsFor(height(), times)}, 0, 0,
             cv::INTER_AREA);
  return {small, step_ * width() / small.cols};
}

std::array<double, 3> lineSignal(size_t which) {
  static constexpr double kWeights[kLineSignals / 2][3] = {
      {0.114, 0.587, 0.299}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {-1, 0, 1}, {-0.5, 1, -0.5}};
  const double* w = kWeights[which / 2];
  const double side = which % 2 == 0 ? 1 : -1;
  return {side * w[0], side * w[1], side * w[2]};
}

cv::Mat signalOf(const cv::Mat& difference, size_t which) {
  const auto w = lineSignal(which);
  cv::Mat out;
  cv::transform(
      difference, out,
      cv::Matx13f(static_cast<float>(w[0]), static_cast<float>(w[1]), static_cast<float>(w[2])));
  return out;
}

}  // namespace rt
