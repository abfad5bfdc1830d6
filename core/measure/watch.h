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
  /// What the best answer so far counts (hoopings of a plan); 0: there is none yet.
  int best = 0;
};

/// Enough: seek no further, give the best there is; work that has no such thing goes on.
enum class Go { On, Enough, Stop };

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
/// True if the best so far is enough. Throws Stopped when told to stop.
inline bool enoughAsked(const Watch& watch, const WorkProgress& progress) {
  if (!watch) return false;
  const Go go = watch(progress);
  if (go == Go::Stop) throw Stopped();
  return go == Go::Enough;
}
/// The same for work that gives nothing when it is stopped.
inline void watched(const Watch& watch, double part, std::string_view stage) {
  if (stopAsked(watch, part, stage)) throw Stopped();
}

}  // namespace rt
