#include "key_guard.h"

#include <sys/random.h>

#include <array>
#include <cstdint>

#include "error.h"

namespace rt {
namespace {

constexpr char kLetters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";
constexpr auto kWhile = std::chrono::minutes(1);

}  // namespace

std::string newPhoneKey() {
  std::array<uint8_t, 22> random{};  // six bits of each are used: 132
  if (::getrandom(random.data(), random.size(), 0) != static_cast<ssize_t>(random.size()))
    throw Error("the system gives no random numbers", "key", "start the program again");
  std::string out;
  for (uint8_t byte : random) out += kLetters[byte & 63];
  return out;
}

bool sameKey(const std::string& given, const std::string& key) {
  unsigned differs = given.size() == key.size() ? 0 : 1;
  for (size_t i = 0; i < key.size(); ++i)
    differs |= static_cast<unsigned char>(key[i] ^ (i < given.size() ? given[i] : '\0'));
  return differs == 0 && !key.empty();
}

std::deque<KeyGuard::Time>& KeyGuard::recent(const std::string& address, Time now) {
  if (by_.size() >= kAddresses && !by_.contains(address)) {
    auto oldest = by_.begin();
    for (auto it = by_.begin(); it != by_.end(); ++it)
      if (it->second.empty() ||
          (!oldest->second.empty() && it->second.back() < oldest->second.back()))
        oldest = it;
    by_.erase(oldest);
  }
  auto& times = by_[address];
  while (!times.empty() && now - times.front() >= kWhile) times.pop_front();
  return times;
}

bool KeyGuard::wrong(const std::string& address, Time now) {
  auto& times = recent(address, now);
  const bool many = times.size() >= kWrongAMinute;
  times.push_back(now);
  if (times.size() > kWrongAMinute) times.pop_front();
  return many;
}

bool KeyGuard::tooMany(const std::string& address, Time now) {
  return recent(address, now).size() >= kWrongAMinute;
}

}  // namespace rt
