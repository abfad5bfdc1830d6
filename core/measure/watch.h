// How long work says how far it is, and is told to stop: a plain struct out, an enum back.
#pragma once

#include <exception>
#include <functional>
#include <string_view>

namespace rt {

/// How far long work has come.
struct WorkProgress {
  double part = 0;         ///< 0 to 1; never falls.
  std::string_view stage;  ///< What is being done, for people; a literal.
};

enum class Go { On, Stop };

/// Called now and then by long work, from its own thread. An empty watch is never asked.
using Watch = std::function<Go(const WorkProgress&)>;

/// Thrown by work that was told to stop and has no result worth giving.
class Stopped : public std::exception {
 public:
  const char* what() const noexcept override { return "stopped"; }
};

/// Tells the watch; true if the work shall stop.
inline bool stopAsked(const Watch& watch, double part, std::string_view stage) {
  return watch && watch({part, stage}) == Go::Stop;
}
/// The same for work that gives nothing when it is stopped.
inline void watched(const Watch& watch, double part, std::string_view stage) {
  if (stopAsked(watch, part, stage)) throw Stopped();
}

}  // namespace rt
