// Where the page for phones is served: one address and port, as a person gives it.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace rt {

struct PhoneAddress {
  std::string host;       ///< An IPv4 or IPv6 address, as the system writes it; no brackets.
  uint16_t port = 0;      ///< 0: any free one.
  bool six = false;       ///< IPv6.
  bool loopback = false;  ///< Reached from this computer alone: served without TLS.
};

/// `192.0.2.7:8080`, `[::1]:0`, `localhost:0`. Throws Error for anything else, and for an address
/// that stands for every one of this computer.
PhoneAddress parsePhoneAddress(const std::string& text);

/// `host:port` as it stands in a link; an IPv6 address in brackets.
std::string authorityOf(const PhoneAddress& address);
/// Every `Host` that names this address, in small letters: the port may be left out where it is the
/// scheme's own; for a loopback address `localhost` is one too.
std::vector<std::string> hostsOf(const PhoneAddress& address);
/// `http` on a loopback address, `https` elsewhere.
std::string schemeOf(const PhoneAddress& address);

}  // namespace rt
