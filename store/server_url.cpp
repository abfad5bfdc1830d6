#include "server_url.h"

#include <QUrl>

#include "error.h"

namespace rt {

std::string ServerUrl::shown() const {
  return "postgresql://" + (user.empty() ? "" : user + "@") + host +
         (port > 0 ? ":" + std::to_string(port) : "") + "/" + database;
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
  return out;
}

}  // namespace rt
