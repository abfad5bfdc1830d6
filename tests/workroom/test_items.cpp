// Items and their places under a job, what to shop for, and jobs repeated with another text.
#include <QTemporaryDir>
#include <QtTest>

#include "demo.h"
#include "error.h"
#include "file_io.h"
#include "items.h"
#include "proof_words.h"
#include "random_pattern.h"
#include "run.h"
#include "thread_shelf.h"

namespace test_items {

using namespace rt;

class TestItems : public QObject {
  Q_OBJECT
  Bench bench_;

  static const Piece* textPiece(const Job& job) {
    for (const Piece& p : job.pieces)
      if (std::holds_alternative<TextSource>(p.source)) return &p;
    return nullptr;
  }
  double advance(const Job& job, const Piece& p) const {
    return letteringOf(std::get<TextSource>(p.source), clothOf(job.brief, bench_), bench_)
        .advance_mm;
  }

 private slots:
  void initTestCase() { bench_ = openBench(); }

  void everyPlaceOfEveryItemCanBeLaid() {
    const std::vector<Item> items = itemsOf(bench_);
    QVERIFY(items.size() >= 5);
    for (const Item& item : items) {
      fabricById(bench_.shop.fabrics, item.fabric);  // it is one of the shop's
      QVERIFY(!adviceFor(item.fabric, bench_).empty());
      for (const ItemPlace& place : item.places)
        for (size_t size = 0; size < item.sizes.size(); ++size) {
          QVERIFY(!place.reason.empty() && !place.held_reason.empty());
          Job empty;
          empty.id = "job";
          const Job job = checked(actions::laidOn(empty, item, place, size, bench_));
          QCOMPARE(job.brief.fabric, item.fabric);
          QCOMPARE(job.zones.size(), place.edges.size());
          const Box room = Box::around({}, job.brief.place_width_mm, job.brief.place_height_mm);
          for (const Zone& z : job.zones) {
            QVERIFY(!boundsOf(z.polygon_mm).overlaps(room));  // edges lie beside the place
            QVERIFY(boundsOf(z.polygon_mm).width() > 0 && boundsOf(z.polygon_mm).height() > 0);
          }
          if (size > 0)  // larger garments have no smaller places
            QVERIFY(forSize(place.width_mm, size) >= forSize(place.width_mm, size - 1));
        }
    }
  }

  void anotherItemTakesTheEdgesOfTheOneBeforeAway() {
    const std::vector<Item> items = itemsOf(bench_);
    Job job =
        actions::withZone({}, {"my stain", ZoneKind::KeepOut, {{0, 0}, {9, 0}, {9, 9}}, 1, 0});
    for (const Item& item : items)
      for (const ItemPlace& place : item.places) {
        job = actions::laidOn(std::move(job), item, place, 0, bench_);
        QCOMPARE(job.zones.size(), place.edges.size() + 1);
        QCOMPARE(job.zones.front().name, std::string("my stain"));
      }
  }

  void anEdgeStandsOnItsSide() {
    std::mt19937 random = testing::seeded(81);
    for (int i = 0; i < 40; ++i) {
      const double w = testing::between(random, 10, 300), h = testing::between(random, 10, 300);
      ItemEdge e{"hem",
                 ZoneKind::Thick,
                 static_cast<Side>(i % 4),
                 testing::between(random, 0, 50),
                 testing::between(random, 1, 60),
                 3};
      const Box b = boundsOf(zoneOf(e, w, h).polygon_mm);
      const double gap = e.side == Side::Left    ? -w / 2 - b.right
                         : e.side == Side::Right ? b.left - w / 2
                         : e.side == Side::Top   ? -h / 2 - b.bottom
                                                 : b.top - h / 2;
      QVERIFY(std::abs(gap - e.gap_mm) < 1e-9);
      const bool level = e.side == Side::Top || e.side == Side::Bottom;
      QVERIFY(std::abs((level ? b.height() : b.width()) - e.depth_mm) < 1e-9);
      QVERIFY((level ? b.width() : b.height()) > (level ? w : h));
    }
  }

  void whatIsNotThereIsNamed() {
    const std::vector<Item> items = itemsOf(bench_);
    QVERIFY_THROWS_EXCEPTION(Error, itemById(items, "sail"));
    QVERIFY_THROWS_EXCEPTION(Error, placeById(items[0], "sole"));
    QVERIFY_THROWS_EXCEPTION(Error, sizeByName(items[0], "XXXXL"));
    QTemporaryDir dir;
    const auto file = [&](const char* text) {
      const std::filesystem::path path = dir.filePath("items.json").toStdString();
      writeFile(path, text);
      return path;
    };
    const char* const bad[] = {
        R"({"items":[{"id":"a","name":"A","fabric":"felt","sizes":[],"places":[]}]})",
        R"({"items":[{"id":"a","name":"A","fabric":"felt","sizes":["S","M"],"places":[{"id":"p","name":"P","reason":"r","width_mm":[1,2,3],"height_mm":[4],"measures":[],"edges":[],"held":"hooped","held_reason":"h"}]}]})",
        R"({"items":[{"id":"a","name":"A","fabric":"felt","sizes":["S"],"places":[{"id":"p","name":"P","reason":"r","width_mm":[-1],"height_mm":[4],"measures":[],"edges":[],"held":"hooped","held_reason":"h"}]}]})",
        R"({"items":[{"id":"a","name":"A","fabric":"felt","sizes":["S"],"places":[{"id":"p","name":"P","reason":"r","width_mm":[9],"height_mm":[4],"measures":[],"edges":[],"held":"glued","held_reason":"h"}]}]})",
        R"({"items":[{"id":"a","name":"A","fabric":"f","sizes":["S"],"places":[]},{"id":"a","name":"B","fabric":"f","sizes":["S"],"places":[]}]})",
        "{}",
        "[]",
        "no json"};
    for (const char* text : bad) QVERIFY_THROWS_EXCEPTION(Error, readItems(file(text)));
  }

