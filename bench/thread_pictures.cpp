// Thread drawn stitch by stitch at ten times its size: pages of letters by face and height, and of
// drawings, to be looked at from close by.
//
//   rapt-thimble-pictures OUT.png FACE:HEIGHT=TEXT …
//   rapt-thimble-pictures OUT.png DRAWING.svg:WIDTH … STITCHES.csv …
//
// PIXELS_PER_MM in the environment: 10 if unset.
#include <QImage>
#include <QPainter>
#include <algorithm>
#include <cstdio>

#include "artwork.h"
#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "letter.h"
#include "stitch_file.h"

namespace {

using namespace rt;

double kPixels = 10;  // a millimetre
constexpr double kAround_mm = 2;
constexpr int kPageWide = 1900;

/// A stitch is a dark line with a lighter core, so that each is seen over those below it.
QImage sewn(const Pattern& pattern) {
  const Box box = threadBounds(pattern).grown(kAround_mm);
  QImage image(static_cast<int>(box.width() * kPixels) + 1,
               static_cast<int>(box.height() * kPixels) + 1, QImage::Format_RGB32);
  image.fill(QColor(0xf4f1ea));
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.scale(kPixels, kPixels);
  p.translate(-box.left, -box.top);
  forEachSegment(pattern, [&](Point a, Point b, size_t row) {
    const Stitch& s = pattern.stitches[row];
    const QColor thread(QRgb(pattern.colourOf(s).rgb));
    const QLineF line(a.x, a.y, b.x, b.y);
    p.setPen(QPen(thread.darker(170), kThreadWidth_mm, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(line);
    p.setPen(QPen(thread.lighter(s.kind == Kind::Tie ? 190 : 125), 0.55 * kThreadWidth_mm,
                  Qt::SolidLine, Qt::RoundCap));
    p.drawLine(line);
  });
  return image;
}

Pattern made(const std::string& word) {
  if (word.ends_with(".csv")) return readStitchFile(word).pattern;
  const size_t colon = word.find(':');
  const size_t equals = word.find('=');
  if (colon == std::string::npos)
    throw Error("\"" + word + "\" says no size", "arguments", "see the first lines of the source");
  const double size = std::atof(word.c_str() + colon + 1);
  const std::string name = word.substr(0, colon);
  if (equals != std::string::npos) {
    LetterOptions o;
    o.height_mm = size;
    return letter(word.substr(equals + 1), loadFace(dataFolder(), name), o).pattern;
  }
  Artwork a = readArtwork(readFile(name), name);
  placeArtwork(a, size);
  return digitiseArtwork(a, {}, name).pattern;
}

/// Side by side from the left, a new row where the page ends.
QImage page(const std::vector<QImage>& pictures) {
  int x = 0, y = 0, row = 0, wide = 0;
  std::vector<QPoint> at;
  for (const QImage& i : pictures) {
    if (x > 0 && x + i.width() > kPageWide) y += row, x = 0, row = 0;
    at.emplace_back(x, y);
    x += i.width();
    wide = std::max(wide, x);
    row = std::max(row, i.height());
  }
  QImage out(wide, y + row, QImage::Format_RGB32);
  out.fill(QColor(0xf4f1ea));
  QPainter p(&out);
  for (size_t i = 0; i < pictures.size(); ++i) p.drawImage(at[i], pictures[i]);
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) {
    std::fprintf(stderr,
                 "error: give OUT.png and what it shows: FACE:HEIGHT=TEXT or DRAWING.svg:WIDTH\n");
    return 1;
  }
  try {
    std::vector<QImage> pictures;
    if (const char* px = std::getenv("PIXELS_PER_MM")) kPixels = std::atof(px);
    for (int i = 2; i < argc; ++i) pictures.push_back(sewn(made(argv[i])));
    if (page(pictures).save(argv[1])) return 0;
    std::fprintf(stderr, "error: %s cannot be written\n", argv[1]);
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "error: %s\n", problem.what());
  }
  return 1;
}
