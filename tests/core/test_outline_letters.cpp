#include <QtTest>

#include "blocks.h"
#include "coverage.h"
#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "letter.h"
#include "making_words.h"
#include "random_pattern.h"
#include "run.h"

namespace test_outline_letters {

using namespace rt;
using testing::between;

namespace {

const Face& face(const std::string& id) {
  static std::map<std::string, Face> loaded;
  if (!loaded.count(id)) loaded[id] = loadFace(dataFolder(), id);
  return loaded[id];
}

std::vector<std::string> outlineFaces() {
  std::vector<std::string> ids;
  for (const Face& f : listFaces(dataFolder()))
    if (f.file.find(".jhf") == std::string::npos) ids.push_back(f.id);
  return ids;
}

/// The face's own outline of a letter, centred like its lettering.
Area drawn(const Face& f, const std::string& text, double height_mm) {
  std::u32string missing;
  Area all;
  double pen = 0;
  for (const OutlineGlyph& g : f.outlines->shape(decodeUtf8(text), true, missing)) {
    // at its size in mm, well within the clipper's lattice
    all = united(all, transformed(g.outline, Transform::scaling(height_mm, height_mm) *
                                                 Transform::moving({pen, 0})));
    pen += g.advance;
  }
  return transformed(all, Transform::moving({-pen * height_mm / 2, 0}));
}

LetterOptions plain(double height_mm) {
  LetterOptions o;
  o.height_mm = height_mm;
  o.pull_mm = 0;
  return o;
}

const std::string kLetters =
    "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789&',.-!?";

}  // namespace

class TestOutlineLetters : public QObject {
  Q_OBJECT
 private slots:
  /// Heads that would run into one another on the inside of an arc are moved apart, and it is said;
  /// letters that have room stay where they were.
  void lettersOnTightArcsAreToldApart() {
    std::mt19937 random = testing::seeded(98);
    const std::string letters = "TVWHMAEIKYO";
    int moved = 0;
    for (int i = 0; i < 16; ++i) {
      std::string text;
      for (int k = 0; k < 4; ++k) text += letters[random() % letters.size()];
      const Face& f = face(i % 2 ? "sans-bold" : "serif-bold");
      LetterOptions o = plain(between(random, 9, 14));
      o.arc_radius_mm = between(random, 2.2, 9) * o.height_mm;
      const Lettering l = letter(text, f, o);
      for (const PlacedGlyph& g : l.glyphs)
        if (g.gap_to_next_mm)
          QVERIFY2(*g.gap_to_next_mm >= kCrowdedGap_mm, qPrintable(QString("%1 at %2: %3")
                                                                       .arg(text.c_str())
                                                                       .arg(o.arc_radius_mm)
                                                                       .arg(*g.gap_to_next_mm)));
      const auto widened =
          std::count_if(l.warnings.begin(), l.warnings.end(), [](const LetterWarning& w) {
            return w.what == LetterWarning::What::Widened && w.mm > 0;
          });
      moved += widened > 0;
      // without a tight arc, and where less is asked for, nothing moves
      LetterOptions tight = o;
      tight.gap_mm = -0.01;
      const Lettering asked = letter(text, f, tight);
      if (widened == 0)
        for (size_t k = 0; k < l.glyphs.size(); ++k)
          QVERIFY(distance(l.glyphs[k].at, asked.glyphs[k].at) < 0.1);
      else
        QVERIFY(l.advance_mm > asked.advance_mm);
    }
    QVERIFY(moved > 4 && moved < 16);
    // where the circle has no room the letters stay, and it is said that they collide
    LetterOptions full = plain(12);
    full.arc_radius_mm = 14;
    const Lettering l = letter("TTTT", face("sans-bold"), full);
    QVERIFY(std::any_of(l.warnings.begin(), l.warnings.end(), [](const LetterWarning& w) {
      return w.what == LetterWarning::What::Crowded;
    }));
  }
  void sewnLettersLookLikeDrawnOnes_data() {
    QTest::addColumn<QString>("id");
    QTest::addColumn<double>("height");
    QTest::addColumn<double>("least");
    for (const std::string& id : outlineFaces())
      for (auto [height, least] : {std::pair(25.0, 0.80), std::pair(10.0, 0.65)})
        QTest::addRow("%s at %.0f mm", id.c_str(), height)
            << QString::fromStdString(id) << height << least;
  }
  void sewnLettersLookLikeDrawnOnes() {
    QFETCH(QString, id);
    QFETCH(double, height);
    QFETCH(double, least);
    const Face& f = face(id.toStdString());
    QString table, poor;
    for (char c : kLetters) {
      const std::string text(1, c);
      const double iou =
          testing::overUnion(drawn(f, text, height), letter(text, f, plain(height)).pattern, 0.3);
      table += QString(" %1 %2").arg(c).arg(iou, 0, 'f', 2);
      if (iou < least) poor += QString(" %1 %2").arg(c).arg(iou, 0, 'f', 3);
    }
    qInfo("%s", qPrintable(table));
    QVERIFY2(poor.isEmpty(), qPrintable(poor));
  }

