#include "proof.h"

#include <algorithm>

#include "face.h"

namespace rt {
namespace {

constexpr size_t kMostLetters = 3000;
constexpr int kCase = 1, kOther = 2;  // a slip of the case is nearer than another letter

std::u32string bare(const std::string& text) {
  std::u32string out;
  for (char32_t c : decodeUtf8(text))
    if (c != U' ' && c != U'\n' && c != U'\t' && c != U'\r' && c != 0xA0) out.push_back(c);
  if (out.size() > kMostLetters) out.resize(kMostLetters);
  return out;
}

/// Lower case of the letters that alphabets of Latin, Greek and Cyrillic script have in pairs.
char32_t lowered(char32_t c) {
  if ((c >= U'A' && c <= U'Z') || (c >= 0xC0 && c <= 0xDE && c != 0xD7)) return c + 32;
  if (c >= 0x100 && c <= 0x17F && c != 0x130 && c != 0x131 && c != 0x138 && c != 0x149 &&
      c != 0x178 && c != 0x17F) {
    const bool evenIsCapital = !((c >= 0x139 && c <= 0x148) || c >= 0x179);
    return (c % 2 == 0) == evenIsCapital ? c + 1 : c;
  }
  if ((c >= 0x391 && c <= 0x3A9) || (c >= 0x410 && c <= 0x42F)) return c + 32;
  return c;
}

/// The table of least costs, row by row.
class Table {
 public:
  Table(const std::u32string& a, const std::u32string& b)
      : a_(a), b_(b), wide_(b.size() + 1), cost_((a.size() + 1) * wide_) {
    for (size_t i = 0; i <= a.size(); ++i)
      for (size_t j = 0; j <= b.size(); ++j) at(i, j) = least(i, j);
  }
  int& at(size_t i, size_t j) { return cost_[i * wide_ + j]; }
  int change(size_t i, size_t j) const {
    if (a_[i] == b_[j]) return 0;
    return lowered(a_[i]) == lowered(b_[j]) ? kCase : 2 * kOther - 1;
  }
  bool swapped(size_t i, size_t j) const {
    return i > 1 && j > 1 && a_[i - 1] == b_[j - 2] && a_[i - 2] == b_[j - 1] &&
           a_[i - 1] != a_[i - 2];
  }

 private:
  int least(size_t i, size_t j) {
    if (i == 0 || j == 0) return static_cast<int>(i + j) * kOther;
    int best = std::min(
        {at(i - 1, j) + kOther, at(i, j - 1) + kOther, at(i - 1, j - 1) + change(i - 1, j - 1)});
    if (swapped(i, j)) best = std::min(best, at(i - 2, j - 2) + kOther);
    return best;
  }
  const std::u32string &a_, &b_;
  size_t wide_;
  std::vector<int> cost_;
};

ProofMark markOf(ProofKind kind, std::u32string ordered, std::u32string sewn, size_t place) {
  ProofMark m{kind, {}, {}, static_cast<int>(place)};
  for (char32_t c : ordered) m.ordered += encodeUtf8(c);
  for (char32_t c : sewn) m.sewn += encodeUtf8(c);
  return m;
}

}  // namespace

std::vector<ProofMark> proofOf(const std::string& ordered, const std::string& sewn) {
  const std::u32string a = bare(ordered), b = bare(sewn);
  Table table(a, b);
  std::vector<ProofMark> marks;
  size_t i = a.size(), j = b.size();
  while (i > 0 || j > 0) {
    const int here = table.at(i, j);
    if (i > 0 && j > 0 && here == table.at(i - 1, j - 1) + table.change(i - 1, j - 1)) {
      const int change = table.change(i - 1, j - 1);
      marks.push_back(markOf(change == 0       ? ProofKind::Same
                             : change == kCase ? ProofKind::WrongCase
                                               : ProofKind::Wrong,
                             {a[i - 1]}, {b[j - 1]}, i));
      --i, --j;
    } else if (table.swapped(i, j) && here == table.at(i - 2, j - 2) + kOther) {
      marks.push_back(markOf(ProofKind::Swapped, a.substr(i - 2, 2), b.substr(j - 2, 2), i - 1));
      i -= 2, j -= 2;
    } else if (j > 0 && here == table.at(i, j - 1) + kOther) {
      const bool doubled = (j > 1 && b[j - 1] == b[j - 2]) || (j < b.size() && b[j - 1] == b[j]);
      marks.push_back(
          markOf(doubled ? ProofKind::Doubled : ProofKind::Extra, {}, {b[j - 1]}, i + 1));
      --j;
    } else {
      marks.push_back(markOf(ProofKind::Missing, {a[i - 1]}, {}, i));
      --i;
    }
  }
  std::reverse(marks.begin(), marks.end());
  return marks;
}

}  // namespace rt
