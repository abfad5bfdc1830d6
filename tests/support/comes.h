// Waiting in tests: for what must come, however slow the machine.
#pragma once

#include <QTest>
#include <utility>

namespace rt::testing {

/// What must come within it, comes; only what never does is waited for so long.
inline constexpr int kLongest_ms = 400'000;

/// Lets events run until `so` holds.
template <class So>
bool comes(So&& so) {
  return QTest::qWaitFor(std::forward<So>(so), kLongest_ms);
}

}  // namespace rt::testing
