// rapt-thimble-cli: the scriptable face.
#include <QCoreApplication>
#include <algorithm>
#include <cstdio>
#include <iostream>

#include "commands.h"
#include "data_folder.h"
#include "error.h"
#include "ledger_files.h"
#include "part_file.h"
#include "stitch_file.h"

namespace rt::cli {

const ShopValues& Session::shop() const {
  if (!opened) {
    opened = openShop(openBench(), shop_folder);
    for (const std::string& problem : opened->problems)
      std::fprintf(stderr, "warning: %s\n", problem.c_str());
  }
  return *opened;
}

CLI::App* command(CLI::App& app, Session& session, const std::string& name,
                  const std::string& what) {
  CLI::App* c = app.add_subcommand(name, what);
  c->add_flag("--json", session.as_json, "Answer with one JSON object");
  return c;
}

std::string named(const std::string& file) {
  if (file.empty()) throw Error("the file has no name", "name of the file to write", "give a name");
  return {};
}

FitKind fitNamed(const std::string& name) {
  return name == "affine"       ? FitKind::Affine
         : name == "similarity" ? FitKind::Similarity
                                : FitKind::Rigid;
}

Pattern readPattern(const std::string& file) {
  ReadResult result = readStitchFile(file);
  for (const std::string& w : result.warnings) std::fprintf(stderr, "warning: %s\n", w.c_str());
  return std::move(result.pattern);
}

namespace {

enum ExitCode { kDone = 0, kBadInput = 1, kBadCommandLine = 2 };

/// `--shop DIR` and `--shipped`, wherever they stand: whose values judge, plan and price.
std::vector<std::string> withoutShop(int argc, char** argv, Session& session) {
  std::vector<std::string> rest;
  session.shop_folder = ownShopFolder();
  for (int i = 1; i < argc; ++i) {
    const std::string word = argv[i];
    if (word == "--shipped")
      session.shop_folder.clear();
    else if (word == "--shop" && i + 1 < argc)
      session.shop_folder = argv[++i];
    else if (word.starts_with("--shop="))
      session.shop_folder = word.substr(7);
    else
      rest.push_back(word);
  }
  if (!session.shop_folder.empty() && session.shop_folder != ownShopFolder() &&
      !std::filesystem::is_directory(session.shop_folder))
    throw Error("there is no such shop folder", session.shop_folder.string(),
                "give the folder that holds shop-limits.json, frames.json and the like");
  std::reverse(rest.begin(), rest.end());  // as the parser takes them
  return rest;
}

int fail(std::string line, ExitCode code) {
  std::replace(line.begin(), line.end(), '\n', ' ');
  std::fprintf(stderr, "error: %s\n", line.c_str());
  return code;
}

bool knows(const CLI::App& app, const std::string& name) {
  const auto all = app.get_subcommands([](const CLI::App*) { return true; });
  return std::any_of(all.begin(), all.end(),
                     [&](const CLI::App* c) { return c->check_name(name); });
}

int written() {
  std::cout.flush();
  if (std::cout) return kDone;
  return fail("the answer cannot be written (standard output); check the disk's room", kBadInput);
}

int run(int argc, char** argv) {
  CLI::App app{"Computes what embroidery layouts need: size, density, hoopings, alignment"};
  app.require_subcommand(1);
  Session session;
  for (auto* add :
       {addInfo,  addDensity, addResize, addDigitise, addFaces,  addLetter, addArc,  addOrder,
        addJob,   addPlan,    addAlign,  addTemplate, addSheets, addTags,   addNest, addExport,
        addQuote, addDay,     addItems,  addLedger,   addPlace,  addCloth})
    add(app, session);
  app.footer(
      "Every command takes --shop DIR (the folder of a shop's own limits, frames, threads and\n"
      "rates; your own where nothing is said) or --shipped (what ships alone).");
  app.set_version_flag("--version", std::string(RT_VERSION));
  if (argc > 1 && argv[1][0] != '-' && !knows(app, argv[1]))
    return fail("there is no command \"" + std::string(argv[1]).substr(0, 60) +
                    "\" (command line); see --help",
                kBadCommandLine);
  try {
    app.name(argv[0]);
    app.parse(withoutShop(argc, argv, session));
  } catch (const CLI::CallForHelp&) {
    std::cout << app.help("", CLI::AppFormatMode::Normal);
    return written();
  } catch (const CLI::CallForVersion&) {
    std::cout << "rapt-thimble-cli " << RT_VERSION << "\n";
    return written();
  } catch (const Error& problem) {  // a value that cannot be, seen while it is read
    return fail(problem.what(), kBadInput);
  } catch (const CLI::ParseError& problem) {
    return fail(std::string(problem.what()) + " (command line); see --help", kBadCommandLine);
  }
  try {
    session.data = dataFolder();
    print(session.run(), session.as_json);
    if (const int code = written(); code != kDone) return code;
    if (!session.failure.empty()) return fail(session.failure, kBadInput);
  } catch (const Error& problem) {
    return fail(problem.what(), kBadInput);
  } catch (const std::bad_alloc&) {
    return fail("the memory does not suffice; split the file", kBadInput);
  } catch (const std::exception& problem) {
    return fail(std::string("unexpected: ") + problem.what() + "; please report this", kBadInput);
  }
  return kDone;
}

}  // namespace
}  // namespace rt::cli

int main(int argc, char** argv) {
  rt::removePartsOnSignals();
  QCoreApplication app(argc, argv);  // job files go through Qt's SQL driver
  return rt::cli::run(argc, argv);
}
