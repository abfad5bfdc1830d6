// rapt-thimble-cli: the scriptable face.
#include <QCoreApplication>
#include <algorithm>
#include <cstdio>
#include <iostream>

#include "commands.h"
#include "data_folder.h"
#include "error.h"
#include "part_file.h"
#include "stitch_file.h"

namespace rt::cli {

CLI::App* command(CLI::App& app, Session& session, const std::string& name,
                  const std::string& what) {
  CLI::App* c = app.add_subcommand(name, what);
  c->add_flag("--json", session.as_json, "Answer with one JSON object");
  return c;
}

Pattern readPattern(const std::string& file) {
  ReadResult result = readStitchFile(file);
  for (const std::string& w : result.warnings) std::fprintf(stderr, "warning: %s\n", w.c_str());
  return std::move(result.pattern);
}

namespace {

enum ExitCode { kDone = 0, kBadInput = 1, kBadCommandLine = 2 };

int fail(std::string line, ExitCode code) {
  std::replace(line.begin(), line.end(), '\n', ' ');
  std::fprintf(stderr, "error: %s\n", line.c_str());
  return code;
}

int run(int argc, char** argv) {
  CLI::App app{"Computes what embroidery layouts need: size, density, hoopings, alignment"};
  app.require_subcommand(1);
  Session session;
  for (auto* add : {addInfo, addDensity, addResize, addDigitise, addFaces, addLetter, addArc,
                    addOrder, addJob, addPlan, addAlign, addTemplate, addSheets, addTags, addNest,
                    addExport, addQuote, addItems, addLedger})
    add(app, session);
  try {
    app.parse(argc, argv);
  } catch (const CLI::CallForHelp&) {
    std::cout << app.help("", CLI::AppFormatMode::Normal);
    return kDone;
  } catch (const CLI::ParseError& problem) {
    return fail(std::string(problem.what()) + " (command line); see --help", kBadCommandLine);
  }
  try {
    session.data = dataFolder();
    print(session.run(), session.as_json);
    std::cout.flush();
    if (!std::cout)
      return fail("the answer cannot be written (standard output); check the disk's room",
                  kBadInput);
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
