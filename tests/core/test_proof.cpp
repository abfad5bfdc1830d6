#include <QtTest>

#include "proof.h"
#include "proof_words.h"
#include "random_pattern.h"
#include "run.h"

namespace test_proof {

using namespace rt;

namespace {

std::vector<ProofKind> kindsOf(const std::vector<ProofMark>& marks) {
  std::vector<ProofKind> out;
  for (const ProofMark& m : marks)
    if (m.kind != ProofKind::Same) out.push_back(m.kind);
  return out;
}

std::string word(std::mt19937& random, size_t n) {
  std::string out;
  for (size_t i = 0; i < n; ++i) out += static_cast<char>('a' + random() % 26);
  return out;
}

}  // namespace

class TestProof : public QObject {
  Q_OBJECT
 private slots:
  void nothingAndEmptyTexts() {
    QVERIFY(proofOf("", "").empty());
    QCOMPARE(kindsOf(proofOf("ab", "")).size(), size_t{2});
    QCOMPARE(kindsOf(proofOf("", "a")), std::vector{ProofKind::Extra});
    QCOMPARE(inWords(proofOf("Reed", "Reed")), std::string());
  }
  void spacesCountHoweverTheyAreWritten() {
    QVERIFY(kindsOf(proofOf(" QUILL FEN\n\tMARSH ", "QUILL  FEN MARSH\n")).empty());
    QCOMPARE(kindsOf(proofOf("QUILL FEN", "QUILLFEN")), std::vector{ProofKind::Missing});
    QCOMPARE(kindsOf(proofOf("QUILLFEN", "QUILL FEN")), std::vector{ProofKind::Extra});
    QVERIFY(inWords(proofOf("QUILL FEN", "QUILLFEN")).find("space") != std::string::npos);
  }
  /// Pieces are laid out one by one: whether a space stands between them nobody can see.
  void aSpaceBetweenPiecesIsFree() {
    const std::string seam(1, kProofSeam);
    QVERIFY(kindsOf(proofOf("QUILL FEN", "QUILL" + seam + "FEN" + seam)).empty());
    QVERIFY(kindsOf(proofOf("QUILLFEN", "QUILL" + seam + "FEN" + seam)).empty());
    QCOMPARE(kindsOf(proofOf("QUILLFEN", "QUILL" + seam + "FENN")),
             std::vector{ProofKind::Doubled});
  }
  void eachSlipIsNamed() {
    QCOMPARE(kindsOf(proofOf("warden", "wardden")), std::vector{ProofKind::Doubled});
    QCOMPARE(kindsOf(proofOf("warden", "warxden")), std::vector{ProofKind::Extra});
    QCOMPARE(kindsOf(proofOf("warden", "waden")), std::vector{ProofKind::Missing});
    QCOMPARE(kindsOf(proofOf("warden", "wadren")), std::vector{ProofKind::Swapped});
    QCOMPARE(kindsOf(proofOf("Warden", "warden")), std::vector{ProofKind::WrongCase});
    QCOMPARE(kindsOf(proofOf("warden", "wardon")), std::vector{ProofKind::Wrong});
    QCOMPARE(kindsOf(proofOf("Müller Ödön", "MÜLLER ÖDÖN")).size(), size_t{8});
  }
  void placesCountTheOrderedLetters() {
    const auto marks = proofOf("ab cd", "ab cx");
    QCOMPARE(marks.back().place, 4);
    QCOMPARE(marks.back().ordered, std::string("d"));
    QVERIFY(inWords(marks).find("letter 4") == 0);
  }
  /// What was kept, left out, added and changed leads from one text to the other exactly.
  void marksLeadFromOneTextToTheOther() {
    std::mt19937 random = testing::seeded(401);
    for (int i = 0; i < 300; ++i) {
      const std::string a = word(random, random() % 14);
      std::string b = a;
      for (size_t k = random() % 4; k > 0 && !b.empty(); --k) {
        const size_t at = random() % b.size();
        if (random() % 2 == 0)
          b.erase(at, 1);
        else
          b.insert(at, 1, static_cast<char>('a' + random() % 26));
      }
      std::string ordered, sewn;
      for (const ProofMark& m : proofOf(a, b)) ordered += m.ordered, sewn += m.sewn;
      QCOMPARE(ordered, a);
      QCOMPARE(sewn, b);
      QCOMPARE(kindsOf(proofOf(a, b)).empty(), a == b);
    }
  }
  void longTextsStayWithinBounds() {
    const std::string longText(5000, 'x');
    QVERIFY(kindsOf(proofOf(longText, longText)).empty());
    // far beyond what is compared letter by letter, and still no agreement
    QVERIFY(!kindsOf(proofOf(longText + "a", longText + "b")).empty());
    QVERIFY(!kindsOf(proofOf("a" + longText + "a", "b" + longText + "b")).empty());
  }
};

RT_TEST(TestProof)

}  // namespace test_proof
#include "test_proof.moc"
