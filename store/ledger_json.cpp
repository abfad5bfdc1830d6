#include "ledger_json.h"

#include "error.h"
#include "json_text.h"

namespace rt {

std::string ledgerBody(const LedgerEntry& e) {
  return Json{{"status", e.status}, {"rotation_deg", e.rotation_deg},
              {"dx_mm", e.dx_mm},   {"dy_mm", e.dy_mm},
              {"rms_mm", e.rms_mm}, {"worst_mm", e.worst_mm},
              {"stitch", e.stitch}, {"figures", e.figures},
              {"words", e.words}}
      .dump(-1, ' ', false, Json::error_handler_t::replace);
}

void readLedgerBody(const std::string& json, LedgerEntry& e) {
  const Json j = parsedPart(json);
  e.status = j.value("status", "");
  e.rotation_deg = j.value("rotation_deg", 0.0);
  e.dx_mm = j.value("dx_mm", 0.0);
  e.dy_mm = j.value("dy_mm", 0.0);
  e.rms_mm = j.value("rms_mm", 0.0);
  e.worst_mm = j.value("worst_mm", 0.0);
  e.stitch = j.value("stitch", 0);
  e.figures = j.value("figures", std::map<std::string, double>{});
  e.words = j.value("words", std::map<std::string, std::string>{});
}

std::string ledgerJson(const LedgerEntry& e) {
  Json j = parsedPart(ledgerBody(e));
  j["id"] = e.id;
  j["time"] = e.time;
  j["event"] = e.event;
  j["job_id"] = e.job_id;
  j["job_title"] = e.job_title;
  j["hooping"] = e.hooping;
  j["note"] = e.note;
  return j.dump(-1, ' ', false, Json::error_handler_t::replace);
}

LedgerEntry ledgerEntryFrom(const std::string& json) {
  const Json j = parsedPart(json);
  LedgerEntry e;
  try {
    e.id = j.at("id").get<std::string>();
    e.time = j.at("time").get<std::string>();
    e.event = j.at("event").get<std::string>();
    e.job_id = j.value("job_id", "");
    e.job_title = j.value("job_title", "");
    e.hooping = j.value("hooping", 0);
    e.note = j.value("note", "");
    readLedgerBody(json, e);
  } catch (const Json::exception& problem) {
    throw Error(std::string("this is no ledger entry: ") + problem.what(), "ledger entry",
                "take the file as it was exported");
  }
  return e;
}

}  // namespace rt
