// Text between SQL and the core. Part of this room.
#pragma once

#include <QSqlQuery>
#include <QString>
#include <QVariant>
#include <string>

namespace rt {

inline QString sqlText(const std::string& s) {
  return QString::fromStdString(s);
}
/// A column's text.
inline std::string sqlWord(const QSqlQuery& q, int column) {
  return q.value(column).toString().toStdString();
}

}  // namespace rt
