#include "photo_marks.h"

#include <algorithm>
#include <map>

#include "cross_finder.h"
#include "error.h"
#include "length.h"
#include "sewn_line.h"
#include "side_by_side.h"

namespace rt {
namespace {

constexpr double kWorstTag_px = 1.2;      // a hoop tag farther off is not where it is said to be
constexpr double kLeastError_mm = 0.003;  // what no picture is surer of
constexpr double kStraight = 0.001;       // bend by which a tag's own lines are as good as straight
constexpr double kLeastLine_px = 0.006;   // what no line is surer of
constexpr double kRoughPx = 40, kFreeReach_mm = 18, kKnownReach_mm = 6;
constexpr double kClick_px = 1.5;  // one sigma of a place pointed at under the magnifier

class PhotoAligner {
 public:
  PhotoAligner(const Photo& photo, const PhotoSetup& setup)
      : photo_(photo), setup_(setup), seen_(findTags(photo)) {}

  PhotoReading run() {
    std::optional<Error> problem;
    try {
      findPlane();
      findClothTags();
      findLines();
      findCrosses();
      if (out_.marks.empty()) throw noMark();
      decide();
    } catch (const Error& nothing) {
      problem = nothing;
    }
    return {std::move(out_), problem};
  }

 private:
  std::vector<const SeenTag*> allOf(int id) const {
    std::vector<const SeenTag*> out;
    for (const SeenTag& t : seen_)
      if (t.id == id) out.push_back(&t);
    return out;
  }

  void findPlane() {
    struct Held {
      int id;
      std::vector<Plane::Sight> sights;
    };
    std::vector<Held> held;
    for (const TagPlace& place : setup_.hoop_tags) {
      const auto all = allOf(place.id);
      if (all.size() > 1) missing_.push_back({std::to_string(place.id), LeftOut::Why::SeenTwice});
      if (all.size() != 1) continue;
      Held h{place.id, {}};
      const auto corners = cornersOf(place, setup_.hoop_tag_mm);
      for (size_t c = 0; c < 4; ++c)
        h.sights.push_back({corners[c], all[0]->corners[c], all[0]->corner_px});
      held.push_back(std::move(h));
    }
    if (held.empty() && setup_.guides.size() >= 4) return takeGuides();
    if (held.empty()) {
      if (seen_.empty())
        throw Error("no tag is seen", "photo",
                    "take it nearer, sharper and in even light, with the hoop's tags in it");
      throw Error("none of the hoop's tags is seen, but other tags are", "photo",
                  "take the set-up of the hoop that is in the photo");
    }
    const auto fit = [&](size_t without) {
      std::vector<Plane::Sight> sights;
      for (size_t i = 0; i < held.size(); ++i)
        if (i != without) sights.insert(sights.end(), held[i].sights.begin(), held[i].sights.end());
      return Plane(sights, photo_.width(), photo_.height(), 8, setup_.lens);
    };
    Plane plane = fit(held.size());
    // a tag that was moved or is listed at a wrong place stands out when it alone is left out
    for (int round = 0; round < 2 && held.size() >= 4 && plane.rms_px() > kWorstTag_px; ++round) {
      size_t worst = held.size();
      double least = plane.rms_px() * 0.5;
      for (size_t i = 0; i < held.size(); ++i)
        if (const double rms = fit(i).rms_px(); rms < least) least = rms, worst = i;
      if (worst == held.size()) break;
      missing_.push_back({std::to_string(held[worst].id), LeftOut::Why::OffItsList});
      held.erase(held.begin() + static_cast<long>(worst));
      plane = fit(held.size());
    }
    const Bend bend = plane.lens().bend;
    if (!bent_ && std::abs(bend.k1) + std::abs(bend.k2) > kStraight) {
      bent_ = true;
      refineTags(photo_, bend, seen_);
      missing_.clear();
      return findPlane();
    }
    for (const Held& h : held) out_.plane_tags.push_back(h.id);
    out_.rms_px = plane.rms_px();
    out_.k1 = plane.k1();
    if (held.size() < 4) notePlane(AlignmentNote::What::FewFrameTags, held.size());
    out_.plane = plane.lowered(setup_.tag_height_mm);
  }

  /// The plane by what a person pointed at.
  void takeGuides() {
    std::vector<Plane::Sight> sights;
    for (const GuideClick& g : setup_.guides) sights.push_back({g.hoop, g.px, kClick_px});
    out_.plane = Plane(sights, photo_.width(), photo_.height(), 4, setup_.lens);
    out_.rms_px = out_.plane->rms_px();
    out_.k1 = out_.plane->k1();
    notePlane(AlignmentNote::What::FrameByHand, setup_.guides.size());
  }

