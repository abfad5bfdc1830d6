// The server of the page for phones, over real connections: what it refuses, how many it holds, how
// long it waits.
#include <sys/stat.h>

#include <QSslCertificate>
#include <QTemporaryDir>
#include <QtTest>
#include <thread>

#include "comes.h"
#include "error.h"
#include "http_talk.h"
#include "page_server.h"
#include "run.h"

namespace test_page_server {

using namespace rt;
using namespace std::chrono_literals;
using testing::httpAsk;
using testing::HttpTalk;

const QByteArray kKey = "abcdefghijklmnopqrstuv";
const QByteArray kPhoto = "Content-Type: image/jpeg\r\n";

/// A server whose scans are answered by how many bytes they had, or held back until they are asked
/// for.
struct Served {
  explicit Served(ServerLimits limits = {}, const char* address = "127.0.0.1:0",
                  std::optional<Certificate> certificate = {}) {
    PageServer::Setup setup;
    setup.address = parsePhoneAddress(address);
    setup.certificate = std::move(certificate);
    setup.key = kKey.toStdString();
    setup.pages = {{"/", {"<p>page</p>", "text/html"}}};
    setup.limits = limits;
    setup.asked = [this](Asked asked) {
      const std::lock_guard lock(mutex);
      handed.push_back(std::move(asked));
    };
    server = std::make_unique<PageServer>(std::move(setup));
    server->setState(R"({"n":1})", {"left"}, 3);
  }
  quint16 port() const { return server->address().port; }
  size_t count() {
    const std::lock_guard lock(mutex);
    return handed.size();
  }
  /// Answers all that was handed on so far with its size.
  void answerAll() {
    std::vector<Asked> all;
    {
      const std::lock_guard lock(mutex);
      all.swap(handed);
    }
    for (const Asked& a : all)
      a.reply({200, "{\"bytes\":" + std::to_string(a.body.size()) + "}", "application/json"});
  }
  std::mutex mutex;
  std::vector<Asked> handed;
  std::unique_ptr<PageServer> server;
};

class TestPageServer : public QObject {
  Q_OBJECT

 private slots:
  void answersAreGuarded() {
    Served s;
    const auto page = httpAsk(s.port(), "GET", "/", {});
    QCOMPARE(page.status, 200);
    QCOMPARE(page.body, QByteArray("<p>page</p>"));
    QVERIFY(page.headers["content-security-policy"].startsWith("default-src 'none'"));
    QCOMPARE(page.headers["x-content-type-options"], QByteArray("nosniff"));
    QCOMPARE(page.headers["cache-control"], QByteArray("no-store"));
    QVERIFY(!page.headers.contains("set-cookie"));
    QVERIFY(!page.headers.contains("access-control-allow-origin"));
    const auto state = httpAsk(s.port(), "GET", "/api/state", kKey);
    QCOMPARE(state.json()["n"].toInt(), 1);
    const auto none = httpAsk(s.port(), "GET", "/api/state", {});
    QCOMPARE(none.status, 401);
    QVERIFY(!none.json()["error"].toString().isEmpty());
    QCOMPARE(httpAsk(s.port(), "GET", "/api/state", kKey, "Origin: http://elsewhere\r\n").status,
             403);
    QCOMPARE(httpAsk(s.port(), "OPTIONS", "/api/pause", {}, "Origin: http://elsewhere\r\n").status,
             403);
    const auto method = httpAsk(s.port(), "DELETE", "/api/state", kKey);
    QCOMPARE(method.status, 405);
    QCOMPARE(method.headers["allow"], QByteArray("GET, HEAD"));
    HttpTalk other(s.port());
    other.send("GET / HTTP/1.1\r\nHost: elsewhere:80\r\n\r\n");
    QCOMPARE(other.answer().status, 403);
    HttpTalk nowhere(s.port());
    nowhere.send("GET / HTTP/1.1\r\n\r\n");
    QCOMPARE(nowhere.answer().status / 100, 4);
    HttpTalk old(s.port());
    old.send("GET / HTTP/1.0\r\n\r\n");
    QCOMPARE(old.answer().status, 403);
    HttpTalk noise(s.port());
    noise.send("\x16\x03\x01 nothing that is known\r\n\r\n");
    QVERIFY(noise.answer().status / 100 == 4 || noise.closes());
  }

  void longHeadsAreRefused() {
    Served s;
    for (int kb : {17, 60, 120})
      QCOMPARE(httpAsk(s.port(), "GET", "/", {}, "X-Long: " + QByteArray(kb * 1024, 'a') + "\r\n")
                   .status,
               431);
    QCOMPARE(httpAsk(s.port(), "GET", "/" + QByteArray(30000, 'a'), {}).status, 431);
    QCOMPARE(httpAsk(s.port(), "GET", "/", {}, "X-Long: " + QByteArray(15000, 'a') + "\r\n").status,
             200);
  }

