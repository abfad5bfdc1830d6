// A small CSV file: a heading line that names the columns, then rows.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace rt {

class CsvTable {
 public:
  /// Reads a whole file; `needed` are the columns that must be there, in any order among others.
  /// Lines that begin with # are comments, blank ones are passed over; a BOM and CRLF are read.
  /// Fields may stand in double quotes, line breaks in them too. Throws Error with the line.
  CsvTable(const std::filesystem::path& path, const std::vector<std::string>& needed);

  size_t rows() const { return rows_.size(); }
  bool has(const std::string& column) const;
  /// Throws Error with the line if the row is too short.
  const std::string& text(size_t row, const std::string& column) const;
  /// A finite number within ±100,000. Throws Error likewise.
  double number(size_t row, const std::string& column) const;
  /// File and line of a row, for errors.
  std::string where(size_t row) const;

 private:
  struct Row {
    size_t line;
    std::vector<std::string> fields;
  };
  std::string path_;
  std::vector<std::string> columns_;
  std::vector<Row> rows_;
};

}  // namespace rt
