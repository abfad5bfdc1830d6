#include "page_server.h"

#include <arpa/inet.h>
#include <microhttpd.h>
#include <sys/socket.h>
#include <unistd.h>

#include <condition_variable>
#include <cstring>
#include <mutex>
#include <set>
#include <thread>

#include "error.h"

namespace rt {
namespace {

using Clock = std::chrono::steady_clock;

// of libmicrohttpd's buffer for a head: a head that is refused for its length is read to its end,
// so that the refusal is heard
constexpr size_t kHeadRoom = 160 << 10;
constexpr size_t kEventBlock = 4096;
constexpr uint64_t kHeardOut = 64 << 20;  // bytes of a refused body that are still heard
constexpr auto kTick = std::chrono::milliseconds(250);
constexpr int kWaiting = 64;  // connections that the system holds for us
constexpr const char* kComment = ":\n\n";
constexpr const char* kTls = "NORMAL:-VERS-ALL:+VERS-TLS1.3:+VERS-TLS1.2";

/// What every answer says besides.
constexpr std::pair<const char*, const char*> kAlways[] = {
    {"Content-Security-Policy",
     "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' blob:; connect-src "
     "'self'; manifest-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"},
    {"X-Content-Type-Options", "nosniff"},
    {"X-Frame-Options", "DENY"},
    {"Referrer-Policy", "no-referrer"},
    {"Cross-Origin-Resource-Policy", "same-origin"},
    {"Cross-Origin-Opener-Policy", "same-origin"},
    {"Cache-Control", "no-store"},
};

std::string escaped(const std::string& text) {
  std::string out;
  for (char c : text) {
    if (c == '"' || c == '\\') out += '\\';
    if (static_cast<unsigned char>(c) >= 0x20) out += c;
  }
  return out;
}

Reply replyOf(const Refusal& no) {
  return {no.status, R"({"error":")" + escaped(no.error) + "\"}", "application/json"};
}

struct CloseFile {
  int file = -1;
  ~CloseFile() {
    if (file >= 0) ::close(file);
  }
};

[[noreturn]] void cannotListen(const PhoneAddress& at, int error) {
  throw Error("the page for phones cannot listen there: " + std::string(std::strerror(error)),
              authorityOf(at),
              "give an address of this computer and a port that is free, or port 0");
}

int listeningSocket(const PhoneAddress& at) {
  CloseFile socket{::socket(at.six ? AF_INET6 : AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0)};
  if (socket.file < 0) cannotListen(at, errno);
  const int yes = 1;
  ::setsockopt(socket.file, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
  sockaddr_storage place{};
  socklen_t size = sizeof(sockaddr_in);
  if (at.six) {
    auto* to = reinterpret_cast<sockaddr_in6*>(&place);
    ::setsockopt(socket.file, IPPROTO_IPV6, IPV6_V6ONLY, &yes, sizeof yes);
    *to = {AF_INET6, htons(at.port), 0, {}, 0};
    ::inet_pton(AF_INET6, at.host.c_str(), &to->sin6_addr);
    size = sizeof *to;
  } else {
    auto* to = reinterpret_cast<sockaddr_in*>(&place);
    to->sin_family = AF_INET;
    to->sin_port = htons(at.port);
    ::inet_pton(AF_INET, at.host.c_str(), &to->sin_addr);
  }
  if (::bind(socket.file, reinterpret_cast<sockaddr*>(&place), size) != 0 ||
      ::listen(socket.file, kWaiting) != 0)
    cannotListen(at, errno);
  return std::exchange(socket.file, -1);
}

uint16_t portOf(int socket, bool six) {
  sockaddr_storage place{};
  socklen_t size = sizeof place;
  ::getsockname(socket, reinterpret_cast<sockaddr*>(&place), &size);
  return ntohs(six ? reinterpret_cast<sockaddr_in6*>(&place)->sin6_port
                   : reinterpret_cast<sockaddr_in*>(&place)->sin_port);
}

std::string addressOf(MHD_Connection* connection) {
  const auto* info = MHD_get_connection_info(connection, MHD_CONNECTION_INFO_CLIENT_ADDRESS);
  if (!info || !info->client_addr) return {};
  char text[INET6_ADDRSTRLEN] = {};
  if (info->client_addr->sa_family == AF_INET)
    ::inet_ntop(AF_INET, &reinterpret_cast<const sockaddr_in*>(info->client_addr)->sin_addr, text,
                sizeof text);
  else
    ::inet_ntop(AF_INET6, &reinterpret_cast<const sockaddr_in6*>(info->client_addr)->sin6_addr,
                text, sizeof text);
  return text;
}

int socketOf(MHD_Connection* connection) {
  const auto* info = MHD_get_connection_info(connection, MHD_CONNECTION_INFO_CONNECTION_FD);
  return info ? info->connect_fd : -1;
}

/// Whether the other end has closed: nobody would notice before something is sent to it.
bool hasLeft(int socket) {
  char byte = 0;
  return ::recv(socket, &byte, 1, MSG_PEEK | MSG_DONTWAIT) == 0;
}

MHD_Result collect(void* to, MHD_ValueKind, const char* key, const char* value) {
  static_cast<std::vector<std::pair<std::string, std::string>>*>(to)->emplace_back(
      key ? key : "", value ? value : "");
  return MHD_YES;
}

}  // namespace

/// libmicrohttpd's end. One mutex guards all that the server's thread, the clock's thread and
/// callers share; connections are suspended and resumed under it, so that no answer is lost.
class PageServer::Wire : public std::enable_shared_from_this<PageServer::Wire> {
 public:
  explicit Wire(Setup setup) : setup_(std::move(setup)) {
    rules_.key = setup_.key;
    for (const auto& [path, page] : setup_.pages) rules_.pages.push_back(path);
  }

