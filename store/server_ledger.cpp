#include "server_ledger.h"

#include "database.h"
#include "error.h"
#include "ledger_rows.h"

namespace rt {
namespace {

// Adds are serialised by this lock, so that whoever reads up to a place has all before it. Any
// number that no other program of the database uses.
constexpr qint64 kAddLock = 0x7261'7074'6c65'6467;

/// A server's text holds no zero.
QVariantList withoutZeros(QVariantList row) {
  for (QVariant& value : row)
    if (value.typeId() == QMetaType::QString) value = value.toString().remove(QChar(0));
  return row;
}

/// From the version before to this one, and back.
struct Step {
  int version;
  std::vector<const char*> up, down;
};
const std::vector<Step>& steps() {
  static const std::vector<Step> all{
      {1,
       {"CREATE TABLE ledger_meta(key TEXT PRIMARY KEY, value TEXT NOT NULL)",
        "CREATE TABLE entry(seq BIGSERIAL PRIMARY KEY, id TEXT UNIQUE NOT NULL, time TEXT NOT "
        "NULL, "
        "event TEXT NOT NULL, job_id TEXT NOT NULL, job_title TEXT NOT NULL, hooping INTEGER NOT "
        "NULL, note TEXT NOT NULL, body TEXT NOT NULL)",
        "INSERT INTO ledger_meta VALUES('format','1')"},
       {"DROP TABLE entry", "DROP TABLE ledger_meta"}},
      // lists of one job or one kind of event, newest first
      {2,
       {"CREATE INDEX entry_by_job ON entry(job_id, time)",
        "CREATE INDEX entry_by_event ON entry(event, time)"},
       {"DROP INDEX entry_by_event", "DROP INDEX entry_by_job"}}};
  return all;
}

/// 0: there is no ledger.
int versionOf(Database& db, const std::string& where) {
  // in one look: another station may make its ledger between two
  bool ours = false, any = false;
  db.each(QStringLiteral("SELECT count(*), count(*) FILTER (WHERE tablename='ledger_meta') FROM "
                         "pg_catalog.pg_tables WHERE schemaname=current_schema()"),
          {}, [&](const QSqlQuery& q) {
            any = q.value(0).toLongLong() > 0;
            ours = q.value(1).toLongLong() > 0;
          });
  if (!ours && any)
    throw StoreError(Trouble::Foreign, "the database holds tables that are not a ledger's", where,
                     "choose another database; this one was left as it is");
  if (!ours) return 0;
  int version = -1;
  db.each(QStringLiteral("SELECT value FROM ledger_meta WHERE key='format'"), {},
          [&](const QSqlQuery& q) { version = q.value(0).toInt(); });
  if (version < 1 || !db.hasTable(QStringLiteral("entry")))
    throw StoreError(Trouble::Foreign, "the database's ledger lacks a part", where,
                     "choose another database, or restore it from a back-up");
  if (version > kLedgerServerVersion)
    throw StoreError(Trouble::Foreign, "a newer program made this ledger", where,
                     "bring this program up to date");
  return version;
}

void migrate(Database& db, const std::string& where, int to) {
  Transaction t(db);
  db.run(QStringLiteral("SELECT pg_advisory_xact_lock(?)"), {kAddLock});
  for (int now = versionOf(db, where); now != to; now = now < to ? now + 1 : now - 1) {
    const Step& step = steps()[static_cast<size_t>(now < to ? now : now - 1)];
    for (const char* sql : now < to ? step.up : step.down) db.run(QString::fromLatin1(sql));
    const int reached = now < to ? now + 1 : now - 1;
    if (reached > 0)
      db.run(QStringLiteral("UPDATE ledger_meta SET value=? WHERE key='format'"),
             {QString::number(reached)});
  }
  t.commit();
}

class ServerLedger : public LedgerStore {
 public:
  ServerLedger(const ServerUrl& server, Missing missing, std::chrono::milliseconds patience)
      : db_(server, patience) {
    const std::string where = server.shown();
    db_.run(QStringLiteral("SET client_min_messages TO warning"));
    db_.run(QStringLiteral("SET synchronous_commit TO on"));
    const int version = versionOf(db_, where);
    if (version == 0 && missing == Missing::Refuse)
      throw StoreError(Trouble::Unreachable, "there is no ledger in this database yet", where,
                       "add to it once, or check the name");
    if (version != kLedgerServerVersion) migrate(db_, where, kLedgerServerVersion);
  }

  size_t add(const std::vector<LedgerEntry>& entries) override {
    if (entries.empty()) return 0;
    Transaction t(db_);
    db_.run(QStringLiteral("SELECT pg_advisory_xact_lock(?)"), {kAddLock});
    size_t added = 0;
    for (const LedgerEntry& e : entries) {
      const QSqlQuery q = db_.run(
          QStringLiteral("INSERT INTO entry(id,time,event,job_id,job_title,hooping,note,body) "
                         "VALUES(?,?,?,?,?,?,?,?) ON CONFLICT (id) DO NOTHING"),
          withoutZeros(rowOfEntry(e)));
      added += q.numRowsAffected() > 0 ? 1 : 0;
    }
    t.commit();
    return added;
  }

  std::vector<LedgerEntry> since(int64_t& place) override {
    std::vector<LedgerEntry> out;
    db_.each(QStringLiteral("SELECT %1 FROM entry WHERE seq>? ORDER BY seq")
                 .arg(QString::fromLatin1(kEntryColumns)),
             {static_cast<qint64>(place)}, [&](const QSqlQuery& q) {
               place = q.value(0).toLongLong();
               out.push_back(entryOfRow(q));
             });
    return out;
  }

  bool sound() override {
    qint64 counted = 0;
    db_.each(QStringLiteral("SELECT count(*) FROM entry"), {},
             [&](const QSqlQuery& q) { counted = q.value(0).toLongLong(); });
    int64_t place = 0;
    return static_cast<qint64>(since(place).size()) >= counted;
  }

 private:
  Database db_;
};

}  // namespace

std::unique_ptr<LedgerStore> openLedgerServer(const ServerUrl& server, Missing missing,
                                              std::chrono::milliseconds patience) {
  return std::make_unique<ServerLedger>(server, missing, patience);
}

void migrateLedgerServer(const ServerUrl& server, int version) {
  if (version < 0 || version > kLedgerServerVersion)
    throw Error("there is no version " + std::to_string(version), server.shown(),
                "give 0 to " + std::to_string(kLedgerServerVersion));
  Database db(server);
  migrate(db, server.shown(), version);
}

}  // namespace rt
