#include "moment_picture.h"

#include <QElapsedTimer>

#include "cloth_drawing.h"
#include "thread_picture.h"

namespace rt {
namespace {

constexpr size_t kDrawnAtOnce = 150'000;  // rows of a moment; longer ways go over several frames
constexpr size_t kDrawnBetween = 4'096;   // rows between two looks at the clock
constexpr qint64 kDrawing_ms = 11;        // of a frame
constexpr size_t kKeptEvery = 65'536;     // rows between moments that are kept for going back

}  // namespace

void MomentPicture::set(std::shared_ptr<const Pattern> pattern, size_t row) {
  if (pattern_ != pattern) drawn_ = SIZE_MAX;
  pattern_ = std::move(pattern);
  row_ = row;
}

void MomentPicture::clear() {
  pattern_.reset();
  image_ = {};
  kept_.clear();
}

/// Goes on from the latest moment that was kept before the one asked for.
bool MomentPicture::takeKept(const Eye& eye, double ratio) {
  if (image_.size() != (eye.view.size() * ratio).toSize() || eyeThen_ != eye.toPx() ||
      keptOf_ != pattern_)
    return false;
  while (!kept_.empty() && kept_.back().first > row_) kept_.pop_back();
  if (kept_.empty()) return false;
  std::tie(drawn_, image_) = kept_.back();
  return true;
}

void MomentPicture::begin(const Eye& eye, double ratio) {
  kept_.clear();
  image_ = QImage((eye.view.size() * ratio).toSize(), QImage::Format_ARGB32_Premultiplied);
  image_.setDevicePixelRatio(ratio);
  image_.fill(Qt::transparent);
  eyeThen_ = eye.toPx();
  drawn_ = 0;
  keptOf_ = pattern_;
}

void MomentPicture::drawOn(const Eye& eye) {
  QPainter painter(&image_);
  ThreadDrawing how;
  how.px_per_mm = eye.px_per_mm;
  how.to_px = eye.transform();
  how.visible = eye.view;
  QElapsedTimer clock;
  clock.start();
  const bool long_way = row_ - drawn_ > kDrawnAtOnce;
  while (drawn_ < row_) {
    how.first_row = drawn_;
    how.end_row = long_way ? std::min(row_, drawn_ + kDrawnBetween) : row_;
    drawThread(painter, *pattern_, how);
    drawn_ = how.end_row;
    if (drawn_ / kKeptEvery > kept_.size()) kept_.push_back({drawn_, image_});
    if (long_way && clock.elapsed() >= kDrawing_ms) break;
  }
}

bool MomentPicture::paint(QPainter& p, const Eye& eye, double ratio, bool running) {
  const bool fresh = image_.size() != (eye.view.size() * ratio).toSize() ||
                     eyeThen_ != eye.toPx() || row_ < drawn_;
  // an earlier moment may have been kept for this view: only what comes after it is drawn
  if (fresh && !takeKept(eye, ratio)) begin(eye, ratio);
  if (drawn_ < row_) drawOn(eye);
  p.drawImage(0, 0, image_);
  if (row_ > 0 && row_ <= pattern_->stitches.size())
    drawNeedle(p, eye, pattern_->stitches[row_ - 1].at, running);
  return drawn_ >= row_;
}

}  // namespace rt
