#include <QtTest>

#include "hooping_place.h"
#include "job.h"
#include "proof_words.h"
#include "random_pattern.h"
#include "run.h"

namespace test_layout {

using namespace rt;
using testing::between;

namespace {

Piece pieceOf(Pattern p, int id, const std::string& name) {
  Piece piece;
  piece.id = id;
  piece.name = name;
  centre(p);
  piece.stitches = std::make_shared<const Pattern>(std::move(p));
  return piece;
}

Placement randomPlace(std::mt19937& random) {
  return {{between(random, -90, 90), between(random, -90, 90)},
          between(random, -180, 180),
          between(random, 0.3, 3),
          between(random, 0.3, 3),
          random() % 2 == 0};
}

Hooping hoopingAt(Point centre, double w, double h, int turn = 0) {
  Hooping hooping;
  hooping.turn_deg = turn;
  hooping.settings.emplace_back();
  hooping.settings[0].field = {Box::around(centre, turn == 0 ? w : h, turn == 0 ? h : w), turn,
                               HoopShape::Rectangle};
  return hooping;
}

}  // namespace

class TestLayout : public QObject {
  Q_OBJECT
  static TextSource textOf(const std::string& words) {
    TextSource text;
    text.text = words;
    return text;
  }

 private slots:
  void placementTurnsSizesAndMoves() {
    std::mt19937 random = testing::seeded(151);
    for (int i = 0; i < 200; ++i) {
      const Placement place = randomPlace(random);
      const Transform t = transformOf(place);
      QVERIFY(distance(t({0, 0}), place.at) < 1e-9);
      QVERIFY(std::abs(std::abs(t.determinant()) - place.scale_x * place.scale_y) < 1e-9);
      QCOMPARE(t.determinant() < 0, place.mirrored);
      // the piece's own x axis comes to lie at the turn, or opposite where it is mirrored
      const Point x = t.turn({1, 0});
      const double angle = degrees(std::atan2(x.y, x.x));
      const double want = wrapDegrees(place.turn_deg + (place.mirrored ? 180 : 0));
      QVERIFY(std::abs(wrapDegrees(angle - want)) < 1e-6);
    }
  }
  void mirroringTwiceIsNothing() {
    std::mt19937 random = testing::seeded(152);
    Piece piece = pieceOf(testing::wander(random, 200, 30), 1, "a");
    const Pattern before = laidOut(piece);
    for (int k = 0; k < 2; ++k) piece.place.mirrored = !piece.place.mirrored;
    QVERIFY(laidOut(piece) == before);
  }
  void layingOutKeepsEveryStitch() {
    std::mt19937 random = testing::seeded(153);
    std::vector<Piece> pieces;
    size_t stitches = 0;
    double length_mm = 0;
    for (int i = 0; i < 6; ++i) {
      pieces.push_back(pieceOf(testing::wander(random, 300, 40), i + 1, i % 2 ? "reed" : "heron"));
      Placement place = randomPlace(random);
      place.scale_y = place.scale_x;
      pieces.back().place = place;
      length_mm += testing::sewnLength(*pieces.back().stitches) * place.scale_x;
      for (const Stitch& s : pieces.back().stitches->stitches) stitches += s.op == Op::Stitch;
    }
    const Pattern all = laidOut(pieces);
    size_t laid = 0;
    for (const Stitch& s : all.stitches) laid += s.op == Op::Stitch;
    QCOMPARE(laid, stitches);
    QVERIFY(std::abs(testing::sewnLength(all) - length_mm) < 1e-6 * length_mm);
    QCOMPARE(all.pieces.size(), size_t{7});  // the unnamed one, and six with names of their own
  }
  void boundsAgreeWithTheLaidOutThread() {
    std::mt19937 random = testing::seeded(154);
    for (int i = 0; i < 40; ++i) {
      Piece piece = pieceOf(testing::wander(random, 150, 30), 1, "a");
      piece.place = randomPlace(random);
      const Box direct = boundsOf(piece), laid = threadBounds(laidOut(piece));
      QVERIFY(std::abs(direct.left - laid.left) < 1e-9 &&
              std::abs(direct.bottom - laid.bottom) < 1e-9);
    }
  }
  void centringMovesTheMiddleToTheCross() {
    Pattern p = testing::patternFrom("jump 10,20 stitch 30,60");
    QCOMPARE(centre(p), (Point{20, 40}));
    QCOMPARE(threadBounds(p), (Box{-10, -20, 10, 20}));
    Pattern none;
    QCOMPARE(centre(none), (Point{0, 0}));
  }
  void intendedPlacePutsTheFieldsMiddleAtTheHoopsOrigin() {
    for (int turn : {0, 90}) {
      const Hooping h = hoopingAt({37, -21}, 200, 140, turn);
      const Transform t = intendedPlace(h.settings[0]);
      QVERIFY(distance(t({37, -21}), {0, 0}) < 1e-9);
      for (int corner = 0; corner < 4; ++corner) {
        const Point p = t(h.settings[0].field.box.corner(corner));
        QVERIFY(std::abs(std::abs(p.x) - 100) < 1e-9 && std::abs(std::abs(p.y) - 70) < 1e-9);
      }
    }
  }
  void laterSettingsAreSewnWhereTheClothLies() {
    // a frame turned half round: its second field is carried along with the cloth as it was found
    Hooping h = hoopingAt({10, -50}, 200, 110);
    h.settings.push_back(h.settings[0]);
    h.settings[1].field = {Box::around({10, 50}, 200, 110), 180, HoopShape::Rectangle};
    h.settings[0].pattern = testing::patternFrom("jump -20,-60 stitch 30,-40");
    h.settings[1].pattern = testing::patternFrom("jump -20,40 stitch 30,60");
    const Transform found = Transform::moving({1.2, -0.8}) * Transform::turning(2);
    Fit lies;
    lies.toHoop = found;
    const Field field{200, 110, HoopShape::Rectangle};
    const Transform first = intendedPlace(h.settings[0]);
    for (size_t s = 0; s < 2; ++s) {
      const Pattern sewn = inMachine(h, s, lies, field);
      // where the frame is, as its first setting's field sees the cloth
      const Transform carried = intendedPlace(h.settings[s]) * *first.inverse();
      for (size_t row = 0; row < sewn.stitches.size(); ++row) {
        const Point onCloth = found(first(h.settings[s].pattern.stitches[row].at));
        const Point needle = (*carried.inverse())(sewn.stitches[row].at);
        QVERIFY(distance(needle, onCloth) < 1e-9);
      }
    }
    // lying perfectly, each setting is sewn as it was meant
    lies.toHoop = {};
    for (size_t s = 0; s < 2; ++s)
      QVERIFY(distance(inMachine(h, s, lies, field).stitches[1].at,
                       inHoop(h.settings[s]).stitches[1].at) < 1e-9);
  }
  void expectedMarksSufficeForAFit() {
    std::mt19937 random = testing::seeded(155);
    for (int i = 0; i < 100; ++i) {
      Hooping h = hoopingAt({between(random, -300, 300), between(random, -300, 300)}, 200, 140,
                            i % 2 == 0 ? 0 : 90);
      if (i % 3 == 0)
        h.marks.push_back({"M1", "cross", h.settings[0].field.box.centre() + Point{20, 20}, true});
      const std::vector<Mark> marks = expectedMarks(h);
      QVERIFY(marks.size() >= 3 && marks.size() <= 8);
      const Fit fit = fitMarks(marks, FitKind::Rigid);
      QVERIFY(fit.rms_mm < 1e-6);
      for (const Mark& m : marks) QVERIFY(h.settings[0].field.holds(m.layout));
    }
  }
  void theProofReadsLetterByLetter() {
    Job job;
    job.brief.order_text = "Quillfen Hide";
    Piece text;
    text.source = textOf("QUILLFEN HIDE");
    text.stitches = std::make_shared<const Pattern>();
    job.pieces = {text};
    QVERIFY(proofOf(job).find("letter 2") != std::string::npos);  // wrong case
    std::get<TextSource>(job.pieces[0].source).text = "Quillfen  Hide";
    QCOMPARE(proofOf(job), std::string());  // spaces aside
    std::get<TextSource>(job.pieces[0].source).text = "Quilfen Hide";
    QCOMPARE(proofOf(job), std::string("letter 4: \"l\" is missing from the sewing"));
    std::get<TextSource>(job.pieces[0].source).text = "Quillfen Hidee";
    QVERIFY(proofOf(job).find("\"e\" is sewn twice") != std::string::npos);
  }
  void anyChangeRevokesTheAcceptedProof() {
    Job job;
    QVERIFY(proofAccepted(job));  // nothing to read
    job.brief.order_text = "Fen";
    QVERIFY(!proofAccepted(job));
    Piece text;
    text.source = textOf("Fen");
    text.stitches = std::make_shared<const Pattern>();
    job.pieces = {text};
    job.proof_accepted = proofKey(job);
    QVERIFY(proofAccepted(job));
    Job other = job;
    std::get<TextSource>(other.pieces[0].source).text = "Fen.";
    QVERIFY(!proofAccepted(other));
    other = job;
    other.brief.order_text = "fen";
    QVERIFY(!proofAccepted(other));
    other = job;
    std::get<TextSource>(other.pieces[0].source).face = "serif-bold";
    QVERIFY(!proofAccepted(other));
    other = job;
    other.pieces[0].place.at = {5, 5};  // where it lies is not what it says
    QVERIFY(proofAccepted(other));
  }
  void whatOverlapsIsNotPassed() {
    auto barAt = [](double x, const char* name, int id) {
      Piece p;
      p.id = id;
      p.name = name;
      Pattern bar = testing::patternFrom("stitch 0,0 stitch 10,0 stitch 10,1 stitch 0,1");
      p.stitches = std::make_shared<const Pattern>(bar);
      p.place.at = {x, 0};
      return p;
    };
    Job job;
    job.pieces = {barAt(0, "reed", 1), barAt(40, "eye", 2), barAt(5, "wing", 3)};
    QVERIFY(!whyNotMoved(job, 0, 1));  // reed and eye lie apart
    QVERIFY(whyNotMoved(job, 2, 0) == (Covered{"wing", "reed"}));
    QVERIFY(whyNotMoved(job, 0, 2) == (Covered{"wing", "reed"}));
    QVERIFY(!whyNotMoved(job, 2, 1));
    QVERIFY(!whyNotMoved(job, 9, 1));
  }
  void theProofJoinsLinesInSewingOrder() {
    Job job;
    job.brief.order_text = "MARSH\nWARDEN";
    for (const char* line : {"MARSH", "WARDEN"}) {
      Piece text;
      text.source = textOf(line);
      text.stitches = std::make_shared<const Pattern>();
      job.pieces.push_back(text);
    }
    QCOMPARE(proofOf(job), std::string());
    std::swap(job.pieces[0], job.pieces[1]);
    QVERIFY(!proofOf(job).empty());
  }
  void thePrintChangesWithTheStitches() {
    std::mt19937 random = testing::seeded(156);
    Pattern p = testing::wander(random, 300, 40);
    const size_t before = printOf(p);
    QCOMPARE(printOf(p), before);
    p.stitches[100].at.x += 0.01;
    QVERIFY(printOf(p) != before);
    p.stitches[100].at.x -= 0.01;
    p.stitches[7].op = p.stitches[7].op == Op::Trim ? Op::Stop : Op::Trim;
    QVERIFY(printOf(p) != before);
  }
};

RT_TEST(TestLayout)

}  // namespace test_layout
#include "test_layout.moc"
