#include "ledger.h"

#include <QDateTime>
#include <QFile>
#include <QVariant>

#include "database.h"
#include "error.h"
#include "length.h"

namespace rt {
namespace {

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

std::string quoted(const std::string& s) {
  if (s.find_first_of(",\"\n\r") == std::string::npos) return s;
  std::string out = "\"";
  for (char c : s) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

constexpr const char* kColumns =
    "id,time,job_id,job_title,event,hooping,status,rotation_deg,dx_mm,dy_mm,rms_mm,worst_mm,stitch,"
    "note";

}  // namespace

Ledger::Ledger(const std::filesystem::path& path) : db_(std::make_unique<Database>(path)) {
  db_->run(QStringLiteral("PRAGMA journal_mode=WAL"));
  db_->run(QStringLiteral("PRAGMA synchronous=FULL"));
  db_->run(
      QStringLiteral("CREATE TABLE IF NOT EXISTS record(id INTEGER PRIMARY KEY AUTOINCREMENT, time "
                     "TEXT, job_id TEXT, job_title TEXT, "
                     "event TEXT, hooping INTEGER, status TEXT, rotation_deg REAL, dx_mm REAL, "
                     "dy_mm REAL, rms_mm REAL, worst_mm REAL, "
                     "stitch INTEGER, note TEXT)"));
  db_->run(
      QStringLiteral("CREATE TABLE IF NOT EXISTS outcome(id INTEGER PRIMARY KEY, time TEXT, "
                     "job_id TEXT, fabric TEXT, value REAL, factor REAL, outcome INTEGER, "
                     "note TEXT, measure INTEGER)"));
  db_->run(
      QStringLiteral("CREATE TABLE IF NOT EXISTS run(id INTEGER PRIMARY KEY, time TEXT, "
                     "job_id TEXT, hooping INTEGER, predicted_s REAL, taken_s REAL)"));
}

Ledger::~Ledger() = default;

LedgerEntry Ledger::add(LedgerEntry e) {
  e.time = QDateTime::currentDateTime().toString(Qt::ISODate).toStdString();
  QSqlQuery q = db_->run(
      QStringLiteral("INSERT INTO "
                     "record(time,job_id,job_title,event,hooping,status,rotation_deg,dx_mm,dy_mm,"
                     "rms_mm,worst_mm,"
                     "stitch,note) VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?)"),
      {text(e.time), text(e.job_id), text(e.job_title), text(e.event), e.hooping, text(e.status),
       e.rotation_deg, e.dx_mm, e.dy_mm, e.rms_mm, e.worst_mm, e.stitch, text(e.note)});
  e.id = q.lastInsertId().toInt();
  return e;
}

std::vector<LedgerEntry> Ledger::entries(const std::string& job_id) const {
  const QString columns = QString::fromLatin1(kColumns);
  QSqlQuery q =
      job_id.empty()
          ? db_->run(QStringLiteral("SELECT %1 FROM record ORDER BY id DESC").arg(columns))
          : db_->run(QStringLiteral("SELECT %1 FROM record WHERE job_id=? ORDER BY id DESC")
                         .arg(columns),
                     {text(job_id)});
  std::vector<LedgerEntry> out;
  auto word = [&](int i) { return q.value(i).toString().toStdString(); };
  while (q.next())
    out.push_back({q.value(0).toInt(), word(1), word(2), word(3), word(4), q.value(5).toInt(),
                   word(6), q.value(7).toDouble(), q.value(8).toDouble(), q.value(9).toDouble(),
                   q.value(10).toDouble(), q.value(11).toDouble(), q.value(12).toInt(), word(13)});
  return out;
}

std::string Ledger::csv(const std::string& job_id) const {
  std::string out = std::string(kColumns) + "\n";
  const std::vector<LedgerEntry> all = entries(job_id);
  for (auto e = all.rbegin(); e != all.rend(); ++e) {
    out += std::to_string(e->id) + "," + e->time + "," + quoted(e->job_id) + "," +
           quoted(e->job_title) + "," + e->event + "," + std::to_string(e->hooping) + "," +
           e->status;
    for (double v : {e->rotation_deg, e->dx_mm, e->dy_mm, e->rms_mm, e->worst_mm})
      out += "," + formatNumber(v, 3);
    out += "," + std::to_string(e->stitch) + "," + quoted(e->note) + "\n";
  }
  return out;
}

void Ledger::addOutcome(const OutcomeEntry& e) {
  db_->run(
      QStringLiteral("INSERT INTO outcome(time,job_id,fabric,value,factor,outcome,note,measure) "
                     "VALUES(?,?,?,?,?,?,?,?)"),
      {QDateTime::currentDateTime().toString(Qt::ISODate), text(e.job_id), text(e.fabric), e.value,
       e.factor, static_cast<int>(e.outcome), text(e.note), static_cast<int>(e.of)});
}

std::vector<OutcomeEntry> Ledger::outcomes(const std::string& fabric, OutcomeOf of) const {
  QSqlQuery q = db_->run(QStringLiteral("SELECT job_id,fabric,value,factor,outcome,note FROM "
                                        "outcome WHERE fabric=? AND measure=? ORDER BY id"),
                         {text(fabric), static_cast<int>(of)});
  std::vector<OutcomeEntry> out;
  while (q.next())
    out.push_back({q.value(0).toString().toStdString(), q.value(1).toString().toStdString(),
                   q.value(2).toDouble(), q.value(3).toDouble(),
                   static_cast<Outcome>(std::clamp(q.value(4).toInt(), 0, 2)),
                   q.value(5).toString().toStdString(), of});
  return out;
}

void Ledger::addRun(const RunEntry& e) {
  db_->run(
      QStringLiteral("INSERT INTO run(time,job_id,hooping,predicted_s,taken_s) VALUES(?,?,?,?,?)"),
      {QDateTime::currentDateTime().toString(Qt::ISODate), text(e.job_id), e.hooping, e.predicted_s,
       e.taken_s});
}

std::vector<RunEntry> Ledger::runs() const {
  QSqlQuery q =
      db_->run(QStringLiteral("SELECT job_id,hooping,predicted_s,taken_s FROM run ORDER BY id"));
  std::vector<RunEntry> out;
  while (q.next())
    out.push_back({q.value(0).toString().toStdString(), q.value(1).toInt(), q.value(2).toDouble(),
                   q.value(3).toDouble()});
  return out;
}

LedgerEntry entryFor(const Alignment& a, int hooping) {
  LedgerEntry e;
  e.event = "align";
  e.hooping = hooping;
  e.status = std::string(name(a.status));
  e.rotation_deg = a.fit.rotation_deg;
  e.dx_mm = a.fit.dx_mm;
  e.dy_mm = a.fit.dy_mm;
  e.rms_mm = a.fit.rms_mm;
  e.worst_mm = a.error_worst_mm;
  e.note = a.headline;
  return e;
}

}  // namespace rt
