// Straight lines of a PDF where they come to lie on the paper, to measure what a page shows.
#pragma once

#include <QByteArray>
#include <QList>
#include <QtEndian>
#include <vector>

#include "geometry.h"

namespace rt::testing {

struct PaperLine {
  Point from, to;  ///< mm, from the page's top left.
  double mm() const { return distance(from, to); }
};

/// Lines of all pages' own drawing (no text, no pictures), by the operators `m`, `l`, `cm`, `q`,
/// `Q`.
inline std::vector<PaperLine> linesOfPdf(const std::string& pdf, double page_height_mm) {
  constexpr double kPoint_mm = 25.4 / 72;
  const QByteArray file = QByteArray::fromStdString(pdf);
  std::vector<PaperLine> out;
  for (qsizetype at = file.indexOf("stream\n"); at >= 0; at = file.indexOf("stream\n", at + 1)) {
    if (at >= 3 && file.mid(at - 3, 3) == "end") continue;
    const qsizetype end = file.indexOf("endstream", at);
    const QByteArray packed = file.mid(at + 7, end - at - 7);
    QByteArray sized(4, '\0');
    qToBigEndian<quint32>(1 << 24, sized.data());  // a guess: it grows as it needs
    const QByteArray text = qUncompress(sized + packed);
    if (!text.contains(" cm") && !text.contains(" l")) continue;
    std::vector<Transform> kept;
    Transform now;
    std::vector<double> numbers;
    Point pen;
    const auto place = [&](double x, double y) {
      const Point p = now({x, y});
      return Point{p.x * kPoint_mm, page_height_mm - p.y * kPoint_mm};
    };
    for (const QByteArray& word : text.simplified().split(' ')) {
      bool number = false;
      const double value = word.toDouble(&number);
      if (number) {
        numbers.push_back(value);
        continue;
      }
      const size_t n = numbers.size();
      if (word == "q") kept.push_back(now);
      if (word == "Q" && !kept.empty()) now = kept.back(), kept.pop_back();
      if (word == "cm" && n >= 6)
        now = now * Transform{numbers[n - 6], numbers[n - 4], numbers[n - 5],
                              numbers[n - 3], numbers[n - 2], numbers[n - 1]};
      if (word == "m" && n >= 2) pen = place(numbers[n - 2], numbers[n - 1]);
      if (word == "l" && n >= 2) {
        const Point to = place(numbers[n - 2], numbers[n - 1]);
        out.push_back({pen, to});
        pen = to;
      }
      numbers.clear();
    }
  }
  return out;
}

}  // namespace rt::testing
