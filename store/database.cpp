#include "database.h"

#include <QSqlError>
#include <QUuid>

#include "error.h"

namespace rt {

Database::Database(const std::filesystem::path& path)
    : path_(path), connection_(QUuid::createUuid().toString()) {
  QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), connection_);
  db.setDatabaseName(QString::fromStdString(path.string()));
  if (!db.open()) {
    const std::string why = db.lastError().text().toStdString();
    db = {};
    QSqlDatabase::removeDatabase(connection_);
    throw Error("the file cannot be opened: " + why, path.string(),
                "check the name and that you may read and write there");
  }
}

Database::~Database() {
  QSqlDatabase::database(connection_, false).close();
  QSqlDatabase::removeDatabase(connection_);
}

QSqlQuery Database::run(const QString& sql, const QVariantList& values) {
  QSqlQuery query(QSqlDatabase::database(connection_, false));
  bool good = query.prepare(sql);
  for (const QVariant& value : values) query.addBindValue(value);
  good = good && query.exec();
  if (!good)
    throw Error("this is not a file of this program, or it is damaged: " +
                    query.lastError().text().toStdString(),
                path_.string(), "open another copy; the file was left as it is");
  return query;
}

void Database::begin() {
  QSqlDatabase::database(connection_, false).transaction();
}

void Database::commit() {
  QSqlDatabase db = QSqlDatabase::database(connection_, false);
  if (!db.commit())
    throw Error("the file cannot be written: " + db.lastError().text().toStdString(),
                path_.string(), "check the disk's room");
}

}  // namespace rt
