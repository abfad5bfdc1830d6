#include <QDateTime>

#include "database.h"
#include "ledger_rows.h"
#include "ledger_store.h"
#include "sql_words.h"

namespace rt {
namespace {

const QString kSelect =
    QStringLiteral("SELECT %1 FROM entry ").arg(QString::fromLatin1(kEntryColumns));

/// Format 1 wrote local times.
std::string utc(const std::string& local) {
  const QDateTime time = QDateTime::fromString(sqlText(local), Qt::ISODate);
  return time.isValid() ? time.toUTC().toString(Qt::ISODateWithMs).toStdString() : local;
}

class SqliteLedger : public LedgerStore {
 public:
  explicit SqliteLedger(const std::filesystem::path& path) : db_(path) {
    db_.run(QStringLiteral("PRAGMA trusted_schema=OFF"));
    requireOurs(path);
    db_.run(QStringLiteral("PRAGMA journal_mode=WAL"));
    db_.run(QStringLiteral("PRAGMA synchronous=FULL"));
    Transaction t(db_);
    db_.run(QStringLiteral("CREATE TABLE IF NOT EXISTS ledger_meta(key TEXT PRIMARY KEY, value)"));
    db_.run(QStringLiteral("INSERT OR IGNORE INTO ledger_meta VALUES('format',2)"));
    db_.run(QStringLiteral(
        "CREATE TABLE IF NOT EXISTS entry(seq INTEGER PRIMARY KEY AUTOINCREMENT, id TEXT UNIQUE "
        "NOT "
        "NULL, time TEXT NOT NULL, event TEXT NOT NULL, job_id TEXT, job_title TEXT, hooping "
        "INTEGER, note TEXT, body TEXT)"));
    takeFormat1();
    t.commit();
  }

  size_t add(const std::vector<LedgerEntry>& entries) override {
    if (entries.empty()) return 0;
    Transaction t(db_);
    size_t added = 0;
    for (const LedgerEntry& e : entries) added += insert(e);
    t.commit();
    return added;
  }

  std::vector<LedgerEntry> since(int64_t& place) override {
    std::vector<LedgerEntry> out;
    db_.each(kSelect + QStringLiteral("WHERE seq>? ORDER BY seq"), {static_cast<qint64>(place)},
             [&](const QSqlQuery& q) {
               place = q.value(0).toLongLong();
               out.push_back(entryOfRow(q));
             });
    return out;
  }

  bool sound() override {
    bool good = false;
    db_.each(QStringLiteral("PRAGMA integrity_check(1)"), {},
             [&](const QSqlQuery& q) { good = q.value(0).toString() == u"ok"; });
    return good;
  }

 private:
  /// A file with tables, but none of ours, is somebody else's.
  void requireOurs(const std::filesystem::path& path) {
    bool any = false;
    db_.each(QStringLiteral("SELECT name FROM sqlite_master WHERE type='table' LIMIT 1"), {},
             [&](const QSqlQuery&) { any = true; });
    if (any && !db_.hasTable(QStringLiteral("entry")) && !db_.hasTable(QStringLiteral("record")))
      throw StoreError(Trouble::Foreign, "this is not a ledger", path.string(),
                       "choose another file; this one was left as it is");
    if (!db_.hasTable(QStringLiteral("ledger_meta"))) return;
    db_.each(QStringLiteral("SELECT value FROM ledger_meta WHERE key='format'"), {},
             [&](const QSqlQuery& q) {
               if (q.value(0).toInt() > 2)
                 throw StoreError(Trouble::Foreign, "a newer program wrote this ledger",
                                  path.string(), "open it with a newer program");
             });
  }

  size_t insert(const LedgerEntry& e) {
    QSqlQuery q = db_.run(
        QStringLiteral("INSERT OR IGNORE INTO entry(id,time,event,job_id,job_title,hooping,note,"
                       "body) VALUES(?,?,?,?,?,?,?,?)"),
        rowOfEntry(e));
    return q.numRowsAffected() > 0 ? 1 : 0;
  }

