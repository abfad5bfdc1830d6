#include "materials.h"

namespace rt {
namespace {

LimitFactors between(const std::vector<std::pair<double, LimitFactors>>& list, double size) {
  if (list.empty()) return {};
  if (size <= list.front().first) return list.front().second;
  for (size_t i = 1; i < list.size(); ++i) {
    if (size > list[i].first) continue;
    const auto& [low, a] = list[i - 1];
    const auto& [high, b] = list[i];
    const double t = (size - low) / (high - low);
    auto at = [t](double from, double to) { return from + t * (to - from); };
    return {at(a.density, b.density), at(a.holes, b.holes), at(a.spacing, b.spacing)};
  }
  return list.back().second;
}

LimitFactors ofBacking(const MaterialTable& table, const std::string& backing) {
  for (const auto& [word, factors] : table.backings)
    if (backing.find(word) != std::string::npos) return factors;
  return {};
}

}  // namespace

LimitFactors factorsFor(const Fabric& fabric, const Materials& m, const MaterialTable& table) {
  constexpr double kUsualNeedle_nm = 75, kUsualWeight = 40;
  LimitFactors out;
  auto by = [&](const LimitFactors& now, const LimitFactors& usual) {
    out.density *= now.density / usual.density;
    out.holes *= now.holes / usual.holes;
    out.spacing *= now.spacing / usual.spacing;
  };
  by(between(table.needles, m.needle_nm), between(table.needles, kUsualNeedle_nm));
  by(between(table.threads, m.thread_weight), between(table.threads, kUsualWeight));
  if (m.backing != fabric.backing)
    by(ofBacking(table, m.backing), ofBacking(table, fabric.backing));
  const bool usualTopper = !fabric.topper.empty();
  if (m.topper && !usualTopper) by(table.topper, {});
  if (!m.topper && usualTopper) by({}, table.topper);
  return out;
}

Fabric withFactors(Fabric f, const LimitFactors& factors) {
  f.density_mm_per_mm2.check *= factors.density;
  f.density_mm_per_mm2.stop *= factors.density;
  f.holes_per_mm2.check *= factors.holes;
  f.holes_per_mm2.stop *= factors.holes;
  f.spacing.rows_mm *= factors.spacing;
  f.spacing.satin_mm *= factors.spacing;
  return f;
}

}  // namespace rt
