#include "server_url.h"

#include <QUrl>
#include <QUrlQuery>
#include <algorithm>
#include <array>

#include "error.h"

namespace rt {
namespace {

constexpr std::array<const char*, 6> kModes{"disable", "allow",     "prefer",
                                            "require", "verify-ca", "verify-full"};

/// What stands behind the question mark. What is not known here is an error: a wish for an
/// encrypted wire must never be dropped in silence.
void readQuery(const QUrl& url, ServerUrl& out) {
  for (const auto& [key, value] : QUrlQuery(url).queryItems(QUrl::FullyDecoded)) {
    const std::string text = value.toStdString();
    if (key == QStringLiteral("sslmode")) {
      if (std::find(kModes.begin(), kModes.end(), text) == kModes.end())
        throw Error("there is no sslmode \"" + text.substr(0, 40) + "\"", out.shown(),
                    "write sslmode=require, verify-ca or verify-full");
      out.sslmode = text;
    } else if (key == QStringLiteral("sslrootcert") &&
               text.find_first_of(";'\\ ") == std::string::npos) {
      out.sslrootcert = text;
    } else {
      throw Error("\"" + key.left(40).toStdString() + "\" in the address is not taken", out.shown(),
                  "behind the ? stand sslmode and sslrootcert, a path without spaces");
    }
  }
}

}  // namespace

bool ServerUrl::openWire() const {
  const bool here = host == "localhost" || host == "::1" || host.starts_with("127.");
  return !here && sslmode != "require" && sslmode != "verify-ca" && sslmode != "verify-full";
}

std::string ServerUrl::shown() const {
  return "postgresql://" + (user.empty() ? "" : user + "@") + host +
         (port > 0 ? ":" + std::to_string(port) : "") + "/" + database +
         (sslmode.empty() ? "" : "?sslmode=" + sslmode);
}

bool namesServer(const std::string& store) {
  return store.find("://") != std::string::npos;
}

ServerUrl serverUrl(const std::string& store) {
  const QUrl url(QString::fromStdString(store), QUrl::StrictMode);
  const std::string remedy = "write postgresql://user@host:port/name";
  // the text itself may hold a password: it is not repeated
  if (!store.starts_with("postgresql://") || !url.isValid())
    throw Error("this is no address of a ledger server", "ledger store", remedy);
  ServerUrl out;
  out.user = url.userName(QUrl::FullyDecoded).toStdString();
  out.password = url.password(QUrl::FullyDecoded).toStdString();
  out.host = url.host(QUrl::FullyDecoded).toStdString();
  out.port = std::max(0, url.port(0));
  out.database = url.path(QUrl::FullyDecoded).mid(1).toStdString();
  if (out.database.empty() || out.database.find('/') != std::string::npos)
    throw Error("the address names no database", out.shown(), remedy);
  if (out.host.empty()) throw Error("the address names no host", out.shown(), remedy);
  if (url.hasFragment()) throw Error("the address has a part behind #", out.shown(), remedy);
  readQuery(url, out);
  return out;
}

}  // namespace rt
