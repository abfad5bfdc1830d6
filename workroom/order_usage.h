// What one piece of an order takes, as the price is made of it.
#pragma once

#include "making.h"
#include "quote.h"
#include "work.h"

namespace rt {

/// What is quoted, with what was taken for granted.
struct Order {
  Usage usage;
  std::vector<std::string> assumptions;
};

/// A layout on a fabric; with a plan its frames and hoopings, without one a single hooping with
/// backing 25 mm larger than the layout. Throws Error for an unknown fabric.
Order orderOf(const Pattern& layout, const std::string& fabric, const HoopingPlan* plan,
              const Bench& bench);

/// Backing of one hooping: as large as its frame, mm².
double backingOf_mm2(const Hooping& hooping, const Bench& bench);

/// A cost's name, as the command line and the papers give it.
std::string nameOf(CostOf what);

}  // namespace rt
