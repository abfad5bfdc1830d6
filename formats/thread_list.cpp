#include "thread_list.h"

#include <algorithm>
#include <charconv>
#include <sstream>

#include "error.h"
#include "file_io.h"
#include "length.h"

namespace rt {
namespace {

constexpr size_t kMostThreads = 20000;

std::string trimmed(std::string s) {
  const auto space = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
  while (!s.empty() && space(s.back())) s.pop_back();
  s.erase(s.begin(), std::find_if_not(s.begin(), s.end(), space));
  return s;
}

std::vector<std::string> cells(const std::string& line) {
  std::vector<std::string> out;
  std::istringstream in(line);
  for (std::string cell; std::getline(in, cell, ',');) out.push_back(trimmed(cell));
  return out;
}

Colour colourFrom(const std::string& text, const std::string& where) {
  if (const std::optional<Colour> colour = Colour::parsed(text)) return *colour;
  throw Error("\"" + text + "\" is not a colour", where, "write it as #rrggbb");
}

int columnOf(const std::vector<std::string>& header, const char* name) {
  const auto at = std::find(header.begin(), header.end(), name);
  return at == header.end() ? -1 : static_cast<int>(at - header.begin());
}

}  // namespace

std::vector<ShelfThread> readThreads(const std::filesystem::path& file) {
  std::string text = readFile(file);
  if (text.rfind("\xEF\xBB\xBF", 0) == 0) text.erase(0, 3);
  std::istringstream in(text);
  std::vector<ShelfThread> out;
  std::vector<std::string> header;
  size_t number = 0;
  for (std::string line; std::getline(in, line);) {
    const std::string where = file.string() + " line " + std::to_string(++number);
    if (trimmed(line).empty() || (header.empty() && line[0] == '#')) continue;
    const std::vector<std::string> row = cells(line);
    if (header.empty()) {
      header = row;
      if (columnOf(header, "colour") < 0)
        throw Error("the thread list has no column \"colour\"", where,
                    "begin it with a line like code,name,colour");
      continue;
    }
    auto cell = [&](const char* name) {
      const int i = columnOf(header, name);
      return i >= 0 && i < static_cast<int>(row.size()) ? row[static_cast<size_t>(i)]
                                                        : std::string();
    };
    ShelfThread t{cell("code"), cell("name"), colourFrom(cell("colour"), where), 0};
    const std::string metres = cell("metres");
    if (!metres.empty()) {
      const auto r = std::from_chars(metres.data(), metres.data() + metres.size(), t.metres);
      if (r.ec != std::errc() || !(t.metres >= 0) || !(t.metres <= 1e6))
        throw Error("\"" + metres + "\" is not a length in metres", where, "write a plain number");
    }
    out.push_back(std::move(t));
    if (out.size() > kMostThreads)
      throw Error("the thread list has over 20,000 threads", where, "shorten it");
  }
  if (out.empty())
    throw Error("the thread list holds no thread", file.string(),
                "add a line like QM01,Reed,#5a6e2c");
  return out;
}

std::string threadsCsv(const std::vector<ShelfThread>& shelf) {
  std::string out = "code,name,colour,metres\n";
  for (const ShelfThread& t : shelf)
    out += t.code + "," + t.name + "," + t.colour.hex() + "," + formatNumber(t.metres, 1) + "\n";
  return out;
}

}  // namespace rt
