// The verbs of `job FILE VERB …`: what they are given, and how they are added to the command.
#pragma once

#include "commands.h"
#include "making.h"

namespace rt::cli {

/// What the verbs are given; each reads its own.
struct JobWords {
  std::string file, path, text, face, fabric, name, kind = "keep-out", out, from, thread;
  int id = 0, place = 0;
  std::vector<int> ids;
  std::vector<double> box;
  std::optional<double> x, y, width, height, turn;
  int layers = 2;
  std::string cloth, cloth_as;
  bool to = false, free = false, on_purpose = false;
  // of the verbs that lay pieces out
  int columns = 2, rows = 1, count = 4, other = 0, block = 0, pieces = 1;
  double gap = 5, gap_down = 5, span = 360, band = 15;
  // of the verbs that tell what happened
  int hooping = 0, setting = 1;
  long rows_sewn = -1;
  bool again = false;
  bool alternate = false, mitred = false, by_height = false, baste = false;
  // of the verbs that change settings
  std::optional<int> needles;
  std::optional<double> hidden, overlap, centre_line;
  std::string item, backing, holding, topper, colours, travel, hoop, style, order, school,
      frame_turn;
  std::string size, names, anchor, edge, axis = "across", part = "colour", sewn_as,
                                         long_names = "sew-small";
};

using Edit = std::function<Job(Job, const JobWords&, const Bench&)>;

/// Loads, edits, saves whole, and answers with the job as it is then.
Json edited(const JobWords& words, const Bench& bench, const Edit& edit);

/// The verbs, added one by one to the command.
class Verbs {
 public:
  Verbs(CLI::App& command, Session& session, std::shared_ptr<JobWords> words)
      : command_(command), session_(session), w_(std::move(words)) {}

  CLI::App* ask(const char* verb, const char* what,
                std::function<Json(const JobWords&, const Bench&)> answer) {
    CLI::App* c = command_.add_subcommand(verb, what);
    c->add_flag("--json", session_.as_json, "Answer with one JSON object");
    c->callback([this_session = &session_, words = w_, answer] {
      this_session->run = [this_session, words, answer] {
        return answer(*words, this_session->bench());
      };
    });
    return c;
  }
  CLI::App* edit(const char* verb, const char* what, Edit change) {
    return ask(verb, what,
               [change](const JobWords& w, const Bench& b) { return edited(w, b, change); });
  }
  CLI::App* onPiece(const char* verb, const char* what, Edit change) {
    CLI::App* c = edit(verb, what, std::move(change));
    c->add_option("ID", w_->id, "Piece, as show lists them")->required();
    return c;
  }
  CLI::App* onPieces(const char* verb, const char* what, Edit change) {
    CLI::App* c = edit(verb, what, std::move(change));
    c->add_option("ID", w_->ids, "Pieces, as show lists them")->required();
    return c;
  }

 private:
  CLI::App& command_;
  Session& session_;
  std::shared_ptr<JobWords> w_;
};

/// Verbs of items: their places, texts that fit, shopping, a job once more.
void addItemVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words);
/// Verbs that change settings: brief, sewing order, plan, tolerance.
void addSettingsVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words);
/// Verbs from the plan to sewn cloth: plan, release, align, sewn, overrule, new-cloth.
void addRecordVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words);
/// Verbs that lay pieces out: anchors, repeats, borders, basting, parts, sizing as read.
void addLayoutVerbs(Verbs& verbs, const std::shared_ptr<JobWords>& words);

}  // namespace rt::cli
