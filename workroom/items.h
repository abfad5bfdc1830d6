// Items, their places and what they need: laid under a job, advised on, listed for shopping, and a
// job that was sewn before repeated with another text.
#pragma once

#include "actions.h"
#include "item_list.h"
#include "work.h"

namespace rt {

/// The shop's items. Throws Error like `readItems`.
std::vector<Item> itemsOf(const Bench& bench);
/// Throws Error naming what is there.
const Item& itemById(const std::vector<Item>& items, const std::string& id);
const ItemPlace& placeById(const Item& item, const std::string& id);
/// A size counted from 0; "" is the first. Throws Error naming what is there.
size_t sizeByName(const Item& item, const std::string& name);

/// Materials for a fabric, each with its reason; empty where the data has none.
std::vector<Advice> adviceFor(const std::string& fabric, const Bench& bench);

/// One thing to have at hand before the job is sewn.
struct ShoppingLine {
  std::string what;  ///< "Thread 2710 reed green".
  double amount = 0;
  std::string unit;  ///< `m`, `m²`, `pieces`.
  int packs = 0;     ///< Cones, bobbins, needles; 0: by the measure.
  std::string why;   ///< What it is for, or how it was reckoned.
};
/// For `pieces` of a layout, as it is sewn: blanks, threads by the shelf, bobbins, backing, topper,
/// needle, marks. With a plan backing is for its frames, without one for a single hooping.
std::vector<ShoppingLine> shoppingFor(const Pattern& layout, const Brief& brief,
                                      const HoopingPlan* plan, int pieces, const Bench& bench);
/// As a CSV table, for the shelf or the shop.
std::string csvOf(const std::vector<ShoppingLine>& list);

namespace actions {

/// Lays an item's place under the job: its words, size, fabric, how it is held, its edges as zones.
/// Edges of any item that were laid before go; zones of a person's own stay.
Job laidOn(Job job, const Item& item, const ItemPlace& place, size_t size, const Bench& bench);

/// A text set into a piece that is there, no longer than the one before: its letters get smaller
/// where it would be. Throws Error for a piece without text, and where no height fits.
Job fitted(Job job, int id, const std::string& text, const Bench& bench);

/// The same job once more for another order text: all but the text stays. Lines of the old order
/// that a piece sews become the new order's lines; the proof has to be read anew. The new job has
/// no id yet.
Job repeatedFor(Job job, const std::string& order_text, const Bench& bench);

}  // namespace actions
}  // namespace rt
