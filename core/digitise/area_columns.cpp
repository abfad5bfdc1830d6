#include "area_columns.h"

#include <algorithm>
#include <map>
#include <optional>

#include "column_course.h"
#include "lumps.h"
#include "rest_fill.h"

namespace rt {
namespace {

constexpr double kCorner_deg = 50;  // more than this between two branches is a corner
constexpr double kNear = 2.5;       // of a joint's radius: how far its owner's claim goes
constexpr double kOwnerOn = 3.0;    // of the radius: how far an owner that ends there goes on
constexpr double kLinkStep_mm = 2.0;
constexpr size_t kMostFillings = 12;
constexpr double kLeastGain_mm2 = 0.1;
constexpr double kStub_mm = 1.5;   // shorter rungs are stubs where they lie …
constexpr double kApart_mm = 1.0;  // … farther than this from the rest …
constexpr double kThinned = 0.88;  // of what makes a lump, is left of one
constexpr long kStubs = 3;         // … and are as few

/// One end of a branch at a joint.
struct BranchEnd {
  int branch = 0;
  bool atFrom = true;
  friend auto operator<=>(const BranchEnd&, const BranchEnd&) = default;
};

/// A place where a course meets a joint.
struct Meeting {
  int course = 0;
  size_t joint = 0;  // position among the course's joints
};

/// Which rungs are a few short ones that lie apart from the rest of their stretch: the needle would
/// go to them across finished cover, and back.
std::vector<bool> stubs(const std::vector<Rung>& rungs) {
  std::vector<bool> out(rungs.size());
  auto apart = [](const Rung& a, const Rung& b) {
    return distance(a.middle(), b.middle()) > kApart_mm;
  };
  auto isShort = [](const Rung& r) { return r.width_mm() < kStub_mm; };
  for (auto from = rungs.begin(); from != rungs.end();) {
    auto to = std::adjacent_find(from, rungs.end(), apart);
    if (to != rungs.end()) ++to;
    const bool all = from == rungs.begin() && to == rungs.end();
    if (!all && to - from <= kStubs && std::all_of(from, to, isShort))
      std::fill_n(out.begin() + (from - rungs.begin()), to - from, true);
    from = to;
  }
  return out;
}

std::vector<Rung> withoutStubs(const std::vector<Rung>& rungs) {
  const std::vector<bool> stub = stubs(rungs);
  std::vector<Rung> out;
  for (size_t i = 0; i < rungs.size(); ++i)
    if (!stub[i]) out.push_back(rungs[i]);
  return out;
}

/// Makes courses of a medial axis: branches that go straight through joints are one.
class Weaver {
 public:
  Weaver(const Area& area, const AreaColumnOptions& options)
      : outline_(area),
        options_(options),
        axis_(medialAxis(area, options.axis)),
        cover_(boundsOf(area).grown(1), options.satin.spacing_mm) {}

  ColumnGraph run() {
    if (axis_.branches.empty()) return {};
    const StrokeWidths widths = strokeWidths(axis_);
    if (widths.length_mm < 0.7 * widths.most_mm) return blob();
    listEnds();
    for (size_t j = 0; j < axis_.joints.size(); ++j) pairAt(static_cast<int>(j));
    chainAll();
    own();
    return graph();
  }

 private:
  // --- which branch goes on in which

  void listEnds() {
    ends_.resize(axis_.joints.size());
    for (size_t i = 0; i < axis_.branches.size(); ++i) {
      const AxisBranch& b = axis_.branches[i];
      ends_[static_cast<size_t>(b.from)].push_back({static_cast<int>(i), true});
      ends_[static_cast<size_t>(b.to)].push_back({static_cast<int>(i), false});
    }
  }

  std::vector<AxisPoint> lineOf(BranchEnd end) const {
    std::vector<AxisPoint> line = axis_.branches[static_cast<size_t>(end.branch)].line;
    if (!end.atFrom) std::reverse(line.begin(), line.end());
    return line;
  }

  /// Direction in which a branch leaves its joint, measured outside the joint's disc.
  Point way(BranchEnd end, double radius_mm) const {
    const std::vector<AxisPoint> line = lineOf(end);
    double total = 0;
    for (size_t i = 1; i < line.size(); ++i) total += distance(line[i - 1].at, line[i].at);
    return unit(pointAlong(line, std::min(2.2 * radius_mm, 0.9 * total)) -
                pointAlong(line, std::min(0.9 * radius_mm, 0.4 * total)));
  }

