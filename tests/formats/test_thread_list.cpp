#include <QTemporaryDir>
#include <QtTest>

#include "data_folder.h"
#include "error.h"
#include "file_io.h"
#include "random_pattern.h"
#include "run.h"
#include "thread_list.h"

namespace test_thread_list {

using namespace rt;

class TestThreadList : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  std::filesystem::path written(const std::string& text) {
    const std::filesystem::path file = dir_.filePath("threads.csv").toStdString();
    writeFile(file, text);
    return file;
  }

  QString problem(const std::string& text) {
    try {
      readThreads(written(text));
    } catch (const Error& e) {
      return e.what();
    }
    return {};
  }

 private slots:
  void theShopsOwnListIsRead() {
    const std::vector<ShelfThread> shelf = readThreads(dataFolder() / "threads.csv");
    QVERIFY(shelf.size() >= 20);
    for (const ShelfThread& t : shelf) QVERIFY(!t.code.empty() && !t.name.empty() && t.metres > 0);
  }
  void listsComeBackAsTheyWere() {
    std::mt19937 random = testing::seeded(271);
    std::vector<ShelfThread> shelf;
    for (int i = 0; i < 300; ++i)
      shelf.push_back({"T" + std::to_string(i),
                       "name " + std::to_string(random() % 99),
                       {static_cast<uint32_t>(random() & 0xffffff)},
                       static_cast<double>(random() % 2000)});
    QCOMPARE(readThreads(written(threadsCsv(shelf))), shelf);
  }
  void columnsAreFoundByName() {
    const auto shelf = readThreads(written("metres,colour,shade\n20,#aabbcc,x\n"));
    QCOMPARE(shelf.size(), size_t{1});
    QCOMPARE(shelf[0].colour.rgb, 0xaabbccu);
    QCOMPARE(shelf[0].metres, 20.0);
    QVERIFY(shelf[0].code.empty());
  }
  void marksBlanksAndLineEndsAreAllowed() {
    const auto shelf =
        readThreads(written("\xEF\xBB\xBF# mine\r\n\r\ncode , colour\r\n A1 , #0a0B0c \r\n"));
    QCOMPARE(shelf.size(), size_t{1});
    QCOMPARE(shelf[0].code, std::string("A1"));
    QCOMPARE(shelf[0].colour.rgb, 0x0a0b0cu);
  }
  void whatIsWrongIsSaidWithItsLine() {
    QVERIFY(problem("").contains("no thread"));
    QVERIFY(problem("code,name\nA,b\n").contains("colour"));
    QVERIFY(problem("colour\n#12345\n").contains("line 2"));
    QVERIFY(problem("colour\n\n#12345g\n").contains("line 3"));
    QVERIFY(problem("colour,metres\n#123456,many\n").contains("metres"));
    QVERIFY(problem("colour,metres\n#123456,-4\n").contains("metres"));
    QVERIFY_THROWS_EXCEPTION(Error, readThreads(dir_.filePath("none.csv").toStdString()));
  }
};

RT_TEST(TestThreadList)

}  // namespace test_thread_list
#include "test_thread_list.moc"
