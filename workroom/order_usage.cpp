#include "order_usage.h"

#include "length.h"
#include "statistics.h"
#include "thread_shelf.h"

namespace rt {
namespace {

constexpr double kBackingRoom_mm = 25;  // around a layout without a plan

/// What the frames of a plan take of the backing, mm².
double backingOf(const HoopingPlan& plan, const Bench& bench) {
  double sum = 0;
  for (const Hooping& h : plan.hoopings) sum += backingOf_mm2(h, bench);
  return sum;
}

}  // namespace

double backingOf_mm2(const Hooping& h, const Bench& bench) {
  Box all;
  for (const PlanSetting& f : h.settings) all.add(f.field.box);
  all = all.grown(Hoop{}.clear_mm);
  for (const Hoop& known : bench.shop.hoops)
    if (known.id == h.hoop_id) all = clampedBox(known, h.turn_deg);
  return all.width() * all.height();
}

Order orderOf(const Pattern& layout, const std::string& fabric, const HoopingPlan* plan,
              const Bench& bench) {
  Order order;
  const Statistics s = statisticsOf(layout, bench.shop.time);
  const double share = bench.shop.practice.sewing.bobbin_share;
  const ThreadTake take{fabricById(bench.shop.fabrics, fabric).thickness_mm, share};
  order.usage.sewing_s = s.sewing_time_s;
  order.usage.top_mm = topThread_mm(s, take.cloth_mm);
  order.usage.bobbin_mm = order.usage.top_mm * share;
  order.assumptions.push_back("the bobbin gives " + formatNumber(share * 100, 0) +
                              " % of the top thread's length");
  if (plan) {
    order.usage.hoopings = static_cast<int>(plan->hoopings.size());
    order.usage.backing_mm2 = backingOf(*plan, bench);
    order.assumptions.push_back("backing as large as the frames of the plan");
  } else {
    const Box b = s.bounds.empty() ? Box{0, 0, 0, 0} : s.bounds.grown(kBackingRoom_mm);
    order.usage.backing_mm2 = b.width() * b.height();
    order.assumptions.push_back("one hooping; backing 25 mm larger than the layout on every side");
  }
  order.assumptions.push_back("sewing time for one needle, by the shop's time model");
  return order;
}

std::string nameOf(CostOf what) {
  switch (what) {
    case CostOf::Labour:
      return "labour: hooping and set-up";
    case CostOf::Machine:
      return "machine: sewing";
    case CostOf::TopThread:
      return "top thread";
    case CostOf::Bobbin:
      return "bobbin thread";
    case CostOf::Backing:
      return "backing";
    case CostOf::Blanks:
      return "blanks";
    case CostOf::Spoilage:
      return "spoilage";
  }
  return "";
}

}  // namespace rt