  void pairAt(int joint) {
    auto free = ends_[static_cast<size_t>(joint)];
    const double radius = axis_.joints[static_cast<size_t>(joint)].disc.radius_mm;
    const double limit = std::cos(radians(180 - kCorner_deg));
    while (free.size() >= 2) {
      double best = limit;
      size_t bi = 0, bj = 0;
      for (size_t i = 0; i < free.size(); ++i)
        for (size_t j = i + 1; j < free.size(); ++j)
          if (const double c = dot(way(free[i], radius), way(free[j], radius)); c < best)
            best = c, bi = i, bj = j;
      if (bj == 0) return;
      onward_[free[bi]] = free[bj];
      onward_[free[bj]] = free[bi];
      free.erase(free.begin() + static_cast<long>(bj));
      free.erase(free.begin() + static_cast<long>(bi));
    }
  }

  // --- courses

  static BranchEnd otherEnd(BranchEnd e) { return {e.branch, !e.atFrom}; }
  int jointAt(BranchEnd e) const {
    const AxisBranch& b = axis_.branches[static_cast<size_t>(e.branch)];
    return e.atFrom ? b.from : b.to;
  }

  void chainAll() {
    used_.assign(axis_.branches.size(), false);
    for (bool rings : {false, true})
      for (size_t i = 0; i < axis_.branches.size(); ++i)
        for (bool from : {true, false}) {
          const BranchEnd start{static_cast<int>(i), from};
          if (!used_[i] && (rings || !onward_.count(start))) chain(start);
        }
  }

  void chain(BranchEnd start) {
    CourseMaker maker(outline_, options_.satin.spacing_mm);
    std::vector<int> joints{jointAt(start)};
    BranchEnd end = start;
    bool closed = false;
    while (true) {
      used_[static_cast<size_t>(end.branch)] = true;
      maker.add(lineOf(end), zone(joints.back()));
      end = otherEnd(end);
      joints.push_back(jointAt(end));
      const auto next = onward_.find(end);
      if (next == onward_.end()) break;
      closed = next->second == start;
      if (closed || used_[static_cast<size_t>(next->second.branch)]) break;
      end = next->second;
    }
    maker.close(zone(joints.back()));
    Course course =
        closed ? maker.ring() : maker.open(degree(joints.front()) == 1, degree(joints.back()) == 1);
    for (size_t k = 0; k < joints.size() - (closed ? 1 : 0); ++k)
      meetings_[joints[k]].push_back({static_cast<int>(courses_.size()), k});
    courses_.push_back(std::move(course));
    courseJoints_.push_back(std::move(joints));
  }

  size_t degree(int joint) const { return ends_[static_cast<size_t>(joint)].size(); }

  /// Radius around a joint where the axis bends toward the other branches; 0 at free ends.
  double zone(int joint) const {
    const AxisJoint& j = axis_.joints[static_cast<size_t>(joint)];
    return degree(joint) >= 2 ? j.disc.radius_mm : 0;
  }

  // --- who owns a joint

  const Course& courseOf(const Meeting& m) const { return courses_[static_cast<size_t>(m.course)]; }
  double placeOf(const Meeting& m) const { return courseOf(m).joints_mm[m.joint]; }
  bool endsThere(const Meeting& m) const {
    const Course& c = courseOf(m);
    return !c.closed && (m.joint == 0 || m.joint + 1 == c.joints_mm.size());
  }

  void own() {
    for (auto& [joint, meetings] : meetings_) {
      if (degree(joint) < 2) continue;
      const auto owner = std::min_element(
          meetings.begin(), meetings.end(), [&](const Meeting& a, const Meeting& b) {
            return std::pair(endsThere(a), -widthAt(a)) < std::pair(endsThere(b), -widthAt(b));
          });
      owners_[joint] = *owner;
      const double radius = axis_.joints[static_cast<size_t>(joint)].disc.radius_mm;
      // the owner first: the others end at its centre line
      if (endsThere(*owner))
        courses_[static_cast<size_t>(owner->course)].reach(owner->joint == 0,
                                                           kOwnerOn * radius + 0.2, outline_);
      for (const Meeting& m : meetings)
        if (endsThere(m) && &m != &*owner)
          courses_[static_cast<size_t>(m.course)].reachTo(m.joint == 0, courseOf(*owner),
                                                          placeOf(*owner), 3 * radius);
    }
    for (const auto& [joint, owner] : owners_)
      claims_.emplace(joint, Claim(courseOf(owner), placeOf(owner), nearTo(joint), outline_));
  }

