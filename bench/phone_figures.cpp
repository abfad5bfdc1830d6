// From a photo on the phone to its verdict: rapt-thimble-phone [PHOTOS]. Photos of 12 megapixels of
// the demo banner's hoopings go up over HTTP, named and not, and the times stand side by side.
#include <QApplication>
#include <QElapsedTimer>
#include <cstdio>

#include "phone_desk.h"

using namespace rt;

namespace {

constexpr int kWidth = 4000;  // 4000 × 3000

double seconds(const testing::PhoneDesk& d, const QByteArray& photo, const QByteArray& query) {
  QElapsedTimer timer;
  timer.start();
  const auto said = d.scan(photo, query);
  const double s = static_cast<double>(timer.nsecsElapsed()) / 1e9;
  std::printf("  %-12s %d, %.2f s, hooping %d, %s\n", query.constData(), said.status, s,
              said.json()["hooping"].toInt(),
              qPrintable(said.json()["status"].toString() + said.json()["error"].toString()));
  d.desk->settle();
  return s;
}

}  // namespace

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  const QApplication app(argc, argv);
  const int photos = argc > 1 ? std::atoi(argv[1]) : 4;
  testing::PhoneDesk d("none");
  d.plan("hide-banner", "field-300x200");
  double named = 0, found = 0;
  for (int i = 0; i < photos; ++i) {
    const int h = 1 + i % static_cast<int>(d.desk->plan()->hoopings.size());
    const Transform lies = Transform::moving({0.7, -0.4}) * Transform::turning(1.5 + 0.1 * i);
    const QByteArray photo = d.photoOf(h, lies, kWidth);
    std::printf("photo of hooping %d, %.1f MB\n", h, static_cast<double>(photo.size()) / 1e6);
    named = std::max(named, seconds(d, photo, "?hooping=" + QByteArray::number(h)));
    found = std::max(found, seconds(d, photo, ""));
  }
  std::printf("longest: %.2f s named, %.2f s by its tags and marks\n", named, found);
  return 0;
}
