// 500 mutated files through every reader: each is read or refused, none crashes or hangs.
#include <QtTest>

#include "artwork.h"
#include "data_folder.h"
#include "error.h"
#include "file_io.h"
#include "random_pattern.h"
#include "run.h"
#include "statistics.h"
#include "stitch_svg.h"
#include "svg_path.h"

namespace test_broken_files {

using namespace rt;

namespace {

std::string mutated(std::string text, std::mt19937& random) {
  const int changes = 1 + static_cast<int>(random() % 6);
  for (int i = 0; i < changes && !text.empty(); ++i) {
    const size_t at = random() % text.size();
    switch (random() % 6) {
      case 0:
        text[at] = static_cast<char>(random());
        break;
      case 1:
        text.erase(at, 1 + random() % 40);
        break;
      case 2:
        text.insert(at, text.substr(random() % text.size(), random() % 60));
        break;
      case 3:
        text.resize(at);
        break;
      case 4:
        text.insert(at, std::array<const char*, 8>{"nan", "-1e308", "1e999", ",,,,", "<", "\xff",
                                                   "999999999999", "\n\n"}[random() % 8]);
        break;
      default:
        std::swap(text[at], text[random() % text.size()]);
        break;
    }
  }
  return text;
}

template <class Read>
bool readsOrRefuses(Read&& read) {
  try {
    read();
    return true;
  } catch (const Error& e) {
    return !e.problem().empty() && std::string(e.what()).find('\n') == std::string::npos;
  }
}

}  // namespace

class TestBrokenFiles : public QObject {
  Q_OBJECT
 private slots:
  void stitchLists() {
    std::mt19937 random = testing::seeded(111);
    const std::string good = writeStitchCsv(testing::wander(random, 120, 40));
    for (int i = 0; i < 250; ++i) {
      const std::string text = mutated(good, random);
      QVERIFY(readsOrRefuses([&] { statisticsOf(readStitchCsv(text, "mutant").pattern, {}); }));
    }
  }
  void stitchDrawings() {
    std::mt19937 random = testing::seeded(112);
    const std::string good = writeStitchSvg(testing::wander(random, 120, 40));
    for (int i = 0; i < 150; ++i) {
      const std::string text = mutated(good, random);
      QVERIFY(readsOrRefuses([&] { readStitchSvg(text, "mutant"); }));
    }
  }
  void artwork() {
    std::mt19937 random = testing::seeded(113);
    const std::string good = readFile(dataFolder() / "demo" / "feather.svg");
    for (int i = 0; i < 100; ++i) {
      const std::string text = mutated(good, random);
      QVERIFY(readsOrRefuses([&] { readArtwork(text, "mutant"); }));
    }
  }
  void pathData() {
    std::mt19937 random = testing::seeded(114);
    for (int i = 0; i < 500; ++i) {
      const std::string text = mutated(
          "M10,20 c5-5 10 0 15,5 S3 4 5 6 q1 2 3 4 t5 5 A10 5 30 1 0 4 4 h5 v-6 l1.5.5 z m3 3 z",
          random);
      QVERIFY(readsOrRefuses([&] { parsePath(text, 0.05, "mutant"); }));
    }
  }
};

RT_TEST(TestBrokenFiles)

}  // namespace test_broken_files
#include "test_broken_files.moc"
