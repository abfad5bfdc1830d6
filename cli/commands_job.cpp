// job FILE VERB …: the window's edits on job files.
#include <QCoreApplication>

#include "actions.h"
#include "density_words.h"
#include "error.h"
#include "file_lock.h"
#include "findings.h"
#include "job_file.h"
#include "job_verbs.h"
#include "ledger_entry.h"
#include "length.h"
#include "stitch_file.h"
#include "thread_shelf.h"

namespace rt::cli {
namespace {

const char* kindOf(const Piece& piece) {
  constexpr std::array<const char*, 3> kKinds{"stitches", "artwork", "text"};
  return kKinds[piece.source.index()];
}

/// Colours that a piece is sewn in, in the order of their first stitch.
Json threadsOf(const Pattern& stitches) {
  Json out = Json::array();
  std::vector<bool> seen(stitches.threads.size());
  for (const Stitch& s : stitches.stitches)
    if (s.op == Op::Stitch && !seen[s.thread]) {
      seen[s.thread] = true;
      out.push_back(stitches.colourOf(s).hex());
    }
  return out;
}

Json pieceJson(const Piece& p) {
  const Box box = boundsOf(p);
  Json out{{"id", p.id},
           {"name", p.name},
           {"kind", kindOf(p)},
           {"centre_mm", pair(box.empty() ? p.place.at : box.centre())},
           {"width_mm", box.width()},
           {"height_mm", box.height()},
           {"turn_deg", p.place.turn_deg},
           {"mirrored", p.place.mirrored},
           {"group", p.group},
           {"stitches", countRows(p.stitches->stitches, Op::Stitch)},
           {"threads", threadsOf(*p.stitches)}};
  if (const auto* text = std::get_if<TextSource>(&p.source)) {
    out["text"] = text->text;
    out["face"] = text->face;
    out["letter_height_mm"] = text->height_mm;
  }
  return out;
}

Json sewnJson(const Work& work) {
  Json out = Json::array();
  for (const auto& plan : work.plans)
    for (const Hooping& h : plan->plan.hoopings)
      for (const PlanSetting& s : h.settings) {
        const Record::Sewn sewn = work.record.sewn(keyOf(*plan, s));
        out.push_back({{"plan", plan->id},
                       {"hooping", h.index},
                       {"setting", s.index},
                       {"rows", s.pattern.stitches.size()},
                       {"sewn_rows", sewn.row},
                       {"done", sewn.done}});
      }
  return out;
}

Json sequenceJson(const SequenceSettings& s) {
  Json waits = Json::array();
  for (const OperatorStop& stop : s.stops)
    waits.push_back({{"piece", stop.piece}, {"note", stop.note}});
  return {{"fewest_colours", s.fewest_colours},
          {"shortest_travel", s.shortest_travel},
          {"hidden_margin_mm", s.hidden_margin_mm},
          {"needles", s.needles},
          {"waits", waits}};
}

Json planJson(const PlanSettings& s) {
  Json cuts = Json::array();
  for (const AskedCut& c : s.cuts) cuts.push_back({c.from.x, c.from.y, c.to.x, c.to.y});
  return {{"hoop", s.hoop},
          {"overlap_mm", s.overlap_mm},
          {"turn", s.turn},
          {"style", s.style == TieStyle::Star ? "star" : "chain"},
          {"order", s.order == SewingOrder::FromMiddle ? "middle" : "end"},
          {"marks", name(s.school)},
          {"cuts_asked_for", cuts}};
}

/// Whose movement the needle points follow; null: they are sewn as drawn.
Json clothJsonOf(const std::optional<ClothKnown>& cloth) {
  if (!cloth) return nullptr;
  return {{"fabric", cloth->fabric}, {"learned_from", cloth->learned_from}};
}

Json jobJson(const Work& work) {
  Json pieces = Json::array(), zones = Json::array();
  for (const Piece& p : work.job.pieces) pieces.push_back(pieceJson(p));
  for (const Zone& z : work.job.zones)
    zones.push_back({{"name", z.name},
                     {"kind", z.kind == ZoneKind::KeepOut ? "keep-out" : "thick"},
                     {"layers", z.layers}});
  return {{"id", work.job.id},
          {"title", work.job.title},
          {"item", work.job.brief.item},
          {"fabric", work.job.brief.fabric},
          {"place_mm", {work.job.brief.place_width_mm, work.job.brief.place_height_mm}},
          {"order_text", work.job.brief.order_text},
          {"customer", work.job.brief.customer},
          {"proof_accepted", proofAccepted(work.job)},
          {"pieces", pieces},
          {"zones", zones},
          {"sequence", sequenceJson(work.job.sequence)},
          {"cloth", clothJsonOf(work.job.sequence.cloth)},
          {"plan", planJson(work.job.plan_settings)},
          {"tolerance_mm", work.job.tolerance_mm},
          {"edits", work.edits},
          {"hoopings", sewnJson(work)}};
}

}  // namespace

Json edited(const JobWords& words, const Bench& bench, const Edit& edit) {
  const FileLock others(words.file);  // they wait, and find what is written here
  Work work = loadWork(words.file);
  work.job = checked(edit(work.job, words, bench));
  ++work.edits;
  saveWork(work, words.file);
  return jobJson(work);
}

namespace {

Json madeNew(const JobWords& words, const Bench& bench) {
  if (std::filesystem::exists(words.file))
    throw Error("the file is there already", words.file, "choose another name, or edit it");
  Work work;
  work.job.id = newId();
  work.job.title = words.name.empty() ? "New job" : words.name;
  work.job = actions::onFabric(std::move(work.job), words.fabric, bench);
  if (words.width) work.job.brief.place_width_mm = *words.width;
  if (words.height) work.job.brief.place_height_mm = *words.height;
  work.job = checked(std::move(work.job));
  saveWork(work, words.file);
  return jobJson(work);
}

Json weighed(const JobWords& words, const Bench& bench) {
  const Work work = loadWork(words.file);
  const Pattern layout = sewnLayout(work.job);
  const Weighing w = weigh(layout, clothOf(work.job.brief, bench), work.job.zones);
  Json findings = Json::array();
  for (const Finding& f : w.report.findings)
    findings.push_back({{"kind", name(f.kind)},
                        {"severity", name(f.severity)},
                        {"at_mm", pair(f.at)},
                        {"value", f.value},
                        {"limit", f.limit},
                        {"cause", inWords(f)},
                        {"pieces", f.cause.pieces}});
  return {{"verdict", name(w.report.verdict)},
          {"peak_mm_per_mm2", w.report.summary.peak_mm_per_mm2},
          {"findings", findings}};
}

Json exported(const JobWords& words) {
  const Pattern layout = sewnLayout(loadWork(words.file).job);
  writeStitchFile(words.out, layout);
  return {{"file", words.out}, {"stitches", countRows(layout.stitches, Op::Stitch)}};
}

Job withText(Job job, const JobWords& w, const Bench& bench) {
  const Piece& piece = actions::pieceOf(std::as_const(job), w.id);
  const auto* was = std::get_if<TextSource>(&piece.source);
  TextSource text = was ? *was : TextSource{};
  if (!w.text.empty()) text.text = w.text;
  if (!w.face.empty()) text.face = w.face;
  if (w.height) text.height_mm = *w.height;
  return actions::relettered(std::move(job), w.id, text, bench);
}

Job withMove(Job job, const JobWords& w, const Bench&) {
  const Point by{w.x.value_or(0), w.y.value_or(0)};
  if (!w.to) return actions::moved(std::move(job), w.ids, by);
  for (int id : w.ids) {
    const Point now = boundsOf(actions::pieceOf(std::as_const(job), id)).centre();
    job = actions::centredAt(std::move(job), id, {w.x.value_or(now.x), w.y.value_or(now.y)});
  }
  return job;
}

Job withZoneOf(Job job, const JobWords& w, const Bench&) {
  Zone zone{w.name, w.kind == "thick" ? ZoneKind::Thick : ZoneKind::KeepOut, {}, w.layers, 0};
  const Box box{w.box[0], w.box[1], w.box[0] + w.box[2], w.box[1] + w.box[3]};
  if (!(w.box[2] > 0 && w.box[3] > 0))
    throw Error("a zone's width and height must be over 0", "--box", "give x y width height in mm");
  for (int i = 0; i < 4; ++i) zone.polygon_mm.push_back(box.corner(i));
  return actions::withZone(std::move(job), std::move(zone));
}

void addPieceVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  verbs
      .edit("add", "Lay a stitch file or artwork on the cloth",
            [](Job job, const JobWords& words, const Bench& b) {
              Made made = pieceFromFile(words.path, clothOf(job, b), b);
              return actions::added(std::move(job), std::move(made.piece));
            })
      ->add_option("PATH", w->path, "Stitch list, stitch drawing or artwork")
      ->required();
  CLI::App* letter = verbs.edit("letter", "Lay a line of lettering on the cloth",
                                [](Job job, const JobWords& words, const Bench& b) {
                                  TextSource text;
                                  text.text = words.text;
                                  if (!words.face.empty()) text.face = words.face;
                                  if (words.height) text.height_mm = *words.height;
                                  Made made = pieceFromText(text, clothOf(job, b), b);
                                  return actions::added(std::move(job), std::move(made.piece));
                                });
  letter->add_option("TEXT", w->text, "What is sewn")->required();
  letter->add_option("--face", w->face, "Face id");
  letter->add_option("--height", w->height, "Cap height, mm");
  CLI::App* reletter = verbs.onPiece("text", "Sew a piece's text again", withText);
  reletter->add_option("--text", w->text, "What is sewn");
  reletter->add_option("--face", w->face, "Face id");
  reletter->add_option("--height", w->height, "Cap height, mm");
  CLI::App* move = verbs.onPieces("move", "Move pieces, or put them at a place", withMove);
  move->add_option("--x", w->x, "Right, mm");
  move->add_option("--y", w->y, "Down, mm");
  move->add_flag("--to", w->to, "To that place, by their centres, not by that way");
  CLI::App* size =
      verbs.onPiece("size", "Size a piece, in proportion unless --free",
                    [](Job job, const JobWords& words, const Bench& b) {
                      return actions::sized(std::move(job), words.id, words.width.value_or(0),
                                            words.height.value_or(0), !words.free, b);
                    });
  size->add_option("--width", w->width, "mm");
  size->add_option("--height", w->height, "mm");
  size->add_flag("--free", w->free, "Width and height apart");
  verbs
      .onPiece("turn", "Turn a piece",
               [](Job job, const JobWords& words, const Bench& b) {
                 return actions::turned(std::move(job), words.id, words.turn.value_or(0), b);
               })
      ->add_option("--to", w->turn, "Degrees, clockwise as seen")
      ->required();
  verbs.onPiece("mirror", "Exchange a piece's left and right",
                [](Job job, const JobWords& words, const Bench& b) {
                  return actions::mirrored(std::move(job), words.id, b);
                });
  CLI::App* thread = verbs.edit(
      "thread", "Sew in another thread all that is sewn in one",
      [](Job job, const JobWords& words, const Bench& b) {
        const auto piece = words.id > 0 ? std::optional<int>(words.id) : std::nullopt;
        return actions::threadedAs(std::move(job), threadNamed(b.shop.threads, words.from),
                                   threadNamed(b.shop.threads, words.thread), piece);
      });
  thread->add_option("FROM", w->from, "#rrggbb, or a thread's name or code")->required();
  thread->add_option("TO", w->thread, "#rrggbb, or a thread's name or code")->required();
  thread->add_option("--piece", w->id, "Of that piece alone");
  verbs.onPiece("remove", "Take a piece off the cloth",
                [](Job job, const JobWords& words, const Bench&) {
                  return actions::removed(std::move(job), words.id);
                });
  CLI::App* order = verbs.onPiece(
      "sew-at", "Put a piece at a place of the sewing order",
      [](Job job, const JobWords& words, const Bench&) {
        return actions::sewnAt(std::move(job), words.id,
                               static_cast<size_t>(std::max(1, words.place) - 1), words.on_purpose);
      });
  order->add_option("PLACE", w->place, "From 1")->required();
  order->add_flag("--on-purpose", w->on_purpose, "Even if it turns over what lies on what");
  verbs.onPieces("group", "Group pieces", [](Job job, const JobWords& words, const Bench&) {
    return actions::grouped(std::move(job), words.ids);
  });
  verbs.onPieces("ungroup", "Take groups apart", [](Job job, const JobWords& words, const Bench&) {
    return actions::ungrouped(std::move(job), words.ids);
  });
}

void addBriefVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& w) {
  verbs
      .edit("fabric", "Another fabric, with its usual backing and topper",
            [](Job job, const JobWords& words, const Bench& b) {
              return actions::onFabric(std::move(job), words.fabric, b);
            })
      ->add_option("ID", w->fabric, "Fabric id")
      ->required();
  verbs
      .edit("title", "Name the job",
            [](Job job, const JobWords& words, const Bench&) {
              job.title = words.name;
              return job;
            })
      ->add_option("TITLE", w->name, "Its name")
      ->required();
  verbs
      .edit("order", "The order text that lettering is read against",
            [](Job job, const JobWords& words, const Bench&) {
              job.brief.order_text = words.text;
              return job;
            })
      ->add_option("TEXT", w->text, "As the customer wrote it")
      ->required();
  verbs
      .edit("customer", "Who the job is for, as a quote addresses them",
            [](Job job, const JobWords& words, const Bench&) {
              job.brief.customer = words.text;
              return job;
            })
      ->add_option("TEXT", w->text, "May have several lines")
      ->required();
  verbs.edit("accept-proof", "The lettering was read against the order",
             [](Job job, const JobWords&, const Bench&) {
               return actions::proofAccepted(std::move(job));
             });
  CLI::App* zone = verbs.edit("zone", "Add a zone", withZoneOf);
  zone->add_option("NAME", w->name, "Its name")->required();
  zone->add_option("--kind", w->kind, "keep-out or thick")
      ->check(CLI::IsMember({"keep-out", "thick"}));
  zone->add_option("--layers", w->layers, "Layers of cloth in all");
  zone->add_option("--box", w->box, "x y width height, mm")->required()->expected(4);
  verbs
      .edit("no-zone", "Take a zone away",
            [](Job job, const JobWords& words, const Bench&) {
              return actions::withoutZone(std::move(job), words.name);
            })
      ->add_option("NAME", w->name, "Its name")
      ->required();
}

}  // namespace

