#include <QTemporaryDir>
#include <QtTest>

#include "demo.h"
#include "measured_curve.h"
#include "random_pattern.h"
#include "run.h"
#include "sizing.h"
#include "statistics.h"
#include "stitch_file.h"

namespace test_sizing {

using namespace rt;
using testing::between;

namespace {

const Bench& bench() {
  static const Bench b = openBench();
  return b;
}

const Fabric& cotton() {
  return fabricById(bench().shop.fabrics, "woven-cotton");
}

Piece drawn(const char* file) {
  return pieceFromFile(bench().data / "demo" / file, cotton(), bench()).piece;
}

/// Size of a piece in its own frame, as it lies.
std::pair<double, double> sizeOf(const Piece& p) {
  const Box b = threadBounds(*p.stitches);
  return {b.width() * p.place.scale_x, b.height() * p.place.scale_y};
}

}  // namespace

class TestSizing : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  Piece read() {
    const std::filesystem::path file = dir_.filePath("bare.stitches.csv").toStdString();
    Pattern bare = *drawn("heron.svg").stitches;
    for (Stitch& s : bare.stitches) s.kind = Kind::Unknown;
    writeStitchFile(file, bare);
    return pieceFromFile(file, cotton(), bench()).piece;
  }

 private slots:
  void unsizedPiecesAreLeftAlone() {
    const Piece p = drawn("wing.svg");
    QVERIFY(settled(p, cotton(), bench()) == p);
    QVERIFY(asRead(p) == p);
    QVERIFY(respaced(p, cotton()) == p);
  }

  void drawingsAreMadeAgainExactlyAsLargeAsAsked() {
    std::mt19937 random = testing::seeded(301);
    for (const char* file : {"wing.svg", "feather.svg", "heron.svg"})
      for (int i = 0; i < 3; ++i) {
        Piece p = drawn(file);
        p.place.scale_x = between(random, 0.6, 1.8);
        p.place.scale_y = i == 0 ? p.place.scale_x : between(random, 0.6, 1.8);
        p.place.turn_deg = between(random, -180, 180);
        const auto [w, h] = sizeOf(p);
        const Piece made = settled(p, cotton(), bench());
        const auto [mw, mh] = sizeOf(made);
        QVERIFY2(std::abs(mw - w) < 1e-6 && std::abs(mh - h) < 1e-6,
                 qPrintable(QString("%1 × %2 for %3 × %4").arg(mw).arg(mh).arg(w).arg(h)));
        QVERIFY(std::abs(made.place.scale_x - 1) <= 0.02);
        QCOMPARE(made.place.turn_deg, p.place.turn_deg);
        QCOMPARE(made.place.at, p.place.at);
        QVERIFY(settled(made, cotton(), bench()) == made);  // once is enough
      }
  }

  void threadPerAreaStaysWhenADrawingGrows() {
    Piece p = drawn("wing.svg");
    auto perArea = [](const Piece& q) {
      const Statistics s = statisticsOf(laidOut(q), bench().shop.time);
      return s.thread_mm / (s.bounds.width() * s.bounds.height());
    };
    const double before = perArea(p);
    p.place.scale_x = p.place.scale_y = 1.7;
    QVERIFY(perArea(p) < 0.65 * before);  // stretched it opens
    QVERIFY(std::abs(perArea(settled(p, cotton(), bench())) / before - 1) < 0.08);
  }

  void letteringKeepsItsCapHeight() {
    TextSource source;
    source.text = "REED";
    source.face = "sans-bold";
    source.height_mm = 20;
    bendTo(source, 150);
    source.gaps_mm = {0, 1, 0};
    Piece p = pieceFromText(source, cotton(), bench()).piece;
    p.place.scale_x = p.place.scale_y = 1.5;
    const Piece made = settled(p, cotton(), bench());
    const auto& text = std::get<TextSource>(made.source);
    QVERIFY(std::abs(text.height_mm - 30) < 1e-9);
    QVERIFY(std::abs(text.arc_radius_mm - 225) < 1e-9);
    QVERIFY(std::abs(text.gaps_mm[1] - 1.5) < 1e-9);
    QCOMPARE(text.stretch, 1.0);
  }

  void letteringStretchedOneWayIsSewnAnew() {
    TextSource source;
    source.text = "FEN";
    source.face = "sans-bold";
    source.height_mm = 20;
    Piece p = pieceFromText(source, cotton(), bench()).piece;
    p.place.scale_x = 1.4;
    const Piece made = settled(p, cotton(), bench());
    QVERIFY(std::abs(std::get<TextSource>(made.source).stretch - 1.4) < 1e-9);
    QVERIFY(std::abs(std::get<TextSource>(made.source).height_mm - 20) < 1e-9);
    QVERIFY(std::abs(sizeOf(made).first - sizeOf(p).first) < 1e-6);
    QVERIFY(made.stitches->stitches.size() > p.stitches->stitches.size());
  }

  void readStitchesStayStretchedUntilAsked() {
    Piece p = read();
    p.place.scale_x = p.place.scale_y = 1.6;
    QVERIFY(settled(p, cotton(), bench()) == p);
    const Piece again = respaced(p, cotton());
    QCOMPARE(again.place.scale_x, 1.0);
    QVERIFY(std::abs(sizeOf(again).first - sizeOf(p).first) < 0.7);
    QVERIFY(again.stitches->stitches.size() >
            1.5 * static_cast<double>(p.stitches->stitches.size()));
    // and back, as read, at the size that it has
    const Piece back = asRead(again);
    QVERIFY(*back.stitches == *p.stitches);
    QVERIFY(std::abs(back.place.scale_x - 1.6) < 1e-12);
    QVERIFY(!std::get<StitchSource>(back.source).bare);
  }

  void sizesAddUpOverSeveralSteps() {
    Piece p = read();
    p.place.scale_x = p.place.scale_y = 1.5;
    p = respaced(p, cotton());
    p.place.scale_x = p.place.scale_y = 0.8;
    const SizingChoice c = sizingChoice(p, cotton(), bench());
    QVERIFY(std::abs(c.scale_x - 1.2) < 1e-9);
    p = respaced(p, cotton());
    QVERIFY(std::abs(std::get<StitchSource>(p.source).scale_x - 1.2) < 1e-9);
  }

  void theChoiceTellsBothWays() {
    Piece p = read();
    p.place.scale_x = p.place.scale_y = 1.05;
    QVERIFY(!sizingChoice(p, cotton(), bench()).respacing_advised);
    p.place.scale_x = p.place.scale_y = 2;
    const SizingChoice c = sizingChoice(p, cotton(), bench());
    QVERIFY(c.respacing_advised);
    QCOMPARE(c.machine_density_percent, 200.0);
    QVERIFY2(std::abs(c.spacing_kept_mm / c.spacing_respaced_mm - 2) < 0.1,
             qPrintable(QString("%1 and %2").arg(c.spacing_kept_mm).arg(c.spacing_respaced_mm)));
    QVERIFY(c.stitches_respaced > 1.8 * static_cast<double>(c.stitches_kept));
    QVERIFY(c.minutes_respaced > c.minutes_kept);
    QVERIFY(c.peak_kept < c.peak_respaced);
    // drawings and text have no such choice
    QCOMPARE(sizingChoice(drawn("wing.svg"), cotton(), bench()).stitches_kept, size_t{0});
  }
};

RT_TEST(TestSizing)

}  // namespace test_sizing
#include "test_sizing.moc"
