// Every reader of bytes from outside, as a function of bytes.
#pragma once

#include <string>
#include <vector>

namespace rt::fuzz {

/// Reads `bytes`. Whatever they are it returns, or throws rt::Error: anything else is a bug.
struct Target {
  const char* name;
  void (*read)(const std::string& bytes);
};
const std::vector<Target>& targets();

}  // namespace rt::fuzz
