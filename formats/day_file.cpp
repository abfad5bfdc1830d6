#include "day_file.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>

#include "day_stock.h"
#include "error.h"
#include "json_reading.h"
#include "length.h"

namespace rt {
namespace {

constexpr int kMostDays = 366, kMostPieces = 10'000, kMostHands = 1'000;
constexpr double kMostSeconds = 1e7;

using What = DayTask::What;

/// A finite number; those of a layout are bounded, backing in mm² is not.
double figureIn(const Json& o, const char* key, const std::string& where) {
  const Json& v = member(o, key, where);
  if (!v.is_number() || !std::isfinite(v.get<double>()))
    throw Error(std::string("\"") + key + "\" is not a number", where, "write a plain decimal");
  return v.get<double>();
}

double withinOr(const Json& o, const char* key, double otherwise, double low, double high,
                const std::string& where) {
  const double v = o.contains(key) ? figureIn(o, key, where) : otherwise;
  if (!(v >= low && v <= high))
    throw Error(std::string(key) + " is " + formatNumber(v, 3), where,
                "give " + formatNumber(low, 3) + " to " + formatNumber(high, 3));
  return v;
}

int wholeOr(const Json& o, const char* key, int otherwise, int low, int high,
            const std::string& where) {
  const double v = withinOr(o, key, otherwise, low, high, where);
  if (v != std::floor(v)) throw Error(std::string(key) + " is no whole number", where, "give one");
  return static_cast<int>(v);
}

const Json& listIn(const Json& o, const char* key, const std::string& where) {
  const Json& list = member(o, key, where);
  if (!list.is_array()) throw Error(std::string(key) + " must be a list", where, "give [ … ]");
  return list;
}
const Json& listOr(const Json& o, const char* key, const std::string& where) {
  static const Json kNone = Json::array();
  return o.contains(key) ? listIn(o, key, where) : kNone;
}

const Json& object(const Json& o, const std::string& where) {
  if (!o.is_object()) throw Error("this must be an object", where, "give { … }");
  return o;
}

Colour threadFrom(const Json& j, const std::string& where) {
  const auto colour = j.is_string() ? Colour::parsed(j.get<std::string>()) : std::nullopt;
  if (!colour) throw Error("a thread must be #rrggbb", where, "give its colour");
  return *colour;
}

std::string wordIn(const Json& o, const char* key, const std::string& where) {
  const std::string word = textIn(o, key, where);
  if (word.empty()) throw Error(std::string(key) + " is empty", where, "give a word");
  return word;
}

/// Seconds of a day, of `08:30` or `24:00`.
DaySecond clockFrom(const Json& j, const std::string& where) {
  const std::string text = j.is_string() ? j.get<std::string>() : "";
  auto digits = [&](size_t at) {
    return std::isdigit(static_cast<unsigned char>(text[at])) &&
                   std::isdigit(static_cast<unsigned char>(text[at + 1]))
               ? (text[at] - '0') * 10 + (text[at + 1] - '0')
               : 99;
  };
  const bool good =
      text.size() == 5 && text[2] == ':' && digits(3) < 60 && (digits(0) < 24 || text == "24:00");
  if (!good) throw Error("\"" + text + "\" is no time of day", where, "give one like 08:30");
  return digits(0) * 3600 + digits(3) * 60;
}

std::vector<DaySpan> hoursFrom(const Json& root, const std::string& where) {
  std::vector<DaySpan> out;
  for (const Json& pair : listIn(root, "hours", where)) {
    if (!pair.is_array() || pair.size() != 2)
      throw Error("hours are pairs of times", where, "give [[\"08:00\", \"12:00\"], …]");
    const DaySpan span{clockFrom(pair[0], where + " hours"), clockFrom(pair[1], where + " hours")};
    if (span.to <= span.from || (!out.empty() && span.from < out.back().to))
      throw Error("hours cross: " + pair.dump(), where,
                  "let them rise, without overlap and without passing midnight");
    out.push_back(span);
  }
  if (out.empty()) throw Error("there are no hours", where, "give [[\"08:00\", \"17:00\"]]");
  return out;
}

DayMachine machineFrom(const Json& o, const Day& day, const std::string& file) {
  DayMachine m;
  m.id = wordIn(object(o, file + " machines"), "id", file + " machines");
  const std::string where = file + " machine " + m.id;
  for (const Json& n : listIn(o, "needles", where))
    m.needles.push_back(n.is_null() ? std::nullopt : std::optional(threadFrom(n, where)));
  if (m.needles.empty())
    throw Error("it has no needle", where, "give one entry a needle; null is empty");
  for (const Json& f : listIn(o, "frames", where)) {
    const std::string frame = f.is_string() ? f.get<std::string>() : "";
    if (!day.frames.count(frame))
      throw Error("its frame \"" + frame + "\" is not among the frames", where,
                  "say under frames how many there are");
    m.frames.push_back(frame);
  }
  if (m.frames.empty()) throw Error("it takes no frame", where, "name the frames that go on it");
  m.pace = withinOr(o, "pace", 1, 0.01, 100, where);
  return m;
}

DayHooping hoopingFrom(const Json& o, const std::string& where) {
  DayHooping h;
  h.frame = wordIn(object(o, where), "frame", where);
  h.backing_mm2 = withinOr(o, "backing_mm2", 0, 0, 1e12, where);
  for (const char* key : {"hoop_s", "unhoop_s"})
    if (o.contains(key))
      (key[0] == 'h' ? h.hoop_s : h.unhoop_s) = withinOr(o, key, 0, 0, kMostSeconds, where);
  for (const Json& s : listIn(o, "sew", where)) {
    DaySew sew;
    sew.thread = threadFrom(member(object(s, where), "thread", where), where);
    sew.s = figureIn(s, "s", where);
    if (!(sew.s >= 0 && sew.s <= kMostSeconds))
      throw Error("s is " + formatNumber(sew.s, 1), where, "give 0 to 10,000,000 seconds");
    sew.metres = withinOr(s, "metres", 0, 0, 1e9, where);
    h.sew.push_back(sew);
  }
  return h;
}

DayJob jobFrom(const Json& o, const Day& day, const DayJobReader& read, const std::string& file) {
  DayJob job;
  job.id = wordIn(object(o, file + " jobs"), "id", file + " jobs");
  const std::string where = file + " job " + job.id;
  if (o.contains("due") && !o["due"].is_null()) {
    job.due = daySecondFrom(textIn(o, "due", where), where + " due");
    if (*job.due < day.from)
      throw Error("it is due before the day begins", where,
                  "give a time after " + daySecondText(day.from));
  }
  if (o.contains("from") && !o["from"].is_null())
    job.from = daySecondFrom(textIn(o, "from", where), where + " from");
  job.weight = withinOr(o, "weight", 1, 0, 1e9, where);
  job.pieces = wholeOr(o, "pieces", 1, 1, kMostPieces, where);
  if (o.contains("hoopings") == o.contains("file"))
    throw Error("it needs its hoopings or a file", where, "give one of the two");
  if (o.contains("file")) {
    job.hoopings = read(textIn(o, "file", where));
  } else {
    int at = 0;
    for (const Json& h : listIn(o, "hoopings", where))
      job.hoopings.push_back(hoopingFrom(h, where + " hooping " + std::to_string(++at)));
  }
  if (job.hoopings.empty()) throw Error("it has no hoopings", where, "give one at least");
  return job;
}

/// Jobs by their ids; throws where two have one.
std::map<std::string, int> idsOf(const std::vector<DayJob>& jobs, const std::string& file) {
  std::map<std::string, int> out;
  for (size_t j = 0; j < jobs.size(); ++j)
    if (!out.emplace(jobs[j].id, static_cast<int>(j)).second)
      throw Error("two jobs are called " + jobs[j].id, file, "give each an id of its own");
  return out;
}

void requireNoLoop(const std::vector<DayJob>& jobs, const std::string& file) {
  std::vector<int> seen(jobs.size(), 0);  // 1: being gone through, 2: done
  std::function<void(size_t)> visit = [&](size_t j) {
    if (seen[j] == 1)
      throw Error("job " + jobs[j].id + " comes after itself", file, "break the loop of `after`");
    if (seen[j] == 2) return;
    seen[j] = 1;
    for (int a : jobs[j].after) visit(static_cast<size_t>(a));
    seen[j] = 2;
  };
  for (size_t j = 0; j < jobs.size(); ++j) visit(j);
}

void readJobs(const Json& root, Day& day, const DayJobReader& read, const std::string& file) {
  const Json& list = listIn(root, "jobs", file);
  int pieces = 0;
  for (const Json& o : list) {
    day.jobs.push_back(jobFrom(o, day, read, file));
    if ((pieces += day.jobs.back().pieces) > kMostPieces)
      throw Error("there are over 10,000 pieces", file, "part the day");
  }
  const auto ids = idsOf(day.jobs, file);
  for (size_t j = 0; j < day.jobs.size(); ++j) {
    const std::string where = file + " job " + day.jobs[j].id;
    for (const Json& a : listOr(list[j], "after", where)) {
      const auto at = ids.find(a.is_string() ? a.get<std::string>() : "");
      if (at == ids.end())
        throw Error("it comes after " + a.dump() + ", which is no job", where, "name a job's id");
      if (std::find(day.jobs[j].after.begin(), day.jobs[j].after.end(), at->second) ==
          day.jobs[j].after.end())
        day.jobs[j].after.push_back(at->second);
    }
  }
  requireNoLoop(day.jobs, file);
}

int machineNamed(const Day& day, const std::string& id) {
  for (size_t m = 0; m < day.machines.size(); ++m)
    if (day.machines[m].id == id) return static_cast<int>(m);
  return -1;
}

void readClosed(const Json& root, Day& day, const std::string& file) {
  for (const Json& o : listOr(root, "closed", file)) {
    const std::string where = file + " closed";
    DayClosed c;
    if (object(o, where).contains("machine") == o.contains("hand"))
      throw Error("an entry names a machine or a hand", where, "give one of the two");
    if (o.contains("machine")) {
      c.machine = machineNamed(day, textIn(o, "machine", where));
      if (c.machine < 0)
        throw Error("there is no machine " + o["machine"].dump(), where,
                    "name one of the machines");
    } else {
      c.hand = wholeOr(o, "hand", 0, 1, day.hands, where) - 1;
    }
    c.span = {daySecondFrom(textIn(o, "from", where), where),
              daySecondFrom(textIn(o, "to", where), where)};
    if (c.span.to < c.span.from) throw Error("it ends before it begins", where, "mend its times");
    day.closed.push_back(c);
  }
}

void readStock(const Json& root, Day& day, const std::string& file) {
  if (!root.contains("stock")) return;
  const std::string where = file + " stock";
  const Json& stock = object(root["stock"], where);
  for (const Json& t : listOr(stock, "threads", where)) {
    const Colour thread = threadFrom(member(object(t, where), "thread", where), where);
    const double metres = figureIn(t, "metres", where);
    if (!(metres >= 0)) throw Error("metres are under 0", where, "give what is on the cone");
    for (const auto& [known, _] : day.stock.metres)
      if (known == thread)
        throw Error("thread " + thread.hex() + " stands twice", where, "give one sum");
    day.stock.metres.emplace_back(thread, metres);
  }
  if (stock.contains("backing_mm2"))
    day.stock.backing_mm2 = withinOr(stock, "backing_mm2", 0, 0, 1e15, where);
}

void readFrames(const Json& root, Day& day, const std::string& file) {
  for (const auto& [frame, many] : object(member(root, "frames", file), file + " frames").items()) {
    if (!many.is_number_integer() || many.get<double>() < 0 || many.get<double>() > 1e6)
      throw Error("frame " + frame + " needs a number of them", file + " frames", "give 0 or more");
    day.frames[frame] = many.get<int>();
  }
}

}  // namespace

DaySecond daySecondFrom(const std::string& text, const std::string& where) {
  int y = 0, mo = 0, d = 0, h = 0, mi = 0, s = 0, used = 0;
  const bool shape =
      (std::sscanf(text.c_str(), "%4d-%2d-%2dT%2d:%2d%n", &y, &mo, &d, &h, &mi, &used) == 5) &&
      (text.size() == 16 || (text.size() == 19 && text[16] == ':'));
  if (shape && text.size() == 19) used = std::sscanf(text.c_str() + 17, "%2d", &s) == 1 ? 19 : 0;
  const std::chrono::year_month_day date{std::chrono::year(y),
                                         std::chrono::month(static_cast<unsigned>(mo)),
                                         std::chrono::day(static_cast<unsigned>(d))};
  if (!shape || used != static_cast<int>(text.size()) || !date.ok() || h < 0 || h > 23 || mi < 0 ||
      mi > 59 || s < 0 || s > 59)
    throw Error("\"" + text + "\" is no time", where, "give one like 2027-03-02T08:00");
  return std::chrono::sys_days(date).time_since_epoch().count() * kDay_s + h * 3600 + mi * 60 + s;
}

std::string daySecondText(DaySecond at) {
  const DaySecond day = at >= 0 ? at / kDay_s : (at - kDay_s + 1) / kDay_s, s = at - day * kDay_s;
  const std::chrono::year_month_day date{
      std::chrono::sys_days(std::chrono::days(static_cast<int>(day)))};
  char out[32];
  std::snprintf(out, sizeof out, "%04d-%02u-%02uT%02d:%02d:%02d", static_cast<int>(date.year()),
                static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()),
                static_cast<int>(s / 3600), static_cast<int>(s / 60 % 60),
                static_cast<int>(s % 60));
  return out;
}

