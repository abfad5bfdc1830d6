#include "batch.h"

#include <algorithm>

#include "compose_actions.h"
#include "error.h"
#include "faces.h"
#include "items.h"
#include "length.h"
#include "shelf.h"

namespace rt {
namespace {

constexpr int kMostPieces = 500;
constexpr double kBetween_mm = 40;  // of neighbouring frames on the drawn cloth

class BatchMaker {
 public:
  BatchMaker(const Job& one, const BatchWish& wish, const Bench& bench, NamedCopies* known)
      : one_(one),
        wish_(wish),
        bench_(bench),
        hoop_(hoopFor(bench.shop.hoops, wish.hoop)),
        known_(known ? *known : own_) {
    box_ = threadBounds(laidOut(one.pieces));
    if (box_.empty())
      throw Error("the layout holds no thread", "batch", "lay something on the cloth first");
    const int n = wish.names.empty() ? wish.count : static_cast<int>(wish.names.size());
    if (n < 1 || n > kMostPieces)
      throw Error("a batch of " + std::to_string(n) + " pieces is none", "batch",
                  "give 1 to " + std::to_string(kMostPieces));
    batch_.pieces = n;
    for (const Piece& p : one.pieces)
      if (text_ == 0 && std::holds_alternative<TextSource>(p.source)) text_ = p.id;
    if (!wish.names.empty() && text_ == 0)
      throw Error("the layout has no lettering for the names", "batch",
                  "add a line of lettering where the name shall stand");
    setNames();
    if (wish.baste) box_ = box_.grown(bench.shop.practice.baste_away_mm);
  }

  Batch run() {
    const std::vector<NestPlace> places =
        nestEqual({one_.title, box_.width(), box_.height(), 1}, hoop_, {wish_.gap_mm, wish_.turn});
    const int per = batch_.per_hooping = static_cast<int>(places.size());
    batch_.hoopings = (batch_.pieces + per - 1) / per;
    batch_.free_places = batch_.hoopings * per - batch_.pieces;
    batch_.cloth_mm2 = clothOf_mm2(hoop_) * batch_.hoopings;
    batch_.field_use = fieldUse(places, hoop_);
    begin();
    for (int i = 0; i < batch_.pieces; ++i)
      lay(named(i), places[static_cast<size_t>(i % per)], originOf(i / per), i);
    if (wish_.baste)  // all of them before the first piece, the first one first
      batch_.job.pieces.insert(batch_.job.pieces.begin(), basting_.begin(), basting_.end());
    for (int h = 0; h < batch_.hoopings; ++h)
      batch_.job.plan_settings.pinned.push_back({hoop_.id, 0, originOf(h)});
    return std::move(batch_);
  }

 private:
  /// Every name is set before anything is nested: the largest piece says how many a frame holds.
  void setNames() {
    if (wish_.names.empty()) return;
    if (!(known_.one == one_)) known_ = {one_, {}};
    const double least = leastHeight();
    for (const std::string& name : wish_.names) {
      std::string text = name;
      if (const double high = heightOf(copyOf(text)); high < least) {
        if (wish_.long_names == BatchWish::Long::LeaveOut) {
          batch_.left_out.push_back(name);
          continue;
        }
        if (wish_.long_names == BatchWish::Long::TwoLines) text = inTwoLines(name);
        if (const double now = heightOf(copyOf(text)); now < least)
          batch_.small.push_back({name, now, least});
      }
      texts_.push_back(text);
      names_.push_back(name);
      box_.add(threadBounds(laidOut(copyOf(text).pieces)));
    }
    batch_.pieces = static_cast<int>(names_.size());
    if (names_.empty())
      throw Error("no name is left: each comes out too small for its place", "batch",
                  "enlarge the place, or sew them in two lines");
  }

  const Job& copyOf(const std::string& text) {
    const auto found = known_.copies.find(text);
    if (found != known_.copies.end()) return found->second;
    return known_.copies.emplace(text, actions::fitted(one_, text_, text, bench_)).first->second;
  }
  double heightOf(const Job& copy) const {
    return std::get<TextSource>(actions::pieceOf(copy, text_).source).height_mm;
  }
  /// The least height of the text's face; what the layout itself is lettered at where that is less.
  double leastHeight() const {
    const auto& source = std::get<TextSource>(actions::pieceOf(one_, text_).source);
    for (const Face& face : listFaces(bench_.data))
      if (face.id == source.face) return std::min(face.min_height_mm, source.height_mm);
    return 0;
  }
  /// Parted at the space nearest to the middle; as it is without one.
  static std::string inTwoLines(const std::string& name) {
    size_t best = std::string::npos;
    const auto off = [&](size_t at) {
      return std::abs(2 * static_cast<double>(at) - static_cast<double>(name.size()));
    };
    for (size_t at = name.find(' '); at != std::string::npos; at = name.find(' ', at + 1))
      if (best == std::string::npos || off(at) < off(best)) best = at;
    if (best == std::string::npos) return name;
    std::string out = name;
    out[best] = '\n';
    return out;
  }

