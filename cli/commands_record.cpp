// job FILE plan|release|align|sewn|overrule|new-cloth: from the layout to sewn cloth, by the same
// law as the window.
#include "clearance.h"
#include "error.h"
#include "exchange.h"
#include "file_lock.h"
#include "findings.h"
#include "hooping_place.h"
#include "job_file.h"
#include "job_verbs.h"
#include "ledger_entry.h"
#include "next_plan.h"
#include "release_words.h"
#include "shelf.h"

namespace rt::cli {
namespace {

const char* wordOf(ClearanceLine::What what) {
  using What = ClearanceLine::What;
  switch (what) {
    case What::NoPlan:
      return "no-plan";
    case What::PlanOutOfDate:
      return "plan-out-of-date";
    case What::BeingWeighed:
      return "being-weighed";
    case What::DensityFine:
      return "density-fine";
    case What::DensityCheck:
      return "density-check";
    case What::DensityStop:
      return "density-stop";
    case What::DensityOverruled:
      return "density-overruled";
    case What::ProofFine:
      return "proof-fine";
    case What::ProofNotAccepted:
      return "proof-not-accepted";
    case What::RoomInField:
      return "room-in-field";
    case What::LeavesField:
      return "leaves-field";
    case What::ClothNotMeasured:
      return "cloth-not-measured";
    case What::PhotoNotRead:
      return "photo-not-read";
    case What::PhotoBeingRead:
      return "photo-being-read";
    case What::ClothReady:
      return "cloth-ready";
    case What::ClothNotReady:
      return "cloth-not-ready";
    case What::ClothOverruled:
      return "cloth-overruled";
    case What::SewnThrough:
      return "sewn-through";
    case What::SewnAlready:
      return "sewn-already";
    case What::SewnOverruled:
      return "sewn-overruled";
    case What::SewnAndGone:
      return "sewn-and-gone";
    case What::EarlierUnsewn:
      return "earlier-unsewn";
    case What::OtherFrame:
      return "other-frame";
    case What::FrameOpen:
      return "frame-open";
    case What::FootUp:
      return "foot-up";
    case What::MachineFine:
      return "machine-fine";
  }
  return "";
}

const char* wordOf(ClearanceLine::Weight weight) {
  constexpr std::array<const char*, 3> kWords{"fine", "look", "bars"};
  return kWords[static_cast<size_t>(weight)];
}

/// A job file under way: others wait, the layout is what would be sewn, the plan is the one for it.
struct Open {
  FileLock others;
  Work work;
  Pattern layout;
  size_t print;
  explicit Open(const std::string& file)
      : others(file), work(loadWork(file)), layout(sewnLayout(work.job)), print(printOf(layout)) {}
  const MadePlan* plan() const { return planFor(work, print); }
  void save(const std::string& file) {
    ++work.edits;
    saveWork(work, file);
  }
};

const MadePlan& planOf(const Open& open, const std::string& file) {
  const MadePlan* plan = open.plan();
  if (!plan)
    throw Error(open.work.plans.empty() ? "the job has no plan" : "the plan is out of date", file,
                "plan it: job FILE plan");
  return *plan;
}

const Hooping& hoopingOf(const MadePlan& plan, int index) {
  if (index < 1 || index > static_cast<int>(plan.plan.hoopings.size()))
    throw Error("there is no hooping " + std::to_string(index), "--hooping",
                "give 1 to " + std::to_string(plan.plan.hoopings.size()));
  return plan.plan.hoopings[static_cast<size_t>(index - 1)];
}

const PlanSetting& settingOf(const Hooping& h, int index) {
  if (index < 1 || index > static_cast<int>(h.settings.size()))
    throw Error("hooping " + std::to_string(h.index) + " has no setting " + std::to_string(index),
                "--setting", "give 1 to " + std::to_string(h.settings.size()));
  return h.settings[static_cast<size_t>(index - 1)];
}

Field fieldOf(const Hooping& h, const Bench& bench) {
  for (const Hoop& hoop : bench.shop.hoops)
    if (hoop.id == h.hoop_id) return hoop.field;
  const PlacedField& f = h.settings.front().field;
  return f.turn_deg % 180 == 0 ? Field{f.box.width(), f.box.height(), f.shape}
                               : Field{f.box.height(), f.box.width(), f.shape};
}

Json hoopingsJson(const Work& work, const MadePlan& plan) {
  Json out = Json::array();
  for (const Hooping& h : plan.plan.hoopings) {
    Json settings = Json::array();
    for (const PlanSetting& s : h.settings) {
      const Record::Sewn sewn = work.record.sewn(keyOf(plan, s));
      settings.push_back({{"index", s.index},
                          {"rows", s.pattern.stitches.size()},
                          {"stitches", s.stitches},
                          {"sewn_rows", sewn.row},
                          {"done", sewn.done}});
    }
    out.push_back({{"index", h.index}, {"hoop", h.hoop_id}, {"settings", settings}});
  }
  return out;
}

Json planned(const JobWords& w, const Bench& bench) {
  Open open(w.file);
  NextPlan next = nextPlan(open.work, open.layout, planOptionsOf(open.work.job, bench));
  Json answer{{"lower_bound", next.plan.lower_bound},
              {"worst_seam_error_mm", next.plan.worst_seam_error_mm},
              {"crossings", next.plan.crossings},
              {"goes_on_from", next.from.empty() ? Json() : Json(next.from)},
              {"added", next.added},
              {"fresh_hoopings", next.fresh_hoopings},
              {"lost_stitches", next.lost_stitches}};
  keepPlan(open.work, std::move(next), open.print, open.work.job.plan_settings, newId(), nowUtc());
  open.save(w.file);
  const MadePlan& plan = planOf(open, w.file);
  answer["plan"] = plan.id;
  answer["hoopings"] = hoopingsJson(open.work, plan);
  return answer;
}

/// The first setting that is not sewn through, where none is named.
std::pair<int, int> whereToGoOn(const Open& open, const JobWords& w) {
  if (w.hooping > 0) return {w.hooping, w.setting};
  if (const MadePlan* plan = open.plan())
    for (const Hooping& h : plan->plan.hoopings)
      for (const PlanSetting& s : h.settings)
        if (!open.work.record.sewn(keyOf(*plan, s)).done) return {h.index, s.index};
  return {1, 1};
}

Clearance cleared(const Open& open, const Bench& bench, int hooping, int setting) {
  const Weighing weighing =
      weigh(open.layout, clothOf(open.work.job.brief, bench), open.work.job.zones);
  ReleaseFacts known{open.work};
  known.layout_print = open.print;
  known.plan = open.plan();
  known.planned = !open.work.plans.empty();
  known.hooping = hooping;
  known.setting = setting;
  known.weighed = &weighing.report;
  if (known.plan) known.field = fieldOf(hoopingOf(*known.plan, hooping), bench);
  known.limits = bench.shop.practice.shape;
  known.gone = sewnAndGone(open.work, open.layout);
  return clearanceOf(known);
}

Json clearanceJson(const Clearance& c, int hooping, int setting) {
  Json lines = Json::array();
  for (const ClearanceLine& l : c.lines)
    lines.push_back({{"what", wordOf(l.what)},
                     {"weight", wordOf(l.weight)},
                     {"sentence", inWords(l, c)},
                     {"value", l.value},
                     {"limit", l.limit},
                     {"count", l.count},
                     {"reason", l.reason},
                     {"time", l.time}});
  const ClearanceLine* against = c.against();
  Json answer{{"hooping", hooping},
              {"setting", setting},
              {"given", c.given()},
              {"against", against ? Json(wordOf(against->what)) : Json()},
              {"sentence", against ? inWords(*against, c) : "Nothing stands in the way."},
              {"lines", lines}};
  if (const auto& a = c.cloth.alignment)
    answer["alignment"] = {{"status", name(a->status)},
                           {"rotation_deg", a->fit.rotation_deg},
                           {"dx_mm", a->fit.dx_mm},
                           {"dy_mm", a->fit.dy_mm},
                           {"worst_corner_mm", a->error_worst_mm}};
  return answer;
}

Json released(const JobWords& w, const Bench& bench) {
  const Open open(w.file);
  const auto [hooping, setting] = whereToGoOn(open, w);
  return clearanceJson(cleared(open, bench, hooping, setting), hooping, setting);
}

/// Needle points of a hooping: where a layout place was found in its field.
Json aligned(const JobWords& w, const Bench& bench) {
  Open open(w.file);
  const MadePlan& plan = planOf(open, w.file);
  const Hooping& h = hoopingOf(plan, w.hooping);
  const SettingKey key = keyOf(plan, h);
  if (w.again) open.work.record.add(MarksCleared{key, nowUtc()});
  if (!w.path.empty())
    for (Mark& m : readNeedlePoints(w.path, bench.shop.practice.marks.needle_mm))
      open.work.record.add(MarkFound{key, nowUtc(), std::move(m)});
  open.work = checked(std::move(open.work));
  open.save(w.file);
  return clearanceJson(cleared(open, bench, w.hooping, 1), w.hooping, 1);
}

Json sewn(const JobWords& w, const Bench& bench) {
  Open open(w.file);
  const MadePlan& plan = planOf(open, w.file);
  const PlanSetting& s = settingOf(hoopingOf(plan, w.hooping), w.setting);
  const size_t all = s.pattern.stitches.size();
  const size_t rows = w.rows_sewn < 0 ? all : static_cast<size_t>(w.rows_sewn);
  if (rows > all)
    throw Error("the setting has " + std::to_string(all) + " rows", "--rows",
                "give how many of them are sewn");
  const Clearance clearance = cleared(open, bench, w.hooping, w.setting);
  if (const ClearanceLine* against = clearance.against(); against && !w.on_purpose)
    throw Error(inWords(*against, clearance), "hooping " + std::to_string(w.hooping),
                "clear it first, or say --on-purpose for what was sewn elsewhere");
  open.work.record.add(RowsSewn{keyOf(plan, s), nowUtc(), newId(), 0, rows,
                                rows == all ? "done" : "stop", rows == all});
  open.save(w.file);
  return {{"hoopings", hoopingsJson(open.work, plan)}};
}

Json overruled(const JobWords& w, const Bench& bench) {
  Open open(w.file);
  if (w.text.empty())
    throw Error("a reason is missing", "--reason", "say why it is sewn all the same");
  SettingKey key;
  if (w.part != "density") {
    const MadePlan& plan = planOf(open, w.file);
    const Hooping& h = hoopingOf(plan, w.hooping);
    key = w.part == "alignment" ? keyOf(plan, h) : keyOf(plan, settingOf(h, w.setting));
  }
  open.work.record.add(Overruled{nowUtc(), w.part, key, open.print, w.text});
  open.save(w.file);
  const auto [hooping, setting] = whereToGoOn(open, w);
  return clearanceJson(cleared(open, bench, hooping, setting), hooping, setting);
}

Json replaced(const JobWords& w, const Bench&) {
  Open open(w.file);
  open.work.record.add(ClothReplaced{nowUtc()});
  open.save(w.file);
  return {{"anything_sewn", open.work.record.anythingSewn()}};
}

}  // namespace

void addRecordVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  const auto place = [&w](CLI::App* c, bool needed) {
    CLI::Option* hooping = c->add_option("--hooping", w->hooping, "From 1");
    if (needed) hooping->required();
    c->add_option("--setting", w->setting, "Of the hooping, from 1");
  };
  verbs.ask("plan", "Plan the hoopings; what is sewn stays as it lies on the cloth", planned);
  place(verbs.ask("release", "Whether a hooping may be sewn, and what stands in the way", released),
        false);
  CLI::App* align =
      verbs.ask("align", "Needle points of a hooping, as `align --points` reads them", aligned);
  place(align, true);
  align->add_option("--points", w->path, "CSV: name,layout_x_mm,layout_y_mm,hoop_x_mm,hoop_y_mm");
  align->add_flag("--hooped-again", w->again, "What was found before counts no more");
  CLI::App* sewing = verbs.ask("sewn", "A setting was sewn, whole or so many rows of it", sewn);
  place(sewing, true);
  sewing->add_option("--rows", w->rows_sewn, "Rows that are sewn; all of them without it")
      ->check(CLI::NonNegativeNumber);
  sewing->add_flag("--on-purpose", w->on_purpose, "Whatever stands in the way");
  CLI::App* overrule =
      verbs.ask("overrule", "Go on in spite of a verdict, with a reason that is kept", overruled);
  overrule->add_option("OF", w->part, "density, alignment or sewn-already")
      ->required()
      ->check(CLI::IsMember({"density", "alignment", "sewn-already"}));
  overrule->add_option("--reason", w->text, "Why")->required();
  place(overrule, false);
  verbs.ask("new-cloth", "The job goes on on another cloth: nothing of it is sewn", replaced);
}

}  // namespace rt::cli
