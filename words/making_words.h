// What came of lettering, sizing and ordering, in words for people.
#pragma once

#include "job.h"
#include "letter.h"
#include "resize.h"

namespace rt {

std::string inWords(const LetterWarning& warning);
std::string inWords(const ResizeWarning& warning);
std::string inWords(const Covered& covered);
std::string inWords(const HeldBack& held);

template <class Warning>
std::vector<std::string> allInWords(const std::vector<Warning>& warnings) {
  std::vector<std::string> out;
  for (const Warning& w : warnings) out.push_back(inWords(w));
  return out;
}

}  // namespace rt
