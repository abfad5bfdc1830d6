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

/// Between the texts of two pieces: a space there is neither missing nor too many.
inline constexpr char kProofSeam = '\x1f';

/// The cheapest way to turn the ordered text into the sewn one: letters kept, changed in case,
/// changed, left out, added, or two neighbours exchanged (optimal string alignment; Boytsov 2011).
/// A space between words counts like a letter, however wide it is and whether it is a line break;
/// places count letters alone. An added letter equal to its neighbour is Doubled. Time and memory
/// go with the product of what is left between alike ends; over 3,000 letters of that are said to
/// differ as a whole. Throws Error for broken UTF-8.
std::vector<ProofMark> proofOf(const std::string& ordered, const std::string& sewn);

}  // namespace rt