  void listen() {
    CloseFile socket{listeningSocket(setup_.address)};
    setup_.address.port = portOf(socket.file, setup_.address.six);
    rules_.hosts = hostsOf(setup_.address);
    rules_.scheme = schemeOf(setup_.address);
    start(socket.file);
    if (!daemon_) cannotListen(setup_.address, errno);
    socket.file = -1;  // the daemon's now
    clock_ = std::jthread([this](const std::stop_token& stop) { keepTime(stop); });
  }

  void end() {
    clock_.request_stop();
    ticks_.notify_all();
    if (clock_.joinable()) clock_.join();
    {
      const std::lock_guard lock(mutex_);
      ended_ = true;
      for (Request* r : requests_) {
        r->over = true;
        wake(*r);
      }
    }
    if (daemon_) MHD_stop_daemon(daemon_);
  }

  const PhoneAddress& address() const { return setup_.address; }

  void setState(std::string json, std::vector<std::string> machines, int hoopings) {
    const std::lock_guard lock(mutex_);
    rules_.machines = std::move(machines);
    rules_.hoopings = hoopings;
    if (json == state_) return;
    state_ = std::move(json);
    ++stateNumber_;
    for (Request* r : requests_)
      if (r->listens) wake(*r);
  }

  void setKey(std::string key) {
    const std::lock_guard lock(mutex_);
    rules_.key = std::move(key);
    for (Request* r : requests_)
      if (r->listens) {
        r->over = true;
        wake(*r);
      }
  }

  size_t listeners() const {
    const std::lock_guard lock(mutex_);
    return countListeners();
  }

 private:
  /// One request of a connection, from its head to its end. The server's thread owns it.
  struct Request {
    MHD_Connection* connection = nullptr;
    uint64_t number = 0;
    std::optional<Route> route;
    std::optional<Refusal> refusal;
    std::string from, body;
    uint64_t heard = 0;  ///< Bytes of the body.
    bool uploads = false, handed = false, suspended = false;
    bool listens = false, over = false, commentDue = false;
    uint64_t stateSent = 0;
    std::string pending;  ///< Of events: bytes still to be sent.
    std::optional<Reply> answer;
  };
  /// A connection, for the clock: what it waits for, and since when.
  struct Line {
    int socket = -1;
    Clock::time_point since;
    enum class Waits { Head, Body, Nothing } waits = Waits::Head;
  };

