#include "targets.h"

#include <QTcpSocket>
#include <QTemporaryDir>
#include <thread>

#include "artwork.h"
#include "cloth_file.h"
#include "data_folder.h"
#include "error.h"
#include "exchange.h"
#include "file_io.h"
#include "job_codec.h"
#include "job_file.h"
#include "ledger_json.h"
#include "ledger_store.h"
#include "length.h"
#include "machine_link.h"
#include "page_server.h"
#include "pattern_bytes.h"
#include "placed_layout.h"
#include "server.h"
#include "shop_data.h"
#include "stitch_file.h"
#include "stitch_svg.h"
#include "thread_list.h"

namespace rt::fuzz {
namespace {

/// For readers that take a file.
std::filesystem::path fileOf(const std::string& bytes, const char* name) {
  static const QTemporaryDir folder;
  const std::filesystem::path path = folder.filePath(name).toStdString();
  writeFile(path, bytes);
  return path;
}

/// One of several parts by the first byte, the rest is the part.
void jobPart(const std::string& bytes) {
  if (bytes.empty()) return;
  const std::string rest = bytes.substr(1);
  try {
    switch (static_cast<unsigned char>(bytes[0]) % 10) {
      case 0:
        (void)briefFrom(rest);
        return;
      case 1:
        (void)placementFrom(rest);
        return;
      case 2:
        (void)sourceFrom(rest);
        return;
      case 3:
        (void)zoneFrom(rest);
        return;
      case 4:
        (void)sequenceFrom(rest);
        return;
      case 5:
        (void)planSettingsFrom(rest);
        return;
      case 6:
        (void)madePlanFrom(rest);
        return;
      case 7:
        (void)happeningFrom("sewn", rest);
        return;
      case 8: {
        Job job;
        readJobSettings(rest, job);
        return;
      }
      default:
        (void)patternFrom(qCompress(QByteArray::fromStdString(rest)));
    }
  } catch (const Error&) {
    throw;
  } catch (const std::exception& e) {  // what a job file's reader makes of it
    throw Error(e.what(), "job part", "");
  }
}

/// What a machine may say: a hello, a load, then the bytes.
void machineLines(const std::string& bytes) {
  MachineLink link;
  link.hear("{\"ok\":true,\"re\":\"hello\"}\n");
  link.hear(QByteArray::fromStdString(bytes) + "\n");
}

/// What an operator may say to the stand-in, the key being right.
void operatorLines(const std::string& bytes) {
  standin::Server server;
  for (const QByteArray& line : QByteArray::fromStdString(bytes).split('\n'))
    (void)server.heard(line);
}

/// Bytes as a stranger sends them, over a real connection to a real server. What it answers does
/// not matter; it has to stand there for the next.
void phoneRequest(const std::string& bytes) {
  static PageServer server([] {
    PageServer::Setup setup;
    setup.address = parsePhoneAddress("127.0.0.1:0");
    setup.pages = {{"/", {"page", "text/html"}}};
    setup.key = "fuzzfuzzfuzzfuzzfuzzfu";
    setup.asked = [](const Asked& asked) {
      std::thread([asked] { asked.reply({200, "{}", "application/json"}); }).detach();
    };
    return setup;
  }());
  QTcpSocket socket;
  socket.connectToHost(QStringLiteral("127.0.0.1"), server.address().port);
  if (!socket.waitForConnected(5000)) throw std::runtime_error("the server is gone");
  std::string head = bytes;
  const std::string port = std::to_string(server.address().port);
  for (size_t at = head.find("PORT"); at != std::string::npos; at = head.find("PORT"))
    head.replace(at, 4, port);
  socket.write(head.data(), static_cast<qint64>(head.size()));
  socket.waitForBytesWritten(1000);
  if (head.find("\r\n\r\n") != std::string::npos) socket.waitForReadyRead(100);
  socket.abort();
}

void clothFile(const std::string& bytes) {
  static const std::filesystem::path data = dataFolder();
  (void)readCloth(fileOf(bytes, "c.json"), data);
}

}  // namespace

const std::vector<Target>& targets() {
  static const std::vector<Target> all{
      {"stitch-list", [](const std::string& b) { (void)readStitchCsv(b, "fuzz"); }},
      {"stitch-drawing", [](const std::string& b) { (void)readStitchSvg(b, "fuzz"); }},
      {"artwork", [](const std::string& b) { (void)readArtwork(b, "fuzz"); }},
      {"job-part", jobPart},
      {"job-file", [](const std::string& b) { (void)loadWork(fileOf(b, "j.rapt")); }},
      {"set-up", [](const std::string& b) { (void)readAlignmentSetup(fileOf(b, "s.json")); }},
      {"needle-points", [](const std::string& b) { (void)readNeedlePoints(fileOf(b, "p.csv")); }},
      {"zones", [](const std::string& b) { (void)readZones(fileOf(b, "z.json")); }},
      {"threads", [](const std::string& b) { (void)readThreads(fileOf(b, "t.csv")); }},
      {"shop-limits", [](const std::string& b) { (void)readShopLimits(fileOf(b, "l.json")); }},
      {"length", [](const std::string& b) { (void)parseLength_mm(b); }},
      {"ledger-entry", [](const std::string& b) { (void)ledgerEntryFrom(b); }},
      {"machine", machineLines},
      {"operator", operatorLines},
      {"phone-request", phoneRequest},
      {"cloth-file", clothFile},
      {"placed-layout", [](const std::string& b) { (void)readPlace(fileOf(b, "a.json")); }}};
  return all;
}

}  // namespace rt::fuzz
