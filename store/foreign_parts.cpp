#include "foreign_parts.h"

#include <algorithm>

#include "error.h"
#include "sql_words.h"

namespace rt {
namespace {

constexpr size_t kMostBytes = 64u << 20;  // of parts that are kept unread
constexpr const char* kAside = "set_aside";
// members of what is beyond: none of ours is called so
constexpr const char *kList = "\x01list", *kWord = "\x01word", *kWas = "was", *kRead = "read";

std::string placeOf(const Json& element, size_t index) {
  if (element.is_object() && element.contains("id"))
    return "id " +
           (element["id"].is_string() ? element["id"].get<std::string>() : element["id"].dump());
  return std::to_string(index);
}

const Json* elementAt(const Json& list, const std::string& place) {
  for (size_t i = 0; i < list.size(); ++i)
    if (placeOf(list[i], i) == place) return &list[i];
  return nullptr;
}

}  // namespace

Json beyond(const Json& read, const Json& known) {
  Json rest;
  if (read.is_object() && known.is_object()) {
    for (const auto& [key, value] : read.items()) {
      const auto it = known.find(key);
      Json part = it == known.end() ? value : beyond(value, *it);
      if (it == known.end() || !part.is_null()) rest[key] = std::move(part);
    }
  } else if (read.is_array() && known.is_array()) {
    Json parts;
    for (size_t i = 0; i < read.size(); ++i) {
      if (!read[i].is_object() && !read[i].is_array()) continue;
      const std::string place = placeOf(read[i], i);
      if (const Json* other = elementAt(known, place))
        if (Json part = beyond(read[i], *other); !part.is_null()) parts[place] = std::move(part);
    }
    if (!parts.is_null()) rest[kList] = std::move(parts);
  } else if (read != known &&
             ((read.is_string() && known.is_string()) || (read.is_number() && known.is_number()))) {
    rest[kWord] = {{kWas, known}, {kRead, read}};
  }
  return rest;
}

void addBeyond(Json& now, const Json& rest) {
  if (!rest.is_object()) return;
  if (const auto word = rest.find(kWord); word != rest.end()) {
    if (now == word->value(kWas, Json())) now = word->value(kRead, now);
    return;
  }
  if (const auto list = rest.find(kList); list != rest.end()) {
    if (!now.is_array()) return;
    for (size_t i = 0; i < now.size(); ++i)
      if (const auto part = list->find(placeOf(now[i], i)); part != list->end())
        addBeyond(now[i], *part);
    return;
  }
  if (!now.is_object()) return;
  for (const auto& [key, value] : rest.items())
    if (const auto it = now.find(key); it != now.end())
      addBeyond(*it, value);
    else
      now[key] = value;
}

void Beyond::keep(const std::string& part, const std::string& read, const std::string& known) {
  if (read == known) return;  // as this program writes it
  const Json rest = beyond(parsedPart(read), Json::parse(known));
  if (!rest.is_null()) unknown_.members.insert_or_assign(part, rest.dump());
}

std::string withBeyond(const std::string& part, const std::string& json,
                       const UnknownParts* unknown) {
  if (!unknown) return json;
  const auto it = unknown->members.find(part);
  if (it == unknown->members.end()) return json;
  Json now = Json::parse(json);
  addBeyond(now, Json::parse(it->second));
  return now.dump();
}

namespace {

QString quotedName(const QString& name) {
  return QStringLiteral("\"%1\"").arg(QString(name).replace('"', QStringLiteral("\"\"")));
}

class ForeignReader {
 public:
  ForeignReader(Database& db, UnknownParts& unknown) : db_(db), unknown_(unknown) {}

