#include "database.h"

#include <libpq-fe.h>
#include <sys/socket.h>

#include <QSqlDriver>
#include <QSqlError>
#include <QUuid>
#include <QVariant>
#include <chrono>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace rt {
namespace {

// Result codes of SQLite (sqlite.org/rescode.html); the low byte is the primary code.
constexpr int kBusy = 5, kLocked = 6, kReadOnly = 8, kIo = 10, kCorrupt = 11, kFull = 13,
              kCannotOpen = 14, kNotADatabase = 26;
constexpr int kWait_ms = 10'000;  // for another program that is writing
constexpr int kConnect_s = 10;    // until a server has let us in

/// Ends the wire to a server that says nothing: what waits for it fails then.
class Patience {
 public:
  Patience(const QSqlDatabase& db, std::chrono::milliseconds most) {
    const QVariant handle = db.driver()->handle();
    // the driver's maker names it by its typedef, Qt 6 by the structure behind it
    const QByteArray type = handle.typeName();
    if (type != "PGconn*" && type != "pg_conn*") return;
    wire_ = PQsocket(*static_cast<PGconn* const*>(handle.constData()));
    if (wire_ < 0) return;
    watcher_ = std::thread([this, most] {
      std::unique_lock lock(mutex_);
      if (!answered_.wait_for(lock, most, [this] { return done_; })) shutdown(wire_, SHUT_RDWR);
    });
  }
  ~Patience() {
    {
      const std::lock_guard lock(mutex_);
      done_ = true;
    }
    answered_.notify_all();
    if (watcher_.joinable()) watcher_.join();
  }

 private:
  int wire_ = -1;
  bool done_ = false;
  std::mutex mutex_;
  std::condition_variable answered_;
  std::thread watcher_;
};

}  // namespace

void Database::fail(const QSqlError& problem) const {
  if (server_) failServer(problem);
  failFile(problem);
}

/// By the class of its SQLSTATE (appendix A of the server's manual).
void Database::failServer(const QSqlError& problem) const {
  const std::string code = problem.nativeErrorCode().toStdString(),
                    kind = code.substr(0, std::min<size_t>(2, code.size()));
  std::string words = problem.databaseText().toStdString();
  while (!words.empty() && (words.back() == '\n' || words.back() == ' ')) words.pop_back();
  std::replace(words.begin(), words.end(), '\n', ' ');
  if (kind == "28" || words.find("password") != std::string::npos)
    throw StoreError(Trouble::Unreachable, "the server does not let us in: " + words, where_,
                     "check the user, and PGPASSWORD or the password file");
  if (code == "3D000" || words.find("does not exist") != std::string::npos)
    throw StoreError(Trouble::Foreign, "there is no such ledger on the server: " + words, where_,
                     "check the names, or let the server's keeper make it");
  if (code == "42501")
    throw StoreError(Trouble::ReadOnly, "the server does not allow that: " + words, where_,
                     "ask the server's keeper for the rights in docs/ledger-server.md");
  if (code == "25006")
    throw StoreError(Trouble::ReadOnly, "the server may only be read just now: " + words, where_,
                     "write to the server that leads");
  if (kind == "53")
    throw StoreError(Trouble::Full, "the server is out of room: " + words, where_,
                     "its keeper has to make some");
  if (kind == "22" || kind == "23" || kind == "42")
    throw StoreError(Trouble::Foreign, "the server's tables are not a ledger's: " + words, where_,
                     "choose another database; this one was left as it is");
  throw StoreError(Trouble::Unreachable,
                   "the server does not answer: " + (words.empty() ? "it kept silent" : words),
                   where_, "check that it runs and the network; try again");
}

void Database::failFile(const QSqlError& problem) const {
  const int code = problem.nativeErrorCode().toInt() & 0xff;
  const std::string words = problem.text().toStdString(), where = where_;
  switch (code) {
    case kReadOnly:
      throw StoreError(Trouble::ReadOnly, "the file may only be read: " + words, where,
                       "make it and its folder writable, or choose another place");
    case kFull:
      throw StoreError(Trouble::Full, "the disk is full: " + words, where,
                       "make room and try again");
    case kCannotOpen:
    case kIo:
      throw StoreError(Trouble::Unreachable, "the file cannot be reached: " + words, where,
                       "check that its folder is there and writable, and the disk");
    case kBusy:
    case kLocked:
      throw StoreError(Trouble::Busy, "another program holds the file: " + words, where,
                       "close the other program or try again");
    case kCorrupt:
      throw StoreError(Trouble::Damaged, "the file is damaged: " + words, where,
                       "open another copy; the file was left as it is");
    case kNotADatabase:
      throw StoreError(Trouble::Foreign, "this is not a file of this program: " + words, where,
                       "choose another file; this one was left as it is");
    default:
      throw StoreError(Trouble::Damaged,
                       "this is not a file of this program, or it is damaged: " + words, where,
                       "open another copy; the file was left as it is");
  }
}

