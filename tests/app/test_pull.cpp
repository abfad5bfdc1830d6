// How the cloth moves, through the window: what is followed, learned, kept and forgotten; and that
// list, file and sewn layout say the same at every step.
#include "actions.h"
#include "cloth_file.h"
#include "comes.h"
#include "data_folder.h"
#include "file_io.h"
#include "job_file.h"
#include "run.h"
#include "shelf.h"
#include "springs.h"
#include "swatch.h"
#include "window_driver.h"

namespace test_pull {

using namespace rt;
using testing::WindowDriver;

constexpr const char* kFabric = "jersey";

class TestPull : public QObject {
  Q_OBJECT

  static void begin(WindowDriver& w) {
    Job job = actions::onFabric({}, kFabric, w.desk->bench());
    job.id = "pull";
    job.plan_settings.hoop = "field-100x100";
    TextSource text;
    text.text = "FEN";
    text.height_mm = 20;
    Piece piece = pieceFromText(text, w.desk->fabric(), w.desk->bench()).piece;
    piece.id = job.next_piece_id++;
    job.pieces.push_back(piece);
    w.desk->take(std::move(job), {});
    QVERIFY(w.show());
    w.key(Qt::Key_1);
    w.desk->settle();
  }
  /// Every study has its answer.
  static bool settled(WindowDriver& w) {
    return testing::comes([&] { return !w.desk->studies().busy(); });
  }
  static QString words(WindowDriver& w, const char* name) {
    auto* label = w.find<QLabel>(name);
    return label ? label->text() : QString();
  }
  static double height(const Pattern& p) { return threadBounds(p).height(); }

 private slots:
  void theJobFollowsWhatIsChosen() {
    WindowDriver w;
    begin(w);
    const Pattern drawn = w.desk->layout();
    w.choose("followCloth", "by starting values");
    QVERIFY(settled(w));
    QVERIFY(w.desk->job().sequence.cloth);
    QVERIFY(!(w.desk->layout() == drawn));
    QCOMPARE(w.desk->layout().stitches.size(), drawn.stitches.size());
    // sewn taller, for the cloth draws it in; and what is weighed is what is sewn
    QVERIFY(height(w.desk->layout()) > height(drawn));
    QVERIFY(w.desk->weighingCurrent());
    QVERIFY2(words(w, "pullWords").contains("Needle points are moved"),
             qPrintable(words(w, "pullWords")));
    QVERIFY(words(w, "pullWords").contains("starting values"));
    // the file holds it
    const std::filesystem::path file = w.folder.filePath("pull.rapt").toStdString();
    saveWork(w.desk->document().work(), file);
    QVERIFY(sewnLayout(loadWork(file).job) == w.desk->layout());
    // another fabric moves otherwise: nothing is followed there
    w.desk->change("fabric", actions::onFabric(w.desk->job(), "canvas", w.desk->bench()));
    QVERIFY(settled(w));
    QVERIFY(!w.desk->job().sequence.cloth);
    w.desk->undo().undo();
    QVERIFY(settled(w));
    QVERIFY(w.desk->job().sequence.cloth);
    w.choose("followCloth", "where they are drawn");
    QVERIFY(settled(w));
    QVERIFY(w.desk->layout() == drawn);
  }