  void begin() {
    Job& job = batch_.job;
    job.title = one_.title + ", " + std::to_string(batch_.pieces) + " pieces";
    job.brief = one_.brief;
    job.brief.order_text.clear();
    job.tolerance_mm = one_.tolerance_mm;
    job.sequence.needles = one_.sequence.needles;
    job.sequence.fewest_colours = true;
    job.plan_settings = one_.plan_settings;
    job.plan_settings.hoop = wish_.hoop;
    job.plan_settings.more_hoops.clear();
    job.plan_settings.keep.clear();
    job.plan_settings.cuts.clear();
    job.plan_settings.pinned.clear();
    const Point last = originOf(columns() * rows() - 1);
    const Box frame = clampedBox(hoop_, 0);
    job.brief.place_width_mm = 2 * std::abs(last.x) + frame.width();
    job.brief.place_height_mm = 2 * std::abs(last.y) + frame.height();
  }

  int columns() const {
    return static_cast<int>(std::ceil(std::sqrt(static_cast<double>(batch_.hoopings))));
  }
  int rows() const { return (batch_.hoopings + columns() - 1) / columns(); }

  /// Of a hooping's frame on the drawn cloth: row by row about the cross.
  Point originOf(int hooping) const {
    const Box frame = clampedBox(hoop_, 0);
    return {(hooping % columns() - (columns() - 1) / 2.0) * (frame.width() + kBetween_mm),
            (hooping / columns() - (rows() - 1) / 2.0) * (frame.height() + kBetween_mm)};
  }

  /// The layout with the i-th name in it.
  const Job& named(int i) {
    return wish_.names.empty() ? one_ : copyOf(texts_[static_cast<size_t>(i)]);
  }

  void lay(const Job& copy, const NestPlace& place, Point origin, int i) {
    Job& job = batch_.job;
    const Point centre = box_.centre(), to = place.box.centre() + origin;
    const double turn = place.turned ? 90 : 0;
    const Transform by =
        Transform::moving(to) * Transform::turning(turn) * Transform::moving(Point{} - centre);
    for (Piece p : copy.pieces) {
      p.id = job.next_piece_id++;
      p.group = i + 1;
      p.place.at = by(p.place.at);
      p.place.turn_deg = wrapDegrees(p.place.turn_deg + turn);
      job.pieces.push_back(std::move(p));
    }
    std::string& order = job.brief.order_text;
    const std::string& own =
        wish_.names.empty() ? one_.brief.order_text : names_[static_cast<size_t>(i)];
    if (!own.empty()) order += (order.empty() ? "" : "\n") + own;
    if (!wish_.baste) return;
    const ShopPractice& practice = bench_.shop.practice;
    Piece line = rt::pieceOf(bastingAround(place.box.moved(origin), practice.baste_stitch_mm,
                                           {0xb0b0a8}, practice.sewing.ties),
                             "basting " + std::to_string(i + 1));
    line.id = job.next_piece_id++;
    line.group = i + 1;
    basting_.push_back(std::move(line));
  }

  const Job& one_;
  const BatchWish& wish_;
  const Bench& bench_;
  const Hoop hoop_;
  NamedCopies own_;
  NamedCopies& known_;
  std::vector<std::string> texts_, names_;  // as set, and as ordered; those left out are in neither
  Box box_;                                 // of one piece, its basting in it
  int text_ = 0;
  std::vector<Piece> basting_;
  Batch batch_;
};

std::string trimmed(const std::string& text) {
  const size_t from = text.find_first_not_of(" \t\r\"");
  const size_t to = text.find_last_not_of(" \t\r\"");
  return from == std::string::npos ? "" : text.substr(from, to - from + 1);
}

std::vector<std::string> cellsOf(const std::string& line) {
  std::vector<std::string> out{""};
  for (char c : line) {
    if (c == ',' || c == ';')
      out.emplace_back();
    else
      out.back() += c;
  }
  for (std::string& field : out) field = trimmed(field);
  return out;
}

}  // namespace

Batch batchOf(const Job& one, const BatchWish& wish, const Bench& bench, NamedCopies* known) {
  return BatchMaker(one, wish, bench, known).run();
}

std::vector<std::string> namesFrom(const std::string& text, int* blank) {
  std::vector<std::string> out;
  size_t column = 0;
  bool first = true, table = false;
  for (size_t from = 0; from < text.size();) {
    const size_t end = std::min(text.find('\n', from), text.size());
    const std::string line = trimmed(text.substr(from, end - from));
    from = end + 1;
    if (line.empty() && from < text.size() && blank) ++*blank;
    if (line.empty() || line[0] == '#') continue;
    const std::vector<std::string> fields = cellsOf(line);
    if (first) {
      first = false;
      const auto at = std::find(fields.begin(), fields.end(), "name");
      if (at != fields.end()) {
        table = true;
        column = static_cast<size_t>(at - fields.begin());
        continue;
      }
    }
    // a bare list keeps its commas: they belong to the text
    const std::string name = !table ? line : column < fields.size() ? fields[column] : "";
    if (!name.empty()) out.push_back(name);
  }
  if (out.empty()) throw Error("there is no name in the list", "names", "write one a line");
  if (out.size() > static_cast<size_t>(kMostPieces))
    throw Error("the list holds " + std::to_string(out.size()) + " names", "names",
                "give " + std::to_string(kMostPieces) + " at most");
  return out;
}

}  // namespace rt
