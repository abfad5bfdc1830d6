#include "request_law.h"

#include <algorithm>
#include <charconv>
#include <map>

namespace rt {
namespace {

constexpr int kLongestNumber = 9;

std::string small(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
  return text;
}

/// Digits alone; unset: it is no number, or a very long one.
std::optional<uint64_t> numberIn(const std::string& text) {
  uint64_t n = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), n);
  if (text.empty() || error != std::errc() || end != text.data() + text.size()) return {};
  return n;
}

std::optional<int> countIn(const std::string& text) {
  const auto n = text.size() <= kLongestNumber ? numberIn(text) : std::nullopt;
  return n && *n > 0 ? std::optional<int>(static_cast<int>(*n)) : std::nullopt;
}

bool contains(const std::vector<std::string>& all, const std::string& one) {
  return std::find(all.begin(), all.end(), one) != all.end();
}

struct Path {
  Resource what;
  const char* method;
};
const std::map<std::string, Path>& paths() {
  static const std::map<std::string, Path> all{
      {"/api/state", {Resource::State, "GET"}}, {"/api/events", {Resource::Events, "GET"}},
      {"/api/scan", {Resource::Scan, "POST"}},  {"/api/pause", {Resource::Pause, "POST"}},
      {"/api/sheet", {Resource::Sheet, "GET"}}, {"/api/picture", {Resource::Picture, "GET"}}};
  return all;
}

using Said = std::optional<Refusal>;

Said form(const RequestHead& head, const DoorRules& rules) {
  if (head.header_bytes > rules.header_bytes)
    return Refusal{431, "The request's head is too long.", {}};
  for (const char* once :
       {"host", "origin", "authorization", "content-length", "content-type", "transfer-encoding"})
    if (head.count(once) > 1)
      return Refusal{400, std::string("The request says ") + once + " twice.", {}};
  const std::string* length = head.header("content-length");
  if (length && (!numberIn(*length) || head.chunked()))
    return Refusal{400, "The length of the request cannot be told.", {}};
  const std::string* coding = head.header("transfer-encoding");
  if (coding && small(*coding) != "chunked" && small(*coding) != "identity")
    return Refusal{400, "The request comes in a form that is not known here.", {}};
  return {};
}

Said place(const RequestHead& head, const DoorRules& rules) {
  const std::string* host = head.header("host");
  if (!host || !contains(rules.hosts, small(*host)))
    return Refusal{403, "This is not the address that the page is served at.", {}};
  const std::string* origin = head.header("origin");
  const auto own = [&](const std::string& name) {
    return small(*origin) == rules.scheme + "://" + name;
  };
  if (origin && std::none_of(rules.hosts.begin(), rules.hosts.end(), own))
    return Refusal{403, "Another site asks: only the page itself may.", {}};
  return {};
}

Said key(const RequestHead& head, const DoorRules& rules, KeyGuard& guard, KeyGuard::Time now) {
  static const std::string kBearer = "bearer ";
  const std::string* said = head.header("authorization");
  const bool given = said && small(said->substr(0, kBearer.size())) == kBearer;
  if (given && sameKey(said->substr(kBearer.size()), rules.key)) return {};
  const bool many = given ? guard.wrong(head.from, now) : guard.tooMany(head.from, now);
  if (many)
    return Refusal{429, "Too many wrong keys: wait a minute, then scan the code again.", {}};
  return Refusal{
      401, "The key is missing or no longer right: scan the code in the window again.", {}};
}

Said method(const RequestHead& head, const std::string& allowed) {
  if (head.method == allowed || (allowed == "GET" && head.method == "HEAD")) return {};
  return Refusal{405, "This cannot be done here.", allowed == "GET" ? "GET, HEAD" : allowed};
}

/// What is asked for has to be there.
std::variant<Route, Refusal> found(const RequestHead& head, const DoorRules& rules, Route route) {
  for (const char* name : {"hooping", "page"})
    if (const std::string* said = head.argument(name)) {
      const auto n = countIn(*said);
      if (!n || (name[0] == 'h' && rules.hoopings > 0 && *n > rules.hoopings))
        return Refusal{
            404, "There is no " + std::string(name) + " " + said->substr(0, 40) + ".", {}};
      (name[0] == 'h' ? route.hooping : route.page) = *n;
    }
  if (route.what == Resource::Pause) {
    const std::string* machine = head.argument("machine");
    if (!machine || !contains(rules.machines, *machine))
      return Refusal{404, "There is no such machine.", {}};
    route.machine = *machine;
  }
  return route;
}

Said body(const RequestHead& head, const DoorRules& rules, Route& route) {
  if (const std::string* length = head.header("content-length"))
    route.length = numberIn(*length).value_or(0);
  if (route.length > rules.body_bytes)
    return Refusal{413, "A photo may have 40 MB: take one of fewer pixels.", {}};
  if (route.what != Resource::Scan) return {};
  const std::string* said = head.header("content-type");
  const std::string type =
      said ? small(said->substr(0, said->find_first_of("; \t"))) : std::string();
  if (type == "image/jpeg" || type == "image/png") return {};
  return Refusal{415,
                 "A photo has to be JPEG or PNG. Some phones send HEIC: choose the most compatible "
                 "format in the camera's settings.",
                 {}};
}

}  // namespace

const std::string* RequestHead::header(const std::string& name) const {
  for (const auto& [key, value] : headers)
    if (small(key) == name) return &value;
  return nullptr;
}

size_t RequestHead::count(const std::string& name) const {
  return static_cast<size_t>(std::count_if(headers.begin(), headers.end(),
                                           [&](const auto& h) { return small(h.first) == name; }));
}

const std::string* RequestHead::argument(const std::string& name) const {
  for (const auto& [key, value] : query)
    if (key == name) return &value;
  return nullptr;
}

bool RequestHead::chunked() const {
  const std::string* coding = header("transfer-encoding");
  return coding && small(*coding) == "chunked";
}

std::variant<Route, Refusal> judged(const RequestHead& head, const DoorRules& rules,
                                    KeyGuard& guard, KeyGuard::Time now) {
  if (Said no = form(head, rules)) return *no;
  if (Said no = place(head, rules)) return *no;
  if (contains(rules.pages, head.path)) {  // the page itself holds nothing of the job
    if (Said no = method(head, "GET")) return *no;
    Route page;
    page.file = head.path;
    return page;
  }
  if (Said no = key(head, rules, guard, now)) return *no;
  const auto path = paths().find(head.path);
  if (path == paths().end()) return Refusal{404, "There is nothing at this address.", {}};
  Route asked;
  asked.what = path->second.what;
  if (Said no = method(head, path->second.method)) return *no;
  auto out = found(head, rules, asked);
  if (!std::holds_alternative<Route>(out)) return out;
  if (Said no = body(head, rules, std::get<Route>(out))) return *no;
  return out;
}

}  // namespace rt