  double nearTo(int joint) const {
    return kNear * axis_.joints[static_cast<size_t>(joint)].disc.radius_mm;
  }

  double widthAt(const Meeting& m) const { return courseOf(m).half(placeOf(m)); }

  /// Distance along a course, the shorter way round a ring.
  double apartAlong(int course, double a_mm, double b_mm) const {
    const Course& c = courses_[static_cast<size_t>(course)];
    const double d = std::abs(a_mm - b_mm);
    return c.closed ? std::min(std::fmod(d, c.total()), c.total() - std::fmod(d, c.total())) : d;
  }

  /// What of a rung lies outside the columns that own the joints near it; so columns meet in a
  /// mitre instead of a lump.
  std::optional<Rung> leftBy(int course, double at_mm, std::optional<Rung> rung,
                             bool standsBack) const {
    const double lap_mm = (standsBack ? 0.5 : 1) * options_.satin.rule.lap_mm;
    if (!rung) return rung;
    const Point middle = rung->middle();
    auto awayFrom = [&](int joint) {
      return distance(middle, axis_.joints[static_cast<size_t>(joint)].disc.at);
    };
    auto isMine = [&](const Meeting& owner, int joint) {
      return owner.course == course &&
             apartAlong(course, placeOf(owner), at_mm) < 2 * nearTo(joint);
    };
    // two columns that own joints side by side would each leave the place to the other: it is the
    // nearer joint's
    double mine = INFINITY;
    std::vector<int> mates;  // that meet it where it owns the ground: it lies on their ends
    for (int joint : courseJoints_[static_cast<size_t>(course)])
      if (const auto owner = owners_.find(joint);
          owner != owners_.end() && isMine(owner->second, joint)) {
        mine = std::min(mine, awayFrom(joint));
        if (awayFrom(joint) < nearTo(joint))
          for (const Meeting& m : meetings_.at(joint)) mates.push_back(m.course);
      }
    for (int joint : courseJoints_[static_cast<size_t>(course)]) {
      const auto owner = owners_.find(joint);
      if (owner == owners_.end() || !rung || isMine(owner->second, joint)) continue;
      if (awayFrom(joint) > std::min(mine, nearTo(joint))) continue;
      rung = claims_.at(joint).outside(*rung, lap_mm, standsBack);
    }
    // what others have covered is left to them
    if (rung) rung = cover_.left(*rung, lap_mm, mates);
    return rung;
  }

  // --- the graph that is sewn

  ColumnGraph graph() {
    ColumnGraph out;
    for (size_t j = 0; j < axis_.joints.size(); ++j) {
      const auto owner = owners_.find(static_cast<int>(j));
      const Meeting at = owner != owners_.end() ? owner->second : meetings_[static_cast<int>(j)][0];
      out.joints.push_back(courseOf(at).at(placeOf(at)));
    }
    for (size_t c = 0; c < courses_.size(); ++c) lay(static_cast<int>(c));
    fillRest();
    for (auto& course : laid_)
      for (CourseStretch& s : course) closeFans(s, outline_, options_.satin.spacing_mm);
    for (size_t c = 0; c < courses_.size(); ++c) addCourse(static_cast<int>(c), out);
    // a closed layer of satin lays 2 mm of thread a spacing
    const double most = options_.satin.rule.most_layers * 2 / options_.satin.spacing_mm;
    evenLumps(out.edges, {most, kThinned * most});
    while (linkParts(out)) {
    }
    return out;
  }

  /// Joints that hang together, by their lowest index.
  static std::vector<int> groupsOf(const ColumnGraph& graph) {
    std::vector<int> group(graph.joints.size());
    for (size_t i = 0; i < group.size(); ++i) group[i] = static_cast<int>(i);
    for (bool changed = true; changed;) {
      changed = false;
      for (const ColumnEdge& e : graph.edges) {
        int &a = group[static_cast<size_t>(e.from)], &b = group[static_cast<size_t>(e.to)];
        if (a == b) continue;
        a = b = std::min(a, b);
        changed = true;
      }
    }
    return group;
  }

