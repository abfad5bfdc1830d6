// The proof: what is sewn read back against what was ordered, letter by letter.
#pragma once

#include <string>
#include <vector>

namespace rt {

enum class ProofKind { Same, Missing, Extra, Doubled, Swapped, WrongCase, Wrong };

/// One step of reading both texts side by side.
struct ProofMark {
  ProofKind kind = ProofKind::Same;
  std::string ordered, sewn;  ///< UTF-8; two letters each where swapped; empty where there is none.
  int place = 0;              ///< Of the ordered letter (or of where one is too many), from 1.
  friend bool operator==(const ProofMark&, const ProofMark&) = default;
};

/// The cheapest way to turn the ordered text into the sewn one, spaces aside: letters kept, changed
/// in case, changed, left out, added, or two neighbours exchanged (optimal string alignment;
/// Boytsov 2011). An added letter equal to its neighbour is Doubled. Time and memory go with the
/// product of the lengths: texts over 3,000 letters are read only to that length. Throws Error for
/// broken UTF-8.
std::vector<ProofMark> proofOf(const std::string& ordered, const std::string& sewn);

}  // namespace rt
