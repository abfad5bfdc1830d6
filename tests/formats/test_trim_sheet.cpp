#include <QtTest>

#include "error.h"
#include "file_io.h"
#include "random_pattern.h"
#include "run.h"
#include "strand.h"
#include "trim_sheet.h"

namespace test_trim_sheet {

using namespace rt;

namespace {

Pattern spots(int n) {
  Pattern p;
  for (int i = 0; i < n; ++i) {
    Strand s;
    const Point at{(i % 20) * 9.0, (i / 20) * 9.0};
    for (int k = 0; k < 5; ++k) s.add(at + Point{k * 1.0, k % 2 ? 1.0 : 0.0}, Kind::Run);
    appendStrands(p, std::vector{s}, {{0x8a5a2b}, "spot"});
  }
  return p;
}

}  // namespace

class TestTrimSheet : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  std::filesystem::path path(const char* name) { return folder_.filePath(name).toStdString(); }

 private slots:
  void withoutCutsThereIsNoSheet() {
    QVERIFY_THROWS_EXCEPTION(Error, writeTrimSheet(spots(1), {}, path("none.pdf")));
    QVERIFY(!std::filesystem::exists(path("none.pdf")));
  }
  void twelveToAPage() {
    const TrimSheetResult r = writeTrimSheet(spots(26), {}, path("trims.pdf"));
    QCOMPARE(r.cuts, size_t{25});
    QCOMPARE(r.pages, 3);
    QCOMPARE(r.by_hand, size_t{0});
    const std::string pdf = readFile(path("trims.pdf"));
    QVERIFY(pdf.starts_with("%PDF"));
    QCOMPARE(QByteArray::fromStdString(pdf).count("/Type /Page "), qsizetype{3});
  }
  void onlyTheScissors() {
    Pattern p = spots(6);
    std::erase_if(p.stitches,
                  [&, n = 0](const Stitch& s) mutable { return s.op == Op::Trim && n++ % 2 == 0; });
    TrimSheetOptions o;
    o.only_by_hand = true;
    const TrimSheetResult r = writeTrimSheet(p, o, path("hand.pdf"));
    QCOMPARE(r.cuts, r.by_hand);
    QVERIFY(r.cuts > 0 && r.cuts < 5);
  }
};

RT_TEST(TestTrimSheet)

}  // namespace test_trim_sheet
#include "test_trim_sheet.moc"
