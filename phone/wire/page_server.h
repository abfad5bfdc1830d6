// The server of the page for phones: one address, a thread of its own, and limits for everybody.
// It knows no job: what is shown is given to it, what is asked is handed on.
#pragma once

#include <chrono>
#include <functional>
#include <map>
#include <memory>
#include <optional>

#include "certificate.h"
#include "phone_address.h"
#include "request_law.h"

namespace rt {

struct ServerLimits {
  unsigned places = 32;          ///< Connections at once.
  unsigned kept_for_others = 8;  ///< Of them, that readers of events never take.
  unsigned uploads = 6;          ///< Photos that come in or are read at once; more get 503.
  std::chrono::milliseconds header{30'000};        ///< In which a head has to be whole.
  std::chrono::milliseconds refused_body{10'000};  ///< For how long a refused body is still heard.
  unsigned silence_s = 10;  ///< After which a connection that says nothing is closed.
  std::chrono::milliseconds comment{5'000};  ///< Between comments to readers of events.
};

struct Reply {
  int status = 200;
  std::string body;
  std::string type = "application/json";
};

/// An allowed request, whole.
struct Asked {
  Route route;
  std::string body;
  std::string from;                  ///< Address that it came from.
  std::function<void(Reply)> reply;  ///< From any thread, once; late ones are dropped.
};

struct PageFile {
  std::string body, type;
};

class PageServer {
 public:
  struct Setup {
    PhoneAddress address;
    std::optional<Certificate> certificate;  ///< Set: served by TLS alone, 1.2 or later.
    std::map<std::string, PageFile> pages;   ///< By path; of the page itself, for anybody.
    std::string key;
    /// Called on the server's thread: must hand on, not work.
    std::function<void(Asked)> asked;
    ServerLimits limits = {};
  };
  /// Listens. Throws Error where it cannot.
  explicit PageServer(Setup setup);
  ~PageServer();
  PageServer(const PageServer&) = delete;
  PageServer& operator=(const PageServer&) = delete;

  /// With the port that it got.
  const PhoneAddress& address() const;
  /// What `state` and `events` say from now on, and what there is to be asked for.
  void setState(std::string json, std::vector<std::string> machines, int hoopings);
  /// The key that was is wrong from now on, and whoever listens by it is put off.
  void setKey(std::string key);
  /// Phones that listen to events.
  size_t listeners() const;

 private:
  class Wire;
  std::shared_ptr<Wire> wire_;
};

}  // namespace rt
