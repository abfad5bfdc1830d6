#include <QtTest>

#include "error.h"
#include "foreign_parts.h"
#include "job_codec.h"
#include "pattern_bytes.h"
#include "random_pattern.h"
#include "run.h"

namespace test_codec {

using namespace rt;
using testing::between;

namespace {

std::string word(std::mt19937& random) {
  static const std::vector<std::string> kWords{"heron", "reed \"bed\"", "ünïcode — ✓", "",
                                               "a\nb",  "{json}",       "'); DROP"};
  return kWords[random() % kWords.size()];
}

}  // namespace

class TestCodec : public QObject {
  Q_OBJECT
 private slots:
  void briefsComeBack() {
    std::mt19937 random = testing::seeded(181);
    for (int i = 0; i < 100; ++i) {
      Brief b{word(random),
              word(random),
              word(random),
              word(random),
              i % 2 ? Holding::Floated : Holding::Hooped,
              word(random),
              i % 3 == 0,
              55 + i % 60,
              12 + i % 80,
              between(random, 1, 900),
              between(random, 1, 900),
              between(random, -90, 90)};
      QVERIFY(briefFrom(briefJson(b)) == b);
    }
  }
  void placementsKeepEveryBit() {
    std::mt19937 random = testing::seeded(182);
    for (int i = 0; i < 200; ++i) {
      const Placement p{{between(random, -1e3, 1e3), between(random, -1e-3, 1e-3)},
                        between(random, -180, 180),
                        between(random, 1e-3, 50),
                        between(random, 1e-3, 50),
                        i % 2 == 0};
      QVERIFY(placementFrom(placementJson(p)) == p);
    }
  }
  void sourcesComeBackWhateverTheyAre() {
    std::mt19937 random = testing::seeded(183);
    for (int i = 0; i < 60; ++i) {
      PieceSource source;
      if (i % 3 == 0) {
        StitchSource s{word(random), nullptr, 1, 1, 1};
        if (i % 2) {
          s.bare = std::make_shared<const Pattern>(testing::wander(random, 30, 20));
          s.scale_x = between(random, 0.4, 2.5);
          s.spacing_factor = between(random, 0.5, 2);
        }
        source = s;
      }
      if (i % 3 == 1) {
        ArtworkSource a;
        a.file = word(random);
        a.svg = "<svg>" + word(random) + "</svg>";
        a.width_mm = between(random, 0, 300);
        if (i % 2) a.angle_deg = between(random, 0, 180);
        a.underlay = static_cast<Underlay>(random() % 3);
        if (random() % 2) a.row_spacing_mm = between(random, 0.1, 2);
        if (random() % 2) a.satin_spacing_mm = between(random, 0.1, 2);
        if (random() % 2) a.pull_mm = between(random, 0, 1);
        for (size_t n = random() % 4; n > 0; --n)
          a.threads.push_back({{static_cast<uint32_t>(random() & 0xffffff)},
                               {static_cast<uint32_t>(random() & 0xffffff)}});
        source = a;
      }
      if (i % 3 == 2) {
        TextSource t;
        t.text = word(random);
        t.height_mm = between(random, 5, 50);
        t.arc_radius_mm = between(random, 0, 300);
        t.gaps_mm = {between(random, -1, 1), between(random, -1, 1)};
        t.stretch = between(random, 0.5, 2);
        t.arc_side = i % 2 ? ArcSide::Inside : ArcSide::Outside;
        t.colour.rgb = random() & 0xffffff;
        t.monogram = random() % 2;
        t.frame = static_cast<MonogramFrame>(random() % 4);
        if (random() % 2) t.spacing_mm = between(random, 0.1, 2);
        if (random() % 2) t.pull_mm = between(random, 0, 1);
        t.curve.given = static_cast<MeasuredCurve::Given>(random() % 3);
        t.curve.radius_mm = between(random, 0, 300);
        t.curve.chord_mm = between(random, 0, 300);
        t.curve.sagitta_mm = between(random, 0, 300);
        t.curve.points_mm = {{between(random, -9, 9), 1}, {2, between(random, -9, 9)}};
        if (random() % 2) t.curve.clear_mm = between(random, 0, 20);
        source = t;
      }
      QVERIFY(sourceFrom(sourceJson(source)) == source);
    }
  }
  void settingsComeBack() {
    Job job;
    job.tolerance_mm = 0.4;
    job.proof_accepted = "8143";
    job.swatch = {{"fill", 1, 4.5}, {"letter", 3, 6}};
    job.next_piece_id = 12;
    Job back;
    readJobSettings(jobSettingsJson(job), back);
    QVERIFY(back == job);
    PlanSettings plan{"160x120", {"oval-120x90", "rails"}, 12.5, true, TieStyle::Chain};
    plan.order = SewingOrder::FromEnd;
    plan.school = MarkSchool::SewnLine;
    plan.keep = {"heron"};
    plan.pinned = {{"160x120", 90, {12.5, -3}}};
    QVERIFY(planSettingsFrom(planSettingsJson(plan)) == plan);
    SequenceSettings sequence;
    sequence.shortest_travel = true;
    sequence.thin_under_letters = 1.6;
    sequence.colours_by_hand = {{0x2f5d50}, {0x8a5a2b}, {0x2f5d50}};
    sequence.stops = {{3, "lay the \"felt\"", 2}};
    QVERIFY(sequenceFrom(sequenceJson(sequence)) == sequence);
    for (const Zone& z : {Zone{"zip", ZoneKind::KeepOut, {{0, 0}, {1.25, 0}, {1, 1}}, 1, 0},
                          Zone{"seam", ZoneKind::Thick, {{2, 2}, {3, 2}, {3, 3}}, 3, 4.5}})
      QVERIFY(zoneFrom(zoneJson(z)) == z);
  }
  void factsComeBackUnknownOnesToo() {
    const SettingKey key{"plan-1", "h2"};
    for (const Happening& h :
         {Happening(MarkFound{key, "2031-04-05T06:07:08.009Z", {"A (M1)", {1, 2}, {3, 4}, 0.15}}),
          Happening(MarksCleared{key, "t"}),
          Happening(RowsSewn{key, "t", "run", 4, 900, "break", false}),
          Happening(Overruled{"t", "density", {}, 18446744073709551615u, "because"}),
          Happening(UnknownHappening{"photo", R"({"of":"tomorrow"})"})})
      QVERIFY(happeningFrom(kindOf(h), happeningJson(h)) == h);
  }
  /// Whatever is put in at any depth comes back, and what we know is ours to change.
  void whatIsBeyondAValueComesBack() {
    const std::string read =
        R"({"item":"bag","garment_size":{"letter":"XL"},"holding":"magnetic","needle_nm":80})";
    const Brief b = briefFrom(read);
    UnknownParts unknown;
    Beyond(unknown).keep("brief", read, briefJson(b));
    Json again = Json::parse(withBeyond("brief", briefJson(b), &unknown));
    QCOMPARE(again["garment_size"]["letter"], "XL");
    QCOMPARE(again["holding"], "magnetic");
    QVERIFY(briefFrom(again.dump()) == b);
    Brief edited = b;
    edited.holding = Holding::Floated;
    again = Json::parse(withBeyond("brief", briefJson(edited), &unknown));
    QCOMPARE(again["holding"], "floated");
    QCOMPARE(again["garment_size"]["letter"], "XL");
  }
  void listsAreMatchedByIdElseByPlace() {
    const Json read = Json::parse(
        R"({"rows":[{"id":1,"a":2,"new":{"x":[1]}},{"id":7,"a":3,"more":true}],"points":[{"x":1,"z":9}]})");
    const Json known =
        Json::parse(R"({"rows":[{"id":1,"a":2},{"id":7,"a":3}],"points":[{"x":1}]})");
    const Json rest = beyond(read, known);
    Json now = known;
    addBeyond(now, rest);
    QVERIFY(now == read);
    Json turned = Json::parse(R"({"rows":[{"id":7,"a":5}],"points":[{"x":1}]})");
    addBeyond(turned, rest);
    QVERIFY(turned ==
            Json::parse(R"({"rows":[{"id":7,"a":5,"more":true}],"points":[{"x":1,"z":9}]})"));
    QVERIFY(beyond(known, known).is_null());
  }
  void randomMembersComeBack() {
    std::mt19937 random = testing::seeded(4711);
    for (int i = 0; i < 200; ++i) {
      Json known = Json::parse(planSettingsJson({})), read = known;
      read[word(random) + "+"] = static_cast<int>(random() % 1000);
      read["pinned"] = Json::array();
      if (random() % 2) read["deep"] = {{word(random), {{word(random), Json::array({1, 2})}}}};
      Json now = known;
      addBeyond(now, beyond(read, known));
      QVERIFY2(now == read, read.dump().c_str());
    }
  }
  void numbersOutOfRangeAreRefusedNotCast() {
    for (const char* bad : {"4294967298", "-1", "1e30", "2.5", "\"7\"", "null"})
      QVERIFY_THROWS_EXCEPTION(Error,
                               sequenceFrom(std::string("{\"colours_by_hand\":[") + bad + "]}"));
    for (const char* bad : {"4294967298", "1e30", "2.5"})
      QVERIFY_THROWS_EXCEPTION(Error,
                               zoneFrom(std::string("{\"polygon\":[],\"layers\":") + bad + "}"));
    QCOMPARE(zoneFrom(R"({"polygon":[],"layers":3.0})").layers, 3);
  }
  void deepNestingIsRefused() {
    const std::string deep = std::string(20000, '[') + std::string(20000, ']');
    QVERIFY_THROWS_EXCEPTION(Error, briefFrom(deep));
    QVERIFY_THROWS_EXCEPTION(Error, briefFrom("{\"a\":" + deep + "}"));
  }
  void patternsKeepEveryBit() {
    std::mt19937 random = testing::seeded(184);
    for (int i = 0; i < 20; ++i) {
      Pattern p = testing::wander(random, 400, 77);
      p.title = word(random);
      p.pieces.push_back(word(random));
      for (Stitch& s : p.stitches)
        s.kind = static_cast<Kind>(random() % 8), s.block = static_cast<uint32_t>(random());
      QVERIFY(patternFrom(patternBytes(p)) == p);
    }
    QVERIFY(patternFrom(patternBytes({})) == Pattern{});
  }
  void plansComeBack() {
    HoopingPlan plan;
    plan.lower_bound = 2;
    plan.cut_stitches = 31;
    plan.worst_seam_error_mm = 0.27;
    plan.interlock_mm = 1.2;
    plan.plain_grid = {3, 2, 6, 9};
    plan.crossings = {"border", "heron"};
    plan.cuts = {{"border", 1, 2, 1, 2, 31, 4.5, {3, 3}}};
    plan.doubts = {{PlanDoubt::What::MarkOnSewing, "M1", "", 1, 0, 0},
                   {PlanDoubt::What::ThinOverlap, "", "", 1, 2, 3.25}};
    plan.seams = {{1, 2, 1, 2, {3, 4}, true, 0.25}};
    for (int i = 1; i <= 2; ++i) {
      Hooping h;
      h.index = i;
      h.id = "h" + std::to_string(i);
      h.hoop_id = "field-200x140";
      h.turn_deg = i == 2 ? 90 : 0;
      h.origin = {98.5, 68};
      for (int k = 1; k <= i; ++k) {
        PlanSetting s;
        s.id = k == 1 ? h.id : h.id + "." + std::to_string(k);
        s.index = k;
        s.field = {
            {-1.5, -2, 198.5, 138}, 180 * (k - 1), i == 1 ? HoopShape::Oval : HoopShape::Rectangle};
        s.stitches = 92;
        s.thread_mm = 451.25;
        h.settings.push_back(s);
      }
      h.marks = {{"M1", "cross", {7, 8}, i == 2}};
      h.predicted_error_mm = 0.31;
      plan.hoopings.push_back(h);
    }
    QVERIFY(madePlanFrom(madePlanJson(plan)) == plan);  // stitches are bytes of their own
  }
  void damagedBytesAreRefused() {
    std::mt19937 random = testing::seeded(186);
    const QByteArray good = qUncompress(patternBytes(testing::wander(random, 200, 50)));
    int refused = 0;
    for (int i = 0; i < 200; ++i) {
      QByteArray bad = good;
      if (i % 4 == 0)
        bad.truncate(static_cast<qsizetype>(random() % static_cast<unsigned>(bad.size())));
      for (int k = 0; k < 5 && !bad.isEmpty(); ++k)
        bad[static_cast<qsizetype>(random() % static_cast<unsigned>(bad.size()))] =
            static_cast<char>(random());
      try {
        const Pattern p = patternFrom(qCompress(bad));
        for (const Stitch& s : p.stitches)
          QVERIFY(s.thread < p.threads.size() && s.piece < p.pieces.size());
      } catch (const Error&) {
        ++refused;
      }
    }
    QVERIFY(refused > 50);
    QVERIFY_THROWS_EXCEPTION(Error, patternFrom("not compressed"));
    QVERIFY_THROWS_EXCEPTION(Error,
                             patternFrom(QByteArray("\xff\xff\xff\xf0", 4) +
                                         qCompress(good).mid(4)));  // claims to unpack to 4 GB
    QVERIFY_THROWS_EXCEPTION(Error, briefFrom("{"));
  }
};

RT_TEST(TestCodec)

}  // namespace test_codec
#include "test_codec.moc"
