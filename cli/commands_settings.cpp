// job FILE VERB …: the settings of a job.
#include "actions.h"
#include "cloth_file.h"
#include "error.h"
#include "job_file.h"
#include "job_verbs.h"
#include "plan_advice.h"
#include "planner.h"

namespace rt::cli {
namespace {

Job withBrief(Job job, const JobWords& w, const Bench& bench) {
  Brief b = job.brief;
  if (!w.item.empty()) b.item = w.item;
  if (!w.backing.empty()) b.backing = w.backing;
  if (!w.topper.empty()) b.topper = w.topper == "yes";
  if (!w.holding.empty()) b.holding = w.holding == "floated" ? Holding::Floated : Holding::Hooped;
  if (w.width) b.place_width_mm = *w.width;
  if (w.height) b.place_height_mm = *w.height;
  if (w.centre_line) b.centre_line_deg = *w.centre_line;
  return actions::briefed(std::move(job), std::move(b), bench);
}

Job withSequence(Job job, const JobWords& w, const Bench&) {
  SequenceSettings s = job.sequence;
  if (!w.colours.empty()) s.fewest_colours = w.colours == "fewest";
  if (s.fewest_colours) s.colours_by_hand.clear();
  if (!w.travel.empty()) s.shortest_travel = w.travel == "shortest";
  if (w.hidden) s.hidden_margin_mm = *w.hidden;
  if (w.needles) s.needles = *w.needles;
  return actions::sequencedWith(std::move(job), std::move(s));
}

/// A choice of two or more by its word; the parser let no other through.
template <class Choice>
void choose(const std::string& word, Choice& to,
            std::initializer_list<std::pair<const char*, Choice>> choices) {
  for (const auto& [name, choice] : choices)
    if (word == name) to = choice;
}

Job withPlan(Job job, const JobWords& w, const Bench&) {
  PlanSettings s = job.plan_settings;
  if (!w.hoop.empty()) s.hoop = w.hoop;
  if (w.overlap) s.overlap_mm = *w.overlap;
  choose(w.frame_turn, s.turn, {{"yes", true}, {"no", false}});
  choose(w.style, s.style, {{"star", TieStyle::Star}, {"chain", TieStyle::Chain}});
  choose(w.order, s.order, {{"middle", SewingOrder::FromMiddle}, {"end", SewingOrder::FromEnd}});
  for (MarkSchool school : kMarkSchools)
    if (w.school == name(school)) s.school = school;
  return actions::plannedWith(std::move(job), std::move(s));
}

Job withCloth(Job job, const JobWords& w, const Bench& bench) {
  std::optional<ClothKnown> cloth;
  if (!w.cloth.empty())
    cloth = readCloth(w.cloth, bench.data);
  else if (w.cloth_as == "starting")
    cloth = startingCloth(bench.data, job.brief.fabric);
  return actions::onClothKnown(std::move(job), std::move(cloth), bench);
}

void addClothVerb(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* cloth =
      verbs.edit("cloth", "Needle points go where the cloth brings them right", withCloth);
  auto* file = cloth->add_option("--cloth", w->cloth, "What is known of the cloth, JSON");
  cloth->add_option("--as", w->cloth_as, "starting values, or drawn: nothing is moved")
      ->check(CLI::IsMember({"starting", "drawn"}))
      ->excludes(file);
  cloth->preparse_callback([](size_t words) {
    if (words == 0) throw CLI::RequiredError("--cloth or --as");
  });
}

void addBriefVerb(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* brief = verbs.edit("brief", "What the item is and how it is held", withBrief);
  brief->add_option("--item", w->item, "In words");
  brief->add_option("--width", w->width, "Of the place, mm");
  brief->add_option("--height", w->height, "Of the place, mm");
  brief->add_option("--centre-line", w->centre_line, "Degrees against the layout's");
  brief->add_option("--backing", w->backing, "Its name");
  brief->add_option("--topper", w->topper, "yes or no")->check(CLI::IsMember({"yes", "no"}));
  brief->add_option("--held", w->holding, "hooped or floated")
      ->check(CLI::IsMember({"hooped", "floated"}));
}

void addSequenceVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* sequence = verbs.edit("sequence", "How the sewing order is made", withSequence);
  sequence->add_option("--colours", w->colours, "as-laid or fewest changes")
      ->check(CLI::IsMember({"as-laid", "fewest"}));
  sequence->add_option("--travel", w->travel, "as-laid or shortest")
      ->check(CLI::IsMember({"as-laid", "shortest"}));
  sequence->add_option("--hidden", w->hidden, "Margin left of covered stitches, mm; 0: all stay");
  sequence->add_option("--needles", w->needles, "Of the machine");
  CLI::App* wait = verbs.onPiece("wait", "The machine waits before a piece, with a note",
                                 [](Job job, const JobWords& words, const Bench&) {
                                   OperatorStop stop;
                                   stop.piece = words.id;
                                   stop.note = words.text;
                                   return actions::waiting(std::move(job), stop);
                                 });
  wait->add_option("--note", w->text, "What to do then")->required();
}

/// What small changes would save, best first; with --take the job is changed so.
Json advised(const JobWords& w, const Bench& bench) {
  Work work = loadWork(w.file);
  const HoopingPlan plan = planHoopings(sewnLayout(work.job), planOptionsOf(work.job, bench));
  const std::vector<PlanAdvice> found = planAdvice(work.job, plan, bench, {});
  Json changes = Json::array();
  for (const PlanAdvice& a : found)
    changes.push_back({{"change", inWords(a)}, {"hoopings", a.hoopings}, {"pieces_cut", a.cut}});
  if (w.place > 0) {
    if (static_cast<size_t>(w.place) > found.size())
      throw Error("there is no change " + std::to_string(w.place), "--take",
                  found.empty() ? "no small change saves anything"
                                : "give 1 to " + std::to_string(found.size()));
    work.job = found[static_cast<size_t>(w.place) - 1].job;
    saveWork(work, w.file);
  }
  return {{"hoopings", plan.hoopings.size()},
          {"pieces_cut", plan.crossings.size()},
          {"changes", std::move(changes)}};
}

void addPlanVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  CLI::App* plan = verbs.edit("plan-by", "How the layout is split over hoopings", withPlan);
  plan->add_option("--hoop", w->hoop, "Frame id, or field WxH in mm");
  plan->add_option("--overlap", w->overlap, "Least overlap, mm");
  plan->add_option("--turn", w->frame_turn, "yes or no: frames may be turned by 90°")
      ->check(CLI::IsMember({"yes", "no"}));
  plan->add_option("--style", w->style, "star or chain")->check(CLI::IsMember({"star", "chain"}));
  plan->add_option("--order", w->order, "middle or end")->check(CLI::IsMember({"middle", "end"}));
  std::vector<std::string> schools;
  for (MarkSchool school : kMarkSchools) schools.emplace_back(name(school));
  plan->add_option("--marks", w->school, "What is looked for at the cloth")
      ->check(CLI::IsMember(schools));
  verbs
      .edit("cut", "A line along which pieces are parted, if at all",
            [](Job job, const JobWords& words, const Bench&) {
              return actions::cutAlong(
                  std::move(job), {{words.box[0], words.box[1]}, {words.box[2], words.box[3]}});
            })
      ->add_option("--line", w->box, "X1 Y1 X2 Y2, mm")
      ->required()
      ->expected(4);
  verbs
      .edit("uncut", "Ask for a cut no more",
            [](Job job, const JobWords& words, const Bench&) {
              return actions::withoutCut(std::move(job), words.place);
            })
      ->add_option("N", w->place, "Number of the line, from 1")
      ->required();
  verbs
      .edit("hooping-order", "The plan's hoopings in another order",
            [](Job job, const JobWords& words, const Bench& b) {
              job.plan_settings.order_by_hand.clear();
              const HoopingPlan made = planHoopings(sewnLayout(job), planOptionsOf(job, b));
              return actions::hoopedInOrder(std::move(job), made, words.ids);
            })
      ->add_option("N", w->ids, "Numbers of the plan's hoopings; none: as planned");
  verbs.ask("advise", "Small changes that would save a hooping or a cut", advised)
      ->add_option("--take", w->place, "Make change number N of the list");
  verbs
      .edit("tolerance", "The largest error at which an alignment is ready",
            [](Job job, const JobWords& words, const Bench&) {
              if (!(*words.overlap >= 0.05 && *words.overlap <= 10))
                throw Error("that tolerance cannot be held", "MM", "give 0.05 to 10 mm");
              return actions::toleratedAt(std::move(job), *words.overlap);
            })
      ->add_option("MM", w->overlap, "At the worst corner")
      ->required();
}

}  // namespace

void addSettingsVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words) {
  addClothVerb(verbs, words);
  addBriefVerb(verbs, words);
  addSequenceVerbs(verbs, words);
  addPlanVerbs(verbs, words);
}

}  // namespace rt::cli
