#include "phone_state.h"

#include <nlohmann/json.hpp>

#include "alignment_words.h"
#include "desk.h"
#include "machine_now.h"

namespace rt {
namespace {

using Json = nlohmann::ordered_json;

const char* wordOf(MachineNow::Doing doing) {
  switch (doing) {
    case MachineNow::Doing::Idle:
      return "idle";
    case MachineNow::Doing::Sewing:
      return "sewing";
    case MachineNow::Doing::Waiting:
      return "waiting";
    case MachineNow::Doing::Paused:
      return "paused";
    case MachineNow::Doing::Done:
      return "done";
    case MachineNow::Doing::Away:
      return "away";
  }
  return "away";
}

const char* wordOf(CallFor what) {
  switch (what) {
    case CallFor::Thread:
      return "thread";
    case CallFor::Stop:
      return "stop";
    case CallFor::Bobbin:
      return "bobbin";
    case CallFor::Off:
      return "off";
    case CallFor::Break:
      return "break";
    case CallFor::BobbinMissed:
      return "bobbin-missed";
    case CallFor::BobbinEmpty:
      return "bobbin-empty";
    case CallFor::Fold:
      return "fold";
    case CallFor::Power:
      return "power";
  }
  return "off";
}

std::string text(const QString& words) {
  return words.toStdString();
}

Json timeOf(const std::optional<MachineCall>& call) {
  return call ? Json(text(call->at.toString(QStringLiteral("yyyy-MM-ddThh:mm:ss")))) : Json();
}

Json hexOf(const std::optional<Colour>& colour) {
  return colour ? Json(colour->hex()) : Json();
}

Json nameOf(const Desk& desk, const std::optional<Colour>& colour) {
  return colour ? Json(text(threadName(desk, *colour))) : Json();
}

Json machineJson(const Desk& desk, const MachineNow& m) {
  return {{"id", text(m.id)},
          {"name", text(m.name)},
          {"doing", wordOf(m.doing)},
          {"thread", hexOf(m.thread)},
          {"thread_name", nameOf(desk, m.thread)},
          {"next_thread", hexOf(m.next_thread)},
          {"next_thread_name", nameOf(desk, m.next_thread)},
          {"row", m.row},
          {"of", m.of},
          {"minutes_left", m.left_s ? Json(std::round(*m.left_s / 6) / 10) : Json()},
          {"needs_you_at", timeOf(m.call)},
          {"needs_you_for", m.call ? Json(text(callWords(desk, *m.call))) : Json()},
          {"trouble", m.trouble ? Json(wordOf(*m.trouble)) : Json()},
          {"hooping", m.hooping > 0 ? Json(m.hooping) : Json()}};
}

/// The calls of all machines in the order of their times.
Json callsJson(const Desk& desk, const QVector<MachineNow>& machines) {
  std::vector<const MachineNow*> called;
  for (const MachineNow& m : machines)
    if (m.call) called.push_back(&m);
  std::stable_sort(called.begin(), called.end(),
                   [](const auto* a, const auto* b) { return a->call->at < b->call->at; });
  Json out = Json::array();
  for (const MachineNow* m : called)
    out.push_back({{"at", timeOf(m->call)},
                   {"what", wordOf(m->call->what)},
                   {"machine", text(m->id)},
                   {"job", text(m->job)},
                   {"sentence", text(callWords(desk, *m->call))}});
  return out;
}

/// What is known of a hooping's cloth now.
void addVerdict(Json& to, const Measured* m) {
  to["verdict"] = m && m->alignment ? Json(name(m->alignment->status)) : Json();
  to["sentence"] = m && m->alignment          ? Json(headlineOf(*m->alignment))
                   : m && !m->problem.empty() ? Json(m->problem)
                                              : Json();
}

/// Of all hoopings: a phone that shows a verdict sees when it is no longer so.
Json verdictsJson(const Desk& desk) {
  Json out = Json::array();
  for (int h = 1; h <= phoneHoopings(desk); ++h) {
    out.push_back({{"index", h}});
    addVerdict(out.back(), desk.moment().measuredAt(h));
  }
  return out;
}

Json hoopingJson(const Desk& desk) {
  const Hooping* h = desk.planCurrent() ? desk.currentHooping() : nullptr;
  if (!h) return Json();
  Json out{{"index", h->index}, {"of", desk.plan()->hoopings.size()}, {"frame", h->hoop_id}};
  addVerdict(out, desk.moment().measuredAt(h->index));
  return out;
}

}  // namespace

std::string phoneState(const Desk& desk) {
  const QVector<MachineNow> machines = machinesNow(desk);
  Json list = Json::array();
  for (const MachineNow& m : machines) list.push_back(machineJson(desk, m));
  const Json state{{"job", {{"title", desk.job().title}}},
                   {"machines", list},
                   {"hooping", hoopingJson(desk)},
                   {"hoopings", verdictsJson(desk)},
                   {"needs_you", callsJson(desk, machines)}};
  return state.dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::vector<std::string> phoneMachines(const Desk& desk) {
  std::vector<std::string> out;
  for (const MachineNow& m : machinesNow(desk)) out.push_back(text(m.id));
  return out;
}

int phoneHoopings(const Desk& desk) {
  return desk.planCurrent() ? static_cast<int>(desk.plan()->hoopings.size()) : 0;
}

std::string phoneVerdict(const Alignment& a, int hooping) {
  Json missing = Json::array();
  for (const LeftOut& m : a.missing) missing.push_back({{"id", m.id}, {"reason", inWords(m)}});
  const Json answer{{"status", name(a.status)},
                    {"sentence", headlineOf(a)},
                    {"rotation_deg", a.fit.rotation_deg},
                    {"dx_mm", a.fit.dx_mm},
                    {"dy_mm", a.fit.dy_mm},
                    {"worst_corner_mm", a.error_worst_mm},
                    {"missing", missing},
                    {"advice", adviceOf(a)},
                    {"hooping", hooping}};
  return answer.dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::string phoneError(const std::string& sentence) {
  return Json{{"error", sentence}}.dump(-1, ' ', false, Json::error_handler_t::replace);
}

}  // namespace rt
