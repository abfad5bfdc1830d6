#include "lenses.h"

#include <QSettings>
#include <QUrl>
#include <algorithm>
#include <cmath>

namespace rt {
namespace {

constexpr double kTellsLittle = 0.01;  // sigma of a photo that is not learned from
constexpr double kFocusSigma = 0.003;  // the same lens bends so much otherwise at another focus
constexpr double kMostBend = 0.2;

QString groupOf(const std::string& camera) {
  return QString::fromLatin1(QUrl::toPercentEncoding(QString::fromStdString(camera)));
}

}  // namespace

LensPrior LearnedLens::prior() const {
  return {k1, std::hypot(sigma, kFocusSigma)};
}

std::optional<LearnedLens> knownLens(const std::filesystem::path& list, const std::string& camera) {
  if (camera.empty()) return std::nullopt;
  QSettings s(QString::fromStdString(list.string()), QSettings::IniFormat);
  s.beginGroup(groupOf(camera));
  const LearnedLens lens{s.value("photos", 0).toInt(), s.value("k1", 0.0).toDouble(),
                         s.value("sigma", 0.0).toDouble()};
  // a file that somebody wrote in is not believed
  if (lens.photos < 1 || !(std::abs(lens.k1) < kMostBend) || !(lens.sigma > 0 && lens.sigma < 1))
    return std::nullopt;
  return lens;
}

std::optional<LearnedLens> learnLens(const std::filesystem::path& list, const std::string& camera,
                                     double k1, double sigma) {
  std::optional<LearnedLens> lens = knownLens(list, camera);
  if (camera.empty() || !(sigma > 0 && sigma <= kTellsLittle) || !(std::abs(k1) < kMostBend))
    return lens;
  const double w = 1 / (sigma * sigma);
  if (lens) {
    const double known = 1 / (lens->sigma * lens->sigma);
    lens = LearnedLens{lens->photos + 1, (lens->k1 * known + k1 * w) / (known + w),
                       std::sqrt(1 / (known + w))};
  } else {
    lens = LearnedLens{1, k1, sigma};
  }
  QSettings s(QString::fromStdString(list.string()), QSettings::IniFormat);
  s.beginGroup(groupOf(camera));
  s.setValue("photos", lens->photos);
  s.setValue("k1", lens->k1);
  s.setValue("sigma", lens->sigma);
  return lens;
}

void forgetLens(const std::filesystem::path& list, const std::string& camera) {
  QSettings s(QString::fromStdString(list.string()), QSettings::IniFormat);
  s.remove(groupOf(camera));
}

}  // namespace rt
