#include "job_file.h"

#include <QFile>
#include <map>

#include "database.h"
#include "error.h"
#include "foreign_parts.h"
#include "job_codec.h"
#include "job_format1.h"
#include "job_limits.h"
#include "ledger_entry.h"
#include "part_file.h"
#include "pattern_bytes.h"
#include "sql_words.h"

namespace rt {
namespace {

constexpr int kFormat = 2;

/// A table for each concern, with the version of what is in it. A concern that is changed gets a
/// new version and a reader of the old one; the others stay.
struct Concern {
  const char* name;
  int version;
  std::vector<const char*> tables;
};
const std::vector<Concern>& concerns() {
  static const std::vector<Concern> all{
      {"settings", 1, {"CREATE TABLE settings(name TEXT PRIMARY KEY, body TEXT)"}},
      {"piece",
       1,
       {"CREATE TABLE piece(position INTEGER PRIMARY KEY, id INTEGER, name TEXT, group_no INTEGER, "
        "source TEXT, place TEXT, stitches BLOB)"}},
      {"zone", 1, {"CREATE TABLE zone(position INTEGER PRIMARY KEY, body TEXT)"}},
      {"plan",
       1,
       {"CREATE TABLE plan(position INTEGER PRIMARY KEY, id TEXT, time TEXT, layout_print TEXT, "
        "settings TEXT, body TEXT)",
        "CREATE TABLE plan_stitches(plan TEXT, hooping TEXT, stitches BLOB)"}},
      {"fact", 1, {"CREATE TABLE fact(position INTEGER PRIMARY KEY, kind TEXT, body TEXT)"}},
      {"scan", 1, {"CREATE TABLE scan(id TEXT PRIMARY KEY, picture BLOB)"}}};
  return all;
}

// names of values for good, by which what is beyond them is found again
std::string partOf(const Piece& p, const char* what) {
  return "piece/" + std::to_string(p.id) + "/" + what;
}
std::string partOf(const Zone& z) {
  return "zone/" + z.name;
}
std::string partOf(const MadePlan& plan, const char* what) {
  return "plan/" + plan.id + "/" + what;
}
std::string partOfFact(size_t position) {
  return "fact/" + std::to_string(position);
}

void fillPieces(Database& db, const Work& work) {
  int position = 0;
  const UnknownParts* more = work.unknown.get();
  for (const Piece& p : work.job.pieces)
    db.run(QStringLiteral("INSERT INTO piece VALUES(?,?,?,?,?,?,?)"),
           {position++, p.id, sqlText(p.name), p.group,
            sqlText(withBeyond(partOf(p, "source"), sourceJson(p.source), more)),
            sqlText(withBeyond(partOf(p, "place"), placementJson(p.place), more)),
            patternBytes(*p.stitches)});
  position = 0;
  for (const Zone& z : work.job.zones)
    db.run(QStringLiteral("INSERT INTO zone VALUES(?,?)"),
           {position++, sqlText(withBeyond(partOf(z), zoneJson(z), more))});
}

void fillPlans(Database& db, const Work& work) {
  int position = 0;
  const UnknownParts* more = work.unknown.get();
  for (const auto& plan : work.plans) {
    db.run(QStringLiteral("INSERT INTO plan VALUES(?,?,?,?,?,?)"),
           {position++, sqlText(plan->id), sqlText(plan->time), QString::number(plan->layout_print),
            sqlText(withBeyond(partOf(*plan, "settings"), planSettingsJson(plan->settings), more)),
            sqlText(withBeyond(partOf(*plan, "body"), madePlanJson(plan->plan), more))});
    for (const Hooping& h : plan->plan.hoopings)
      for (const PlanSetting& s : h.settings)
        db.run(QStringLiteral("INSERT INTO plan_stitches VALUES(?,?,?)"),
               {sqlText(plan->id), sqlText(s.id), patternBytes(s.pattern)});
  }
}

void fillFacts(Database& db, const Work& work) {
  size_t position = 0;
  for (const Happening& h : work.record.all()) {
    const std::string body = withBeyond(partOfFact(position), happeningJson(h), work.unknown.get());
    db.run(QStringLiteral("INSERT INTO fact VALUES(?,?,?)"),
           {static_cast<qint64>(position++), sqlText(kindOf(h)), sqlText(body)});
  }
  for (const ScanTaken* taken : work.record.scans())
    db.run(QStringLiteral("INSERT OR IGNORE INTO scan VALUES(?,?)"),
           {sqlText(taken->scan.id), QByteArray::fromStdString(*taken->scan.bytes)});
}

void fillSettings(Database& db, const Work& work) {
  const std::map<std::string, std::string> settings{
      {"brief", briefJson(work.job.brief)},
      {"sequence", sequenceJson(work.job.sequence)},
      {"plan_settings", planSettingsJson(work.job.plan_settings)},
      {"job", jobSettingsJson(work.job)}};
  for (const auto& [name, body] : settings)
    db.run(QStringLiteral("INSERT INTO settings VALUES(?,?)"),
           {sqlText(name), sqlText(withBeyond(name, body, work.unknown.get()))});
}

void fill(Database& db, const Work& work, const std::string& stamp) {
  db.run(QStringLiteral("PRAGMA journal_mode=OFF"));
  db.run(QStringLiteral(
      "PRAGMA synchronous=OFF"));  // the whole file is flushed once, after it is closed
  db.begin();
  db.run(QStringLiteral("CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT)"));
  db.run(QStringLiteral("CREATE TABLE concern(name TEXT PRIMARY KEY, version INTEGER)"));
  for (const Concern& c : concerns()) {
    for (const char* sql : c.tables) db.run(QString::fromLatin1(sql));
    db.run(QStringLiteral("INSERT INTO concern VALUES(?,?)"),
           {QString::fromLatin1(c.name), c.version});
  }
  const std::map<QString, QString> meta{{"format", QString::number(kFormat)},
                                        {"id", sqlText(work.job.id)},
                                        {"title", sqlText(work.job.title)},
                                        {"edits", QString::number(work.edits)},
                                        {"saved", sqlText(stamp)}};
  for (const auto& [key, value] : meta)
    db.run(QStringLiteral("INSERT INTO meta VALUES(?,?)"), {key, value});
  fillSettings(db, work);
  fillPieces(db, work);
  fillPlans(db, work);
  fillFacts(db, work);
  if (work.unknown) writeForeign(db, *work.unknown);
  db.commit();
}

std::string metaOf(Database& db, const char* key, const std::filesystem::path& path) {
  QSqlQuery q =
      db.run(QStringLiteral("SELECT value FROM meta WHERE key=?"), {QString::fromLatin1(key)});
  if (!q.next())
    throw Error(std::string("the job file lacks its ") + key, path.string(), "open another copy");
  return sqlWord(q, 0);
}

void requireSqlite(const std::filesystem::path& path) {
  QFile file(sqlText(path.string()));
  if (std::filesystem::is_directory(path) || !file.open(QIODevice::ReadOnly))
    throw Error("the job file cannot be opened", path.string(),
                "check the name and that you may read it");
  if (!file.read(16).startsWith("SQLite format 3"))
    throw Error("this is not a job file", path.string(), "choose a .rapt file");
}

/// Tables only: a view can be without end.
void requireTables(Database& db, const std::filesystem::path& path,
                   std::initializer_list<const char*> names) {
  for (const char* name : names)
    if (!db.hasTable(QString::fromLatin1(name)))
      throw Error(std::string("the job file lacks its table ") + name, path.string(),
                  "open another copy");
}

void requireVersions(Database& db, const std::filesystem::path& path) {
  db.each(QStringLiteral("SELECT name,version FROM concern LIMIT 1000"), {},
          [&](const QSqlQuery& q) {
            for (const Concern& c : concerns())
              if (sqlWord(q, 0) == c.name && q.value(1).toInt() > c.version)
                throw Error("a newer program wrote its part \"" + sqlWord(q, 0) + "\" (version " +
                                sqlWord(q, 1) + ")",
                            path.string(), "open it with a newer program");
          });
}

void readSettings(Database& db, Work& work, Beyond& beyond) {
  std::map<std::string, std::string> settings;
  db.each(QStringLiteral("SELECT name,body FROM settings LIMIT 1000"), {},
          [&](const QSqlQuery& q) { settings[sqlWord(q, 0)] = sqlWord(q, 1); });
  auto take = [&](const char* name) {
    const auto it = settings.find(name);
    return it == settings.end() ? std::string("{}") : it->second;
  };
  work.job.brief = briefFrom(take("brief"));
  work.job.sequence = sequenceFrom(take("sequence"));
  work.job.plan_settings = planSettingsFrom(take("plan_settings"));
  readJobSettings(take("job"), work.job);
  beyond.keep("brief", take("brief"), briefJson(work.job.brief));
  beyond.keep("sequence", take("sequence"), sequenceJson(work.job.sequence));
  beyond.keep("plan_settings", take("plan_settings"), planSettingsJson(work.job.plan_settings));
  beyond.keep("job", take("job"), jobSettingsJson(work.job));
}

/// One row more than may be there is read, so that what is too much is seen.
QString upTo(size_t most) {
  return QStringLiteral(" LIMIT %1").arg(static_cast<qulonglong>(most + 1));
}

void readPieces(Database& db, Job& job, Beyond& beyond) {
  db.each(
      QStringLiteral("SELECT id,name,group_no,source,place,stitches FROM piece ORDER BY position") +
          upTo(job_limits::kMostPieces),
      {}, [&](const QSqlQuery& q) {
        const std::string source = sqlWord(q, 3), place = sqlWord(q, 4);
        job.pieces.push_back(
            {wholeIn(q, 0, "piece"), sqlWord(q, 1), sourceFrom(source),
             std::make_shared<const Pattern>(patternFrom(q.value(5).toByteArray())),
             placementFrom(place), wholeIn(q, 2, "piece")});
        const Piece& p = job.pieces.back();
        beyond.keep(partOf(p, "source"), source, sourceJson(p.source));
        beyond.keep(partOf(p, "place"), place, placementJson(p.place));
      });
  db.each(QStringLiteral("SELECT body FROM zone ORDER BY position") + upTo(job_limits::kMostZones),
          {}, [&](const QSqlQuery& q) {
            job.zones.push_back(zoneFrom(sqlWord(q, 0)));
            beyond.keep(partOf(job.zones.back()), sqlWord(q, 0), zoneJson(job.zones.back()));
          });
}

void readPlans(Database& db, Work& work, Beyond& beyond) {
  std::map<std::string, std::map<std::string, Pattern>> stitches;
  db.each(QStringLiteral("SELECT plan,hooping,stitches FROM plan_stitches"), {},
          [&](const QSqlQuery& q) {
            stitches[sqlWord(q, 0)][sqlWord(q, 1)] = patternFrom(q.value(2).toByteArray());
          });
  db.each(QStringLiteral("SELECT id,time,layout_print,settings,body FROM plan ORDER BY position") +
              upTo(job_limits::kMostPlans),
          {}, [&](const QSqlQuery& q) {
            auto made = std::make_shared<MadePlan>();
            made->id = sqlWord(q, 0);
            made->time = sqlWord(q, 1);
            made->layout_print = q.value(2).toString().toULongLong();
            made->settings = planSettingsFrom(sqlWord(q, 3));
            made->plan = madePlanFrom(sqlWord(q, 4));
            beyond.keep(partOf(*made, "settings"), sqlWord(q, 3), planSettingsJson(made->settings));
            beyond.keep(partOf(*made, "body"), sqlWord(q, 4), madePlanJson(made->plan));
            for (Hooping& h : made->plan.hoopings)
              for (PlanSetting& s : h.settings) {
                const auto it = stitches[made->id].find(s.id);
                if (it == stitches[made->id].end())
                  throw Error("hooping " + s.id + " lacks its stitches", "job file",
                              "make the plan again from an older copy");
                s.pattern = std::move(it->second);
              }
            work.plans.push_back(std::move(made));
          });
}

void readFacts(Database& db, Record& record, Beyond& beyond) {
  QSqlQuery facts = db.run(QStringLiteral("SELECT count(*) FROM fact"));
  if (facts.next() && facts.value(0).toULongLong() > job_limits::kMostFacts)
    throw Error("record: " + sqlWord(facts, 0) + " facts are more than " +
                    std::to_string(job_limits::kMostFacts),
                "job file", "open another copy; the file was left as it is");
  // files from before there were scans lack the table
  std::map<std::string, std::shared_ptr<const std::string>> pictures;
  if (db.hasTable(QStringLiteral("scan")))
    db.each(QStringLiteral("SELECT id,picture FROM scan") + upTo(job_limits::kMostScans), {},
            [&](const QSqlQuery& q) {
              pictures[sqlWord(q, 0)] =
                  std::make_shared<const std::string>(q.value(1).toByteArray().toStdString());
            });
  db.each(
      QStringLiteral("SELECT kind,body FROM fact ORDER BY position") + upTo(job_limits::kMostFacts),
      {}, [&](const QSqlQuery& q) {
        const std::string kind = sqlWord(q, 0), body = sqlWord(q, 1);
        Happening h = happeningFrom(kind, body);
        if (!std::holds_alternative<UnknownHappening>(h))
          beyond.keep(partOfFact(record.all().size()), body, happeningJson(h));
        if (auto* taken = std::get_if<ScanTaken>(&h))
          if (const auto it = pictures.find(taken->scan.id); it != pictures.end())
            taken->scan.bytes = it->second;
        record.addRead(std::move(h));
      });
}

const std::vector<KnownTable>& knownTables() {
  static const std::vector<KnownTable> all{
      {"piece", "id", {"position", "id", "name", "group_no", "source", "place", "stitches"}},
      {"zone", "position", {"position", "body"}},
      {"plan", "id", {"position", "id", "time", "layout_print", "settings", "body"}},
      {"plan_stitches", "plan||'/'||hooping", {"plan", "hooping", "stitches"}},
      {"fact", "position", {"position", "kind", "body"}},
      {"scan", "id", {"id", "picture"}}};
  return all;
}

Work workOfFormat2(Database& db, const std::filesystem::path& path) {
  requireTables(db, path,
                {"concern", "settings", "piece", "zone", "plan", "plan_stitches", "fact"});
  requireVersions(db, path);
  Work work;
  UnknownParts unknown;
  work.job.id = metaOf(db, "id", path);
  work.job.title = metaOf(db, "title", path);
  work.edits = std::strtoull(metaOf(db, "edits", path).c_str(), nullptr, 10);
  Beyond beyond(unknown);
  readSettings(db, work, beyond);
  readPieces(db, work.job, beyond);
  readPlans(db, work, beyond);
  readFacts(db, work.record, beyond);
  readForeign(db, knownTables(), unknown);
  if (!unknown.empty()) work.unknown = std::make_shared<const UnknownParts>(std::move(unknown));
  return work;
}

}  // namespace

void saveWork(const Work& work, const std::filesystem::path& path) {
  saveWork(work, path, newId());
}

void saveWork(const Work& work, const std::filesystem::path& path, const std::string& stamp) {
  requireSound(work);  // nothing is written that could not be opened
  PartFile part(path);
  {
    Database db(part.path());
    fill(db, work, stamp);
  }
  part.commit();
}

Work loadWork(const std::filesystem::path& path) {
  requireSqlite(path);
  try {
    Database db(path, Database::Open::ReadOnly);
    db.run(QStringLiteral("PRAGMA trusted_schema=OFF"));
    requireTables(db, path, {"meta"});
    const std::string format = metaOf(db, "format", path);
    if (format == "1") {
      requireTables(db, path, {"piece", "plan"});
      return checked(workOfFormat1(db));
    }
    if (format != std::to_string(kFormat))
      throw Error("this job file is of format " + format, path.string(),
                  "open it with a newer program");
    return checked(workOfFormat2(db, path));
  } catch (const Error& problem) {
    if (problem.where() == path.string()) throw;
    throw Error(problem.problem() + " (" + problem.where() + ")", path.string(), problem.remedy());
  } catch (const std::exception& problem) {
    throw Error(std::string("the job file is damaged: ") + problem.what(), path.string(),
                "open another copy");
  }
}

std::string savedStamp(const std::filesystem::path& path) {
  std::error_code ignored;
  if (!std::filesystem::exists(path, ignored)) return {};
  try {
    requireSqlite(path);
    Database db(path, Database::Open::ReadOnly);
    QSqlQuery q = db.run(QStringLiteral("SELECT value FROM meta WHERE key='saved'"));
    if (q.next()) return sqlWord(q, 0);
  } catch (const Error&) {
    // another program's: told by its size and time
  }
  return std::to_string(std::filesystem::file_size(path, ignored)) + " " +
         std::to_string(std::filesystem::last_write_time(path, ignored).time_since_epoch().count());
}

void saveJob(const Job& job, const std::filesystem::path& path) {
  Work work;
  work.job = job;
  saveWork(work, path);
}

Job loadJob(const std::filesystem::path& path) {
  return loadWork(path).job;
}

}  // namespace rt
