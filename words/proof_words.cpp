#include "proof_words.h"

namespace rt {

std::string inWords(const std::vector<ProofMark>& marks) {
  for (const ProofMark& m : marks) {
    if (m.ordered == " " && m.kind == ProofKind::Missing)
      return "after letter " + std::to_string(m.place) + ": the space between words is missing";
    if (m.sewn == " " && (m.kind == ProofKind::Extra || m.kind == ProofKind::Doubled))
      return "before letter " + std::to_string(m.place) + ": a space is sewn and was not ordered";
    const std::string where = "letter " + std::to_string(m.place) + ": ";
    const std::string want = "\"" + m.ordered + "\"", have = "\"" + m.sewn + "\"";
    switch (m.kind) {
      case ProofKind::Same:
        continue;
      case ProofKind::Missing:
        return where + want + " is missing from the sewing";
      case ProofKind::Extra:
        return where + have + " is sewn and was not ordered";
      case ProofKind::Doubled:
        return where + have + " is sewn twice";
      case ProofKind::Swapped:
        return where + want + " is sewn as " + have + ": two letters are exchanged";
      case ProofKind::WrongCase:
        return where + "the order has " + want + ", the layout sews " + have +
               ": capital and small letter differ";
      case ProofKind::Wrong:
        return where + "the order has " + want + ", the layout sews " + have;
    }
  }
  return {};
}

std::string proofOf(const Job& job) {
  return inWords(proofMarks(job));
}

}  // namespace rt
