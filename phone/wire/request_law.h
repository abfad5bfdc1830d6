// Who may ask what of the page's server: one pure function from the head of a request.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

#include "key_guard.h"

namespace rt {

/// A request without its body.
struct RequestHead {
  std::string method, path;                                ///< The path is decoded.
  std::vector<std::pair<std::string, std::string>> query;  ///< Decoded, in their order.
  std::vector<std::pair<std::string, std::string>> headers;
  size_t header_bytes = 0;
  std::string from;  ///< Address that it came from.

  /// By its name, letter case aside; unset: there is none.
  const std::string* header(const std::string& name) const;
  size_t count(const std::string& name) const;
  const std::string* argument(const std::string& name) const;
  bool chunked() const;
};

enum class Resource { Page, State, Events, Scan, Pause, Sheet, Picture };

/// What an allowed request is for.
struct Route {
  Resource what = Resource::Page;
  std::string file;     ///< Page: its path.
  std::string machine;  ///< Pause.
  int hooping = 0;      ///< Scan, picture, sheet; 0: none was named.
  int page = 1;         ///< Sheet: of those of the hooping.
  uint64_t length = 0;  ///< Of the body as it was told; 0: none, or in chunks.
};

struct Refusal {
  int status = 400;
  std::string error;  ///< A sentence for the person at the phone.
  std::string allow;  ///< 405: methods that are.
};

struct DoorRules {
  std::vector<std::string> hosts;  ///< That are this door, small letters.
  std::string scheme;              ///< `http` or `https`.
  std::string key;
  std::vector<std::string> pages;  ///< Paths of the page's own files.
  /// What there is to ask for, as far as it is known.
  std::vector<std::string> machines;
  int hoopings = 0;  ///< 0: nothing is planned yet.
  size_t header_bytes = 16 << 10, body_bytes = 40 << 20;
};

/// The first reason against it, in this order: form, Host and Origin, key, path, method, length,
/// type. What a body says is not known yet. Never throws.
std::variant<Route, Refusal> judged(const RequestHead& head, const DoorRules& rules,
                                    KeyGuard& guard, KeyGuard::Time now);

}  // namespace rt