  /// Where a neck is too thin for the axis to be seen, its two ends are linked by a double run, so
  /// that one area stays one piece of sewing. False when all hangs together.
  static bool linkParts(ColumnGraph& graph) {
    const std::vector<int> group = groupsOf(graph);
    double least = INFINITY;
    size_t from = 0, to = 0;
    for (size_t i = 0; i < group.size(); ++i)
      for (size_t j = i + 1; j < group.size(); ++j)
        if (const double d = distance(graph.joints[i], graph.joints[j]);
            group[i] != group[j] && d < least)
          least = d, from = i, to = j;
    if (!std::isfinite(least)) return false;
    ColumnEdge link;
    link.from = static_cast<int>(from);
    link.to = static_cast<int>(to);
    link.line = {graph.joints[from], graph.joints[to]};
    link.narrow = true;
    link.width_mm = 0.01;
    link.under = link.satin = resample(link.line, kLinkStep_mm);
    graph.edges.push_back(std::move(link));
    return true;
  }

  // --- rungs, and what they leave

  /// From and to, along a course, where its satin lies between two of its joints.
  std::pair<double, double> satinBetween(int index, size_t k) const {
    const Course& c = courses_[static_cast<size_t>(index)];
    const size_t stretches = courseJoints_[static_cast<size_t>(index)].size() - 1;
    double from = c.joints_mm[k], to = k + 1 < c.joints_mm.size() ? c.joints_mm[k + 1] : 0;
    if (c.closed && k + 1 == stretches)
      to = c.joints_mm[0] + c.total() + options_.satin.rule.ring_lap_mm;
    if (!c.closed && k == 0) from = 0;
    if (!c.closed && k + 1 == stretches) to = c.total();
    return {from, to};
  }

  /// The rungs of a course, less what lies on the ground of others.
  void lay(int index) {
    const Course& c = courses_[static_cast<size_t>(index)];
    std::vector<CourseStretch> laid;
    for (size_t k = 0; k + 1 < courseJoints_[static_cast<size_t>(index)].size(); ++k) {
      const auto [from, to] = satinBetween(index, k);
      CourseStretch s;
      s.places_mm = c.rungPlaces(from, to, options_.satin, outline_);
      // pairs of rungs reach in and stand back in turn, so that the lap is no ridge
      for (size_t i = 0; i < s.places_mm.size(); ++i)
        s.rungs.push_back(
            leftBy(index, s.places_mm[i], c.rung(s.places_mm[i], outline_), i % 4 >= 2));
      leaveOutStubs(s);
      laid.push_back(std::move(s));
    }
    cover(laid, index);  // a column does not shy at itself
    laid_.push_back(std::move(laid));
  }

  /// Where that bares the ground, it is rest to be filled.
  static void leaveOutStubs(CourseStretch& s) {
    const std::vector<bool> stub = stubs(s.all());
    size_t i = 0;
    for (auto& rung : s.rungs)
      if (rung && stub[i++]) rung.reset();
  }

  void cover(const std::vector<CourseStretch>& laid, int index) {
    std::vector<Rung> sewn;
    for (const CourseStretch& s : laid)
      if (const std::vector<Rung> rungs = s.all(); !isNarrow(rungs))
        sewn.insert(sewn.end(), rungs.begin(), rungs.end());
    cover_.add(sewn, index);
  }

  bool isNarrow(const std::vector<Rung>& rungs) const {
    ZigzagWriter writer(options_.satin, options_.inset_mm);
    for (const Rung& r : rungs) writer.add(r);
    return writer.narrow(options_.least_column_mm);
  }

  /// Bare ground goes to the course that takes the most of it, until none takes any.
  void fillRest() {
    for (const auto& course : laid_)  // runs side by side are not bare either
      for (const CourseStretch& s : course) cover_.add(s.all());
    RestGrid rest(outline_.area(), cover_);
    // what a course can take only grows less while others take theirs
    std::vector<double> most(courses_.size(), INFINITY);
    for (size_t round = 0; round < kMostFillings * courses_.size() && !rest.none(); ++round) {
      const auto of =
          static_cast<size_t>(std::max_element(most.begin(), most.end()) - most.begin());
      if (most[of] < kLeastGain_mm2) return;
      Filled f = filled(courses_[of], laid_[of], rest, outline_, options_.satin.spacing_mm);
      most[of] = f.gained_mm2;
      if (f.gained_mm2 < kLeastGain_mm2 ||
          f.gained_mm2 < *std::max_element(most.begin(), most.end()))
        continue;
      for (size_t k = 0; k < laid_[of].size(); ++k)
        if (f.changed[k]) cover_.add(f.stretches[k].all());
      const size_t before = rest.cores();
      rest.update(cover_);
      if (rest.cores() < before)
        laid_[of] = std::move(f.stretches);
      else
        most[of] = 0;  // what it would take is none the less bare
    }
  }