  // libmicrohttpd's callbacks
  static MHD_Result onRequest(void* self, MHD_Connection* c, const char* path, const char* method,
                              const char*, const char* bytes, size_t* size, void** request) {
    try {
      return static_cast<Wire*>(self)->take(c, path, method, bytes, size, request);
    } catch (...) {
      return MHD_NO;  // no memory for it: the connection is closed
    }
  }
  static void onEnd(void* self, MHD_Connection* c, void** request, MHD_RequestTerminationCode) {
    static_cast<Wire*>(self)->forget(c, static_cast<Request*>(*request));
    *request = nullptr;
  }
  static void onConnection(void* self, MHD_Connection* c, void**,
                           MHD_ConnectionNotificationCode what) {
    static_cast<Wire*>(self)->noteConnection(c, what == MHD_CONNECTION_NOTIFY_STARTED);
  }
  static ssize_t onEvents(void* cls, uint64_t, char* to, size_t room) {
    auto* reader = static_cast<Reader*>(cls);
    return reader->wire->nextEvents(*reader->request, to, room);
  }
  struct Reader {
    Wire* wire;
    Request* request;
  };
  static void freeReader(void* cls) { delete static_cast<Reader*>(cls); }

  void start(int socket) {
    // poll, not epoll: a line that is closed together with its last bytes is noticed at once
    unsigned flags = MHD_USE_INTERNAL_POLLING_THREAD | MHD_USE_POLL | MHD_ALLOW_SUSPEND_RESUME;
    if (setup_.address.six) flags |= MHD_USE_IPv6;
    std::vector<MHD_OptionItem> more;
    if (setup_.certificate) {
      flags |= MHD_USE_TLS;
      more.push_back({MHD_OPTION_HTTPS_MEM_CERT, 0, setup_.certificate->pem.data()});
      more.push_back({MHD_OPTION_HTTPS_MEM_KEY, 0, setup_.certificate->key_pem.data()});
      more.push_back({MHD_OPTION_HTTPS_PRIORITIES, 0, const_cast<char*>(kTls)});
    }
    more.push_back({MHD_OPTION_END, 0, nullptr});
    daemon_ = MHD_start_daemon(
        flags, 0, nullptr, nullptr, &Wire::onRequest, this, MHD_OPTION_LISTEN_SOCKET, socket,
        MHD_OPTION_CONNECTION_LIMIT, setup_.limits.places, MHD_OPTION_CONNECTION_TIMEOUT,
        setup_.limits.silence_s, MHD_OPTION_CONNECTION_MEMORY_LIMIT, kHeadRoom,
        MHD_OPTION_STRICT_FOR_CLIENT, 1, MHD_OPTION_NOTIFY_COMPLETED, &Wire::onEnd, this,
        MHD_OPTION_NOTIFY_CONNECTION, &Wire::onConnection, this, MHD_OPTION_ARRAY, more.data(),
        MHD_OPTION_END);
  }

  MHD_Result take(MHD_Connection* c, const char* path, const char* method, const char* bytes,
                  size_t* size, void** kept) {
    const std::lock_guard lock(mutex_);
    if (ended_) return MHD_NO;
    auto* r = static_cast<Request*>(*kept);
    if (!r) {
      *kept = r = begin(c, path, method);
      return r->refusal && !hearsOut(c) ? answer(*r, replyOf(*r->refusal), r->refusal->allow)
                                        : MHD_YES;
    }
    if (*size > 0) {
      const MHD_Result goesOn = hear(*r, bytes, *size);
      *size = 0;
      return goesOn;
    }
    return whole(*r);
  }

  Request* begin(MHD_Connection* c, const char* path, const char* method) {
    auto* r = new Request;
    r->connection = c;
    r->number = ++requestNumber_;
    requests_.insert(r);
    const RequestHead head = headOf(c, path, method);
    r->from = head.from;
    auto said = judged(head, rules_, guard_, Clock::now());
    if (auto* no = std::get_if<Refusal>(&said))
      r->refusal = std::move(*no);
    else
      r->route = std::get<Route>(said);
    if (r->route && r->route->what == Resource::Scan) admitUpload(*r);
    setWaits(c, r->refusal ? Line::Waits::Body : Line::Waits::Nothing);
    return r;
  }

  RequestHead headOf(MHD_Connection* c, const char* path, const char* method) {
    RequestHead head;
    head.method = method;
    head.path = path;
    head.from = addressOf(c);
    MHD_get_connection_values(c, MHD_HEADER_KIND, &collect, &head.headers);
    MHD_get_connection_values(c, MHD_GET_ARGUMENT_KIND, &collect, &head.query);
    const auto* size = MHD_get_connection_info(c, MHD_CONNECTION_INFO_REQUEST_HEADER_SIZE);
    head.header_bytes = size ? size->header_size : 0;
    return head;
  }

