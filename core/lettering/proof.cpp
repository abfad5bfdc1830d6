#include "proof.h"

#include <algorithm>

#include "face.h"

namespace rt {
namespace {

constexpr size_t kMostLetters = 3000;  // of what is left between what is alike at both ends
constexpr char32_t kSeam = static_cast<char32_t>(kProofSeam);
constexpr int kCase = 1, kOther = 2;  // a slip of the case is nearer than another letter

bool space(char32_t c) {
  return c == U' ' || c == U'\n' || c == U'\t' || c == U'\r' || c == 0xA0;
}

/// Letters with one space between words, however they were parted; none at either end.
std::u32string bare(const std::string& text) {
  std::u32string out;
  bool gap = false;
  for (char32_t c : decodeUtf8(text)) {
    if (space(c)) {
      gap = true;
    } else if (c == kSeam) {
      gap = false;
      if (!out.empty() && out.back() != kSeam) out.push_back(c);
    } else {
      if (gap && !out.empty() && out.back() != kSeam) out.push_back(U' ');
      gap = false;
      out.push_back(c);
    }
  }
  while (!out.empty() && out.back() == kSeam) out.pop_back();
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
    if (a_[i] == b_[j] || (a_[i] == U' ' && b_[j] == kSeam)) return 0;
    if (b_[j] == kSeam) return 2 * kOther + 1;  // it is never a letter
    return lowered(a_[i]) == lowered(b_[j]) ? kCase : 2 * kOther - 1;
  }
  /// Between two pieces there may be a space, or none.
  int extra(size_t j) const { return b_[j] == kSeam ? 0 : kOther; }
  bool swapped(size_t i, size_t j) const {
    return i > 1 && j > 1 && a_[i - 1] == b_[j - 2] && a_[i - 2] == b_[j - 1] &&
           a_[i - 1] != a_[i - 2];
  }

 private:
  int least(size_t i, size_t j) {
    if (j == 0) return static_cast<int>(i) * kOther;
    if (i == 0) return at(i, j - 1) + extra(j - 1);
    int best = std::min({at(i - 1, j) + kOther, at(i, j - 1) + extra(j - 1),
                         at(i - 1, j - 1) + change(i - 1, j - 1)});
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

namespace {

/// What is alike at both ends needs no table.
struct Ends {
  size_t front = 0, back = 0;
};
Ends alike(const std::u32string& a, const std::u32string& b) {
  Ends out;
  const size_t most = std::min(a.size(), b.size());
  while (out.back < most && a[a.size() - 1 - out.back] == b[b.size() - 1 - out.back]) ++out.back;
  while (out.front < most - out.back && a[out.front] == b[out.front]) ++out.front;
  return out;
}

/// Both whole texts, and what of each is left to compare: from `front` so many letters.
struct Middle {
  const std::u32string &ordered, &sewn;
  size_t front, a, b;
  /// Letters of the ordered text before a place, spaces not counted.
  size_t lettersTo(size_t end) const {
    return end - static_cast<size_t>(
                     std::count(ordered.begin(), ordered.begin() + static_cast<long>(end), U' '));
  }
  /// Whether an added letter is its neighbour once more.
  bool doubled(size_t j) const {
    return (j > 0 && sewn[j] == sewn[j - 1]) || (j + 1 < sewn.size() && sewn[j] == sewn[j + 1]);
  }
};

std::vector<ProofMark> compared(const Middle& m) {
  const std::u32string a = m.ordered.substr(m.front, m.a), b = m.sewn.substr(m.front, m.b);
  Table table(a, b);
  const auto place = [&](size_t i) { return m.lettersTo(m.front + i); };
  std::vector<ProofMark> marks;
  size_t i = a.size(), j = b.size();
  while (i > 0 || j > 0) {
    const int here = table.at(i, j);
    if (i > 0 && j > 0 && here == table.at(i - 1, j - 1) + table.change(i - 1, j - 1)) {
      const int change = table.change(i - 1, j - 1);
      const char32_t sewn = b[j - 1] == kSeam ? U' ' : b[j - 1];
      marks.push_back(markOf(change == 0       ? ProofKind::Same
                             : change == kCase ? ProofKind::WrongCase
                                               : ProofKind::Wrong,
                             {a[i - 1]}, {sewn}, place(i)));
      --i, --j;
    } else if (table.swapped(i, j) && here == table.at(i - 2, j - 2) + kOther) {
      marks.push_back(
          markOf(ProofKind::Swapped, a.substr(i - 2, 2), b.substr(j - 2, 2), place(i - 1)));
      i -= 2, j -= 2;
    } else if (j > 0 && here == table.at(i, j - 1) + table.extra(j - 1)) {
      if (b[j - 1] != kSeam)
        marks.push_back(markOf(m.doubled(m.front + j - 1) ? ProofKind::Doubled : ProofKind::Extra,
                               {}, {b[j - 1]}, place(i) + 1));
      --j;
    } else {
      marks.push_back(markOf(ProofKind::Missing, {a[i - 1]}, {}, place(i)));
      --i;
    }
  }
  std::reverse(marks.begin(), marks.end());
  return marks;
}

}  // namespace

std::vector<ProofMark> proofOf(const std::string& ordered, const std::string& sewn) {
  const std::u32string a = bare(ordered), b = bare(sewn);
  const Ends ends = alike(a, b);
  Middle middle{a, b, ends.front, a.size() - ends.front - ends.back,
                b.size() - ends.front - ends.back};
  std::vector<ProofMark> marks;
  const auto same = [&](size_t i) {
    marks.push_back(markOf(ProofKind::Same, {a[i]}, {a[i]}, middle.lettersTo(i + 1)));
  };
  for (size_t i = 0; i < ends.front; ++i) same(i);
  // so long and so unlike that nobody reads on: what is left over is said to differ, never to agree
  const bool cut = middle.a > kMostLetters || middle.b > kMostLetters;
  middle.a = std::min(middle.a, kMostLetters);
  middle.b = std::min(middle.b, kMostLetters);
  for (ProofMark& m : compared(middle)) marks.push_back(std::move(m));
  if (cut)
    marks.push_back(markOf(ProofKind::Wrong, U"…", U"…", middle.lettersTo(ends.front + middle.a)));
  for (size_t i = a.size() - ends.back; i < a.size(); ++i) same(i);
  return marks;
}

}  // namespace rt