  /// A letter takes the same thread for its area at whatever size it is sewn: nothing of it is lost
  /// where the samples of its outline happen to fall otherwise.
  void noSizeLosesAPartOfALetter() {
    std::mt19937 random = testing::seeded(99);
    for (const std::string& id : outlineFaces()) {
      const Face& f = face(id);
      for (int i = 0; i < testing::rounds(24); ++i) {
        const std::string text(1, kLetters[random() % 62]);
        std::vector<double> shares;
        for (int k = 0; k < 7; ++k) {
          const double height = testing::between(random, 13, 45);
          double thread = 0;
          forEachSegment(letter(text, f, plain(height)).pattern,
                         [&](Point a, Point b, size_t) { thread += distance(a, b); });
          shares.push_back(thread / height / height);
        }
        std::vector<double> sorted = shares;
        std::sort(sorted.begin(), sorted.end());
        for (double s : shares)
          QVERIFY2(std::abs(s / sorted[3] - 1) < 0.25,
                   qPrintable(QString("%1 of %2: %3 of the usual")
                                  .arg(QString::fromStdString(text), QString::fromStdString(id))
                                  .arg(s / sorted[3])));
      }
    }
  }

  void capitalsAreAsTallAsAsked() {
    for (const std::string& id : outlineFaces())
      for (double h : {12.0, 25.0, 60.0}) {
        if (face(id).joins) continue;  // their H swings
        const Pattern made = letter("H", face(id), plain(h)).pattern;
        const Box box = threadBounds(made);
        // from sewn edge to sewn edge: the outer rows of a fill lie half a thread inside it, the
        // needle points of satin on it
        const bool rows = std::none_of(made.stitches.begin(), made.stitches.end(),
                                       [](const Stitch& s) { return s.kind == Kind::Satin; });
        const double edge = rows && box.height() < h ? 0.2 : 0;
        QVERIFY2(std::abs(box.height() + 2 * edge - h) < 0.35,
                 qPrintable(QString::number(box.height())));
        QVERIFY(std::abs(box.bottom + edge) < 0.3);
      }
  }

  void joinedWordsAreOnePiece() {
    std::mt19937 random = testing::seeded(96);
    static const std::string kMinuscules = "abcdefghklmnopqrstuvwxyz";  // i and j carry dots
    for (const std::string& id : outlineFaces()) {
      if (!face(id).joins) continue;
      for (int i = 0; i < 12; ++i) {
        std::string word;
        for (int k = 0; k < 5; ++k) word += kMinuscules[random() % kMinuscules.size()];
        LetterOptions o = plain(between(random, 14, 30));
        if (i % 2) o.arc_radius_mm = between(random, 90, 300);
        const Lettering l = letter(word, face(id), o);
        QVERIFY2(l.pattern.stitches.front().op == Op::Jump, word.c_str());
        size_t trims = 0;
        for (const Stitch& s : l.pattern.stitches) trims += s.op == Op::Trim;
        QVERIFY2(trims == 1, word.c_str());
        for (const PlacedGlyph& g : l.glyphs)
          if (g.joined_to_next) QVERIFY2(*g.joined_to_next, (word + " " + g.text).c_str());
      }
    }
  }

  void lettersStandOnTheArcTurnedByItsTangent() {
    std::mt19937 random = testing::seeded(97);
    for (int i = 0; i < testing::rounds(30); ++i) {
      LetterOptions o = plain(between(random, 10, 25));
      o.arc_radius_mm = between(random, 120, 400);
      o.arc_side = i % 2 ? ArcSide::Inside : ArcSide::Outside;
      const Point centre{0, i % 2 ? -o.arc_radius_mm : o.arc_radius_mm};
      const Lettering l = letter("Reed & Fen", face(i % 3 ? "sans-bold" : "serif-bold"), o);
      for (const PlacedGlyph& g : l.glyphs) {
        QVERIFY(std::abs(distance(g.at, centre) - o.arc_radius_mm) < 0.1);
        const Point up = Transform::turning(g.angle_deg).turn({0, -1});
        const Point out = unit(g.at - centre) * (i % 2 ? -1 : 1);
        QVERIFY(std::abs(degrees(std::acos(std::clamp(dot(up, out), -1.0, 1.0)))) < 0.1);
      }
    }
  }