  /// Lines of format 1 get ids that come out the same whenever they are taken, so that an older
  /// program may go on writing them.
  void takeFormat1() {
    takeRows(QStringLiteral("record"),
             QStringLiteral("SELECT id,time,job_id,job_title,event,hooping,status,rotation_deg,"
                            "dx_mm,dy_mm,rms_mm,worst_mm,stitch,note FROM record WHERE id>?"),
             [](const QSqlQuery& q) {
               LedgerEntry e;
               e.job_id = sqlWord(q, 2);
               e.job_title = sqlWord(q, 3);
               e.event = sqlWord(q, 4);
               if (e.event == "outcome") e.event.clear();  // its table has a row with all of it
               e.hooping = q.value(5).toInt();
               e.status = sqlWord(q, 6);
               e.rotation_deg = q.value(7).toDouble();
               e.dx_mm = q.value(8).toDouble();
               e.dy_mm = q.value(9).toDouble();
               e.rms_mm = q.value(10).toDouble();
               e.worst_mm = q.value(11).toDouble();
               e.stitch = q.value(12).toInt();
               e.note = sqlWord(q, 13);
               return e;
             });
    takeRows(QStringLiteral("outcome"),
             QStringLiteral("SELECT id,time,job_id,fabric,value,factor,outcome,note,measure FROM "
                            "outcome WHERE id>?"),
             [](const QSqlQuery& q) {
               return entryFor(OutcomeEntry{
                   sqlWord(q, 2), sqlWord(q, 3), q.value(4).toDouble(), q.value(5).toDouble(),
                   static_cast<Outcome>(std::clamp(q.value(6).toInt(), 0, 2)), sqlWord(q, 7),
                   static_cast<OutcomeOf>(std::clamp(q.value(8).toInt(), 0, 2))});
             });
    takeRows(
        QStringLiteral("run"),
        QStringLiteral("SELECT id,time,job_id,hooping,predicted_s,taken_s FROM run WHERE id>?"),
        [](const QSqlQuery& q) {
          return entryFor(RunEntry{sqlWord(q, 2), q.value(3).toInt(), q.value(4).toDouble(),
                                   q.value(5).toDouble()});
        });
  }

  void takeRows(const QString& table, const QString& select,
                const std::function<LedgerEntry(const QSqlQuery&)>& read) {
    if (!db_.hasTable(table)) return;
    const QString key = QStringLiteral("taken-") + table;
    qint64 last = 0;
    db_.each(QStringLiteral("SELECT value FROM ledger_meta WHERE key=?"), {key},
             [&](const QSqlQuery& q) { last = q.value(0).toLongLong(); });
    std::vector<LedgerEntry> taken;
    db_.each(select + QStringLiteral(" ORDER BY id"), {last}, [&](const QSqlQuery& q) {
      LedgerEntry e = read(q);
      last = q.value(0).toLongLong();
      if (e.event.empty()) return;
      e.time = utc(sqlWord(q, 1));
      e.id = "format1-" + table.toStdString() + "-" + std::to_string(last) + "-" + sqlWord(q, 1);
      taken.push_back(std::move(e));
    });
    for (const LedgerEntry& e : taken) insert(e);
    db_.run(QStringLiteral("INSERT OR REPLACE INTO ledger_meta VALUES(?,?)"), {key, last});
  }

  Database db_;
};

/// Reads rows between two places, halving where a page is damaged.
void rescue(Database& db, int64_t from, int64_t to, Salvage& out) {
  try {
    std::vector<LedgerEntry> some;
    db.each(kSelect + QStringLiteral("WHERE seq>=? AND seq<? ORDER BY seq"),
            {static_cast<qint64>(from), static_cast<qint64>(to)},
            [&](const QSqlQuery& q) { some.push_back(entryOfRow(q)); });
    out.entries.insert(out.entries.end(), some.begin(), some.end());
  } catch (const Error&) {
    if (to - from <= 1) return;
    const int64_t middle = from + (to - from) / 2;
    rescue(db, from, middle, out);
    rescue(db, middle, to, out);
  }
}

}  // namespace

std::unique_ptr<LedgerStore> openLedgerFile(const std::filesystem::path& path) {
  auto store = std::make_unique<SqliteLedger>(path);
  if (!store->sound())
    throw StoreError(Trouble::Damaged, "the ledger is damaged", path.string(),
                     "what can be read of it is taken over; the file is set aside");
  return store;
}

Salvage salvageLedgerFile(const std::filesystem::path& path) {
  Salvage out;
  int64_t last = 0;
  try {
    Database db(path, Database::Open::ReadOnly);
    db.each(QStringLiteral("SELECT seq FROM sqlite_sequence WHERE name='entry'"), {},
            [&](const QSqlQuery& q) { last = q.value(0).toLongLong(); });
    rescue(db, 1, std::clamp<int64_t>(last, 0, 10'000'000) + 1, out);
  } catch (const Error&) {
    // nothing of it can be read
  }
  out.lost = std::max<int64_t>(0, last - static_cast<int64_t>(out.entries.size()));
  std::string stamp = nowUtc();
  std::replace(stamp.begin(), stamp.end(), ':', '-');
  out.aside = path.string() + ".damaged-" + stamp;
  std::error_code problem;
  std::filesystem::rename(path, out.aside, problem);
  if (problem)
    throw StoreError(Trouble::ReadOnly,
                     "the damaged ledger cannot be set aside: " + problem.message(), path.string(),
                     "make its folder writable");
  for (const char* tail : {"-wal", "-shm"})
    std::filesystem::rename(path.string() + tail, out.aside.string() + tail, problem);
  return out;
}

}  // namespace rt
