#include "job_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <QFile>
#include <map>

#include "database.h"
#include "error.h"
#include "job_codec.h"

namespace rt {
namespace {

constexpr int kFormat = 1;

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

void flush(const std::filesystem::path& path) {
  const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (fd < 0) return;
  ::fsync(fd);
  ::close(fd);
}

void fill(Database& db, const Job& job) {
  db.run(QStringLiteral("PRAGMA journal_mode=OFF"));
  db.run(QStringLiteral(
      "PRAGMA synchronous=OFF"));  // the whole file is flushed once, after it is closed
  db.begin();
  db.run(QStringLiteral("CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT)"));
  db.run(
      QStringLiteral("CREATE TABLE piece(position INTEGER PRIMARY KEY, id INTEGER, name TEXT, "
                     "source TEXT, place TEXT, stitches BLOB)"));
  db.run(QStringLiteral("CREATE TABLE plan(id INTEGER PRIMARY KEY, body BLOB)"));
  const std::map<QString, QString> meta{{"format", QString::number(kFormat)},
                                        {"id", text(job.id)},
                                        {"title", text(job.title)},
                                        {"brief", text(briefJson(job.brief))},
                                        {"rest", text(restJson(job))}};
  for (const auto& [key, value] : meta)
    db.run(QStringLiteral("INSERT INTO meta VALUES(?,?)"), {key, value});
  int position = 0;
  for (const Piece& p : job.pieces)
    db.run(QStringLiteral("INSERT INTO piece VALUES(?,?,?,?,?,?)"),
           {position++, p.id, text(p.name), text(sourceJson(p.source)),
            text(placementJson(p.place)), patternBytes(*p.stitches)});
  if (job.made.plan)
    db.run(QStringLiteral("INSERT INTO plan VALUES(1,?)"), {planBytes(*job.made.plan)});
  db.commit();
}

std::string metaOf(Database& db, const char* key, const std::filesystem::path& path) {
  QSqlQuery q =
      db.run(QStringLiteral("SELECT value FROM meta WHERE key=?"), {QString::fromLatin1(key)});
  if (!q.next())
    throw Error(std::string("the job file lacks its ") + key, path.string(), "open another copy");
  return q.value(0).toString().toStdString();
}

void requireSqlite(const std::filesystem::path& path) {
  QFile file(text(path.string()));
  if (std::filesystem::is_directory(path) || !file.open(QIODevice::ReadOnly))
    throw Error("the job file cannot be opened", path.string(),
                "check the name and that you may read it");
  if (!file.read(16).startsWith("SQLite format 3"))
    throw Error("this is not a job file", path.string(), "choose a .rapt file");
}

}  // namespace

void saveJob(const Job& job, const std::filesystem::path& path) {
  const std::filesystem::path part = path.string() + ".part";
  std::error_code ignored;
  std::filesystem::remove(part, ignored);
  try {
    Database db(part);
    fill(db, job);
  } catch (...) {
    std::filesystem::remove(part, ignored);
    throw;
  }
  flush(part);
  std::error_code problem;
  std::filesystem::rename(part, path, problem);
  if (problem) {
    std::filesystem::remove(part, ignored);
    throw Error("the job cannot be saved: " + problem.message(), path.string(),
                "save it elsewhere");
  }
  flush(path.has_parent_path() ? path.parent_path() : std::filesystem::path("."));
}

Job loadJob(const std::filesystem::path& path) {
  requireSqlite(path);
  try {
    Database db(path);
    db.run(QStringLiteral("PRAGMA query_only=ON"));
    if (const std::string format = metaOf(db, "format", path); format != std::to_string(kFormat))
      throw Error("this job file is of format " + format, path.string(),
                  "open it with a newer program");
    Job job;
    job.id = metaOf(db, "id", path);
    job.title = metaOf(db, "title", path);
    job.brief = briefFrom(metaOf(db, "brief", path));
    QSqlQuery q =
        db.run(QStringLiteral("SELECT id,name,source,place,stitches FROM piece ORDER BY position"));
    while (q.next())
      job.pieces.push_back({q.value(0).toInt(), q.value(1).toString().toStdString(),
                            sourceFrom(q.value(2).toString().toStdString()),
                            std::make_shared<const Pattern>(patternFrom(q.value(4).toByteArray())),
                            placementFrom(q.value(3).toString().toStdString()), 0});
    readRest(metaOf(db, "rest", path), job);
    QSqlQuery plan = db.run(QStringLiteral("SELECT body FROM plan WHERE id=1"));
    if (plan.next())
      job.made.plan = std::make_shared<const HoopingPlan>(planFrom(plan.value(0).toByteArray()));
    return job;
  } catch (const Error&) {
    throw;
  } catch (const std::exception& problem) {
    throw Error(std::string("the job file is damaged: ") + problem.what(), path.string(),
                "open another copy");
  }
}

}  // namespace rt
