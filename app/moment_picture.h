// The sewing up to a moment, drawn on as it goes.
#pragma once

#include <QImage>
#include <memory>

#include "eye.h"
#include "pattern.h"

namespace rt {

/// Going on only adds to the picture; moments are kept for going back.
class MomentPicture {
 public:
  void set(std::shared_ptr<const Pattern> pattern, size_t row);
  void clear();
  bool shown() const { return pattern_ != nullptr; }
  /// Draws as much as fits into a frame; true when all is drawn.
  bool paint(QPainter& painter, const Eye& eye, double ratio, bool running);

 private:
  bool takeKept(const Eye& eye, double ratio);
  void begin(const Eye& eye, double ratio);
  void drawOn(const Eye& eye);
  std::shared_ptr<const Pattern> pattern_;
  size_t row_ = 0, drawn_ = 0;
  QImage image_;
  QTransform eyeThen_;
  std::vector<std::pair<size_t, QImage>> kept_;  ///< Earlier moments in this view, by rows.
  std::shared_ptr<const Pattern> keptOf_;
};

}  // namespace rt
