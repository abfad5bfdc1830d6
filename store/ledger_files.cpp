#include "ledger_files.h"

#include <QStandardPaths>

#include "csv_table.h"
#include "database.h"
#include "error.h"
#include "file_io.h"
#include "json_text.h"
#include "ledger_json.h"
#include "part_file.h"

namespace rt {
namespace {

namespace fs = std::filesystem;

std::string asJson(const std::vector<LedgerEntry>& entries) {
  Json list = Json::array();
  for (const LedgerEntry& e : entries) list.push_back(parsedPart(ledgerJson(e)));
  return Json{{"records", list}}.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

void requireWhole(const LedgerEntry& e, const std::string& where) {
  if (e.id.empty() || e.event.empty() || e.id.size() > 200 || e.event.size() > 200)
    throw Error("an entry has no id or no event", where, "take the file as it was exported");
}

std::vector<LedgerEntry> fromCsv(const fs::path& path) {
  const CsvTable table(path, {"id", "time", "event"});
  std::vector<LedgerEntry> out;
  for (size_t row = 0; row < table.rows(); ++row) {
    LedgerEntry e;
    const auto optional = [&](const char* column) {
      return table.has(column) ? table.text(row, column) : std::string();
    };
    e.id = table.text(row, "id");
    e.time = table.text(row, "time");
    e.event = table.text(row, "event");
    e.job_id = optional("job_id");
    e.job_title = optional("job_title");
    e.note = optional("note");
    if (!optional("hooping").empty()) e.hooping = static_cast<int>(table.number(row, "hooping"));
    try {
      if (const std::string body = optional("body"); !body.empty()) readLedgerBody(body, e);
    } catch (const std::exception& problem) {
      throw Error(std::string("the body cannot be read: ") + problem.what(), table.where(row),
                  "take the file as it was exported");
    }
    requireWhole(e, table.where(row));
    out.push_back(std::move(e));
  }
  return out;
}

std::vector<LedgerEntry> fromJson(const std::string& text, const std::string& where) {
  Json root;
  try {
    root = Json::parse(text);
  } catch (const Json::exception& problem) {
    throw Error(std::string("this is not JSON: ") + problem.what(), where, "mend the file");
  }
  if (!root.is_object() || !root.contains("records") || !root["records"].is_array())
    throw Error("\"records\" is missing", where, "take the file as it was exported");
  std::vector<LedgerEntry> out;
  for (const Json& r : root["records"]) {
    out.push_back(ledgerEntryFrom(r.dump()));
    requireWhole(out.back(), where + " record " + std::to_string(out.size()));
  }
  return out;
}

bool endsIn(const fs::path& path, const char* ending) {
  std::string e = path.extension().string();
  for (char& c : e) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return e == ending;
}

}  // namespace

fs::path ownShopFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation).toStdString() +
         "/rapt-thimble";
}

fs::path ownLedgerFile() {
  const fs::path folder = ownShopFolder();
  std::error_code ignored;
  fs::create_directories(folder, ignored);
  return folder / "ledger.sqlite";
}

std::unique_ptr<LedgerStore> openExistingLedger(const fs::path& path) {
  std::error_code ignored;
  if (!fs::exists(path, ignored))
    throw StoreError(Trouble::Unreachable, "there is no such ledger", path.string(),
                     "check the name; add makes a new one");
  return openLedgerFile(path);
}

void exportLedger(const std::vector<LedgerEntry>& entries, const fs::path& path) {
  if (endsIn(path, ".csv")) return writeFile(path, csvOf(entries));
  if (endsIn(path, ".json")) return writeFile(path, asJson(entries));
  throw Error("the name ends in neither .csv nor .json", path.string(), "give one of the two");
}

std::vector<LedgerEntry> readExportedLedger(const fs::path& path) {
  const std::string text = readFile(path);
  const size_t first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
  if (first != std::string::npos && text[first] == '{') return fromJson(text, path.string());
  return fromCsv(path);
}

size_t backUpLedger(const std::vector<LedgerEntry>& entries, const fs::path& path) {
  std::error_code ignored;
  if (fs::exists(path, ignored) && !fs::is_regular_file(path, ignored))
    throw Error("a back-up needs a file of its own; this is none", path.string(),
                "choose another name");
  PartFile part(path);
  // the database's own files beside it go when it is closed, and with us when we are stopped
  const GoneOnSignal log(part.path().string() + "-wal"), index(part.path().string() + "-shm");
  openLedgerFile(part.path())->add(entries);  // closed, and so whole, when it goes out of sight
  part.commit();
  return entries.size();
}

}  // namespace rt