  /// Photos are held in memory: only so many at a time.
  void admitUpload(Request& r) {
    size_t now = 0;
    for (const Request* other : requests_) now += other->uploads ? 1 : 0;
    if (now >= setup_.limits.uploads)
      r.refusal = Refusal{503, "Several photos are being read: try again in a moment.", {}};
    else
      r.uploads = true;
  }

  /// Whether a refused request's body is heard to its end first, so that the refusal is heard too.
  bool hearsOut(MHD_Connection* c) const {
    const auto value = [c](const char* name) {
      return MHD_lookup_connection_value(c, MHD_HEADER_KIND, name);
    };
    if (value("Expect")) return false;  // it waits for a word before it sends its body
    return value("Content-Length") || value("Transfer-Encoding");
  }

  MHD_Result hear(Request& r, const char* bytes, size_t size) {
    r.heard += size;
    if (!r.refusal && r.heard > rules_.body_bytes) {
      r.refusal = Refusal{413, "A photo may have 40 MB: take one of fewer pixels.", {}};
      r.body = {};
      setWaits(r.connection, Line::Waits::Body);
    }
    if (r.refusal) return r.heard > kHeardOut ? MHD_NO : MHD_YES;
    if (!r.uploads) return MHD_YES;  // nothing is read of other bodies
    if (r.body.empty()) r.body.reserve(r.route->length);
    r.body.append(bytes, size);
    return MHD_YES;
  }

  MHD_Result whole(Request& r) {
    setWaits(r.connection, Line::Waits::Nothing);
    if (r.refusal) return answer(r, replyOf(*r.refusal), r.refusal->allow);
    if (r.answer) return answer(r, *r.answer);
    if (r.over) return MHD_NO;
    switch (r.route->what) {
      case Resource::Page: {
        const PageFile& page = setup_.pages.at(r.route->file);
        return answer(r, {200, page.body, page.type});
      }
      case Resource::State:
        return answer(r, {200, state_, "application/json"});
      case Resource::Events:
        return listen(r);
      default:
        return handOn(r);
    }
  }

  MHD_Result answer(Request& r, const Reply& reply, const std::string& allow = {}) {
    MHD_Response* response = MHD_create_response_from_buffer(
        reply.body.size(), const_cast<char*>(reply.body.data()), MHD_RESPMEM_MUST_COPY);
    return sent(r, response, reply.status, reply.type, allow);
  }

  MHD_Result sent(Request& r, MHD_Response* response, int status, const std::string& type,
                  const std::string& allow = {}) {
    if (!response) return MHD_NO;
    MHD_add_response_header(response, "Content-Type", type.c_str());
    for (const auto& [name, value] : kAlways) MHD_add_response_header(response, name, value);
    if (!allow.empty()) MHD_add_response_header(response, "Allow", allow.c_str());
    if (status == 401) MHD_add_response_header(response, "WWW-Authenticate", "Bearer");
    if (status == 429 || status == 503)
      MHD_add_response_header(response, "Retry-After", status == 429 ? "60" : "2");
    const MHD_Result out =
        MHD_queue_response(r.connection, static_cast<unsigned>(status), response);
    MHD_destroy_response(response);
    return out;
  }

  /// To whoever knows the job; the connection rests until the answer is there.
  MHD_Result handOn(Request& r) {
    if (!r.handed) {
      r.handed = true;
      const auto reply = [weak = weak_from_this(), number = r.number](Reply with) {
        if (const auto wire = weak.lock()) wire->take(number, std::move(with));
      };
      rest(r);
      setup_.asked({*r.route, std::move(r.body), r.from, reply});
      r.body = {};
    }
    return MHD_YES;
  }

  void take(uint64_t number, Reply reply) {
    const std::lock_guard lock(mutex_);
    for (Request* r : requests_)
      if (r->number == number && !r->answer) {
        r->answer = std::move(reply);
        wake(*r);
      }
  }

