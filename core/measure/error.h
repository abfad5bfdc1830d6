// The one error type of the house.
#pragma once

#include <exception>
#include <string>
#include <utility>

namespace rt {

/// Thrown by readers and fits when input cannot be used. Caught in the command line's main and at
/// the window's command edge; bugs stop at an assertion instead.
class Error : public std::exception {
 public:
  /// `what` is wrong, `where` (file and line, element or option) and the `remedy`.
  Error(std::string what, std::string where, std::string remedy);

  /// One line: "what (where); remedy". Line breaks in the parts become spaces.
  const char* what() const noexcept override { return line_.c_str(); }
  const std::string& problem() const { return what_; }
  const std::string& where() const { return where_; }
  const std::string& remedy() const { return remedy_; }

 private:
  std::string what_, where_, remedy_, line_;
};

}  // namespace rt