void addJob(CLI::App& app, Session& session) {
  CLI::App* c = app.add_subcommand("job", "Look at a job file, or edit it as the window does");
  auto w = std::make_shared<JobWords>();
  c->add_option("FILE", w->file, "Job file (.rapt)")->required();
  c->require_subcommand(1);
  // lives as long as the parser: its verbs hold it
  auto verbs = std::make_shared<Verbs>(*c, session, w);
  verbs->ask("show", "What the job holds",
             [](const JobWords& words, const Bench&) { return jobJson(loadWork(words.file)); });
  CLI::App* made = verbs->ask("new", "Make the file", madeNew);
  made->add_option("--title", w->name, "Its name");
  made->add_option("--fabric", w->fabric, "Fabric id")->default_val("woven-cotton");
  made->add_option("--width", w->width, "Of the place, mm");
  made->add_option("--height", w->height, "Of the place, mm");
  verbs->ask("weigh", "The density verdict of its layout", weighed);
  verbs
      ->ask("export", "Write the layout as it is sewn",
            [](const JobWords& words, const Bench&) { return exported(words); })
      ->add_option("-o", w->out, "Stitch list, or a drawing by its ending .svg")
      ->required()
      ->check(named);
  addPieceVerbs(*verbs, w);
  addLayoutVerbs(*verbs, w);
  addSettingsVerbs(*verbs, w);
  addItemVerbs(*verbs, w);
  addBriefVerbs(*verbs, w);
  addRecordVerbs(*verbs, w);
}

}  // namespace rt::cli