Database::Database(const std::filesystem::path& path, Open how)
    : where_(path.string()), connection_(QUuid::createUuid().toString()) {
  QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection_);
  db.setDatabaseName(QString::fromStdString(path.string()));
  QString options = QStringLiteral("QSQLITE_BUSY_TIMEOUT=%1").arg(kWait_ms);
  if (how == Open::ReadOnly) options += QStringLiteral(";QSQLITE_OPEN_READONLY");
  db.setConnectOptions(options);
  if (!db.open()) {
    const QSqlError problem = db.lastError();
    db = {};
    QSqlDatabase::removeDatabase(connection_);
    fail(problem);
  }
}

Database::Database(const ServerUrl& server, std::chrono::milliseconds patience)
    : where_(server.shown()),
      connection_(QUuid::createUuid().toString()),
      server_(true),
      patience_(patience) {
  QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QPSQL"), connection_);
  if (!db.isValid()) {
    db = {};
    QSqlDatabase::removeDatabase(connection_);
    throw StoreError(Trouble::Unreachable, "this computer lacks the driver for servers", where_,
                     "install libqt6sql6-psql");
  }
  db.setDatabaseName(QString::fromStdString(server.database));
  db.setHostName(QString::fromStdString(server.host));
  if (server.port > 0) db.setPort(server.port);
  db.setUserName(QString::fromStdString(server.user));
  db.setPassword(QString::fromStdString(server.password));
  QString options = QStringLiteral("connect_timeout=%1").arg(kConnect_s);
  if (!server.sslmode.empty())
    options += QStringLiteral(";sslmode=%1").arg(QString::fromStdString(server.sslmode));
  if (!server.sslrootcert.empty())
    options += QStringLiteral(";sslrootcert=%1").arg(QString::fromStdString(server.sslrootcert));
  db.setConnectOptions(options);
  if (!db.open()) {
    const QSqlError problem = db.lastError();
    db = {};
    QSqlDatabase::removeDatabase(connection_);
    fail(problem);
  }
}

Database::~Database() {
  QSqlDatabase::database(connection_, false).close();
  QSqlDatabase::removeDatabase(connection_);
}

QSqlQuery Database::run(const QString& sql, const QVariantList& values) {
  const QSqlDatabase db = QSqlDatabase::database(connection_, false);
  std::optional<Patience> patience;
  if (server_) patience.emplace(db, patience_);
  QSqlQuery query(db);
  query.setForwardOnly(true);
  bool good = false;
  if (values.isEmpty()) {  // a server prepares no SET and no CREATE
    good = query.exec(sql);
  } else {
    good = query.prepare(sql);
    for (const QVariant& value : values) query.addBindValue(value);
    good = good && query.exec();
  }
  if (!good) fail(query.lastError());
  return query;
}

void Database::each(const QString& sql, const QVariantList& values,
                    const std::function<void(const QSqlQuery&)>& use) {
  QSqlQuery query = run(sql, values);
  while (query.next()) use(query);
  if (query.lastError().isValid()) fail(query.lastError());
}

void Database::begin(bool at_once) {
  run(at_once && !server_ ? QStringLiteral("BEGIN IMMEDIATE") : QStringLiteral("BEGIN"));
}

void Database::commit() {
  run(QStringLiteral("COMMIT"));
}

void Database::rollback() {
  const QSqlDatabase db = QSqlDatabase::database(connection_, false);
  std::optional<Patience> patience;
  if (server_) patience.emplace(db, patience_);
  QSqlQuery query(db);
  query.exec(QStringLiteral("ROLLBACK"));  // it may have been rolled back by the failure itself
}

bool Database::hasTable(const QString& name) {
  if (server_) {
    QSqlQuery q = run(QStringLiteral("SELECT 1 FROM pg_catalog.pg_tables WHERE schemaname="
                                     "current_schema() AND tablename=?"),
                      {name});
    return q.next();
  }
  QSqlQuery q = run(
      QStringLiteral("SELECT 1 FROM sqlite_master WHERE type='table' AND name=? AND rootpage>0"),
      {name});
  return q.next();
}

}  // namespace rt
