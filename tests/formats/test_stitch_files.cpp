#include <QTemporaryDir>
#include <QtTest>

#include "error.h"
#include "file_io.h"
#include "random_pattern.h"
#include "run.h"
#include "stitch_file.h"
#include "stitch_svg.h"

namespace test_stitch_files {

using namespace rt;

namespace {

const std::string kHead = "# rapt-stitches 1\nx_mm,y_mm,op,thread\n";

Pattern read(const std::string& text) {
  return readStitchCsv(text, "test").pattern;
}

}  // namespace

class TestStitchFiles : public QObject {
  Q_OBJECT
 private slots:
  void readsTheContractsExample() {
    const ReadResult r = readStitchCsv(
        "# rapt-stitches 1\n# title: reed "
        "bunting\nx_mm,y_mm,op,thread\n0.00,0.00,jump,#2f5d50\n0.00,2.10,stitch,#2f5d50\n",
        "test");
    QCOMPARE(r.pattern.title, std::string("reed bunting"));
    QCOMPARE(r.pattern.stitches.size(), size_t{2});
    QCOMPARE(r.pattern.stitches[1].at, (Point{0, 2.1}));
    QCOMPARE(r.warnings.size(), size_t{1});  // no end row
  }
  void readsLooseWriting() {
    const Pattern p = read(
        "\xEF\xBB\xBF# rapt-stitches "
        "1\r\n\r\nop,thread,extra,y_mm,x_mm\r\nstitch,#AABBCC,zz,+1.5,1e1\r\n\r\n# a "
        "comment\r\nend,#AABBCC,,,\r\n");
    QCOMPARE(p.stitches[0].at, (Point{10, 1.5}));
    QCOMPARE(p.threads[0].hex(), std::string("#aabbcc"));
    QCOMPARE(p.stitches[1].op, Op::End);
  }
  void refusesWithTheLine_data() {
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("says");
    QTest::newRow("empty") << QByteArray() << QByteArray("line");
    QTest::newRow("version 2") << QByteArray("# rapt-stitches 2\n") << QByteArray("version \"2\"");
    QTest::newRow("no header") << QByteArray("hello\n") << QByteArray("line 1");
    QTest::newRow("no columns") << QByteArray("# rapt-stitches 1\n") << QByteArray("column names");
    QTest::newRow("missing column")
        << QByteArray("# rapt-stitches 1\nx_mm,y_mm,op\n") << QByteArray("\"thread\"");
    QTest::newRow("twice") << QByteArray("# rapt-stitches 1\nx_mm,y_mm,op,thread,op\n")
                           << QByteArray("twice");
    QTest::newRow("nan") << QByteArray(kHead.c_str()) + "nan,0,stitch,#000000\n"
                         << QByteArray("line 3");
    QTest::newRow("inf") << QByteArray(kHead.c_str()) + "0,inf,stitch,#000000\n"
                         << QByteArray("line 3");
    QTest::newRow("far") << QByteArray(kHead.c_str()) + "100001,0,stitch,#000000\n"
                         << QByteArray("100,000");
    QTest::newRow("word") << QByteArray(kHead.c_str()) + "0,0,stitch,#000000\nx,0,stitch,#000000\n"
                          << QByteArray("line 4");
    QTest::newRow("op") << QByteArray(kHead.c_str()) + "0,0,sew,#000000\n" << QByteArray("\"sew\"");
    QTest::newRow("colour") << QByteArray(kHead.c_str()) + "0,0,stitch,red\n"
                            << QByteArray("\"red\"");
    QTest::newRow("cut short") << QByteArray(kHead.c_str()) + "0,0,sti" << QByteArray("line 3");
    QTest::newRow("after end") << QByteArray(kHead.c_str()) +
                                      "0,0,end,#000000\n0,0,stitch,#000000\n"
                               << QByteArray("after the end");
    QTest::newRow("not utf-8") << QByteArray(kHead.c_str()) + "# \xff\n" << QByteArray("UTF-8");
    QTest::newRow("nul") << QByteArray(kHead.c_str()) + QByteArray("0,0,\0stitch,#000000\n", 20)
                         << QByteArray("UTF-8");
  }
  void refusesWithTheLine() {
    QFETCH(QByteArray, text);
    QFETCH(QByteArray, says);
    try {
      readStitchCsv(text.toStdString(), "file.csv");
      QFAIL("was read");
    } catch (const Error& e) {
      QVERIFY2(QByteArray(e.what()).contains(says), e.what());
      QVERIFY(QByteArray(e.what()).contains("file.csv"));
      QVERIFY(!e.remedy().empty());
    }
  }
  void writtenListsReadBack() {
    std::mt19937 random = testing::seeded(101);
    for (int i = 0; i < 30; ++i) {
      Pattern p = testing::wander(random, 300, 80);
      p.title = "wander";
      p.pieces.push_back("heron");
      for (Stitch& s : p.stitches) {
        s.at = {std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100};
        s.kind = static_cast<Kind>(random() % 8);
        s.piece = random() % 2;
        s.block = random() % 9;
      }
      const std::string text = writeStitchCsv(p);
      Pattern back = read(text);
      back.stitches.pop_back();  // the end row
      QCOMPARE(back.stitches.size(), p.stitches.size());
      for (size_t k = 0; k < p.stitches.size(); ++k) {
        QCOMPARE(back.stitches[k].at, p.stitches[k].at);
        QCOMPARE(back.colourOf(back.stitches[k]), p.colourOf(p.stitches[k]));
        QCOMPARE(back.stitches[k].kind, p.stitches[k].kind);
      }
      QCOMPARE(writeStitchCsv(read(text)), text);
    }
  }
  void drawingsKeepThreadAndColours() {
    std::mt19937 random = testing::seeded(102);
    for (int i = 0; i < 20; ++i) {
      Pattern p = testing::wander(random, 200, 60);
      for (Stitch& s : p.stitches)
        s.at = {std::round(s.at.x * 100) / 100, std::round(s.at.y * 100) / 100};
      const std::string svg = writeStitchSvg(p);
      QVERIFY(isStitchSvg(svg));
      const Pattern back = readStitchSvg(svg, "test").pattern;
      QVERIFY(std::abs(testing::sewnLength(back) - testing::sewnLength(p)) < 0.01);
      const QStringList again = QString::fromStdString(writeStitchSvg(back)).split('\n'),
                        first = QString::fromStdString(svg).split('\n');
      for (qsizetype k = 0; k < std::min(again.size(), first.size()); ++k)
        QCOMPARE(again[k], first[k]);
      QCOMPARE(again.size(), first.size());
    }
  }
  void numbersAreReadExactly() {
    std::mt19937 random = testing::seeded(103);
    for (int i = 0; i < 3000; ++i) {
      char text[40];
      std::snprintf(text, sizeof text, random() % 2 ? "%.*f" : "%.*e",
                    static_cast<int>(random() % 10), testing::between(random, -99999, 99999));
      const Pattern p = read(kHead + text + ",0,stitch,#000000\n");
      QCOMPARE(p.stitches[0].at.x, std::strtod(text, nullptr));
    }
  }
  void foldersAndMissingFilesAreNamed() {
    QVERIFY_THROWS_EXCEPTION(Error, readStitchFile("/"));
    QVERIFY_THROWS_EXCEPTION(Error, readStitchFile("/no/such/file.csv"));
  }
  void filesAppearWholeOrNotAtAll() {
    QTemporaryDir dir;
    const std::string file = dir.filePath("a.csv").toStdString();
    writeFile(file, "first");
    QVERIFY_THROWS_EXCEPTION(Error, writeFile(dir.filePath("none/b.csv").toStdString(), "x"));
    writeFile(file, "second");
    QCOMPARE(readFile(file), std::string("second"));
    QCOMPARE(QDir(dir.path()).entryList(QDir::Files).size(), 1);
  }
};

RT_TEST(TestStitchFiles)

}  // namespace test_stitch_files
#include "test_stitch_files.moc"
