#include "ledger_rows.h"

#include "ledger_json.h"
#include "sql_words.h"

namespace rt {
LedgerEntry entryOfRow(const QSqlQuery& q) {
  LedgerEntry e;
  e.id = sqlWord(q, 1);
  e.time = sqlWord(q, 2);
  e.event = sqlWord(q, 3);
  e.job_id = sqlWord(q, 4);
  e.job_title = sqlWord(q, 5);
  e.hooping = q.value(6).toInt();
  e.note = sqlWord(q, 7);
  readLedgerBody(sqlWord(q, 8), e);
  return e;
}

QVariantList rowOfEntry(const LedgerEntry& e) {
  return {sqlText(e.id),        sqlText(e.time), sqlText(e.event), sqlText(e.job_id),
          sqlText(e.job_title), e.hooping,       sqlText(e.note),  sqlText(ledgerBody(e))};
}

}  // namespace rt
