#include "database.h"

#include <QSqlError>
#include <QUuid>
#include <QVariant>

namespace rt {
namespace {

// Result codes of SQLite (sqlite.org/rescode.html); the low byte is the primary code.
constexpr int kBusy = 5, kLocked = 6, kReadOnly = 8, kIo = 10, kCorrupt = 11, kFull = 13,
              kCannotOpen = 14, kNotADatabase = 26;
constexpr int kWait_ms = 10'000;  // for another program that is writing

}  // namespace

void Database::fail(const QSqlError& problem) const {
  const int code = problem.nativeErrorCode().toInt() & 0xff;
  const std::string words = problem.text().toStdString(), where = path_.string();
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
    : path_(path), connection_(QUuid::createUuid().toString()) {
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

Database::~Database() {
  QSqlDatabase::database(connection_, false).close();
  QSqlDatabase::removeDatabase(connection_);
}

QSqlQuery Database::run(const QString& sql, const QVariantList& values) {
  QSqlQuery query(QSqlDatabase::database(connection_, false));
  query.setForwardOnly(true);
  bool good = query.prepare(sql);
  for (const QVariant& value : values) query.addBindValue(value);
  good = good && query.exec();
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
  run(at_once ? QStringLiteral("BEGIN IMMEDIATE") : QStringLiteral("BEGIN"));
}

void Database::commit() {
  run(QStringLiteral("COMMIT"));
}

void Database::rollback() {
  QSqlQuery query(QSqlDatabase::database(connection_, false));
  query.exec(QStringLiteral("ROLLBACK"));  // it may have been rolled back by the failure itself
}

bool Database::hasTable(const QString& name) {
  QSqlQuery q = run(
      QStringLiteral("SELECT 1 FROM sqlite_master WHERE type='table' AND name=? AND rootpage>0"),
      {name});
  return q.next();
}

}  // namespace rt