  /// In one piece, and in chunks whose lengths nobody told.
  void photosComeWhole() {
    Served s;
    const QByteArray bytes(3 << 20, 'x');
    HttpTalk whole(s.port());
    whole.ask("POST", "/api/scan?hooping=2", kKey, kPhoto, bytes);
    QVERIFY(testing::comes([&] { return s.count() == 1; }));
    QCOMPARE(s.handed[0].route.hooping, 2);
    QCOMPARE(s.handed[0].from, std::string("127.0.0.1"));
    s.answerAll();
    QCOMPARE(whole.answer().json()["bytes"].toInt(), bytes.size());
    // the same line goes on
    whole.ask("GET", "/api/state", kKey);
    QCOMPARE(whole.answer().status, 200);
    HttpTalk chunks(s.port());
    chunks.ask("POST", "/api/scan", kKey, kPhoto + "Transfer-Encoding: chunked\r\n");
    for (int i = 0; i < 7; ++i) chunks.send("1000\r\n" + QByteArray(4096, 'y') + "\r\n");
    chunks.send("0\r\n\r\n");
    QVERIFY(testing::comes([&] { return s.count() == 1; }));
    s.answerAll();
    QCOMPARE(chunks.answer().json()["bytes"].toInt(), 7 * 4096);
  }

  void largePhotosAreRefused() {
    Served s;
    const QByteArray large(41 << 20, 'x');
    QCOMPARE(httpAsk(s.port(), "POST", "/api/scan", kKey, kPhoto, large).status, 413);
    QCOMPARE(httpAsk(s.port(), "POST", "/api/scan", kKey,
                     kPhoto + "Content-Length: 42000000\r\nExpect: 100-continue\r\n")
                 .status,
             413);
    HttpTalk chunks(s.port());
    chunks.ask("POST", "/api/scan", kKey, kPhoto + "Transfer-Encoding: chunked\r\n");
    const QByteArray chunk = "100000\r\n" + QByteArray(1 << 20, 'y') + "\r\n";
    for (int i = 0; i < 42; ++i) chunks.send(chunk);
    chunks.send("0\r\n\r\n");
    QCOMPARE(chunks.answer().status, 413);
    QCOMPARE(s.count(), 0u);
    QCOMPARE(
        httpAsk(s.port(), "POST", "/api/scan", kKey, "Content-Type: image/heic\r\n", "abc").status,
        415);
    QCOMPARE(httpAsk(s.port(), "POST", "/api/scan", {}, kPhoto, QByteArray(1 << 20, 'x')).status,
             401);
  }

  /// What changed is told to all that listen; whose key was withdrawn hears no more.
  void eventsAreTold() {
    ServerLimits limits;
    limits.comment = 300ms;
    Served s(limits);
    HttpTalk first(s.port()), second(s.port());
    for (HttpTalk* t : {&first, &second}) {
      t->ask("GET", "/api/events", kKey);
      const auto head = t->answer();
      QCOMPARE(head.status, 200);
      QCOMPARE(head.headers["content-type"], QByteArray("text/event-stream"));
      QVERIFY(t->heardUntil("\n\n").contains("data: {\"n\":1}\n\n"));
    }
    QCOMPARE(s.server->listeners(), 2u);
    s.server->setState(R"({"n":2})", {}, 3);
    QVERIFY(first.heardUntil("{\"n\":2}").contains("data: {\"n\":2}\n\n"));
    QVERIFY(second.heardUntil("{\"n\":2}").contains("data: {\"n\":2}\n\n"));
    QVERIFY(first.heardUntil(":\n\n").contains(":\n\n"));
    // a phone that went away costs nothing
    second.socket().abort();
    QVERIFY(testing::comes([&] { return s.server->listeners() == 1; }));
    s.server->setKey("anotherkeyanotherkey12");
    QVERIFY(first.closes());
    QCOMPARE(httpAsk(s.port(), "GET", "/api/state", kKey).status, 401);
    QCOMPARE(httpAsk(s.port(), "GET", "/api/state", "anotherkeyanotherkey12").status, 200);
  }

  /// Readers of events leave places for others, and no more than all places are ever taken.
  void placesAreLimited() {
    Served s;
    std::vector<std::unique_ptr<HttpTalk>> readers;
    for (int i = 0; i < 24; ++i) {
      readers.push_back(std::make_unique<HttpTalk>(s.port()));
      readers.back()->ask("GET", "/api/events", kKey);
      QCOMPARE(readers.back()->answer().status, 200);
    }
    QCOMPARE(httpAsk(s.port(), "GET", "/api/events", kKey).status, 503);
    QCOMPARE(httpAsk(s.port(), "GET", "/api/state", kKey).status, 200);
    readers.pop_back();
    QVERIFY(testing::comes([&] { return s.server->listeners() == 23; }));
    QCOMPARE(httpAsk(s.port(), "GET", "/api/state", kKey).status, 200);
  }

