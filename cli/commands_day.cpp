// day DAY.json: many jobs over several machines.
#include <chrono>

#include "commands.h"
#include "day_file.h"
#include "day_hoopings.h"
#include "day_plan.h"
#include "error.h"
#include "file_io.h"
#include "job_file.h"
#include "next_plan.h"
#include "planner.h"

namespace rt::cli {
namespace {

struct DayWords {
  std::string file, after, done, out;
  double seconds = 5;
};

/// The hoopings of a job file's plan, or of one made now with the frames that the job names.
std::vector<DayHooping> hoopingsOf(const std::filesystem::path& file, const Bench& bench) {
  const Work work = loadWork(file);
  const Pattern layout = sewnLayout(work.job);
  if (const MadePlan* plan = planFor(work, printOf(layout)))
    return dayHoopings(plan->plan, work.job.brief.fabric, bench);
  const NextPlan next = nextPlan(work, layout, planOptionsOf(work.job, bench));
  return dayHoopings(next.plan, work.job.brief.fabric, bench);
}

Json dayCommand(const DayWords& w, const Session& session) {
  if (w.after.empty() != w.done.empty())
    throw Error("--after and --done go together", w.after.empty() ? "--done" : "--after",
                "give both, or neither");
  const std::filesystem::path file = w.file;
  const Day day = readDay(file, [&](const std::filesystem::path& job) {
    return hoopingsOf(job.is_absolute() ? job : file.parent_path() / job, session.bench());
  });
  DayWish wish;
  if (!w.after.empty()) {
    wish.now = daySecondFrom(w.after, "--after");
    wish.begun = readDone(w.done, day);
    requireSound(day, wish.begun, *wish.now);
    wish.now = std::max(*wish.now, day.from);
  }
  const auto end = std::chrono::steady_clock::now() +
                   std::chrono::duration_cast<std::chrono::steady_clock::duration>(
                       std::chrono::duration<double>(w.seconds));
  wish.goOn = [end] { return std::chrono::steady_clock::now() < end; };
  const DayPlan plan = planDay(day, wish);
  const std::string text = dayPlanJson(day, plan, wish.now.value_or(day.from), {});
  if (!w.out.empty()) writeFile(w.out, text + "\n");
  return Json::parse(text);
}

}  // namespace

void addDay(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "day", "Who sews what, when, and when a hand is needed");
  auto w = std::make_shared<DayWords>();
  c->add_option("DAY", w->file, "The day, JSON")->required();
  c->add_option("--after", w->after, "Plan the rest from this time on");
  c->add_option("--done", w->done, "What was begun before it, JSON");
  c->add_option("--seconds", w->seconds, "That it may think")->check(CLI::Range(0.0, 86400.0));
  c->add_option("-o", w->out, "Plan to write")->check(named);
  c->callback([&session, w] { session.run = [&session, w] { return dayCommand(*w, session); }; });
}

}  // namespace rt::cli