  void addCourse(int index, ColumnGraph& out) {
    const Course& c = courses_[static_cast<size_t>(index)];
    const std::vector<int>& joints = courseJoints_[static_cast<size_t>(index)];
    const size_t stretches = joints.size() - 1;
    for (size_t k = 0; k < stretches; ++k) {
      const bool closes = c.closed && k + 1 == stretches;
      ColumnEdge edge;
      edge.from = joints[k];
      edge.to = joints[k + 1];
      edge.owns_from = ownedBy(index, edge.from);
      edge.owns_to = ownedBy(index, edge.to);
      edge.line =
          c.stretch(c.joints_mm[k], closes ? c.joints_mm[0] + c.total() : c.joints_mm[k + 1]);
      edge.line.front() = out.joints[static_cast<size_t>(edge.from)];
      edge.line.back() = out.joints[static_cast<size_t>(edge.to)];
      sew(withoutStubs(laid_[static_cast<size_t>(index)][k].all()), edge);
      out.edges.push_back(std::move(edge));
    }
  }

  bool ownedBy(int course, int joint) const {
    const auto owner = owners_.find(joint);
    return owner == owners_.end() || owner->second.course == course;
  }

  /// Needle points of a column: left and right in turn.
  void sew(const std::vector<Rung>& rungs, ColumnEdge& edge) const {
    ZigzagWriter writer(options_.satin, options_.inset_mm);
    for (const Rung& r : rungs) writer.add(r);
    edge.width_mm = std::max(0.01, writer.meanWidth_mm());
    edge.narrow = writer.narrow(options_.least_column_mm);
    edge.satin = edge.narrow ? writer.rail(0.75) : writer.needlePoints();
    if (!edge.narrow) edge.mirrored = writer.needlePoints(true);
    if (edge.narrow) edge.under = writer.rail(0.25);
    if (edge.narrow || writer.wideWidth_mm() < options_.zigzag_from_mm) return;
    edge.under = writer.underlay();
    edge.under_mirrored = writer.underlay(true);
  }

  /// A dot: one column straight through its middle.
  ColumnGraph blob() {
    CourseMaker maker(outline_, options_.satin.spacing_mm);
    courses_.push_back(maker.across());
    courseJoints_.push_back({0, 1});
    ColumnGraph out;
    const Course& c = courses_[0];
    out.joints = {c.at(c.joints_mm[0]), c.at(c.joints_mm[1])};
    lay(0);
    addCourse(0, out);
    return out;
  }

  OutlineCut outline_;
  AreaColumnOptions options_;
  MedialAxis axis_;
  std::vector<std::vector<BranchEnd>> ends_;
  std::map<BranchEnd, BranchEnd> onward_;
  std::vector<bool> used_;
  std::vector<Course> courses_;
  std::vector<std::vector<int>> courseJoints_;  // joints that each course meets, in its order
  std::map<int, std::vector<Meeting>> meetings_;
  std::map<int, Meeting> owners_;
  std::map<int, Claim> claims_;                   // of the owners
  std::vector<std::vector<CourseStretch>> laid_;  // by course
  CoverGrid cover_;                               // of the columns made so far
};

}  // namespace

StrokeWidths strokeWidths(const MedialAxis& axis) {
  StrokeWidths out;
  std::vector<std::pair<double, double>> widths;  // width, length of axis that has it
  for (const AxisBranch& b : axis.branches)
    for (size_t i = 1; i < b.line.size(); ++i) {
      const double mm = distance(b.line[i - 1].at, b.line[i].at);
      widths.emplace_back(b.line[i - 1].radius_mm + b.line[i].radius_mm, mm);
      out.length_mm += mm;
      out.most_mm = std::max(out.most_mm, widths.back().first);
    }
  std::sort(widths.begin(), widths.end());
  double sum = 0;
  for (const auto& [width, mm] : widths) {
    sum += mm;
    out.median_mm = width;
    if (sum >= out.length_mm / 2) break;
  }
  return out;
}

ColumnGraph areaColumns(const Area& area, const AreaColumnOptions& options) {
  ColumnGraph all;
  for (const Area& part : separated(area)) {
    ColumnGraph g = Weaver(part, options).run();
    const int shift = static_cast<int>(all.joints.size());
    all.joints.insert(all.joints.end(), g.joints.begin(), g.joints.end());
    for (ColumnEdge& e : g.edges) {
      e.from += shift;
      e.to += shift;
      all.edges.push_back(std::move(e));
    }
  }
  return all;
}

}  // namespace rt