  void notePlane(AlignmentNote::What what, size_t count) {
    AlignmentNote note;
    note.what = what, note.value = static_cast<double>(count);
    notes_.push_back(note);
  }

  /// A mark with what its own picture leaves open, and what the plane leaves open for all of them.
  Mark markAt(const std::string& id, Point layout, Point hoop, double own_mm) const {
    Mark m{id, layout, hoop, 0, out_.plane->errorsAt(hoop), {}};
    double square = own_mm * own_mm + kLeastError_mm * kLeastError_mm;
    for (Point p : m.shared) square += dot(p, p) / 2;
    m.error_mm = std::sqrt(square);
    return m;
  }

  void findClothTags() {
    for (const TagPlace& place : setup_.cloth_tags) {
      const std::string id = std::to_string(place.id);
      const auto all = allOf(place.id);
      if (all.empty()) missing_.push_back({id, LeftOut::Why::NotFound});
      if (all.size() > 1) missing_.push_back({id, LeftOut::Why::SeenTwice});
      if (all.size() != 1) continue;
      const SeenTag& tag = *all[0];
      Point centre;
      std::array<Point, 4> corners;
      for (size_t c = 0; c < 4; ++c) {
        corners[c] = out_.plane->toPlane(tag.corners[c]);
        centre = centre + corners[c] * 0.25;
      }
      const double px_mm = out_.plane->mmPerPixel(centre);
      const Mark m =
          markAt(id, place.at, centre, std::max(tag.corner_px, out_.plane->noise_px()) / 2 * px_mm);
      tags_.push_back({place, corners, std::max(tag.corner_px, out_.plane->noise_px()) * px_mm});
      out_.marks.push_back({m, tag.centre});
    }
  }

  /// Where the layout lies by what is known so far; unset without a mark.
  std::optional<Transform> rough() const {
    std::vector<Mark> marks;
    for (const PhotoMark& m : out_.marks) marks.push_back(m.mark);
    if (marks.size() == 1 && !tags_.empty()) marks = cornersAsMarks();
    if (marks.size() < 2) return std::nullopt;
    try {
      return fitMarks(marks, FitKind::Rigid).toHoop;
    } catch (const Error&) {
      return std::nullopt;
    }
  }

  void findLines() {
    for (const SewnLinePlace& line : setup_.lines) {
      const std::optional<Transform> known = rough();
      const Transform t = known.value_or(Transform{});
      SewnLineSearch search{t(line.knot), t(line.end), known ? kKnownReach_mm : kFreeReach_mm};
      if (line.knot_px && line.end_px) {
        search.knot = out_.plane->toPlane(*line.knot_px);
        search.end = out_.plane->toPlane(*line.end_px);
        search.reach_mm = kRoughPx * out_.plane->mmPerPixel(search.knot) / 4 + 1;
      }
      const auto found = findSewnLine(photo_, *out_.plane, search);
      for (bool knot : {true, false}) {
        const std::string& name = knot ? line.knot_name : line.end_name;
        if (!found) {
          missing_.push_back({name, LeftOut::Why::NotFound});
          continue;
        }
        const Point at = knot ? found->knot : found->end;
        out_.marks.push_back({markAt(name, knot ? line.knot : line.end, at,
                                     std::max(found->along_mm, found->across_mm)),
                              out_.plane->toPhoto(at)});
      }
    }
  }

  /// First wherever they may be, then those that were not found where the others say they are.
  void findCrosses() {
    std::vector<const CrossPlace*> open;
    for (const CrossPlace& cross : setup_.crosses) open.push_back(&cross);
    open = seek(open);
    if (open.size() < setup_.crosses.size()) open = seek(open);
    for (const CrossPlace* cross : open) missing_.push_back({cross->name, LeftOut::Why::NotFound});
  }

  CrossSearch searchFor(const CrossPlace& cross, const std::optional<Transform>& known) const {
    CrossSearch search;
    const Transform t = known.value_or(Transform{});
    search.turn_deg = degrees(std::atan2(t.yx, t.xx));
    search.near = t(cross.layout);
    search.reach_mm = known ? kKnownReach_mm : kFreeReach_mm;
    if (cross.at_px) {
      search.near = out_.plane->toPlane(*cross.at_px);
      search.reach_mm = std::min(25.0, kRoughPx * out_.plane->mmPerPixel(search.near) + 1);
    }
    return search;
  }