  /// The swatch is made, sewn on cloth of springs, photographed and learned from; the job follows
  /// it without pull besides, the shop keeps it for the next start, and forgets it when it is told.
  void aPhotoOfTheSwatchTeaches() {
    std::mt19937 random = testing::seeded(941);
    WindowDriver w;
    begin(w);
    const Hoop frame = hoopFor(w.desk->bench().shop.hoops, w.desk->job().plan_settings.hoop);
    const Pattern swatch = learningSwatch(w.desk->shopFabric()).pattern;
    MovingCloth cloth(frame.field.width_mm, frame.field.height_mm, clothMake(kFabric, 3), 3);
    Scene scene = testing::sceneOf(swatch, sewnOn(cloth, swatch), frame.tags);
    scene.hoop_tag_mm = frame.tag_size_mm, scene.tag_height_mm = frame.tag_height_mm;
    const std::string jpeg = testing::photosOf(scene, random, 1, 260, 2200)[0].jpeg(93);
    w.asker->next = w.folder.filePath("nothing.jpg");
    w.click("pullPhoto");
    QVERIFY(settled(w));
    QVERIFY(words(w, "pullLesson").contains("nothing.jpg"));
    QVERIFY(!w.desk->shop().cloth(kFabric));

    w.asker->next = w.folder.filePath("swatch.jpg");
    writeFile(w.asker->next.toStdString(), jpeg);
    w.click("pullPhoto");
    QVERIFY(settled(w));
    QVERIFY2(words(w, "pullLesson").contains("places of the swatch were found"),
             qPrintable(words(w, "pullLesson")));
    const auto known = w.desk->shop().cloth(kFabric);
    QVERIFY(known);
    QCOMPARE(known->learned_from, 1);
    QVERIFY(!w.desk->job().sequence.cloth);  // learning is not yet following

    const double before = height(w.desk->layout());
    w.choose("followCloth", "by what 1 swatch");
    QVERIFY(settled(w));
    QCOMPARE(w.desk->job().sequence.cloth, known);
    QCOMPARE(w.desk->fabric().pull_compensation_mm, 0.0);
    QVERIFY(std::abs(height(w.desk->layout()) - before) < 1.0);
    QVERIFY(words(w, "pullWords").contains("of the drawing"));
    QVERIFY(!words(w, "pullWords").contains("starting values"));

    // another start of the same shop knows it
    Desk again(openBench(), DeskFolders{w.folder.path().toStdString()});
    QVERIFY(again.shop().cloth(kFabric));
    QCOMPARE(clothJson(*again.shop().cloth(kFabric)), clothJson(*known));

    // a bad photo after it takes nothing away; the good one teaches no second time
    w.asker->next = w.folder.filePath("nothing.jpg");
    w.click("pullPhoto");
    QVERIFY(settled(w));
    QVERIFY(words(w, "pullLesson").contains("nothing.jpg"));
    QCOMPARE(w.desk->shop().cloth(kFabric), known);
    w.asker->next = w.folder.filePath("swatch.jpg");
    w.click("pullPhoto");
    QVERIFY(settled(w));
    QCOMPARE(w.desk->shop().cloth(kFabric), known);

    w.click("forgetCloth");
    QVERIFY(settled(w));
    QVERIFY(!w.desk->shop().cloth(kFabric));
    QVERIFY(!w.desk->job().sequence.cloth);
    QCOMPARE(w.find<QComboBox>("followCloth")->count(), 2);
    // once more from the beginning, as somebody does who pressed the wrong button
    w.click("pullPhoto");
    QVERIFY(settled(w));
    QCOMPARE(w.desk->shop().cloth(kFabric), known);
  }

  /// A job that was learned for elsewhere keeps what it follows, though this shop knows nothing;
  /// what is shown is of the job in hand alone.
  void whatTheJobFollowsStays() {
    WindowDriver w;
    begin(w);
    ClothKnown elsewhere = startingCloth(dataFolder(), kFabric);
    elsewhere.learned_from = 3;
    w.desk->change("follow", actions::onClothKnown(w.desk->job(), elsewhere, w.desk->bench()));
    QVERIFY(settled(w));
    auto* box = w.find<QComboBox>("followCloth");
    QVERIFY2(box->currentText().startsWith("as learned before, from 3"),
             qPrintable(box->currentText()));
    emit box->activated(box->currentIndex());  // the list is opened, and what stands is taken
    QVERIFY(settled(w));
    QCOMPARE(w.desk->job().sequence.cloth, std::optional(elsewhere));
    QVERIFY(words(w, "pullWords").contains("of the drawing"));
    Job empty = w.desk->job();
    empty.pieces.clear();
    w.desk->change("all away", empty);
    QVERIFY(settled(w));
    QVERIFY2(words(w, "pullWords").startsWith("Lay something"), qPrintable(words(w, "pullWords")));
    w.desk->undo().undo();
    QVERIFY(settled(w));
    QVERIFY(words(w, "pullWords").contains("of the drawing"));
  }

  void theSwatchIsAJobOfItsOwn() {
    WindowDriver w;
    begin(w);
    w.click("pullSwatch");
    QVERIFY(settled(w));
    QCOMPARE(w.desk->job().brief.fabric, std::string(kFabric));
    QCOMPARE(countRows(w.desk->layout().stitches, Op::Stitch),
             countRows(learningSwatch(w.desk->shopFabric()).pattern.stitches, Op::Stitch));
    QVERIFY(threadBounds(w.desk->layout()).width() <= 60);
    QVERIFY(std::abs(threadBounds(w.desk->layout()).centre().x) < 0.5);
  }
};

RT_TEST(TestPull)

}  // namespace test_pull

#include "test_pull.moc"
