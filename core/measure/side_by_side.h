// Independent pieces of work, two at a time.
#pragma once

#include <atomic>
#include <exception>
#include <thread>

namespace rt {

/// Calls `work(i)` for 0 to count - 1, on this thread and one more, in no certain order. The first
/// exception is thrown again here, once both are done. `work` must not touch what another call
/// changes.
template <class Work>
void sideBySide(size_t count, const Work& work) {
  std::atomic<size_t> next{0};
  std::exception_ptr problem[2];
  auto run = [&](size_t who) {
    try {
      for (size_t i = next++; i < count; i = next++) work(i);
    } catch (...) {
      problem[who] = std::current_exception();
      next = count;
    }
  };
  if (count < 2) {
    run(0);
  } else {
    std::thread helper(run, 1);
    run(0);
    helper.join();
  }
  for (const std::exception_ptr& p : problem)
    if (p) std::rethrow_exception(p);
}

}  // namespace rt
