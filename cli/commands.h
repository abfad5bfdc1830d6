// One function a command: adds it to the parser with its options and what it does.
#pragma once

#include <CLI/CLI.hpp>

#include "answers.h"
#include "fit.h"
#include "shop_values.h"

namespace rt::cli {

/// What all commands share. `run` is set by the command that was asked for.
struct Session {
  bool as_json = false;
  std::function<Json()> run;
  std::filesystem::path data;
  /// Folder of the shop's own values; empty: what ships alone.
  std::filesystem::path shop_folder;
  /// What the shop knows, over what ships; read once. Throws Error where what ships is damaged.
  const ShopValues& shop() const;
  const Bench& bench() const { return shop().bench; }
  mutable std::optional<ShopValues> opened = {};
  std::string failure;  ///< Set by a command whose answer is that something is wrong.
};

void addInfo(CLI::App& app, Session& session);
void addDensity(CLI::App& app, Session& session);
void addResize(CLI::App& app, Session& session);
void addDigitise(CLI::App& app, Session& session);
void addFaces(CLI::App& app, Session& session);
void addLetter(CLI::App& app, Session& session);
void addArc(CLI::App& app, Session& session);
void addOrder(CLI::App& app, Session& session);
void addJob(CLI::App& app, Session& session);
void addPlan(CLI::App& app, Session& session);
void addAlign(CLI::App& app, Session& session);
void addPlace(CLI::App& app, Session& session);
void addCloth(CLI::App& app, Session& session);
void addTemplate(CLI::App& app, Session& session);
void addSheets(CLI::App& app, Session& session);
void addTags(CLI::App& app, Session& session);
void addNest(CLI::App& app, Session& session);
void addExport(CLI::App& app, Session& session);
void addQuote(CLI::App& app, Session& session);
void addDay(CLI::App& app, Session& session);
void addItems(CLI::App& app, Session& session);
void addLedger(CLI::App& app, Session& session);

/// A stitch file of either kind; its warnings go to standard error. Throws Error.
Pattern readPattern(const std::string& file);

/// `rigid`, `similarity` or `affine`, as the parser has checked.
FitKind fitNamed(const std::string& name);

/// A check of options that name a file to write: one without a name is an Error. Empty otherwise.
std::string named(const std::string& file);

/// A command with `--json` and help in the house's words.
CLI::App* command(CLI::App& app, Session& session, const std::string& name,
                  const std::string& what);

}  // namespace rt::cli
