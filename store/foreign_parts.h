// What a newer program put into a job file: kept unread, and written back. Part of this room.
#pragma once

#include "database.h"
#include "json_text.h"
#include "work.h"

namespace rt {

/// What a JSON text says beyond what the value read from it says again (`known`): members that are
/// not known at any depth, and words and numbers that the value could not take. Lists are matched
/// by their members' `id`, else by place. Null: nothing.
Json beyond(const Json& read, const Json& known);
/// `now` with what was beyond the value when it was read. A member or word that the value says by
/// now goes before.
void addBeyond(Json& now, const Json& rest);

/// Collects what is beyond the values of a file, by part.
class Beyond {
 public:
  explicit Beyond(UnknownParts& unknown) : unknown_(unknown) {}
  /// `part` names the value for good: `brief`, `piece/12/place`. `read` must be JSON.
  void keep(const std::string& part, const std::string& read, const std::string& known);

 private:
  UnknownParts& unknown_;
};
/// `json` with what was beyond the part when it was read.
std::string withBeyond(const std::string& part, const std::string& json,
                       const UnknownParts* unknown);

/// A table of ours with the column that tells its rows apart.
struct KnownTable {
  const char* name;
  const char* key;                   ///< One column, or two joined by `||`.
  std::vector<const char*> columns;  ///< All that we write.
};
/// Tables, columns, rows of settings, views, indexes and triggers that are not ours, as statements
/// that make them again. Throws Error where they are over 64 MiB.
void readForeign(Database& db, const std::vector<KnownTable>& known, UnknownParts& unknown);
/// Runs them. One that cannot be run (a table that breaks its own rules) is set aside in the file
/// as text and tried again at the next saving: nothing that was read keeps a job from being saved.
void writeForeign(Database& db, const UnknownParts& unknown);

}  // namespace rt
