#include "phone_address.h"

#include <arpa/inet.h>

#include <charconv>

#include "error.h"

namespace rt {
namespace {

constexpr int kPlainPort = 80, kTlsPort = 443;

[[noreturn]] void refuse(const std::string& problem, const std::string& text) {
  throw Error(problem, text, "give one address of this computer and a port, as in 192.0.2.7:8443");
}

uint16_t portIn(const std::string& digits, const std::string& text) {
  unsigned port = 0;
  const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), port);
  if (digits.empty() || error != std::errc() || end != digits.data() + digits.size() ||
      port > 65535)
    refuse("the port is no number from 0 to 65535", text);
  return static_cast<uint16_t>(port);
}

PhoneAddress four(const std::string& host, uint16_t port, const std::string& text) {
  in_addr at{};
  if (::inet_pton(AF_INET, host.c_str(), &at) != 1) refuse("this is no address", text);
  if (at.s_addr == 0) refuse("this stands for every address of the computer", text);
  return {host, port, false, (ntohl(at.s_addr) >> 24) == 127};
}

PhoneAddress six(const std::string& host, uint16_t port, const std::string& text) {
  in6_addr at{};
  if (::inet_pton(AF_INET6, host.c_str(), &at) != 1) refuse("this is no address", text);
  if (IN6_IS_ADDR_UNSPECIFIED(&at)) refuse("this stands for every address of the computer", text);
  if (IN6_IS_ADDR_V4MAPPED(&at)) refuse("give this address in its four numbers", text);
  char plain[INET6_ADDRSTRLEN] = {};
  ::inet_ntop(AF_INET6, &at, plain, sizeof plain);
  return {plain, port, true, IN6_IS_ADDR_LOOPBACK(&at) != 0};
}

}  // namespace

PhoneAddress parsePhoneAddress(const std::string& text) {
  const size_t colon = text.rfind(':');
  if (colon == std::string::npos || colon == 0) refuse("the port is missing", text);
  const std::string host = text.substr(0, colon);
  const uint16_t port = portIn(text.substr(colon + 1), text);
  if (host == "localhost") return four("127.0.0.1", port, text);
  if (host.front() == '[' && host.back() == ']')
    return six(host.substr(1, host.size() - 2), port, text);
  if (host.find(':') != std::string::npos)
    refuse("an address with colons stands in brackets", text);
  return four(host, port, text);
}

std::string authorityOf(const PhoneAddress& a) {
  return (a.six ? "[" + a.host + "]" : a.host) + ":" + std::to_string(a.port);
}

std::vector<std::string> hostsOf(const PhoneAddress& a) {
  std::vector<std::string> names{a.six ? "[" + a.host + "]" : a.host};
  if (a.loopback) names.push_back("localhost");
  const bool usual = a.port == (a.loopback ? kPlainPort : kTlsPort);
  std::vector<std::string> out;
  for (const std::string& name : names) {
    out.push_back(name + ":" + std::to_string(a.port));
    if (usual) out.push_back(name);
  }
  return out;
}

std::string schemeOf(const PhoneAddress& a) {
  return a.loopback ? "http" : "https";
}

}  // namespace rt