  void theListAddsUpWithWhatIsSewn() {
    const Job job = demoJob(bench_, "wardens-gilet");
    const auto one = shoppingFor(sewnLayout(job), job.brief, nullptr, 1, bench_),
               ten = shoppingFor(sewnLayout(job), job.brief, nullptr, 10, bench_);
    double thread = 0;
    const Fabric& fabric = fabricById(bench_.shop.fabrics, job.brief.fabric);
    for (const ThreadNeed& n : threadNeeds(
             sewnLayout(job), {fabric.thickness_mm, bench_.shop.practice.sewing.bobbin_share}))
      thread += n.top_mm / 1000;
    double listed = 0;
    for (const ShoppingLine& l : one)
      if (l.what.starts_with("Thread ")) listed += l.amount;
    QVERIFY(std::abs(listed - 1.1 * thread) < 1e-6 * listed);
    QCOMPARE(one.size(), ten.size());
    for (size_t i = 0; i < one.size(); ++i) {
      QVERIFY(!one[i].why.empty() && one[i].amount > 0);
      if (one[i].unit != "pieces" || i == 0)
        QVERIFY(std::abs(ten[i].amount - 10 * one[i].amount) < 1e-6 * ten[i].amount);
      QVERIFY(ten[i].packs >= one[i].packs);
    }
    QVERIFY_THROWS_EXCEPTION(Error, shoppingFor(sewnLayout(job), job.brief, nullptr, 0, bench_));
  }

  void aTextThatFitsIsNoLongerThanTheOneBefore() {
    Job job = demoJob(bench_, "wardens-gilet");
    const Piece* piece = textPiece(job);
    QVERIFY(piece);
    const int id = piece->id;
    const double room = advance(job, *piece),
                 height = std::get<TextSource>(piece->source).height_mm;
    std::mt19937 random = testing::seeded(82);
    for (int i = 0; i < 8; ++i) {
      std::string text;
      for (size_t n = 1 + random() % 24; text.size() < n;)
        text += static_cast<char>('A' + random() % 26);
      const Job next = actions::fitted(job, id, text, bench_);
      const Piece& now = actions::pieceOf(next, id);
      QCOMPARE(std::get<TextSource>(now.source).text, text);
      QVERIFY(advance(next, now) <= room + 0.01);
      QVERIFY(std::get<TextSource>(now.source).height_mm <= height + 1e-9);
      // only as much smaller as it takes
      if (std::get<TextSource>(now.source).height_mm < height)
        QVERIFY(advance(next, now) > 0.9 * room);
    }
  }

  void aJobIsRepeatedForAnotherText() {
    Job job = demoJob(bench_, "hide-banner");
    QVERIFY(proofOf(job).empty());
    job.proof_accepted = proofKey(job);
    const Job next = actions::repeatedFor(job, "SEDGEMERE HIDE", bench_);
    QVERIFY2(proofOf(next).empty(), proofOf(next).c_str());
    QVERIFY(!proofAccepted(next));  // it has to be read anew
    QCOMPARE(next.pieces.size(), job.pieces.size());
    for (size_t i = 0; i < next.pieces.size(); ++i)
      if (!std::holds_alternative<TextSource>(job.pieces[i].source))
        QVERIFY(next.pieces[i] == job.pieces[i]);
    QVERIFY(next.brief.item == job.brief.item && next.zones == job.zones);
  }

  void linesGoToThePiecesThatSewThem() {
    Job job;
    job.brief.order_text = "MARSH WARDEN\nQuillfen\n2031";
    TextSource first, second;
    first.text = "MARSH WARDEN";
    second.text = "Quillfen\n2031";
    for (const TextSource& t : {first, second})
      job = actions::added(job, pieceFromText(t, clothOf(job.brief, bench_), bench_).piece);
    const Job next = actions::repeatedFor(job, "REED CUTTER\nSedgemere\n2032", bench_);
    QCOMPARE(std::get<TextSource>(next.pieces[0].source).text, std::string("REED CUTTER"));
    QCOMPARE(std::get<TextSource>(next.pieces[1].source).text, std::string("Sedgemere\n2032"));
    QVERIFY2(proofOf(next).empty(), proofOf(next).c_str());
  }
};

RT_TEST(TestItems)

}  // namespace test_items
#include "test_items.moc"
