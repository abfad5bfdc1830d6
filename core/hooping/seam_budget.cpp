#include "seam_budget.h"

#include <algorithm>

#include "marks.h"

namespace rt {

std::vector<PlanMark> placingMarks(const std::vector<Hooping>& hoopings, size_t h, TieStyle style) {
  const std::vector<PlanMark>& own = hoopings[h].marks;
  if (style == TieStyle::Star || h == 0) return own;
  std::vector<PlanMark> found;
  for (const PlanMark& m : own)
    for (size_t g = 0; g < h; ++g)
      if (std::any_of(hoopings[g].marks.begin(), hoopings[g].marks.end(),
                      [&](const PlanMark& n) { return n.id == m.id; })) {
        found.push_back(m);
        break;
      }
  return found.size() >= 2 ? found : own;
}

std::vector<Point> centreLine(const Hooping& hooping) {
  const Box& f = hooping.settings.front().field.box;
  const double reach = std::max(f.width(), f.height()) / 2;
  return {f.centre() - Point{reach, 0}, f.centre() + Point{reach, 0}};
}

namespace {

using Row = std::vector<double>;

void addTo(Row& to, const Row& what, double times) {
  if (to.size() < what.size()) to.resize(what.size());
  for (size_t i = 0; i < what.size(); ++i) to[i] += what[i] * times;
}

double product(const Row& a, const Row& b, const std::vector<double>& sigma) {
  double sum = 0;
  for (size_t i = 0; i < std::min(a.size(), b.size()); ++i)
    sum += a[i] * b[i] * sigma[i] * sigma[i];
  return sum;
}

/// The setting that sews a mark: the first whose field holds its arms.
size_t sewerOf(const Hooping& h, Point at) {
  for (size_t s = 0; s < h.settings.size(); ++s)
    if (h.settings[s].field.holds(Box{at.x, at.y, at.x, at.y}.grown(kMarkArm_mm))) return s;
  return 0;
}

}  // namespace

SeamBudget::SeamBudget(const std::vector<Hooping>& hoopings, const std::vector<Hoop>& hoops,
                       TieStyle style, double mark_error_mm) {
  for (size_t h = 0; h < hoopings.size(); ++h) {
    std::vector<Point> places;
    std::vector<std::pair<Row, Row>> moved;
    const std::vector<PlanMark> marks = placingMarks(hoopings, h, style);
    auto look = [&](Point at, std::pair<Row, Row> lies) {
      lies.first.resize(sources_ + 2), lies.second.resize(sources_ + 2);
      lies.first[sources_] += 1, lies.second[sources_ + 1] += 1;
      sigma_.resize(sources_ + 2, mark_error_mm);
      sources_ += 2;
      places.push_back(at);
      moved.push_back(std::move(lies));
    };
    for (const PlanMark& m : marks) {
      std::pair<Row, Row> lies;  // where it really lies: as it was drawn, or as it was sewn
      for (size_t g = 0; style == TieStyle::Chain && g < h; ++g)
        if (std::any_of(hoopings[g].marks.begin(), hoopings[g].marks.end(),
                        [&](const PlanMark& n) { return n.id == m.id; })) {
          lies = displacement(movement_[g], g, sewerOf(hoopings[g], m.at), m.at);
          break;
        }
      look(m.at, std::move(lies));
    }
    if (places.size() < 2)
      for (Point p : centreLine(hoopings[h])) look(p, {});
    movement_.push_back(fitted(places, moved));
    setting_.emplace_back();
    for (size_t s = 0; s < hoopings[h].settings.size(); ++s) {
      setting_.back().push_back(sources_);
      if (s == 0) continue;
      sigma_.resize(sources_ + 2, hoops[static_cast<size_t>(hoopings[h].hoop)].setting_error_mm);
      sources_ += 2;
    }
  }
}

/// Least squares over equal marks: the mean of the moves, and the turn about their middle.
SeamBudget::Movement SeamBudget::fitted(const std::vector<Point>& marks,
                                        const std::vector<std::pair<Row, Row>>& moved) {
  Movement m;
  const double n = static_cast<double>(marks.size());
  for (Point p : marks) m.about = m.about + p * (1 / n);
  double spread = 0;
  for (Point p : marks) spread += dot(p - m.about, p - m.about);
  for (size_t i = 0; i < marks.size(); ++i) {
    addTo(m.dx, moved[i].first, 1 / n);
    addTo(m.dy, moved[i].second, 1 / n);
    if (spread <= kSame_mm) continue;
    const Point r = marks[i] - m.about;
    addTo(m.turn, moved[i].first, -r.y / spread);
    addTo(m.turn, moved[i].second, r.x / spread);
  }
  return m;
}

std::pair<Row, Row> SeamBudget::displacement(const Movement& m, size_t h, size_t s, Point p) const {
  Row x = m.dx, y = m.dy;
  const Point r = p - m.about;
  addTo(x, m.turn, -r.y);
  addTo(y, m.turn, r.x);
  if (s > 0 && h < setting_.size()) {
    const size_t at = setting_[h][s];
    x.resize(std::max(x.size(), at + 2)), y.resize(std::max(y.size(), at + 2));
    x[at] += 1, y[at + 1] += 1;
  }
  return {std::move(x), std::move(y)};
}

PlaceCovariance SeamBudget::at(size_t h, size_t s, Point p) const {
  const auto [x, y] = displacement(movement_[h], h, s, p);
  return {product(x, x, sigma_), product(x, y, sigma_), product(y, y, sigma_)};
}

PlaceCovariance SeamBudget::between(size_t h, size_t s, size_t g, size_t t, Point p) const {
  auto [x, y] = displacement(movement_[h], h, s, p);
  const auto [u, v] = displacement(movement_[g], g, t, p);
  addTo(x, u, -1);
  addTo(y, v, -1);
  return {product(x, x, sigma_), product(x, y, sigma_), product(y, y, sigma_)};
}

void predictErrors(HoopingPlan& plan, const std::vector<Hoop>& hoops, TieStyle style,
                   double mark_error_mm, const std::vector<std::vector<Point>>& meeting) {
  const SeamBudget budget(plan.hoopings, hoops, style, mark_error_mm);
  for (size_t h = 0; h < plan.hoopings.size(); ++h) {
    Hooping& hooping = plan.hoopings[h];
    hooping.predicted_error_mm = 0;
    for (size_t s = 0; s < hooping.settings.size(); ++s) {
      Box sewn;
      NeedleWalk walk;
      for (const Stitch& r : hooping.settings[s].pattern.stitches) {
        const NeedleWalk::Step step = walk.next(r);
        if (r.op != Op::Stitch || r.kind == Kind::Tie || r.kind == Kind::Mark) continue;
        sewn.add(r.at);
        if (step.sewn) sewn.add(step.from);
      }
      for (int c = 0; c < 4 && !sewn.empty(); ++c)
        hooping.predicted_error_mm =
            std::max(hooping.predicted_error_mm, within95_mm(budget.at(h, s, sewn.corner(c))));
    }
  }
  plan.worst_seam_error_mm = 0;
  for (size_t i = 0; i < plan.seams.size(); ++i) {
    Seam& seam = plan.seams[i];
    seam.error_mm = -1;
    std::vector<Point> places = meeting[i];
    if (places.empty()) places.push_back(seam.at);
    for (Point p : places) {
      const double e = within95_mm(budget.between(
          static_cast<size_t>(seam.first - 1), static_cast<size_t>(seam.first_setting - 1),
          static_cast<size_t>(seam.second - 1), static_cast<size_t>(seam.second_setting - 1), p));
      if (e > seam.error_mm) seam.error_mm = e, seam.at = p;
    }
    plan.worst_seam_error_mm = std::max(plan.worst_seam_error_mm, seam.error_mm);
  }
}

}  // namespace rt
