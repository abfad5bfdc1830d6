#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "letter.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"

namespace test_lettering {

using namespace rt;
using testing::between;

namespace {

const Face& face(const std::string& id) {
  static std::map<std::string, Face> loaded;
  if (!loaded.count(id)) loaded[id] = loadFace(dataFolder(), id);
  return loaded[id];
}

LetterOptions plain(double height_mm) {
  LetterOptions o;
  o.height_mm = height_mm;
  o.pull_mm = 0;
  return o;
}

std::string randomText(std::mt19937& random, int most) {
  static const std::string kLetters =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789";
  std::string text;
  const int n = 1 + static_cast<int>(random() % static_cast<unsigned>(most));
  for (int i = 0; i < n; ++i) text += kLetters[random() % kLetters.size()];
  return text;
}

}  // namespace

class TestLettering : public QObject {
  Q_OBJECT
 private slots:
  void hIsAsTallAsAsked() {
    for (const char* id : {"plain-stroke", "roman-stroke"})
      for (double h : {8.0, 12.0, 25.0, 40.0}) {
        const Box box = statisticsOf(letter("H", face(id), plain(h)).pattern, {}).bounds;
        QVERIFY2(std::abs(box.height() - h) < 0.3,
                 qPrintable(QString("%1 for %2").arg(box.height()).arg(h)));
        QVERIFY(std::abs(box.bottom) < 0.3);  // stands on the baseline
      }
  }
  void straightTextIsCentred() {
    std::mt19937 random = testing::seeded(91);
    for (int i = 0; i < 20; ++i) {
      const Lettering l = letter(randomText(random, 12), face("plain-stroke"), plain(15));
      QCOMPARE(l.glyphs.front().at.y, 0.0);
      QVERIFY(l.glyphs.front().at.x <= 1e-9 && l.glyphs.back().at.x >= -1e-9);
    }
  }
  void lettersLieOnTheArcTurnedByItsTangent() {
    std::mt19937 random = testing::seeded(92);
    for (int i = 0; i < 40; ++i) {
      LetterOptions o = plain(between(random, 8, 20));
      o.arc_radius_mm = between(random, 120, 400);
      o.arc_side = i % 2 == 0 ? ArcSide::Inside : ArcSide::Outside;
      o.turn_deg = between(random, -90, 90);
      const Lettering l = letter(randomText(random, 10), face("plain-stroke"), o);
      const Point centre = Transform::turning(o.turn_deg)(
          o.arc_side == ArcSide::Inside ? Point{0, -o.arc_radius_mm} : Point{0, o.arc_radius_mm});
      for (const PlacedGlyph& g : l.glyphs) {
        QVERIFY(std::abs(distance(g.at, centre) - o.arc_radius_mm) < 0.1);
        const Point out = g.at - centre, tangent = Transform::turning(g.angle_deg)({1, 0});
        QVERIFY(std::abs(dot(unit(out), tangent)) < std::sin(radians(0.1)));
        const Point heads = Transform::turning(g.angle_deg)({0, -1});
        QVERIFY((dot(heads, out) > 0) == (o.arc_side == ArcSide::Outside));
      }
    }
  }
  void atEveryTurnTheSameIsSewn() {
    std::mt19937 random = testing::seeded(97);
    for (const char* id : {"plain-stroke", "joined-script", "round-script", "serif-bold"})
      for (double turn : {180.0, testing::between(random, -170, 170)}) {
        LetterOptions o = plain(15);
        const Lettering level = letter("Reed 7", face(id), o);
        o.turn_deg = turn;
        const Lettering there = letter("Reed 7", face(id), o);
        const Transform by = Transform::turning(turn);
        QCOMPARE(there.pattern.stitches.size(), level.pattern.stitches.size());
        for (size_t i = 0; i < level.pattern.stitches.size(); ++i)
          QVERIFY(distance(there.pattern.stitches[i].at, by(level.pattern.stitches[i].at)) < 0.008);
        for (size_t i = 0; i < level.glyphs.size(); ++i)
          QVERIFY(distance(there.glyphs[i].at, by(level.glyphs[i].at)) < 1e-9);
      }
  }
  void joinedWordsAreOnePiece() {
    for (const char* word : {"Warden", "marsh", "Quillfen", "reed"}) {
      const Lettering l = letter(word, face("joined-script"), plain(18));
      for (size_t i = 0; i + 1 < l.glyphs.size(); ++i)
        QVERIFY2(l.glyphs[i].joined_to_next.value_or(false), word);
      QVERIFY(!l.glyphs.back().gap_to_next_mm);
    }
  }
  void gapsGrowByWhatIsAdded() {
    LetterOptions o = plain(15);
    const Lettering a = letter("HHH", face("plain-stroke"), o);
    o.gap_mm = 2;
    const Lettering b = letter("HHH", face("plain-stroke"), o);
    QVERIFY(std::abs(*b.glyphs[0].gap_to_next_mm - *a.glyphs[0].gap_to_next_mm - 2) < 0.05);
  }
  void stitchesKeepTheirLimits() {
    std::mt19937 random = testing::seeded(93);
    for (int i = 0; i < 25; ++i) {
      const char* id = i % 3 == 0 ? "joined-script" : i % 3 == 1 ? "roman-stroke" : "plain-stroke";
      const Lettering l = letter(randomText(random, 8), face(id), plain(between(random, 9, 40)));
      size_t shorts = 0, all = 0;
      Point last;
      bool cut = true;
      for (const Stitch& s : l.pattern.stitches) {
        if (s.op == Op::Trim) cut = true;
        if (s.op == Op::Jump && !cut) QVERIFY(distance(last, s.at) <= 3 + 1e-9);
        if (s.op == Op::Stitch) cut = false;
        last = s.at;
      }
      forEachSegment(l.pattern, [&](Point a, Point b, size_t row) {
        if (l.pattern.stitches[row].kind == Kind::Tie) return;
        ++all;
        shorts += distance(a, b) < 0.4 - 1e-9;
        QVERIFY(distance(a, b) <= 12);
      });
      QVERIFY2(static_cast<double>(shorts) <= 0.03 * static_cast<double>(all),
               qPrintable(QString("%1 of %2").arg(shorts).arg(all)));
    }
  }
  void missingLettersAreNamed() {
    const Lettering l = letter("H☃", face("plain-stroke"), plain(15));
    QCOMPARE(l.glyphs.size(), size_t{1});
    QVERIFY(l.warnings[0] == (LetterWarning{LetterWarning::What::NoLetter, "☃"}));
  }
  /// Accented letters of the stroke faces: the letter itself, and a mark that stands clear of it.
  void accentsStandOverTheirLetters() {
    const Face f = face("plain-stroke");
    for (const auto& [accented, bare] :
         {std::pair{"É", "E"}, {"ü", "u"}, {"ñ", "n"}, {"å", "a"}, {"č", "c"}, {"ő", "o"}}) {
      const Lettering a = letter(accented, f, plain(20)), b = letter(bare, f, plain(20));
      QCOMPARE(a.glyphs.size(), size_t{1});
      const Box with = threadBounds(a.pattern), without = threadBounds(b.pattern);
      QVERIFY2(with.top < without.top - 2 && with.top > without.top - 9, accented);
      QVERIFY(std::abs(with.bottom - without.bottom) < 0.3);
    }
    for (const char* below : {"ç", "ą", "ş"})
      QVERIFY2(threadBounds(letter(below, f, plain(20)).pattern).bottom > 1.5, below);
    for (const char* text : {"ß", "æ", "Øresund", "Łódź", "Straße"})
      QVERIFY2(letter(text, f, plain(20)).warnings.empty() ||
                   letter(text, f, plain(20)).warnings[0].what != LetterWarning::What::NoLetter,
               text);
  }
  void heightsOutsideTheFaceAreWarnedOf() {
    QVERIFY(!letter("H", face("plain-stroke"), plain(3)).warnings.empty());
  }
  void impossibleTextIsRefused() {
    QVERIFY_THROWS_EXCEPTION(Error, letter("", face("plain-stroke"), plain(10)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("   ", face("plain-stroke"), plain(10)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("حجر", face("plain-stroke"), plain(10)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("H", face("plain-stroke"), plain(0)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("H", face("plain-stroke"), plain(-5)));
    QVERIFY_THROWS_EXCEPTION(Error,
                             letter(std::string(10000, 'a'), face("plain-stroke"), plain(10)));
    QVERIFY_THROWS_EXCEPTION(Error, letter("\xff\xfe", face("plain-stroke"), plain(10)));
    LetterOptions o = plain(20);
    o.arc_radius_mm = 12;
    QVERIFY_THROWS_EXCEPTION(Error, letter("WARDEN", face("plain-stroke"), o));
  }
  void composedFormJoinsAccents() { QCOMPARE(composed("e\xCC\x81"), std::string("é")); }
  void utf8GoesThereAndBack() {
    const std::string text = "aé€𝄞";
    std::string back;
    for (char32_t c : decodeUtf8(text)) back += encodeUtf8(c);
    QCOMPARE(back, text);
  }
};

RT_TEST(TestLettering)

}  // namespace test_lettering
#include "test_lettering.moc"
