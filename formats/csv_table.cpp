#include "csv_table.h"

#include <algorithm>
#include <cmath>
#include <sstream>

#include "error.h"
#include "file_io.h"

namespace rt {
namespace {

constexpr double kLargest = 100000;
constexpr size_t kMostLines = 200;  // within one field's quotes

/// Fields of a line; a quote within quotes is written twice, one within bare words is a letter.
/// `open` says whether the last field's quotes are still open.
std::vector<std::string> split(const std::string& line, bool& open) {
  std::vector<std::string> out(1);
  std::vector<bool> quoted(1);
  bool within = false;
  for (size_t i = 0; i < line.size(); ++i) {
    const char c = line[i];
    if (within && c == '"' && i + 1 < line.size() && line[i + 1] == '"')
      out.back() += c, ++i;
    else if (c == '"' && (within || out.back().find_first_not_of(" \t") == std::string::npos)) {
      if (!within) out.back().clear(), quoted.back() = true;
      within = !within;
    } else if (c == ',' && !within)
      out.emplace_back(), quoted.push_back(false);
    else if (c != '\r')
      out.back() += c;
  }
  for (size_t i = 0; i < out.size(); ++i) {
    if (quoted[i]) continue;
    out[i].erase(0, out[i].find_first_not_of(" \t"));
    out[i].erase(out[i].find_last_not_of(" \t") + 1);
  }
  open = within;
  return out;
}

}  // namespace

CsvTable::CsvTable(const std::filesystem::path& path, const std::vector<std::string>& needed)
    : path_(path.string()) {
  const std::string text = readFile(path);
  requireUtf8(text, path_);
  std::istringstream in(text);
  std::string line;
  size_t read = 0;
  while (std::getline(in, line)) {
    const size_t number = ++read;
    if (number == 1 && line.starts_with("\xEF\xBB\xBF")) line.erase(0, 3);
    if (line.empty() || line == "\r" || line[0] == '#') continue;
    bool open = false;
    std::vector<std::string> fields = split(line, open);
    // quotes that are still open at the end of a line hold the line break
    for (std::string more; open && std::getline(in, more); ++read)
      if (read - number < kMostLines) fields = split(line += "\n" + more, open);
    if (open)
      throw Error("a quote is opened and not closed", path_ + " line " + std::to_string(number),
                  "close it, or write the field without quotes");
    if (!columns_.empty()) {
      rows_.push_back({number, std::move(fields)});
      continue;
    }
    columns_ = std::move(fields);
    for (const std::string& c : needed)
      if (std::find(columns_.begin(), columns_.end(), c) == columns_.end()) {
        std::string all;
        for (const std::string& n : needed) all += (all.empty() ? "" : ",") + n;
        throw Error("the column \"" + c + "\" is missing",
                    path_ + " line " + std::to_string(number), "begin with " + all);
      }
  }
  if (columns_.empty())
    throw Error("the file is empty", path_, "begin with a line that names the columns");
}

bool CsvTable::has(const std::string& column) const {
  return std::find(columns_.begin(), columns_.end(), column) != columns_.end();
}

std::string CsvTable::where(size_t row) const {
  return path_ + " line " + std::to_string(rows_[row].line);
}

const std::string& CsvTable::text(size_t row, const std::string& column) const {
  const auto c =
      static_cast<size_t>(std::find(columns_.begin(), columns_.end(), column) - columns_.begin());
  if (c >= rows_[row].fields.size())
    throw Error("the row has no " + column, where(row), "complete the row");
  return rows_[row].fields[c];
}

double CsvTable::number(size_t row, const std::string& column) const {
  const std::string& field = text(row, column);
  size_t used = 0;
  double value = NAN;
  try {
    value = std::stod(field, &used);
  } catch (const std::exception&) {
    used = 0;
  }
  if (field.empty() || used != field.size() || !(std::abs(value) <= kLargest))
    throw Error("\"" + field.substr(0, 40) + "\" is not a number (" + column + ")", where(row),
                "write a plain decimal within 100,000");
  return value;
}

}  // namespace rt
