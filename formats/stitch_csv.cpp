#include "stitch_csv.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>
#include <unordered_map>

#include "error.h"
#include "file_io.h"
#include "file_limits.h"
#include "length.h"

namespace rt {
namespace {

constexpr std::string_view kHeader = "# rapt-stitches 1";

enum Column { kX, kY, kOp, kThread, kBlock, kPiece, kKind, kOther };

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t')) s.remove_suffix(1);
  return s;
}

/// Plain decimals of up to 15 digits are exact as digits over a power of ten; the rest goes to the
/// library.
bool parseNumber(std::string_view s, double& out) {
  static constexpr std::array<double, 16> kTen{1,   1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                               1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};
  if (!s.empty() && s.front() == '+') {
    s.remove_prefix(1);
    if (!s.empty() && s.front() == '-') return false;
  }
  const char* p = s.data();
  const char* const end = p + s.size();
  const bool minus = p < end && *p == '-';
  if (minus) ++p;
  uint64_t digits = 0;
  int count = 0, after = 0;
  const char* q = p;
  for (; q < end && static_cast<unsigned>(*q - '0') < 10; ++q, ++count)
    digits = digits * 10 + static_cast<unsigned>(*q - '0');
  if (q < end && *q == '.')
    for (++q; q < end && static_cast<unsigned>(*q - '0') < 10; ++q, ++count, ++after)
      digits = digits * 10 + static_cast<unsigned>(*q - '0');
  if (q == end && count > 0 && count <= 15) {
    const double value = static_cast<double>(digits) / kTen[static_cast<size_t>(after)];
    out = minus ? -value : value;
    return true;
  }
  const auto [last, error] = std::from_chars(s.data(), end, out);
  return error == std::errc() && last == end;
}

class Reader {
 public:
  Reader(std::string_view text, const std::string& where) : text_(text), where_(where) {}

  ReadResult run() {
    requireUtf8(text_, where_);
    if (text_.starts_with("\xEF\xBB\xBF")) text_.remove_prefix(3);
    readVersion();
    readColumns();
    out_.pattern.stitches.reserve(
        static_cast<size_t>(std::count(text_.begin(), text_.end(), '\n')) + 1);
    std::string_view line;
    while (nextLine(line)) readRow(line);
    if (!ended_) out_.warnings.push_back("there is no end row; the file may be cut short");
    return std::move(out_);
  }

 private:
  [[noreturn]] void fail(const std::string& what, const std::string& remedy) const {
    throw Error(what, where_ + " line " + std::to_string(number_), remedy);
  }

  bool rawLine(std::string_view& line) {
    if (text_.empty()) return false;
    const void* found = std::memchr(text_.data(), '\n', text_.size());
    const size_t n =
        found ? static_cast<size_t>(static_cast<const char*>(found) - text_.data()) : text_.size();
    line = text_.substr(0, n);
    text_.remove_prefix(std::min(n + 1, text_.size()));
    if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    ++number_;
    return true;
  }

  /// The next line that is neither blank nor a comment.
  bool nextLine(std::string_view& line) {
    while (rawLine(line)) {
      if (line.empty()) continue;
      if (line.front() == '#') {
        readComment(line);
        continue;
      }
      if (!trimmed(line).empty()) return true;
    }
    return false;
  }

  void readComment(std::string_view line) {
    line.remove_prefix(1);
    const size_t colon = line.find(':');
    if (colon == std::string_view::npos || trimmed(line.substr(0, colon)) != "title") return;
    out_.pattern.title = trimmed(line.substr(colon + 1));
  }

  void readVersion() {
    std::string_view line;
    if (!rawLine(line)) fail("the file is empty", "choose a stitch list");
    line = trimmed(line);
    if (line == kHeader) return;
    if (line.starts_with("# rapt-stitches"))
      fail("this is version \"" + std::string(trimmed(line.substr(15))).substr(0, 40) +
               "\" of the stitch list",
           "this program reads version 1");
    fail("this is not a stitch list", "its first line must be \"# rapt-stitches 1\"");
  }

