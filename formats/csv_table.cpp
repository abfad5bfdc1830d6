#include "csv_table.h"

#include <algorithm>
#include <cmath>
#include <string_view>

#include "error.h"
#include "file_io.h"

namespace rt {
namespace {

constexpr double kLargest = 100000;
/// Reads a text row by row. A quote within quotes is written twice; one within bare words is a
/// letter; quotes hold commas and line breaks.
class RowReader {
 public:
  RowReader(std::string_view text, const std::string& path) : text_(text), path_(path) {
    if (text_.starts_with("\xEF\xBB\xBF")) at_ = 3;
  }
  size_t line() const { return began_; }
  /// False at the end. Comments and blank lines are passed over.
  bool next(std::vector<std::string>& fields) {
    while (at_ < text_.size()) {
      began_ = line_;
      if (text_[at_] == '#' || text_[at_] == '\n' || text_.substr(at_, 2) == "\r\n") {
        skipLine();
        continue;
      }
      fields.clear();
      while (readField(fields)) {
      }
      return true;
    }
    return false;
  }

 private:
  void skipLine() {
    const size_t end = text_.find('\n', at_);
    at_ = end == std::string_view::npos ? text_.size() : end + 1;
    ++line_;
  }
  /// True where another field follows in the row.
  bool readField(std::vector<std::string>& fields) {
    std::string out;
    bool quoted = false;
    while (at_ < text_.size() && text_[at_] != ',' && text_[at_] != '\n') {
      if (text_[at_] == '"' && out.find_first_not_of(" \t") == std::string::npos && !quoted) {
        out.clear();
        quoted = true;
        readQuoted(out);
      } else if (text_[at_] == '\r' || (quoted && (text_[at_] == ' ' || text_[at_] == '\t'))) {
        ++at_;
      } else {
        out += text_[at_++];
      }
    }
    if (!quoted) {
      out.erase(0, out.find_first_not_of(" \t"));
      out.erase(out.find_last_not_of(" \t") + 1);
    }
    fields.push_back(std::move(out));
    if (at_ >= text_.size()) return false;
    const bool more = text_[at_++] == ',';
    if (!more) ++line_;
    return more;
  }
  void readQuoted(std::string& out) {
    for (++at_; at_ < text_.size(); ++at_) {
      const char c = text_[at_];
      if (c == '"') {
        if (at_ + 1 >= text_.size() || text_[at_ + 1] != '"') {
          ++at_;
          return;
        }
        ++at_;
      }
      if (c == '\n') ++line_;
      out += c;
    }
    throw Error("a quote is opened and not closed", path_ + " line " + std::to_string(began_),
                "close it, or write the field without quotes");
  }

  std::string_view text_;
  const std::string& path_;
  size_t at_ = 0, line_ = 1, began_ = 1;
};

void requireColumns(const std::vector<std::string>& columns, const std::vector<std::string>& needed,
                    const std::string& where) {
  for (const std::string& c : needed)
    if (std::find(columns.begin(), columns.end(), c) == columns.end()) {
      std::string all;
      for (const std::string& n : needed) all += (all.empty() ? "" : ",") + n;
      throw Error("the column \"" + c + "\" is missing", where, "begin with " + all);
    }
}

}  // namespace

CsvTable::CsvTable(const std::filesystem::path& path, const std::vector<std::string>& needed)
    : path_(path.string()) {
  const std::string text = readFile(path);
  requireUtf8(text, path_);
  RowReader reader(text, path_);
  for (std::vector<std::string> fields; reader.next(fields);) {
    if (!columns_.empty()) {
      rows_.push_back({reader.line(), std::move(fields)});
      continue;
    }
    columns_ = std::move(fields);
    requireColumns(columns_, needed, path_ + " line " + std::to_string(reader.line()));
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
