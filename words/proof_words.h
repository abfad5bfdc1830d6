// What the proof found, in words for people.
#pragma once

#include "job.h"

namespace rt {

/// The first difference as a sentence, or "" when there is none.
std::string inWords(const std::vector<ProofMark>& marks);
/// The same of a job's lettering against its order.
std::string proofOf(const Job& job);

}  // namespace rt