  void readColumns() {
    std::string_view line;
    if (!nextLine(line)) fail("the column names are missing", "add the line x_mm,y_mm,op,thread");
    static constexpr std::array<std::string_view, 7> kNames{"x_mm",  "y_mm",  "op",  "thread",
                                                            "block", "piece", "kind"};
    while (true) {
      const size_t comma = line.find(',');
      const std::string_view field = trimmed(line.substr(0, comma));
      const auto it = std::find(kNames.begin(), kNames.end(), field);
      const auto column = static_cast<Column>(it - kNames.begin());
      if (column != kOther && std::find(columns_.begin(), columns_.end(), column) != columns_.end())
        fail("the column \"" + std::string(field) + "\" is there twice", "keep one of them");
      columns_.push_back(column);
      if (comma == std::string_view::npos) break;
      line.remove_prefix(comma + 1);
    }
    for (Column c : {kX, kY, kOp, kThread})
      if (std::find(columns_.begin(), columns_.end(), c) == columns_.end())
        fail("the column \"" + std::string(kNames[c]) + "\" is missing",
             "the columns x_mm,y_mm,op,thread are needed");
  }

  void readRow(std::string_view line) {
    if (ended_) fail("there are rows after the end row", "take them out, or move the end row");
    fields_.fill({});
    size_t at = 0, column = 0;
    const char* const base = line.data();
    for (; column < columns_.size(); ++column) {
      size_t end = at;  // fields are short: a plain loop beats a search
      while (end < line.size() && base[end] != ',') ++end;
      fields_[columns_[column]] = trimmed(std::string_view(base + at, end - at));
      if (end == line.size()) break;
      at = end + 1;
    }
    if (column + 1 < columns_.size() && neededAfter(column))
      fail("the row has " + std::to_string(column + 1) + " of " + std::to_string(columns_.size()) +
               " fields",
           "complete the row; the file may be cut short");
    Stitch s;
    s.op = readOp(fields_[kOp]);
    readPlace(s);
    readThread(s);
    readExtras(s);
    ended_ = s.op == Op::End;
    out_.pattern.stitches.push_back(s);
  }

  bool neededAfter(size_t last) const {
    return std::any_of(columns_.begin() + static_cast<long>(last) + 1, columns_.end(),
                       [](Column c) { return c <= kThread; });
  }

  Op readOp(std::string_view word) const {
    switch (word.size()) {
      case 6:
        if (word == "stitch") return Op::Stitch;
        break;
      case 4:
        if (word == "jump") return Op::Jump;
        if (word == "trim") return Op::Trim;
        if (word == "stop") return Op::Stop;
        break;
      case 3:
        if (word == "end") return Op::End;
        break;
      default:
        break;
    }
    fail("unknown op \"" + std::string(word.substr(0, 40)) + "\"",
         "use stitch, jump, trim, stop or end");
  }

  /// Trims, stops and the end may leave their place and thread out: they take those before.
  static bool needsPlace(Op op) { return op == Op::Stitch || op == Op::Jump; }

  void readPlace(Stitch& s) {
    s.at.x = readNumber(fields_[kX], "x_mm", last_.at.x, s.op);
    s.at.y = readNumber(fields_[kY], "y_mm", last_.at.y, s.op);
    last_.at = s.at;
  }

  double readNumber(std::string_view field, const char* column, double before, Op op) const {
    if (field.empty() && !needsPlace(op)) return before;
    double value = 0;
    if (!parseNumber(field, value))
      fail(std::string(column) + " \"" + std::string(field.substr(0, 40)) + "\" is not a number",
           "write a plain decimal");
    if (!(std::abs(value) <= kFarthest_mm))
      fail(std::string(column) + " is not within 100,000 mm",
           "write millimetres, finite and within that");
    return value;
  }

  void readThread(Stitch& s) {
    const std::string_view field = fields_[kThread];
    if (!field.empty() && field == lastThread_) {
      s.thread = last_.thread;
      return;
    }
    if (field.empty() && s.op != Op::Stitch && !out_.pattern.threads.empty()) {
      s.thread = last_.thread;
      return;
    }
    const std::optional<Colour> colour = Colour::parsed(field);
    if (!colour && !(field.empty() && s.op != Op::Stitch))
      fail("thread \"" + std::string(field.substr(0, 40)) + "\" is not a colour",
           "write it like #2f5d50");
    const uint32_t rgb = colour.value_or(Colour{}).rgb;
    if (out_.pattern.threads.empty() || out_.pattern.threads[last_.thread].rgb != rgb) {
      const auto [it, added] =
          threads_.try_emplace(rgb, static_cast<uint16_t>(out_.pattern.threads.size()));
      if (added) {
        if (out_.pattern.threads.size() >= 65535)
          fail("more than 65,535 thread colours", "split the stitch list");
        out_.pattern.threads.push_back({rgb});
      }
      last_.thread = it->second;
    }
    s.thread = last_.thread;
    lastThread_ = field;
  }

