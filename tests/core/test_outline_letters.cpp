#include <QtTest>

#include "coverage.h"
#include "data_folder.h"
#include "faces.h"
#include "letter.h"
#include "random_pattern.h"

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
    all =
        united(all, transformed(g.outline, Transform::moving({pen, 0}) * Transform::scaling(1, 1)));
    pen += g.advance;
  }
  return transformed(all,
                     Transform::scaling(height_mm, height_mm) * Transform::moving({-pen / 2, 0}));
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
};

QTEST_MAIN(TestOutlineLetters)
#include "test_outline_letters.moc"