Day readDay(const std::filesystem::path& path, const DayJobReader& read) {
  const std::string file = path.string();
  const Json root = readJson(path);
  Day day;
  day.from = daySecondFrom(textIn(object(root, file), "from", file), file + " from");
  day.hours = hoursFrom(root, file);
  day.days = wholeOr(root, "days", 1, 1, kMostDays, file);
  day.hands = wholeOr(root, "hands", 1, 1, kMostHands, file);
  const std::string alone =
      root.contains("sews_alone") ? textIn(root, "sews_alone", file) : "never";
  if (alone != "never" && alone != "breaks" && alone != "always")
    throw Error("sews_alone is \"" + alone + "\"", file, "give never, breaks or always");
  day.sews_alone = alone == "never"    ? SewsAlone::Never
                   : alone == "breaks" ? SewsAlone::Breaks
                                       : SewsAlone::Always;
  readFrames(root, day, file);
  for (const Json& m : listIn(root, "machines", file)) {
    day.machines.push_back(machineFrom(m, day, file));
    if (machineNamed(day, day.machines.back().id) != static_cast<int>(day.machines.size()) - 1)
      throw Error("two machines are called " + day.machines.back().id, file,
                  "give each its own id");
  }
  if (day.machines.empty()) throw Error("there are no machines", file, "give one at least");
  if (root.contains("times")) {
    const Json& t = object(root["times"], file + " times");
    const std::pair<const char*, double*> times[] = {{"hoop_s", &day.times.hoop_s},
                                                     {"mount_s", &day.times.mount_s},
                                                     {"thread_s", &day.times.thread_s},
                                                     {"off_s", &day.times.off_s},
                                                     {"unhoop_s", &day.times.unhoop_s}};
    for (const auto& [key, to] : times)
      *to = withinOr(t, key, *to, 0, kMostSeconds, file + " times");
  }
  readStock(root, day, file);
  readClosed(root, day, file);
  readJobs(root, day, read, file);
  return day;
}