  /// Those that were not found.
  std::vector<const CrossPlace*> seek(const std::vector<const CrossPlace*>& wanted) {
    const std::optional<Transform> known = rough();
    std::vector<std::optional<SeenCross>> seen(wanted.size());
    sideBySide(wanted.size(), [&](size_t i) {
      seen[i] = findCross(photo_, *out_.plane, searchFor(*wanted[i], known));
    });
    std::vector<const CrossPlace*> open;
    for (size_t i = 0; i < wanted.size(); ++i) {
      const CrossPlace& cross = *wanted[i];
      const std::optional<SeenCross>& found = seen[i];
      if (!found) {
        open.push_back(&cross);
        continue;
      }
      const double own =
          std::max(found->sigma_mm, kLeastLine_px * out_.plane->mmPerPixel(found->at));
      out_.marks.push_back(
          {markAt(cross.name, cross.layout, found->at, own), out_.plane->toPhoto(found->at)});
    }
    return open;
  }

  Error noMark() const {
    if (setup_.cloth_tags.empty() && setup_.crosses.empty() && setup_.lines.empty())
      return Error("the set-up lists no mark on the cloth", "set-up",
                   "add cloth_tags, crosses or lines");
    return Error("none of the cloth's marks is seen", "photo",
                 "take it nearer and in even light, or give the crosses' rough places (at_px)");
  }

  /// A single tag gives place and angle: its corners stand in for marks.
  std::vector<Mark> cornersAsMarks() const {
    std::vector<Mark> out;
    const ClothTag& tag = tags_.front();
    const auto corners = cornersOf(tag.place, setup_.cloth_tag_mm);
    static constexpr const char* kNames[] = {"top left", "top right", "bottom right",
                                             "bottom left"};
    for (size_t c = 0; c < 4; ++c)
      out.push_back(markAt(kNames[c], corners[c], tag.corners[c], tag.corner_mm));
    return out;
  }

  void decide() {
    std::vector<Mark> marks;
    for (const PhotoMark& m : out_.marks) marks.push_back(m.mark);
    const bool single = marks.size() == 1;
    if (single) {
      if (tags_.empty())
        throw Error("one cross alone does not say how the cloth is turned", "photo",
                    "mark one more place, or use a tag");
      AlignmentSetup rigid = setup_.base;
      rigid.kind = FitKind::Rigid;
      out_.corners = cornersAsMarks();
      out_.alignment = align(out_.corners, rigid);
      // the corners are one mark to whoever asks
      const Mark own = marks[0];
      out_.alignment.fit.residual_mm = {distance(out_.alignment.fit.toHoop(own.layout), own.hoop)};
      out_.alignment.marks = {own};
      out_.alignment.missing.clear();
      holdSingle(out_.alignment);
    } else {
      out_.alignment = align(marks, setup_.base);
    }
    std::vector<LeftOut> cloth, hoop;
    for (LeftOut& m : missing_) {
      const bool frame =
          std::any_of(setup_.hoop_tags.begin(), setup_.hoop_tags.end(),
                      [&](const TagPlace& t) { return std::to_string(t.id) == m.id; });
      (frame ? hoop : cloth).push_back(std::move(m));
    }
    holdMissing(out_.alignment, std::move(cloth));
    out_.alignment.missing.insert(out_.alignment.missing.end(), hoop.begin(), hoop.end());
    for (const AlignmentNote& n : notes_) out_.alignment.hold(n);
  }

  struct ClothTag {
    TagPlace place;
    std::array<Point, 4> corners;  // on the plane, mm
    double corner_mm;
  };

  const Photo& photo_;
  const PhotoSetup& setup_;
  std::vector<SeenTag> seen_;
  bool bent_ = false;  // tags were fitted with the lens known
  std::vector<ClothTag> tags_;
  std::vector<LeftOut> missing_;
  std::vector<AlignmentNote> notes_;
  PhotoAlignment out_;
};

}  // namespace

PhotoReading readPhoto(const Photo& photo, const PhotoSetup& setup) {
  return PhotoAligner(photo, setup).run();
}

PhotoAlignment alignPhoto(const Photo& photo, const PhotoSetup& setup) {
  PhotoReading reading = readPhoto(photo, setup);
  if (reading.problem) throw *reading.problem;
  return std::move(reading.found);
}

}  // namespace rt
