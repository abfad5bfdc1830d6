// export, quote, ledger
#include <chrono>
#include <ctime>

#include "commands.h"
#include "error.h"
#include "file_io.h"
#include "gcode.h"
#include "job_file.h"
#include "ledger_files.h"
#include "ledger_json.h"
#include "length.h"
#include "making.h"
#include "order_usage.h"
#include "paperwork.h"
#include "rates_file.h"
#include "run_story.h"
#include "server_ledger.h"
#include "statistics.h"
#include "stitch_file.h"
#include "thread_shelf.h"

namespace rt::cli {
namespace {

struct ExportWords {
  std::string file, to = "gcode", out;
  double step = 0.1;
};

Json exportCommand(const ExportWords& words) {
  const Pattern pattern = readPattern(words.file);
  const GcodeResult r = writeGcode(pattern, {words.step}, words.out);
  return {
      {"moves", r.moves}, {"stitches", r.stitches}, {"bounds", boundsJson(threadBounds(pattern))}};
}

struct QuoteWords {
  std::string file, rates, out, costs, customer, date;
  std::vector<int> beside;
  std::optional<double> price, margin, each;
  int pieces = 1, set = 1;
  double blank = 0;
};

/// What is quoted: a job's layout and plan, or a stitch list as a job of its own.
struct Quoted {
  Job job;
  Pattern layout;
  std::shared_ptr<const MadePlan> made;
  std::vector<std::string> assumptions;
  const HoopingPlan* plan() const { return made ? &made->plan : nullptr; }
};

Quoted quotedIn(const QuoteWords& words) {
  Quoted out;
  if (kindOfFile(readFile(words.file)) != FileKind::Job) {
    out.layout = readPattern(words.file);
    out.job.brief.fabric = "woven-cotton";
    out.job.title = out.layout.title.empty()
                        ? std::filesystem::path(words.file).stem().stem().string()
                        : out.layout.title;
    out.assumptions.push_back("cloth is woven cotton");
    return out;
  }
  const Work work = loadWork(words.file);
  out.job = work.job;
  out.layout = sewnLayout(work.job);
  const MadePlan* current = planFor(work, printOf(out.layout));
  for (const auto& plan : work.plans)
    if (plan.get() == current) out.made = plan;
  if (!current && !work.plans.empty()) {
    out.made = work.plans.back();
    out.assumptions.push_back("hoopings are those of a plan that is out of date");
  }
  return out;
}

/// A day as `2032-05-04`; today where nothing is said.
std::chrono::year_month_day dayOf(const std::string& words) {
  using namespace std::chrono;
  if (words.empty()) {
    const std::time_t now = std::time(nullptr);
    std::tm here{};
    localtime_r(&now, &here);
    return {year{here.tm_year + 1900}, month{static_cast<unsigned>(here.tm_mon + 1)},
            day{static_cast<unsigned>(here.tm_mday)}};
  }
  int y = 0, read = 0;
  unsigned m = 0, d = 0;
  if (std::sscanf(words.c_str(), "%4d-%2u-%2u%n", &y, &m, &d, &read) == 3 && words.size() == 10 &&
      read == 10)
    if (const year_month_day day_{year{y}, month{m}, day{d}}; day_.ok()) return day_;
  throw Error("\"" + words + "\" is no day", "--date", "write it like 2032-05-04");
}

/// The papers that were asked for, and what they ask of the customer.
void writePapers(const QuoteWords& words, const Quoted& quoted, const Rates& rates,
                 const QuoteOptions& options, const std::vector<std::string>& assumptions,
                 const Session& session, Json& answer) {
  for (int pieces : words.beside)
    if (pieces < 1)
      throw Error(std::to_string(pieces) + " pieces are no order", "--beside", "give 1 or more");
  QuotePaper paper = quotePaperOf(quoted.job, quoted.layout, quoted.plan(), session.bench(), rates,
                                  session.shop().card, {options, words.beside}, dayOf(words.date));
  if (!words.customer.empty()) paper.customer = words.customer;
  paper.assumptions = assumptions;
  Json offers = Json::array();
  for (const QuotePaper::Column& c : paper.columns)
    offers.push_back({{"pieces", c.pieces},
                      {"each", c.offer.each},
                      {"together", c.offer.together},
                      {"tax", c.offer.tax},
                      {"to_pay", c.offer.with_tax}});
  answer["offers"] = offers;
  if (!words.out.empty()) answer["pages"] = writeQuote(paper, words.out);
  if (!words.costs.empty()) answer["costs_pages"] = writeCosts(paper, words.costs);
}

Json quoteCommand(const QuoteWords& words, const Session& session) {
  (void)dayOf(words.date);  // what cannot be is said before anything is reckoned or written
  if (!words.out.empty() && words.out == words.costs)
    throw Error("the quote and the costs cannot be one file", "--costs", "give another name");
  const Quoted quoted = quotedIn(words);
  Order order = orderOf(quoted.layout, quoted.job.brief.fabric, quoted.plan(), session.bench());
  order.assumptions.insert(order.assumptions.begin(), quoted.assumptions.begin(),
                           quoted.assumptions.end());
  Rates rates = session.shop().rates;
  if (words.rates.empty()) {
    order.assumptions.push_back(session.shop().rates_own
                                    ? "rates are the shop's own"
                                    : "rates are the starting values of the program's data");
  } else {
    std::vector<std::string> left_out;
    rates = readRates(words.rates, rates, &left_out);
    for (const std::string& key : left_out)
      order.assumptions.push_back(key + " is the starting value of the program's data");
  }
  QuoteOptions o;
  o.pieces = words.pieces;
  o.set = words.set;
  o.blank = words.blank;
  o.price = words.price;
  o.margin = words.margin;
  if (!o.price && !o.margin)
    order.assumptions.push_back("the shop's usual margin of " +
                                formatNumber(rates.usual_margin * 100, 1) + " %");
  order.assumptions.push_back("amounts in " + rates.currency + ", for the whole order of " +
                              std::to_string(o.pieces) + (o.pieces == 1 ? " piece" : " pieces"));
  const Quote q = quoteFor(order.usage, rates, o);
  Json lines = Json::array();
  for (const QuoteLine& l : q.lines)
    lines.push_back(
        {{"what", nameOf(l.what)}, {"quantity", l.quantity}, {"unit", l.unit}, {"cost", l.cost}});
  Json answer = {{"lines", lines},     {"cost", q.cost},       {"price", q.price},
                 {"margin", q.margin}, {"minutes", q.minutes}, {"assumptions", order.assumptions}};
  if (words.set > 1) answer["sets"] = q.sets, answer["set_price"] = q.set_price;
  if (words.each) {
    const std::optional<int> pieces = breakEvenPieces(order.usage, rates, o, *words.each);
    answer["break_even_pieces"] = pieces ? Json(*pieces) : Json();
  }
  if (!words.out.empty() || !words.costs.empty() || !words.beside.empty())
    writePapers(words, quoted, rates, o, order.assumptions, session, answer);
  return answer;
}

struct LedgerWords {
  std::string store, event, note, job, since, file;
  int hooping = 0;
};

std::filesystem::path storeFile(const LedgerWords& words) {
  return words.store.empty() ? ownLedgerFile() : std::filesystem::path(words.store);
}

std::string storeName(const LedgerWords& words) {
  return namesServer(words.store) ? serverUrl(words.store).shown() : storeFile(words).string();
}

/// A server's address, with a word where its wire may be open.
ServerUrl serverOf(const LedgerWords& words) {
  ServerUrl server = serverUrl(words.store);
  if (server.openWire())
    std::fprintf(
        stderr,
        "warning: nothing says that the wire to %s is encrypted; add ?sslmode=require to the "
        "address, or verify-full with the server's certificate\n",
        server.host.c_str());
  return server;
}

std::vector<LedgerEntry> allOf(LedgerStore& store) {
  int64_t place = 0;
  return store.since(place);
}

/// Reading never makes a store, but the person's own.
std::unique_ptr<LedgerStore> toRead(const LedgerWords& words) {
  if (namesServer(words.store)) return openLedgerServer(serverOf(words), Missing::Refuse);
  return words.store.empty() ? openLedgerFile(ownLedgerFile())
                             : openExistingLedger(storeFile(words));
}

std::unique_ptr<LedgerStore> toWrite(const LedgerWords& words) {
  if (namesServer(words.store)) return openLedgerServer(serverOf(words), Missing::Make);
  return openLedgerFile(storeFile(words));
}

void requireOther(const LedgerWords& words) {
  if (namesServer(words.store)) return;
  std::error_code ignored;
  const auto here = std::filesystem::weakly_canonical(storeFile(words), ignored),
             there = std::filesystem::weakly_canonical(words.file, ignored);
  if (here == there)
    throw Error("that would write over the ledger itself", words.file, "choose another file");
}

Json addEntry(const LedgerWords& words) {
  if (words.event.empty()) throw Error("the event has no word", "--event", "name what happened");
  if (words.hooping < 0 || words.hooping > 100000)
    throw Error("there is no hooping " + std::to_string(words.hooping), "--hooping",
                "count from 1; 0 is the whole job");
  LedgerEntry e;
  e.id = newId();
  e.time = nowUtc();
  e.event = words.event;
  e.note = words.note;
  e.job_id = words.job;
  e.hooping = words.hooping;
  toWrite(words)->add({e});
  return {{"id", e.id}};
}

Json listRuns(const LedgerWords& words) {
  Json runs = Json::array();
  for (const RunStory& s : storiesIn(allOf(*toRead(words)))) {
    if (!words.job.empty() && s.job_id != words.job) continue;
    runs.push_back({{"job", s.job_id},
                    {"title", s.job_title},
                    {"hooping", s.hooping},
                    {"began", s.began},
                    {"ended", s.ended},
                    {"planned_s", s.planned_s},
                    {"taken_s", s.taken_s},
                    {"aligned", s.aligned},
                    {"rotation_deg", s.rotation_deg},
                    {"worst_mm", s.worst_mm},
                    {"overruled", s.overruled},
                    {"breaks", s.breaks},
                    {"bobbins", s.bobbins},
                    {"folds", s.folds},
                    {"lost", s.lost},
                    {"stepped_back", s.stepped_back},
                    {"skipped", s.skipped},
                    {"outcome", s.outcome}});
  }
  return {{"runs", runs}};
}

Json listEntries(const LedgerWords& words) {
  Json records = Json::array();
  for (const LedgerEntry& e : allOf(*toRead(words))) {
    if (!words.event.empty() && e.event != words.event) continue;
    if (!words.since.empty() && e.time < words.since) continue;
    Json one = Json::parse(ledgerJson(e));
    one["job"] = e.job_id;
    records.push_back(std::move(one));
  }
  return {{"records", records}};
}

Json checkStore(const LedgerWords& words, Session& session) {
  try {
    const auto store = toRead(words);
    const size_t records = allOf(*store).size();
    const bool sound = store->sound();
    if (!sound)
      session.failure = "the ledger is damaged (" + storeName(words) +
                        "); open it with the window: it takes over what can be read";
    return {{"sound", sound}, {"records", records}};
  } catch (const Error& problem) {
    session.failure = problem.what();
    return {{"sound", false}, {"records", 0}};
  }
}

}  // namespace

void addExport(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "export", "Write a stitch list as open machine code");
  auto w = std::make_shared<ExportWords>();
  c->add_option("FILE", w->file, "Stitch list or stitch drawing")->required();
  c->add_option("--to", w->to, "gcode")->required()->check(CLI::IsMember({"gcode"}));
  c->add_option("--step", w->step, "Coordinates are multiples of it, mm");
  c->add_option("-o", w->out, "File to write")->required()->check(named);
  c->callback([&session, w] { session.run = [w] { return exportCommand(*w); }; });
}