namespace {

What whatFrom(const Json& o, const std::string& where) {
  const std::string word = textIn(o, "what", where);
  for (What w : {What::Hoop, What::Mount, What::Thread, What::Sew, What::Off, What::Unhoop})
    if (word == name(w)) return w;
  throw Error("\"" + word + "\" is no task", where, "give hoop, mount, thread, sew, off or unhoop");
}

/// The step that a threading is for: the first of that thread that is not sewn yet.
int stepOf(const Json& o, const DayTask& t, const DayHooping& h, const std::string& where) {
  if (o.contains("step"))
    return wholeOr(o, "step", 1, 1, std::max<int>(1, static_cast<int>(h.sew.size())), where) - 1;
  if (t.what == What::Sew && h.sew.size() == 1) return 0;
  for (size_t k = 0; k < h.sew.size(); ++k)
    if (t.thread && h.sew[k].thread == *t.thread) return static_cast<int>(k);
  throw Error("its step is not told", where, "give step, from 1");
}

DayTask taskFrom(const Json& o, const Day& day, const std::map<std::string, int>& jobs,
                 const std::string& file) {
  DayTask t;
  t.what = whatFrom(object(o, file), file);
  const auto job = jobs.find(textIn(o, "job", file));
  if (job == jobs.end())
    throw Error("there is no job " + o["job"].dump(), file, "name a job of the day");
  t.job = job->second;
  const DayJob& of = day.jobs[static_cast<size_t>(t.job)];
  const std::string where = file + " job " + of.id;
  t.piece = wholeOr(o, "piece", 1, 1, of.pieces, where) - 1;
  t.hooping = wholeOr(o, "hooping", 1, 1, static_cast<int>(of.hoopings.size()), where) - 1;
  const DayHooping& h = of.hoopings[static_cast<size_t>(t.hooping)];
  if (o.contains("thread") && !o["thread"].is_null()) t.thread = threadFrom(o["thread"], where);
  const bool onMachine = t.what != What::Hoop && t.what != What::Unhoop;
  if (onMachine) {
    t.machine = machineNamed(day, textIn(o, "machine", where));
    if (t.machine < 0)
      throw Error("there is no machine " + o["machine"].dump(), where, "name one of the machines");
  }
  if (t.what != What::Sew) t.hand = wholeOr(o, "hand", 1, 1, day.hands, where) - 1;
  if (t.what == What::Sew || t.what == What::Thread) {
    t.step = stepOf(o, t, h, where);
    if (t.step >= static_cast<int>(h.sew.size()))
      throw Error("it has no such step", where, "give 1 to " + std::to_string(h.sew.size()));
    if (!t.thread) t.thread = h.sew[static_cast<size_t>(t.step)].thread;
  }
  if (t.what == What::Sew && !(*t.thread == h.sew[static_cast<size_t>(t.step)].thread))
    throw Error("its thread is not that of the step", where, "mend the list of what was done");
  if (t.what == What::Thread)
    t.needle =
        wholeOr(o, "needle", 1, 1,
                static_cast<int>(day.machines[static_cast<size_t>(t.machine)].needles.size()),
                where) -
        1;
  t.span = {daySecondFrom(textIn(o, "from", where), where),
            daySecondFrom(textIn(o, "to", where), where)};
  t.begun = true;
  return t;
}

Json taskJson(const DayTask& t, const Day& day) {
  const DayJob& job = day.jobs[static_cast<size_t>(t.job)];
  Json out{{"what", std::string(name(t.what))},
           {"job", job.id},
           {"piece", t.piece + 1},
           {"hooping", t.hooping + 1}};
  if (t.machine >= 0) out["machine"] = day.machines[static_cast<size_t>(t.machine)].id;
  if (t.hand >= 0) out["hand"] = t.hand + 1;
  out["frame"] = job.hoopings[static_cast<size_t>(t.hooping)].frame;
  if (t.thread) out["thread"] = t.thread->hex();
  if (t.needle >= 0) out["needle"] = t.needle + 1;
  if (t.step >= 0 && t.what == What::Sew) out["step"] = t.step + 1;
  out["from"] = daySecondText(t.span.from);
  out["to"] = daySecondText(t.span.to);
  return out;
}

std::string whyText(const DayLeftOut& o) {
  switch (o.why) {
    case DayLeftOut::Why::NoFrame:
      return "there is no frame " + o.what;
    case DayLeftOut::Why::NoMachine:
      return "no machine takes frame " + o.what;
    case DayLeftOut::Why::Stock:
      return o.what + " does not reach for it";
    case DayLeftOut::Why::After:
      return "it comes after " + o.what + ", of which a piece is left out";
    case DayLeftOut::Why::Time:
      break;
  }
  return "there is no time for it within the days";
}

}  // namespace

