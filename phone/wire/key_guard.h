// The key of the page, and how often strangers may guess at it.
#pragma once

#include <chrono>
#include <deque>
#include <map>
#include <string>

namespace rt {

/// 128 random bits of the system, as 22 letters and digits of base64url. Throws Error where the
/// system gives none.
std::string newPhoneKey();

/// Compares in a time that does not tell how much of it was right.
bool sameKey(const std::string& given, const std::string& key);

/// Counts wrong keys by address.
class KeyGuard {
 public:
  using Time = std::chrono::steady_clock::time_point;
  static constexpr size_t kWrongAMinute = 10;
  static constexpr size_t kAddresses = 4096;  ///< That are remembered; the oldest go first.

  /// A wrong key came. True: this address has given too many within the last minute, this one not
  /// counted.
  bool wrong(const std::string& address, Time now);
  /// Whether a further one without a key is answered likewise.
  bool tooMany(const std::string& address, Time now);

 private:
  std::deque<Time>& recent(const std::string& address, Time now);
  std::map<std::string, std::deque<Time>> by_;
};

}  // namespace rt
