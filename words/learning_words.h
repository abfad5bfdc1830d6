// What a learned limit rests on, or what is still missing, in words for people.
#pragma once

#include "learning.h"

namespace rt {

std::string inWords(const LearnedLimit& learned);
std::string inWords(const LearnedLeast& learned);

}  // namespace rt
