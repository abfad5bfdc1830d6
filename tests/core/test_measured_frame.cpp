// Frames from what a person reads with a ruler: what can be, what is missing, what it becomes.
#include <QtTest>

#include "error.h"
#include "frame_words.h"
#include "random_pattern.h"
#include "run.h"

namespace test_measured_frame {

using namespace rt;

class TestMeasuredFrame : public QObject {
  Q_OBJECT

  using What = FrameDoubt::What;
  static FrameMeasures plain() {
    FrameMeasures m;
    m.name = "Blue frame, 20 x 14";
    m.field_width_mm = 200, m.field_height_mm = 140;
    m.inner_width_mm = 230, m.inner_height_mm = 170;
    m.outer_width_mm = 290, m.outer_height_mm = 210;
    m.inner_diagonal_mm = std::hypot(230, 170);
    m.tag_size_mm = 12;
    return m;
  }
  static bool has(const FrameMeasures& m, What what) {
    for (const FrameDoubt& d : doubtsOf(m))
      if (d.what == what) return !inWords(d).empty();
    return false;
  }

 private slots:
  void aWholeMeasureLeavesNoDoubt() {
    const std::vector<FrameDoubt> doubts = doubtsOf(plain());
    QVERIFY2(doubts.empty(), doubts.empty() ? "" : inWords(doubts[0]).c_str());
    const Hoop h = frameFrom(plain());
    QCOMPARE(h.id, std::string("own-blue-frame-20-x-14"));
    QCOMPARE(h.field.width_mm, 200.0);
    QCOMPARE(h.clear_mm, 45.0);  // the wider of both sides: (290 - 200) / 2, (210 - 140) / 2
    QCOMPARE(h.tags.size(), size_t{4});
    const Box field = Box::around({}, 200, 140);
    for (const TagPlace& t : h.tags) QVERIFY(!field.overlaps(Box::around(t.at, 12, 12)));
  }

  void whatIsMissingOrCannotBeIsSaid() {
    QVERIFY(has({}, What::NoName) && has({}, What::NoField));
    FrameMeasures m = plain();
    m.inner_width_mm = 0;
    QVERIFY(has(m, What::NoOpening));
    m = plain();
    m.field_width_mm = 231;
    QVERIFY(has(m, What::FieldOverOpening));
    QVERIFY_THROWS_EXCEPTION(Error, frameFrom(m));
    m = plain();
    m.inner_diagonal_mm += 4;
    QVERIFY(has(m, What::NotSquare));
    frameFrom(m);  // a bent frame can be kept: it is said
    m = plain();
    std::swap(m.inner_width_mm, m.outer_width_mm);
    QVERIFY(has(m, What::OpeningOverOuter));
    m = plain();
    m.tag_size_mm = 60;
    QVERIFY(has(m, What::TagOnField));
    m.tag_size_mm = 0;
    QVERIFY(has(m, What::NoTags));
    m = plain();
    m.outer_width_mm = m.outer_height_mm = 0;
    QVERIFY(has(m, What::NoOutside));
    QCOMPARE(frameFrom(m).clear_mm, 15.0);
  }

  void eachKindBecomesItsFields() {
    FrameMeasures m = plain();
    m.inner_width_mm = m.outer_width_mm = m.inner_height_mm = m.outer_height_mm = 0;
    m.kind = FrameKind::HalfRound;
    QVERIFY(has(m, What::NoLap));
    m.lap_mm = 140;
    QVERIFY(has(m, What::LapTooWide));
    m.lap_mm = 20;
    std::vector<PlacedField> fields = fieldsOf(frameFrom(m), 0);
    QCOMPARE(fields.size(), size_t{2});
    QVERIFY(std::abs(fields[0].box.intersection(fields[1].box).height() - 20) < 1e-9);
    m.kind = FrameKind::Quarters;
    fields = fieldsOf(frameFrom(m), 0);
    QCOMPARE(fields.size(), size_t{4});
    Box all;
    for (const PlacedField& f : fields) all.add(f.box);
    QVERIFY(std::abs(all.width() - 380) < 1e-9 && std::abs(all.height() - 260) < 1e-9);
    m.kind = FrameKind::Long;
    QVERIFY(has(m, What::NoPositions) && has(m, What::NoStep));
    m.positions = 3, m.step_mm = 250;
    QVERIFY(has(m, What::StepsApart));
    m.step_mm = 180;
    fields = fieldsOf(frameFrom(m), 0);
    QCOMPARE(fields.size(), size_t{3});
    QVERIFY(std::abs(fields[2].box.left - fields[0].box.left - 360) < 1e-9);
    m.kind = FrameKind::Rails, m.step_mm = 500;
    const Hoop rails = frameFrom(m);
    QVERIFY(rails.rail && rails.rail->to_mm - rails.rail->from_mm == 500);
    m.kind = FrameKind::Oval;
    QVERIFY(frameFrom(m).field.shape == HoopShape::Oval);
  }

  void whateverIsTypedEitherBecomesAFrameOrSaysWhy() {
    std::mt19937 random = testing::seeded(361);
    int kept = 0;
    for (int i = 0; i < 400; ++i) {
      FrameMeasures m;
      m.name = i % 7 ? "frame" : "";
      m.kind = static_cast<FrameKind>(random() % 6);
      for (double* v : {&m.field_width_mm, &m.field_height_mm, &m.inner_width_mm,
                        &m.inner_height_mm, &m.outer_width_mm, &m.outer_height_mm,
                        &m.inner_diagonal_mm, &m.lap_mm, &m.step_mm, &m.tag_size_mm})
        *v = random() % 5 == 0 ? 0 : testing::between(random, -20, 600);
      m.positions = static_cast<int>(random() % 50) - 5;
      bool forbidden = false;
      for (const FrameDoubt& d : doubtsOf(m)) {
        QVERIFY(!inWords(d).empty());
        forbidden |= d.forbids;
      }
      if (forbidden) {
        QVERIFY_THROWS_EXCEPTION(Error, frameFrom(m));
      } else {
        checkHoop(frameFrom(m), "made");
        ++kept;
      }
    }
    QVERIFY(kept > 3);
  }
};

RT_TEST(TestMeasuredFrame)

}  // namespace test_measured_frame
#include "test_measured_frame.moc"