  void linesFollowEachOther() {
    LetterOptions o = plain(20);
    o.line_spacing = 1.5;
    const Lettering l = letter("REED\nBED", face("sans-bold"), o);
    for (const PlacedGlyph& g : l.glyphs) QCOMPARE(g.at.y, g.line * 30.0);
    o.arc_radius_mm = 200;
    o.arc_side = ArcSide::Outside;
    for (const PlacedGlyph& g : letter("REED\nBED", face("sans-bold"), o).glyphs)
      QVERIFY(std::abs(distance(g.at, {0, 200}) - (200 - 30 * g.line)) < 1e-6);
    o.arc_radius_mm = 25;
    o.height_mm = 5;
    o.line_spacing = 6;
    QVERIFY_THROWS_EXCEPTION(Error, letter("I\nI", face("sans-bold"), o));
  }

  void singleGapsMoveWhatFollows() {
    LetterOptions o = plain(20);
    o.gaps_mm = {0, 0};
    const auto before = letter("FEN", face("sans-bold"), o).glyphs;
    o.gaps_mm = {0, 4};
    const auto after = letter("FEN", face("sans-bold"), o).glyphs;
    const auto gap = [](const auto& g, size_t i) { return g[i + 1].at.x - g[i].at.x; };
    QVERIFY(std::abs(gap(after, 0) - gap(before, 0)) < 1e-9);
    QVERIFY(std::abs(gap(after, 1) - gap(before, 1) - 4) < 1e-9);
  }

  void theLargestHeightThatFitsDoes() {
    std::mt19937 random = testing::seeded(98);
    for (int i = 0; i < testing::rounds(20); ++i) {
      const double span = between(random, 40, 300);
      const Face& f = face(outlineFaces()[static_cast<size_t>(i) % outlineFaces().size()]);
      LetterOptions o;
      const double h = heightThatFits("Quillfen hide", f, o, span);
      o.height_mm = h;
      const double set = letter("Quillfen hide", f, o).advance_mm;
      QVERIFY(set <= span + 0.05);
      QVERIFY(std::abs(setLength_mm("Quillfen hide", f, o) - set) < 1e-9);
      o.height_mm = h * 1.02;
      QVERIFY(letter("Quillfen hide", f, o).advance_mm > span);
    }
  }

  void headsCrowdInsideACurve() {
    QVERIFY(std::abs(gapAtHeads_mm(2, 100, 20) - 1.6) < 1e-12);
    QVERIFY(gapAtHeads_mm(1, 1e9, 20) > 0.999999);
  }

  void marksAndAccentsAreSewn() {
    const Lettering l = letter("Café Åse", face("sans-bold"), plain(20));
    QVERIFY(l.warnings.empty());
    QCOMPARE(l.glyphs.size(), size_t{7});
    QCOMPARE(l.glyphs[3].text, std::string("é"));
  }

  void whatAFaceLacksIsNamedOnce() {
    const Lettering l = letter("A☃B☃", face("sans-bold"), plain(20));
    QCOMPARE(l.glyphs.size(), size_t{2});
    QCOMPARE(l.warnings.size(), size_t{1});
    QVERIFY(QString::fromStdString(inWords(l.warnings[0])).contains("U+2603"));
    QVERIFY_THROWS_EXCEPTION(Error, letter("שלום", face("round-script"), plain(20)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("", face("sans-bold"), plain(20)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("  \n ", face("sans-bold"), plain(20)));
    QVERIFY_THROWS_EXCEPTION(Error, letter(std::string(10000, 'a'), face("sans-bold"), plain(20)));
  }

  void absurdSizesAreRefused() {
    for (double h : {0.0, -5.0, double(NAN), double(INFINITY), 1e9})
      QVERIFY_THROWS_EXCEPTION(Error, letter("A", face("sans-bold"), plain(h)));
  }

  void largeLettersAreFilled() {
    const Lettering l = letter("I", face("sans-bold"), plain(110));
    size_t fill = 0, satin = 0;
    for (const Stitch& s : l.pattern.stitches) {
      fill += s.kind == Kind::Fill;
      satin += s.kind == Kind::Satin;
    }
    QVERIFY(fill > 10 * satin);
    for (const Block& b : blocksOf(l.pattern)) QVERIFY(b.stitches > 0);
  }
};

RT_TEST(TestOutlineLetters)

}  // namespace test_outline_letters
#include "test_outline_letters.moc"