void addQuote(CLI::App& app, Session& session) {
  CLI::App* c = command(app, session, "quote", "What an order costs, and what to ask for it");
  auto w = std::make_shared<QuoteWords>();
  c->add_option("FILE", w->file, "Job, stitch list or stitch drawing")->required();
  auto* price = c->add_option("--price", w->price, "For the whole order; gives the margin");
  c->add_option("--margin", w->margin, "Part of the price, like 0.4; gives the price")
      ->excludes(price);
  c->add_option("--pieces", w->pieces, "How many");
  c->add_option("--blank", w->blank, "Cost of one blank");
  c->add_option("--set", w->set, "Pieces that are sold together");
  c->add_option("--each", w->each, "Price of a set, or piece: from how many it pays");
  c->add_option("--rates", w->rates, "Rates of the shop, JSON");
  c->add_option("--beside", w->beside, "Other quantities to offer, like 1,10,50")->delimiter(',');
  c->add_option("--customer", w->customer, "Who it is for, in the place of the job's");
  c->add_option("--date", w->date, "Of the quote, like 2032-05-04; today otherwise");
  c->add_option("-o", w->out, "Quote for the customer to write, PDF")->check(named);
  c->add_option("--costs", w->costs, "The shop's own reckoning to write, PDF")->check(named);
  c->callback([&session, w] { session.run = [&session, w] { return quoteCommand(*w, session); }; });
}