  void keep(const std::string& statement) {
    bytes_ += statement.size();
    if (bytes_ > kMostBytes)
      throw Error("parts that this program does not know are over 64 MB", "job file",
                  "open it with the program that wrote it");
    unknown_.statements.push_back(statement);
  }
  QStringList columnsOf(const QString& table) {
    QStringList out;
    db_.each(QStringLiteral("SELECT name FROM pragma_table_info(?)"), {table},
             [&](const QSqlQuery& q) { out << q.value(0).toString(); });
    return out;
  }
  void table(const QString& name, const std::string& create) {
    keep(create);
    QStringList quoted;
    for (const QString& column : columnsOf(name))
      quoted << QStringLiteral("quote(%1)").arg(quotedName(column));
    if (quoted.isEmpty()) return;
    const std::string begins = "INSERT INTO " + quotedName(name).toStdString() + " VALUES(";
    db_.each(QStringLiteral("SELECT %1 FROM %2 LIMIT 1000000")
                 .arg(quoted.join(QStringLiteral("||','||")), quotedName(name)),
             {}, [&](const QSqlQuery& q) { keep(begins + sqlWord(q, 0) + ")"); });
  }
  /// Columns beside ours, row by row.
  void columns(const KnownTable& known) {
    const QString name = QString::fromLatin1(known.name), key = QString::fromLatin1(known.key);
    for (const QString& column : columnsOf(name)) {
      if (std::any_of(known.columns.begin(), known.columns.end(),
                      [&](const char* ours) { return column == QLatin1String(ours); }))
        continue;
      std::string type;
      db_.each(QStringLiteral("SELECT type FROM pragma_table_info(?) WHERE name=?"), {name, column},
               [&](const QSqlQuery& q) { type = sqlWord(q, 0); });
      if (type.find_first_not_of(
              "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz ()0123456789,") !=
          std::string::npos)
        type.clear();
      const std::string quoted = quotedName(column).toStdString();
      keep("ALTER TABLE " + std::string(known.name) + " ADD COLUMN " + quoted + " " + type);
      db_.each(
          QStringLiteral("SELECT quote(%1),quote(%2) FROM %3 WHERE %1 IS NOT NULL LIMIT 1000000")
              .arg(quotedName(column), key, name),
          {}, [&](const QSqlQuery& q) {
            keep("UPDATE " + std::string(known.name) + " SET " + quoted + "=" + sqlWord(q, 0) +
                 " WHERE " + known.key + "=" + sqlWord(q, 1));
          });
    }
  }
  void rows(const char* table, const char* name, const char* body,
            const std::vector<const char*>& ours) {
    db_.each(QStringLiteral("SELECT %1,quote(%1),quote(%2) FROM %3 LIMIT 1000")
                 .arg(QLatin1String(name), QLatin1String(body), QLatin1String(table)),
             {}, [&](const QSqlQuery& q) {
               const std::string word = sqlWord(q, 0);
               if (std::find(ours.begin(), ours.end(), word) == ours.end())
                 keep("INSERT OR IGNORE INTO " + std::string(table) + "(" + name + "," + body +
                      ") VALUES(" + sqlWord(q, 1) + "," + sqlWord(q, 2) + ")");
             });
  }

 private:
  Database& db_;
  UnknownParts& unknown_;
  size_t bytes_ = 0;
};

}  // namespace

void readForeign(Database& db, const std::vector<KnownTable>& known, UnknownParts& unknown) {
  ForeignReader reader(db, unknown);
  struct Found {
    QString type, name;
    std::string sql;
  };
  std::vector<Found> found;
  db.each(
      QStringLiteral("SELECT type,name,sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT "
                     "LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY type='table' DESC, rowid LIMIT 500"),
      {}, [&](const QSqlQuery& q) {
        found.push_back({q.value(0).toString(), q.value(1).toString(), sqlWord(q, 2)});
      });
  bool aside = false;
  for (const KnownTable& t : known) reader.columns(t);
  reader.rows("meta", "key", "value", {"format", "id", "title", "edits", "saved"});
  reader.rows("concern", "name", "version", {"settings", "piece", "zone", "plan", "fact", "scan"});
  reader.rows("settings", "name", "body", {"brief", "sequence", "plan_settings", "job"});
  for (const Found& f : found) {
    const bool ours = f.name == QStringLiteral("meta") || f.name == QStringLiteral("concern") ||
                      f.name == QStringLiteral("settings") ||
                      std::any_of(known.begin(), known.end(), [&](const KnownTable& t) {
                        return f.name == QLatin1String(t.name);
                      });
    if (ours) continue;
    if (f.name == QLatin1String(kAside))
      aside = true;
    else if (f.type == QStringLiteral("table") && f.sql.starts_with("CREATE TABLE"))
      reader.table(f.name, f.sql);
    else if (f.type != QStringLiteral("table") && f.sql.starts_with("CREATE "))
      reader.keep(f.sql);
  }
  if (aside)
    db.each(QStringLiteral("SELECT statement FROM %1 ORDER BY position LIMIT 1000000")
                .arg(QLatin1String(kAside)),
            {}, [&](const QSqlQuery& q) { reader.keep(sqlWord(q, 0)); });
}

void writeForeign(Database& db, const UnknownParts& unknown) {
  std::vector<const std::string*> aside;
  for (const std::string& statement : unknown.statements) {
    db.run(QStringLiteral("SAVEPOINT foreign_part"));
    try {
      db.run(sqlText(statement));
    } catch (const StoreError& problem) {
      if (problem.trouble() == Trouble::Full || problem.trouble() == Trouble::ReadOnly) throw;
      db.run(QStringLiteral("ROLLBACK TO foreign_part"));
      aside.push_back(&statement);
    }
    db.run(QStringLiteral("RELEASE foreign_part"));
  }
  if (aside.empty()) return;
  db.run(QStringLiteral("CREATE TABLE %1(position INTEGER PRIMARY KEY, statement TEXT)")
             .arg(QLatin1String(kAside)));
  for (const std::string* statement : aside)
    db.run(QStringLiteral("INSERT INTO %1(statement) VALUES(?)").arg(QLatin1String(kAside)),
           {sqlText(*statement)});
}

}  // namespace rt