  void readExtras(Stitch& s) {
    if (const std::string_view block = fields_[kBlock]; block == lastBlock_) {
      s.block = last_.block;
    } else if (!block.empty()) {
      const auto [end, error] = std::from_chars(block.data(), block.data() + block.size(), s.block);
      if (error != std::errc() || end != block.data() + block.size())
        fail("block \"" + std::string(block.substr(0, 40)) + "\" is not a whole number",
             "number blocks from 0");
      last_.block = s.block;
      lastBlock_ = block;
    }
    if (const std::string_view piece = fields_[kPiece]; !piece.empty()) {
      if (out_.pattern.pieces[last_.piece] != piece) {
        const auto [it, added] = pieces_.try_emplace(
            std::string(piece), static_cast<uint16_t>(out_.pattern.pieces.size()));
        if (added) {
          if (out_.pattern.pieces.size() >= 65535)
            fail("more than 65,535 piece names", "split the stitch list");
          out_.pattern.pieces.emplace_back(piece);
        }
        last_.piece = it->second;
      }
      s.piece = last_.piece;
    }
    if (fields_[kKind] != lastKind_) {
      last_.kind = fields_[kKind].empty() ? Kind::Unknown : readKind(fields_[kKind]);
      lastKind_ = fields_[kKind];
    }
    s.kind = last_.kind;
  }

  Kind readKind(std::string_view word) const {
    for (int k = 1; k <= static_cast<int>(Kind::Mark); ++k)
      if (name(static_cast<Kind>(k)) == word) return static_cast<Kind>(k);
    fail("unknown kind \"" + std::string(word.substr(0, 40)) + "\"",
         "use run, satin, fill, underlay, tie, basting or mark");
  }

  std::string_view text_;
  const std::string& where_;
  ReadResult out_;
  std::vector<Column> columns_;
  std::array<std::string_view, 8> fields_;
  std::unordered_map<uint32_t, uint16_t> threads_;
  std::unordered_map<std::string, uint16_t> pieces_;
  // what the last row had: most rows have the same, and need not be read again
  Stitch last_;
  std::string_view lastThread_, lastBlock_, lastKind_;
  size_t number_ = 0;
  bool ended_ = false;
};

void appendFixed(std::string& out, double mm, Digits digits) {
  if (digits == Digits::AsRead && std::abs(mm * 100 - std::round(mm * 100)) > 1e-5) {
    out += formatNumber(mm, 6);
    return;
  }
  char buffer[32];
  const auto end =
      std::to_chars(buffer, buffer + sizeof buffer, mm, std::chars_format::fixed, 2).ptr;
  const std::string_view text(buffer, static_cast<size_t>(end - buffer));
  out += text == "-0.00" ? "0.00" : text;
}

}  // namespace

ReadResult readStitchCsv(std::string_view text, const std::string& where) {
  return Reader(text, where).run();
}

std::string writeStitchCsv(const Pattern& pattern, Digits digits) {
  std::string out(kHeader);
  out += '\n';
  if (!pattern.title.empty()) out += "# title: " + pattern.title + "\n";
  out += "x_mm,y_mm,op,thread,block,piece,kind\n";
  out.reserve(out.size() + pattern.stitches.size() * 48);
  std::vector<std::string> hex;
  for (Colour c : pattern.threads) hex.push_back(c.hex());
  auto row = [&](const Stitch& s) {
    appendFixed(out, s.at.x, digits);
    out += ',';
    appendFixed(out, s.at.y, digits);
    out += ',';
    out += name(s.op);
    out += ',';
    out += s.thread < hex.size() ? hex[s.thread] : "#000000";
    out += ',';
    out += std::to_string(s.block);
    out += ',';
    // commas cannot be quoted in this format
    for (char c : pattern.pieces[s.piece]) out += c == ',' || c == '\n' || c == '\r' ? ' ' : c;
    out += ',';
    out += name(s.kind);
    out += '\n';
  };
  for (const Stitch& s : pattern.stitches) row(s);
  if (pattern.stitches.empty() || pattern.stitches.back().op != Op::End) {
    Stitch end = pattern.stitches.empty() ? Stitch{} : pattern.stitches.back();
    end.op = Op::End;
    end.kind = Kind::Unknown;
    row(end);
  }
  return out;
}

}  // namespace rt
