#include "selection.h"

#include <algorithm>

namespace rt {
namespace {

const Piece* pieceIn(const Job& job, int id) {
  for (const Piece& p : job.pieces)
    if (p.id == id) return &p;
  return nullptr;
}

std::vector<int> groupOf(const Job& job, int piece_id) {
  const Piece* leader = pieceIn(job, piece_id);
  std::vector<int> out;
  for (const Piece& p : job.pieces)
    if (p.id == piece_id || (leader && leader->group > 0 && p.group == leader->group))
      out.push_back(p.id);
  return out;
}

}  // namespace

bool Selection::isChosen(int piece_id) const {
  return std::find(chosen_.begin(), chosen_.end(), piece_id) != chosen_.end();
}

void Selection::select(const Job& job, int piece_id) {
  std::vector<int> next = groupOf(job, piece_id);
  if (piece_id == leading_ && next == chosen_) return;
  leading_ = piece_id;
  chosen_ = std::move(next);
  emit changed();
}

void Selection::selectAlso(const Job& job, int piece_id) {
  const std::vector<int> more = groupOf(job, piece_id);
  if (more.empty()) return;
  const bool out = isChosen(piece_id);
  for (int id : more) {
    std::erase(chosen_, id);
    if (!out) chosen_.push_back(id);
  }
  std::vector<int> inOrder;
  for (const Piece& p : job.pieces)
    if (isChosen(p.id)) inOrder.push_back(p.id);
  chosen_ = std::move(inOrder);
  leading_ = !out ? piece_id : chosen_.empty() ? 0 : chosen_.back();
  emit changed();
}

void Selection::lead(int piece_id) {
  if (!isChosen(piece_id) || piece_id == leading_) return;
  leading_ = piece_id;
  emit changed();
}

void Selection::clear() {
  leading_ = 0;
  chosen_.clear();
}

void Selection::keepTo(const Job& job) {
  std::erase_if(chosen_, [&](int id) { return !pieceIn(job, id); });
  if (!pieceIn(job, leading_)) leading_ = chosen_.empty() ? 0 : chosen_.back();
}

}  // namespace rt
