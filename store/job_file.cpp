#include "job_file.h"

#include <QFile>
#include <map>

#include "database.h"
#include "error.h"
#include "job_codec.h"
#include "job_format1.h"
#include "json_text.h"
#include "part_file.h"
#include "pattern_bytes.h"
#include "sql_words.h"

namespace rt {
namespace {

constexpr int kFormat = 2;
constexpr size_t kMostUnknown = 64u << 20;  // bytes of parts that are kept unread

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

void fillPieces(Database& db, const Job& job) {
  int position = 0;
  for (const Piece& p : job.pieces)
    db.run(QStringLiteral("INSERT INTO piece VALUES(?,?,?,?,?,?,?)"),
           {position++, p.id, sqlText(p.name), p.group, sqlText(sourceJson(p.source)),
            sqlText(placementJson(p.place)), patternBytes(*p.stitches)});
  position = 0;
  for (const Zone& z : job.zones)
    db.run(QStringLiteral("INSERT INTO zone VALUES(?,?)"), {position++, sqlText(zoneJson(z))});
}

void fillPlans(Database& db, const Work& work) {
  int position = 0;
  for (const auto& plan : work.plans) {
    db.run(QStringLiteral("INSERT INTO plan VALUES(?,?,?,?,?,?)"),
           {position++, sqlText(plan->id), sqlText(plan->time), QString::number(plan->layout_print),
            sqlText(planSettingsJson(plan->settings)), sqlText(madePlanJson(plan->plan))});
    for (const Hooping& h : plan->plan.hoopings)
      for (const PlanSetting& s : h.settings)
        db.run(QStringLiteral("INSERT INTO plan_stitches VALUES(?,?,?)"),
               {sqlText(plan->id), sqlText(s.id), patternBytes(s.pattern)});
  }
}

void fillFacts(Database& db, const Record& record) {
  int position = 0;
  for (const Happening& h : record.all())
    db.run(QStringLiteral("INSERT INTO fact VALUES(?,?,?)"),
           {position++, sqlText(kindOf(h)), sqlText(happeningJson(h))});
  for (const ScanTaken* taken : record.scans())
    db.run(QStringLiteral("INSERT OR IGNORE INTO scan VALUES(?,?)"),
           {sqlText(taken->scan.id), QByteArray::fromStdString(*taken->scan.bytes)});
}

void fillSettings(Database& db, const Work& work) {
  const UnknownMembers none, &unknown = work.unknown ? work.unknown->members : none;
  const std::map<std::string, std::string> settings{
      {"brief", briefJson(work.job.brief)},
      {"sequence", sequenceJson(work.job.sequence)},
      {"plan_settings", planSettingsJson(work.job.plan_settings)},
      {"job", jobSettingsJson(work.job)}};
  for (const auto& [name, body] : settings)
    db.run(QStringLiteral("INSERT INTO settings VALUES(?,?)"),
           {sqlText(name), sqlText(withUnknown(name, body, unknown))});
}

void fill(Database& db, const Work& work) {
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
                                        {"edits", QString::number(work.edits)}};
  for (const auto& [key, value] : meta)
    db.run(QStringLiteral("INSERT INTO meta VALUES(?,?)"), {key, value});
  fillSettings(db, work);
  fillPieces(db, work.job);
  fillPlans(db, work);
  fillFacts(db, work.record);
  if (work.unknown)
    for (const UnknownParts::Table& t : work.unknown->tables) {
      db.run(sqlText(t.create));
      for (const std::string& row : t.insert) db.run(sqlText(row));
    }
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

void readSettings(Database& db, Work& work, UnknownParts& unknown) {
  std::map<std::string, std::string> settings;
  db.each(QStringLiteral("SELECT name,body FROM settings LIMIT 1000"), {},
          [&](const QSqlQuery& q) { settings[sqlWord(q, 0)] = sqlWord(q, 1); });
  auto take = [&](const char* name) {
    const auto it = settings.find(name);
    return it == settings.end() ? std::string("{}") : it->second;
  };
  work.job.brief = briefFrom(take("brief"), &unknown.members);
  work.job.sequence = sequenceFrom(take("sequence"), &unknown.members);
  work.job.plan_settings = planSettingsFrom(take("plan_settings"), &unknown.members);
  readJobSettings(take("job"), work.job, &unknown.members);
}

void readPieces(Database& db, Job& job) {
  db.each(
      QStringLiteral(
          "SELECT id,name,group_no,source,place,stitches FROM piece ORDER BY position LIMIT 5001"),
      {}, [&](const QSqlQuery& q) {
        job.pieces.push_back(
            {q.value(0).toInt(), sqlWord(q, 1), sourceFrom(sqlWord(q, 3)),
             std::make_shared<const Pattern>(patternFrom(q.value(5).toByteArray())),
             placementFrom(sqlWord(q, 4)), q.value(2).toInt()});
      });
  db.each(QStringLiteral("SELECT body FROM zone ORDER BY position LIMIT 2001"), {},
          [&](const QSqlQuery& q) { job.zones.push_back(zoneFrom(sqlWord(q, 0))); });
}

void readPlans(Database& db, Work& work) {
  std::map<std::string, std::map<std::string, Pattern>> stitches;
  db.each(QStringLiteral("SELECT plan,hooping,stitches FROM plan_stitches LIMIT 20000"), {},
          [&](const QSqlQuery& q) {
            stitches[sqlWord(q, 0)][sqlWord(q, 1)] = patternFrom(q.value(2).toByteArray());
          });
  db.each(QStringLiteral(
              "SELECT id,time,layout_print,settings,body FROM plan ORDER BY position LIMIT 1000"),
          {}, [&](const QSqlQuery& q) {
            auto made = std::make_shared<MadePlan>();
            made->id = sqlWord(q, 0);
            made->time = sqlWord(q, 1);
            made->layout_print = q.value(2).toString().toULongLong();
            made->settings = planSettingsFrom(sqlWord(q, 3));
            made->plan = madePlanFrom(sqlWord(q, 4));
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

void readFacts(Database& db, Record& record) {
  // files from before there were scans lack the table
  std::map<std::string, std::shared_ptr<const std::string>> pictures;
  if (db.hasTable(QStringLiteral("scan")))
    db.each(QStringLiteral("SELECT id,picture FROM scan LIMIT 2000"), {}, [&](const QSqlQuery& q) {
      pictures[sqlWord(q, 0)] =
          std::make_shared<const std::string>(q.value(1).toByteArray().toStdString());
    });
  db.each(QStringLiteral("SELECT kind,body FROM fact ORDER BY position LIMIT 1000001"), {},
          [&](const QSqlQuery& q) {
            Happening h = happeningFrom(sqlWord(q, 0), sqlWord(q, 1));
            if (auto* taken = std::get_if<ScanTaken>(&h))
              if (const auto it = pictures.find(taken->scan.id); it != pictures.end())
                taken->scan.bytes = it->second;
            record.add(std::move(h));
          });
}

/// Tables of a newer program, as statements that make them again.
void readUnknownTables(Database& db, UnknownParts& unknown) {
  std::vector<std::pair<QString, std::string>> tables;
  db.each(QStringLiteral("SELECT name,sql FROM sqlite_master WHERE type='table' AND rootpage>0 "
                         "LIMIT 200"),
          {}, [&](const QSqlQuery& q) {
            const std::string sql = sqlWord(q, 1);
            for (const char* known : {"meta", "concern", "settings", "piece", "zone", "plan",
                                      "plan_stitches", "fact", "scan"})
              if (sqlWord(q, 0) == known) return;
            if (!sqlWord(q, 0).starts_with("sqlite_") && sql.starts_with("CREATE TABLE"))
              tables.emplace_back(q.value(0).toString(), sql);
          });
  size_t bytes = 0;
  for (const auto& [name, create] : tables) {
    QString quoted = name;
    quoted.replace('"', QStringLiteral("\"\""));
    QStringList parts;
    db.each(QStringLiteral("SELECT name FROM pragma_table_info(?)"), {name},
            [&](const QSqlQuery& q) {
              QString column = q.value(0).toString();
              column.replace('"', QStringLiteral("\"\""));
              parts << QStringLiteral("quote(\"%1\")").arg(column);
            });
    UnknownParts::Table table{create, {}};
    db.each(QStringLiteral("SELECT %1 FROM \"%2\" LIMIT 1000000")
                .arg(parts.join(QStringLiteral("||','||")), quoted),
            {}, [&](const QSqlQuery& q) {
              bytes += static_cast<size_t>(q.value(0).toString().size());
              if (bytes > kMostUnknown)
                throw Error("parts that this program does not know are over 64 MB", "job file",
                            "open it with the program that wrote it");
              table.insert.push_back("INSERT INTO \"" + quoted.toStdString() + "\" VALUES(" +
                                     sqlWord(q, 0) + ")");
            });
    unknown.tables.push_back(std::move(table));
  }
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
  readSettings(db, work, unknown);
  readPieces(db, work.job);
  readPlans(db, work);
  readFacts(db, work.record);
  readUnknownTables(db, unknown);
  if (!unknown.empty()) work.unknown = std::make_shared<const UnknownParts>(std::move(unknown));
  return work;
}

}  // namespace

void saveWork(const Work& work, const std::filesystem::path& path) {
  PartFile part(path);
  {
    Database db(part.path());
    fill(db, work);
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

void saveJob(const Job& job, const std::filesystem::path& path) {
  Work work;
  work.job = job;
  saveWork(work, path);
}

Job loadJob(const std::filesystem::path& path) {
  return loadWork(path).job;
}

}  // namespace rt