  void uploadsAreLimited() {
    Served s;
    std::vector<std::unique_ptr<HttpTalk>> phones;
    for (int i = 0; i < 6; ++i) {
      phones.push_back(std::make_unique<HttpTalk>(s.port()));
      phones.back()->ask("POST", "/api/scan", kKey, kPhoto, "photo");
    }
    QVERIFY(testing::comes([&] { return s.count() == 6; }));
    const auto late = httpAsk(s.port(), "POST", "/api/scan", kKey, kPhoto, "photo");
    QCOMPARE(late.status, 503);
    QVERIFY(late.headers.contains("retry-after"));
    // one goes away while its photo is read: its place is free as soon as that is done
    phones.front()->socket().abort();
    s.answerAll();
    for (size_t i = 1; i < phones.size(); ++i) QCOMPARE(phones[i]->answer().status, 200);
    HttpTalk next(s.port());
    next.ask("POST", "/api/scan", kKey, kPhoto, "photo");
    QVERIFY(testing::comes([&] { return s.count() == 1; }));
    s.answerAll();
    QCOMPARE(next.answer().status, 200);
  }

  void whoSaysNothingIsPutOff() {
    ServerLimits limits;
    limits.silence_s = 1;
    limits.header = 1500ms;
    Served s(limits);
    HttpTalk silent(s.port());
    QVERIFY(silent.closes());
    // letters that drip in keep a line open no longer than a head may take
    HttpTalk drips(s.port());
    drips.send("GET / HTTP/1.1\r\nX: ");
    QTimer drip;
    connect(&drip, &QTimer::timeout, this, [&] { drips.send("a"); });
    drip.start(200);
    QVERIFY(drips.closes());
    QCOMPARE(httpAsk(s.port(), "GET", "/", {}).status, 200);
  }

  /// A line that is closed together with its last bytes is free at once: many such do not fill the
  /// places.
  void whoLeavesInTheMiddleCostsNothing() {
    Served s;
    for (const QByteArray& begun :
         {QByteArray("GET / HT"), QByteArray("POST /api/scan HTTP/1.1\r\nHost: 127.0.0.1:") +
                                      QByteArray::number(s.port()) +
                                      "\r\nContent-Length: 50\r\n\r\nabc"})
      for (int i = 0; i < 40; ++i) {
        HttpTalk talk(s.port());
        talk.send(begun);
        talk.socket().disconnectFromHost();
      }
    QCOMPARE(httpAsk(s.port(), "GET", "/", {}).status, 200);
  }

  /// It ends while photos are read, while events are heard, and while a body comes.
  void itEndsWhateverGoesOn() {
    auto s = std::make_unique<Served>();
    HttpTalk reads(s->port()), hears(s->port()), sends(s->port());
    reads.ask("POST", "/api/scan", kKey, kPhoto, "photo");
    hears.ask("GET", "/api/events", kKey);
    QCOMPARE(hears.answer().status, 200);
    sends.ask("POST", "/api/scan", kKey, kPhoto + "Content-Length: 1000\r\n");
    QVERIFY(testing::comes([&] { return s->count() == 1; }));
    const auto late = s->handed[0].reply;
    s->server.reset();
    QVERIFY(reads.closes() && hears.closes() && sends.closes());
    late({200, "{}", "application/json"});  // to nobody
  }

  /// On other addresses than the loopback it speaks TLS alone, by the shop's own certificate.
  void otherAddressesAreSealed() {
    const QTemporaryDir folder;
    const std::filesystem::path own = folder.path().toStdString();
    const Certificate made = shopCertificate(own, "127.0.0.1");
    const Certificate again = shopCertificate(own, "192.0.2.7");
    QCOMPARE(again.fingerprint, made.fingerprint);
    QCOMPARE(made.fingerprint.size(), 32u * 3 - 1);
    struct stat about {};
    QCOMPARE(::stat((own / "phone-certificate.pem").c_str(), &about), 0);
    QCOMPARE(about.st_mode & 0777, 0600u);
    Served s({}, "127.0.0.1:0", again);
    HttpTalk sealed(s.port(), true);
    QVERIFY(sealed.isOpen());
    QCOMPARE(QString::fromStdString(made.fingerprint),
             QString::fromLatin1(sealed.socket()
                                     .peerCertificate()
                                     .digest(QCryptographicHash::Sha256)
                                     .toHex(':')
                                     .toUpper()));
    sealed.ask("GET", "/api/state", kKey, {});
    QCOMPARE(sealed.answer().status, 200);
    HttpTalk plain(s.port());
    plain.ask("GET", "/", {});
    QVERIFY(plain.answer().status != 200);
    writeDamaged(own / "phone-certificate.pem");
    QVERIFY_THROWS_EXCEPTION(Error, shopCertificate(own, "192.0.2.7"));
  }

  void whereItCannotListenItSays() {
    Served s;
    const std::string taken = "127.0.0.1:" + std::to_string(s.port());
    QVERIFY_THROWS_EXCEPTION(Error, Served({}, taken.c_str()));
    QVERIFY_THROWS_EXCEPTION(Error, Served({}, "192.0.2.7:0"));
  }

 private:
  static void writeDamaged(const std::filesystem::path& path) {
    QFile file(QString::fromStdString(path.string()));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("-----BEGIN CERTIFICATE-----\nnothing\n-----END CERTIFICATE-----\n");
  }
};

RT_TEST(TestPageServer)

}  // namespace test_page_server

#include "test_page_server.moc"