std::vector<DayTask> readDone(const std::filesystem::path& path, const Day& day) {
  const std::string file = path.string();
  const Json root = readJson(path);
  const auto jobs = idsOf(day.jobs, file);
  std::vector<DayTask> out;
  for (const Json& o : listIn(object(root, file), "tasks", file))
    out.push_back(taskFrom(o, day, jobs, file));
  return out;
}

std::string dayPlanJson(const Day& day, const DayPlan& plan, DaySecond now,
                        const std::vector<std::string>& warnings) {
  Json tasks = Json::array(), needs = Json::array(), late = Json::array(), stock = Json::array(),
       out = Json::array();
  for (const DayTask& t : plan.tasks) {
    tasks.push_back(taskJson(t, day));
    if (t.hand < 0 || (t.begun && t.span.from < now)) continue;
    Json n{{"at", daySecondText(t.span.from)},
           {"what", std::string(name(t.what))},
           {"job", day.jobs[static_cast<size_t>(t.job)].id}};
    if (t.machine >= 0) n["machine"] = day.machines[static_cast<size_t>(t.machine)].id;
    needs.push_back(std::move(n));
  }
  for (size_t j = 0; j < day.jobs.size(); ++j)
    if (plan.late_s[j] > 0)
      late.push_back({{"job", day.jobs[j].id}, {"minutes", plan.late_s[j] / 60}});
  for (const DayNeed& n : dayNeeds(day))
    stock.push_back({{"what", n.thread ? n.thread->hex() : "backing"},
                     {"needed", n.needed},
                     {"there", n.there ? Json(*n.there) : Json()},
                     {"short", n.there ? std::max(0.0, n.needed - *n.there) : 0.0}});
  for (const DayLeftOut& o : plan.left_out)
    out.push_back({{"job", day.jobs[static_cast<size_t>(o.job)].id},
                   {"piece", o.piece + 1},
                   {"why", whyText(o)}});
  const Json answer{
      {"tasks", tasks},
      {"late", late},
      {"late_minutes", plan.cost.late_s / 60},
      {"ends", daySecondText(plan.cost.ends)},
      {"thread_tasks", plan.cost.threads},
      {"waiting_minutes", static_cast<double>(plan.cost.waiting_s) / 60},
      {"lower_bound",
       {{"late_minutes", plan.least_late_s / 60}, {"ends", daySecondText(plan.least_ends)}}},
      {"proven", plan.proven},
      {"needs_you", needs},
      {"stock", stock},
      {"left_out", out},
      {"warnings", warnings}};
  return answer.dump();
}

}  // namespace rt