void addLedger(CLI::App& app, Session& session) {
  CLI::App* c = app.add_subcommand("ledger", "The shop's logbook");
  c->require_subcommand(1);
  auto w = std::make_shared<LedgerWords>();
  const auto verb = [&](const char* name, const char* what) {
    CLI::App* v = command(*c, session, name, what);
    v->add_option("--store", w->store,
                  "Ledger file or postgresql://user@host:port/name; the person's own without it");
    return v;
  };
  CLI::App* add = verb("add", "Add a line");
  add->add_option("--event", w->event, "What happened, a word")->required();
  add->add_option("--note", w->note, "In words");
  add->add_option("--job", w->job, "Id of the job");
  add->add_option("--hooping", w->hooping, "Its hooping, from 1");
  add->callback([&session, w] { session.run = [w] { return addEntry(*w); }; });
  CLI::App* list = verb("list", "What happened, oldest first");
  list->add_option("--event", w->event, "This event only");
  list->add_option("--since", w->since, "From this time on, ISO 8601 in UTC")
      ->transform([](const std::string& text) {
        const std::string time = utcTime(text);
        if (time.empty())
          throw CLI::ValidationError("\"" + text.substr(0, 40) +
                                     "\" is no time; write 2027-03-02 or "
                                     "2027-03-02T08:00:00Z");
        return time;
      });
  list->callback([&session, w] { session.run = [w] { return listEntries(*w); }; });
  CLI::App* runs = verb("runs", "Each hooping that was begun: times, alignment, troubles, outcome");
  runs->add_option("--job", w->job, "Of this job only");
  runs->callback([&session, w] { session.run = [w] { return listRuns(*w); }; });
  CLI::App* out = verb("export", "Write all lines as CSV or JSON, by the name's ending");
  out->add_option("-o", w->file, "File to write")->required()->check(named);
  out->callback([&session, w] {
    session.run = [w]() -> Json {
      requireOther(*w);
      const auto entries = allOf(*toRead(*w));
      exportLedger(entries, w->file);
      return {{"records", entries.size()}};
    };
  });
  CLI::App* in = verb("import", "Take lines in; what is there already is passed over");
  in->add_option("FILE", w->file, "As export wrote it")->required();
  in->callback([&session, w] {
    session.run = [w]() -> Json {
      const auto entries = readExportedLedger(w->file);
      return {{"records", toWrite(*w)->add(entries)}};
    };
  });
  CLI::App* backup = verb("backup", "Put a whole copy by");
  backup->add_option("-o", w->file, "File to write")->required()->check(named);
  backup->callback([&session, w] {
    session.run = [w]() -> Json {
      requireOther(*w);
      return {{"records", backUpLedger(allOf(*toRead(*w)), w->file)}};
    };
  });
  CLI::App* check = verb("check", "Whether all of it can be read");
  check->callback(
      [&session, w] { session.run = [&session, w] { return checkStore(*w, session); }; });
}

}  // namespace rt::cli