  MHD_Result listen(Request& r) {
    if (countListeners() + setup_.limits.kept_for_others >= setup_.limits.places)
      return answer(r, replyOf({503, "Too many phones look at once: close the page on one.", {}}));
    r.listens = true;
    MHD_Response* response = MHD_create_response_from_callback(
        MHD_SIZE_UNKNOWN, kEventBlock, &Wire::onEvents, new Reader{this, &r}, &Wire::freeReader);
    if (response) MHD_add_response_header(response, "Connection", "close");
    return sent(r, response, 200, "text/event-stream");
  }

  ssize_t nextEvents(Request& r, char* to, size_t room) {
    const std::lock_guard lock(mutex_);
    if (r.over || ended_) return MHD_CONTENT_READER_END_OF_STREAM;
    if (r.pending.empty() && r.stateSent != stateNumber_) {
      r.pending = "data: " + state_ + "\n\n";
      r.stateSent = stateNumber_;
      r.commentDue = false;
    }
    if (r.pending.empty() && std::exchange(r.commentDue, false)) r.pending = kComment;
    if (r.pending.empty()) {
      rest(r);
      return 0;
    }
    const size_t n = std::min(room, r.pending.size());
    std::memcpy(to, r.pending.data(), n);
    r.pending.erase(0, n);
    return static_cast<ssize_t>(n);
  }

  void rest(Request& r) {
    r.suspended = true;
    MHD_suspend_connection(r.connection);
  }
  void wake(Request& r) {
    if (!std::exchange(r.suspended, false)) return;
    MHD_resume_connection(r.connection);
  }

  size_t countListeners() const {
    size_t n = 0;
    for (const Request* r : requests_) n += r->listens ? 1 : 0;
    return n;
  }

  void forget(MHD_Connection* c, Request* r) {
    const std::lock_guard lock(mutex_);
    if (r) requests_.erase(r);
    delete r;
    setWaits(c, Line::Waits::Head);
  }

  void noteConnection(MHD_Connection* c, bool begun) {
    const std::lock_guard lock(mutex_);
    if (!begun) {
      lines_.erase(c);
      return;
    }
    lines_[c] = {socketOf(c), Clock::now(), Line::Waits::Head};
  }

  void setWaits(MHD_Connection* c, Line::Waits waits) {
    const auto line = lines_.find(c);
    if (line == lines_.end() || line->second.waits == waits) return;
    line->second.waits = waits;
    line->second.since = Clock::now();
  }

  void keepTime(const std::stop_token& stop) {
    std::unique_lock lock(mutex_);
    auto commented = Clock::now();
    while (!stop.stop_requested()) {
      ticks_.wait_for(lock, kTick, [&] { return stop.stop_requested(); });
      const auto now = Clock::now();
      for (const auto& [c, line] : lines_) {
        const auto most =
            line.waits == Line::Waits::Head ? setup_.limits.header : setup_.limits.refused_body;
        if (line.waits != Line::Waits::Nothing && now - line.since > most)
          ::shutdown(line.socket, SHUT_RDWR);
      }
      for (Request* r : requests_)
        if (r->listens && hasLeft(socketOf(r->connection))) {
          r->over = true;
          wake(*r);
        }
      if (now - commented < setup_.limits.comment) continue;
      commented = now;
      for (Request* r : requests_)
        if (r->listens) {
          r->commentDue = true;
          wake(*r);
        }
    }
  }

  Setup setup_;
  DoorRules rules_;
  KeyGuard guard_;
  MHD_Daemon* daemon_ = nullptr;
  mutable std::mutex mutex_;
  std::condition_variable_any ticks_;
  std::set<Request*> requests_;
  std::map<MHD_Connection*, Line> lines_;
  std::string state_ = "{}";
  uint64_t stateNumber_ = 1, requestNumber_ = 0;
  bool ended_ = false;
  std::jthread clock_;
};

PageServer::PageServer(Setup setup) : wire_(std::make_shared<Wire>(std::move(setup))) {
  wire_->listen();
}

PageServer::~PageServer() {
  wire_->end();
}

const PhoneAddress& PageServer::address() const {
  return wire_->address();
}

void PageServer::setState(std::string json, std::vector<std::string> machines, int hoopings) {
  wire_->setState(std::move(json), std::move(machines), hoopings);
}

void PageServer::setKey(std::string key) {
  wire_->setKey(std::move(key));
}

size_t PageServer::listeners() const {
  return wire_->listeners();
}

}  // namespace rt
