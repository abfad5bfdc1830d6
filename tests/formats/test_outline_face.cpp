#include <QTemporaryDir>
#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "faces.h"
#include "file_io.h"
#include "outline_face.h"
#include "run.h"

namespace test_outline_face {

using namespace rt;

namespace {

std::vector<OutlineGlyph> shaped(const Face& f, const std::string& text, bool ligatures = true) {
  std::u32string missing;
  return f.outlines->shape(decodeUtf8(text), ligatures, missing);
}

double advance(const std::vector<OutlineGlyph>& glyphs) {
  double sum = 0;
  for (const OutlineGlyph& g : glyphs) sum += g.advance;
  return sum;
}

}  // namespace

class TestOutlineFace : public QObject {
  Q_OBJECT
  std::vector<Face> faces_;

 private slots:
  void initTestCase() {
    for (const Face& f : listFaces(dataFolder()))
      if (f.file.find(".jhf") == std::string::npos) faces_.push_back(loadFace(dataFolder(), f.id));
    QVERIFY(faces_.size() >= 4);
  }

  void everyFaceHasItsFileLicenceAndHeights() {
    for (const Face& f : listFaces(dataFolder())) {
      QVERIFY2(std::filesystem::exists(dataFolder() / f.file), f.file.c_str());
      const size_t open = f.licence.find("data/"), close = f.licence.find(')');
      QVERIFY(open != std::string::npos && close != std::string::npos);
      const std::string licence = f.licence.substr(open + 5, close - open - 5);
      QVERIFY2(std::filesystem::exists(dataFolder() / licence), licence.c_str());
      QVERIFY(f.min_height_mm > 0 && f.max_height_mm > f.min_height_mm);
    }
  }

  void capitalsAreOneHigh() {
    for (const Face& f : faces_) {
      const Box box = boundsOf(shaped(f, "H")[0].outline);
      QVERIFY2(std::abs(box.height() - 1) < 0.01, f.id.c_str());  // the foot of a script's too
    }
  }

  void lettersHaveTheirCounters() {
    for (const Face& f : faces_) {
      QVERIFY(shaped(f, "o")[0].outline.size() >= 2);
      QVERIFY(shaped(f, "8")[0].outline.size() >= 3);
      QVERIFY(shaped(f, " ")[0].outline.empty());
    }
  }

  void theBasicLettersAreAllThere() {
    const std::string all = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789&',.-!?";
    for (const Face& f : faces_) {
      std::u32string missing;
      f.outlines->shape(decodeUtf8(all), false, missing);
      QVERIFY2(missing.empty(), f.id.c_str());
    }
  }

  void textIsNeverLostInShaping() {
    for (const Face& f : faces_)
      for (const char* text : {"Quillfen", "office waffle", "ezra", "AVATAR"}) {
        std::string back;
        for (const OutlineGlyph& g : shaped(f, text)) back += g.text;
        QCOMPARE(back, std::string(text));
      }
  }

  void pairsAreKerned() {
    int kerned = 0;
    for (const Face& f : faces_) {
      const double apart = advance(shaped(f, "A")) + advance(shaped(f, "V"));
      kerned += advance(shaped(f, "AV")) < apart - 0.01;
    }
    QVERIFY(kerned >= 1);
  }

  void marksStandOverTheirLetters() {
    for (const Face& f : faces_) {
      std::u32string missing;
      const auto plain = f.outlines->shape(U"e", true, missing);
      const auto marked = f.outlines->shape(U"\u00e9", true, missing);
      if (!missing.empty()) continue;
      QCOMPARE(marked.size(), size_t{1});
      QVERIFY(boundsOf(marked[0].outline).top < boundsOf(plain[0].outline).top - 0.05);
    }
  }

  void whatIsLackingIsTold() {
    std::u32string missing;
    QVERIFY(faces_[0].outlines->shape(U"\u05e9\u05dc", true, missing).empty());
    QCOMPARE(missing.size(), size_t{2});
  }

  void noFontIsAnError() {
    QTemporaryDir dir;
    const std::filesystem::path file = dir.filePath("no.ttf").toStdString();
    QVERIFY_THROWS_EXCEPTION(Error, openOutlines(file));
    writeFile(file, "this is no font at all");
    QVERIFY_THROWS_EXCEPTION(Error, openOutlines(file));
    QVERIFY_THROWS_EXCEPTION(Error, loadFace(dataFolder(), "copperplate"));
  }
};

RT_TEST(TestOutlineFace)

}  // namespace test_outline_face
#include "test_outline_face.moc"
