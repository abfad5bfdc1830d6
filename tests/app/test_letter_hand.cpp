// Lettering under the hand, without a window: what keys and drags make of a text.
#include <QApplication>
#include <QTemporaryDir>
#include <QtTest>

#include "demo.h"
#include "letter_hand.h"
#include "run.h"

namespace test_letter_hand {

using namespace rt;

class TestLetterHand : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::unique_ptr<Desk> desk_;
  std::unique_ptr<LetterHand> hand_;
  Eye eye_;

  const TextSource& kept() { return std::get<TextSource>(desk_->job().pieces[0].source); }
  const TextSource& draft() { return std::get<TextSource>(hand_->draft()->source); }
  bool press(int key, const QString& text = {}, Qt::KeyboardModifiers m = {}) {
    return hand_->key(QKeyEvent(QEvent::KeyPress, key, m, text));
  }
  void write(const QString& text) {
    for (QChar c : text) QVERIFY(press(c.unicode() < 128 ? c.unicode() : 0, c));
  }

 private slots:
  void init() {
    desk_ = std::make_unique<Desk>(openBench(), DeskFolders{dir_.path().toStdString()});
    Job job;
    job.id = "hand";
    TextSource t;
    t.text = "FEN";
    job.pieces.push_back(pieceFromText(t, desk_->fabric(), desk_->bench()).piece);
    job.pieces[0].id = job.next_piece_id++;
    desk_->take(std::move(job), {});
    desk_->select(1);
    desk_->settle();
    hand_ = std::make_unique<LetterHand>(*desk_);
    eye_.px_per_mm = 4;
    eye_.centre_px = {400, 300};
    eye_.view = QRectF(0, 0, 800, 600);
  }

  void nothingBeginsWithoutLettering() {
    desk_->select(0);
    QVERIFY(!hand_->beginTyping());
    QVERIFY(!hand_->handle(eye_));
    QVERIFY(!press(Qt::Key_A, "a"));
  }
  void keysAreLettersUntilEnter() {
    QVERIFY(hand_->beginTyping());
    write(" é2");
    QCOMPARE(draft().text, std::string("FEN é2"));
    QCOMPARE(kept().text, std::string("FEN"));
    QVERIFY(press(Qt::Key_Return));
    QVERIFY(!hand_->typing());
    QVERIFY(!hand_->draft());
    QCOMPARE(kept().text, std::string("FEN é2"));
    QCOMPARE(desk_->undo().count(), 1);
  }
  void theCaretGoesWhereItIsSent() {
    hand_->beginTyping();
    press(Qt::Key_Home);
    write("A");
    press(Qt::Key_End);
    write("Z");
    press(Qt::Key_Left);
    press(Qt::Key_Left);
    press(Qt::Key_Backspace);
    press(Qt::Key_Delete);
    QCOMPARE(draft().text, std::string("AFZ"));
    press(Qt::Key_Return, {}, Qt::ShiftModifier);
    QCOMPARE(draft().text, std::string("AF\nZ"));
    for (int k = 0; k < 9; ++k) press(Qt::Key_Right);  // stops at the end
    write("!");
    QCOMPARE(draft().text, std::string("AF\nZ!"));
  }
  void anEmptyTextIsRefusedAndTheOldOneStays() {
    QStringList problems;
    QObject listener;  // no longer than what it writes into
    connect(desk_.get(), &Desk::failed, &listener, [&](const QString& p) { problems << p; });
    hand_->beginTyping();
    for (int k = 0; k < 5; ++k) press(Qt::Key_Backspace);
    QCOMPARE(draft().text, std::string());
    press(Qt::Key_Return);
    QCOMPARE(kept().text, std::string("FEN"));
    QCOMPARE(problems.size(), qsizetype{1});
  }
  void escapeGivesUp() {
    hand_->beginTyping();
    write("zz");
    press(Qt::Key_Escape);
    QVERIFY(!hand_->draft());
    QCOMPARE(kept().text, std::string("FEN"));
    QCOMPARE(desk_->undo().count(), 0);
    hand_->beginTyping();
    QVERIFY(!press(Qt::Key_Z, "z", Qt::ControlModifier));  // shortcuts go on to the window
  }
  void whatOthersChangeIsNotTypedOver() {
    hand_->beginTyping();
    write("x");
    Job next = desk_->job();
    next.brief.item = "other";  // not this piece: typing goes on
    desk_->change("item", next);
    hand_->refresh();
    QVERIFY(hand_->draft());
    next.pieces[0].place.at.x += 5;
    desk_->change("move", next);
    hand_->refresh();
    QVERIFY(!hand_->draft());
    QVERIFY(!hand_->typing());
  }
  /// The bow that the hand pulls is the bow that is sewn, its length kept; flat enough is straight.
  void bendsByTheHand() {
    const double length = desk_->lettering(desk_->job().pieces[0])->advance_mm;
    for (double pull : {-30.0, -12.0, 12.0, 30.0}) {
      const QPointF grip = *hand_->handle(eye_);
      QVERIFY(!hand_->press(grip + QPointF(40, 40), eye_));
      QVERIFY(hand_->press(grip, eye_));
      hand_->drag(grip + QPointF(0, pull), eye_);
      QVERIFY(hand_->draft());
      hand_->release();
      const TextSource& t = kept();
      QVERIFY(t.arc_radius_mm > 0);
      QCOMPARE(t.arc_side, pull < 0 ? ArcSide::Outside : ArcSide::Inside);
      const double sagitta = t.arc_radius_mm * (1 - std::cos(length / 2 / t.arc_radius_mm));
      QVERIFY2(std::abs(sagitta - std::abs(pull) / eye_.px_per_mm) < 0.15,
               qPrintable(QString("%1 mm").arg(sagitta)));
      desk_->undo().undo();
      QCOMPARE(kept().arc_radius_mm, 0.0);
    }
    const QPointF grip = *hand_->handle(eye_);
    hand_->press(grip, eye_);
    hand_->drag(grip + QPointF(0, 1), eye_);
    hand_->release();
    QCOMPARE(kept().arc_radius_mm, 0.0);
    QCOMPARE(desk_->undo().count(), 1);  // the last bend, undone; no new step
  }
  void whatIsDrawnShowsTheCaretAndTheGaps() {
    auto picture = [&] {
      QImage image(800, 600, QImage::Format_ARGB32_Premultiplied);
      image.fill(Qt::white);
      QPainter p(&image);
      hand_->paint(p, eye_);
      p.end();
      return image;
    };
    const QImage quiet = picture();
    hand_->beginTyping();
    QVERIFY(picture() != quiet);
    hand_->giveUp();
    QVERIFY(picture() == quiet);
    Job next = desk_->job();
    auto& text = std::get<TextSource>(next.pieces[0].source);
    text.gaps_mm = {-3, 0};  // the first two letters crowd
    next.pieces[0] = remade(next.pieces[0], desk_->fabric(), desk_->bench()).piece;
    desk_->change("crowd", next);
    const auto letters = desk_->lettering(desk_->job().pieces[0]);
    QVERIFY(*letters->glyphs[0].gap_to_next_mm < kCrowdedGap_mm);
    QVERIFY(picture() != quiet);
    QVERIFY(letters == desk_->lettering(desk_->job().pieces[0]));  // kept, not set again
  }
};

RT_TEST(TestLetterHand)

}  // namespace test_letter_hand
#include "test_letter_hand.moc"
