// Text between SQL and the core. Part of this room.
#pragma once

#include <QSqlQuery>
#include <QString>
#include <QVariant>
#include <climits>
#include <string>

#include "error.h"

namespace rt {

inline QString sqlText(const std::string& s) {
  return QString::fromStdString(s);
}
/// A column's text.
inline std::string sqlWord(const QSqlQuery& q, int column) {
  return q.value(column).toString().toStdString();
}

/// A column's whole number; one that is none, or none that an int can hold, is an Error.
inline int wholeIn(const QSqlQuery& q, int column, const char* part) {
  bool whole = false;
  const qlonglong number = q.value(column).toLongLong(&whole);
  if (!whole || number < INT_MIN || number > INT_MAX)
    throw Error(std::string(part) + ": \"" + sqlWord(q, column).substr(0, 40) +
                    "\" is no number that is used there",
                "job file", "open another copy; the file was left as it is");
  return static_cast<int>(number);
}

}  // namespace rt
