// Entries as rows of a ledger's table, the same in every store. Part of this room.
#pragma once

#include <QSqlQuery>
#include <QVariantList>

#include "ledger_entry.h"

namespace rt {

/// Columns of a SELECT that `entryOfRow` reads; the first is the place in the order of adding.
inline constexpr const char* kEntryColumns = "seq,id,time,event,job_id,job_title,hooping,note,body";
LedgerEntry entryOfRow(const QSqlQuery& row);
/// Values for id, time, event, job_id, job_title, hooping, note, body.
QVariantList rowOfEntry(const LedgerEntry& entry);

}  // namespace rt
