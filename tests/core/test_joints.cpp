// Letters looked at as sewing: what lies visibly across finished satin, where ends are tied, and
// where long stitches are split.
#include <QtTest>

#include "column_graph.h"
#include "data_folder.h"
#include "faces.h"
#include "letter.h"
#include "random_pattern.h"
#include "run.h"
#include "satin.h"

namespace test_joints {

using namespace rt;

namespace {

struct Segment {
  Point a, b;
  Kind kind;
  bool link = false;  ///< Turns off sharply from the stitches on either side.
};

std::vector<Segment> sewnSegments(const Pattern& p) {
  std::vector<Segment> out;
  Point at;
  bool there = false;
  for (const Stitch& s : p.stitches) {
    if (s.op == Op::Stitch && there && distance(at, s.at) > 1e-6) out.push_back({at, s.at, s.kind});
    if (s.op == Op::Stitch || s.op == Op::Jump) at = s.at, there = true;
  }
  auto turnsOff = [](const Segment& a, const Segment& b) {
    return std::abs(cross(unit(a.b - a.a), unit(b.b - b.a))) > 0.64;  // 40 degrees
  };
  for (size_t i = 1; i + 1 < out.size(); ++i)
    out[i].link = distance(out[i].a, out[i].b) > 1 && turnsOff(out[i], out[i - 1]) &&
                  turnsOff(out[i], out[i + 1]);
  return out;
}

bool isCover(const Segment& s) {
  return !s.link && (s.kind == Kind::Satin || s.kind == Kind::Fill);
}

/// Length of a stitch that crosses earlier cover by over 25 degrees and is not covered itself.
double seen_mm(const std::vector<Segment>& all, size_t i) {
  constexpr double kStep = 0.1, kReach = 0.2, kAcross = 0.4226;
  const Segment& s = all[i];
  const double length = distance(s.a, s.b);
  const int parts = std::max(1, static_cast<int>(length / kStep));
  double sum = 0;
  for (int k = 0; k < parts; ++k) {
    const Point at = mix(s.a, s.b, (k + 0.5) / parts);
    bool over = false, under = false;
    for (size_t j = 0; j < all.size() && !under; ++j) {
      if (!isCover(all[j]) || pointSegmentDistance(at, all[j].a, all[j].b) > kReach) continue;
      under = j > i;
      over = over || std::abs(cross(unit(all[j].b - all[j].a), unit(s.b - s.a))) > kAcross;
    }
    if (over && !under) sum += length / parts;
  }
  return sum;
}

struct Look {
  double ways_mm = 0, ties_mm = 0, longest_mm = 0;
};

Look lookAt(const Pattern& p) {
  const std::vector<Segment> all = sewnSegments(p);
  Look out;
  for (size_t i = 0; i < all.size(); ++i)
    if (isCover(all[i]))
      out.longest_mm = std::max(out.longest_mm, distance(all[i].a, all[i].b));
    else
      (all[i].kind == Kind::Tie ? out.ties_mm : out.ways_mm) += seen_mm(all, i);
  return out;
}

/// Share of points that lie in the fullest band of 1.6 mm across a column.
double inOneBand(std::vector<double> across) {
  std::sort(across.begin(), across.end());
  size_t most = 0;
  for (size_t i = 0, j = 0; i < across.size(); ++i) {
    while (across[i] - across[j] > 1.6) ++j;
    most = std::max(most, i - j + 1);
  }
  return across.empty() ? 0 : static_cast<double>(most) / static_cast<double>(across.size());
}

}  // namespace

class TestJoints : public QObject {
  Q_OBJECT
 private slots:
  /// In the mean over letters, links within cover counted: what two owners part from must begin on
  /// one of them.
  void nothingLiesAcrossFinishedSatin_data() {
    QTest::addColumn<QString>("face");
    QTest::addColumn<double>("height");
    for (const char* face : {"sans-bold", "serif-bold", "brush-script", "plain-stroke"})
      for (double height : {12.0, 25.0})
        QTest::addRow("%s at %.0f mm", face, height) << face << height;
  }
  void nothingLiesAcrossFinishedSatin() {
    QFETCH(QString, face);
    QFETCH(double, height);
    const Face f = loadFace(dataFolder(), face.toStdString());
    const std::string letters = "AEHKMNRWXZkmtx25";
    Look sum;
    for (char letter_ : letters) {
      LetterOptions o;
      o.height_mm = height;
      const Look l = lookAt(letter(std::string(1, letter_), f, o).pattern);
      sum.ways_mm += l.ways_mm;
      sum.ties_mm += l.ties_mm;
      QVERIFY2(l.longest_mm <= kSplitSatinOver_mm + 0.02,
               qPrintable(QString("%1: %2 mm").arg(QChar(letter_)).arg(l.longest_mm)));
    }
    const double n = static_cast<double>(letters.size());
    QVERIFY2(sum.ways_mm / n < 0.55, qPrintable(QString::number(sum.ways_mm / n)));
    QVERIFY2(sum.ties_mm / n < 0.25, qPrintable(QString::number(sum.ties_mm / n)));
  }
  /// Whatever the lines and wherever it begins and ends: no column is left out.
  void everyColumnIsCovered() {
    std::mt19937 random = testing::seeded(882);
    for (int round = 0; round < 60; ++round) {
      std::vector<std::vector<Point>> lines;
      const auto corner = [&] {
        return Point{8 * std::floor(testing::between(random, 0, 5)),
                     8 * std::floor(testing::between(random, 0, 5))};
      };
      for (int i = 0; i < 7; ++i) lines.push_back({corner(), corner()});
      ColumnSewing how;
      const ColumnGraph graph = columnGraph(lines, 0.1, 0.5, how.width_mm);
      std::vector<Segment> satin;
      for (const Strand& s : sewColumns(graph, how, corner(), corner()))
        for (size_t i = 1; i < s.points.size(); ++i)
          if (s.kinds[i] == Kind::Satin)
            satin.push_back({s.points[i - 1], s.points[i], s.kinds[i]});
      for (const ColumnEdge& e : graph.edges) {
        const Point middle = mix(e.line.front(), e.line.back(), 0.5);
        if (e.line.size() != 2 || distance(e.line[0], e.line[1]) < 3) continue;
        QVERIFY2(
            std::any_of(satin.begin(), satin.end(),
                        [&](const Segment& s) {
                          return pointSegmentDistance(middle, s.a, s.b) < how.width_mm / 2;
                        }),
            qPrintable(QString("round %1: bare at %2, %3").arg(round).arg(middle.x).arg(middle.y)));
      }
    }
  }
  void splitsOfLongSatinMakeNoLine() {
    std::mt19937 random = testing::seeded(881);
    for (double width : {7.5, 8.5, 9.5, 11.0, 13.0, testing::between(random, 7.2, 20)}) {
      const std::vector<Point> line{{0, 0}, {40, 0}};
      const Strand s = satinAlong(line, width, {});
      std::vector<double> across;
      for (size_t i = 1; i < s.points.size(); ++i) {
        QVERIFY(distance(s.points[i - 1], s.points[i]) <= kSplitSatinOver_mm + 1e-9);
        const double edge = width / 2 - std::abs(s.points[i].y);
        if (edge > 0.3) across.push_back(s.points[i].y);
        QVERIFY(edge <= 0.3 || edge > 1.0);  // never beside the edge, where it would show as a nick
      }
      QVERIFY(!across.empty());
      QVERIFY2(inOneBand(across) <= 0.65,
               qPrintable(QString("%1 mm: %2").arg(width).arg(inOneBand(across))));
    }
  }
};

RT_TEST(TestJoints)

}  // namespace test_joints
#include "test_joints.moc"
