#include "measured_frame.h"

#include <algorithm>
#include <cctype>

#include "error.h"

namespace rt {
namespace {

constexpr double kSquareWithin_mm = 1.5;  // of a diagonal, shop practice: a ruler's honesty
constexpr double kUsualClear_mm = 15;     // of clamps, where the outside was not measured
constexpr double kTagRoom_mm = 4;         // white border around a tag's black square
constexpr double kLeastTag_mm = 3, kMostTag_mm = 100;
constexpr double kLargest_mm = 2000;  // of any frame's side
constexpr int kMostPositions = 40;

using What = FrameDoubt::What;

bool laps(FrameKind kind) {
  return kind == FrameKind::HalfRound || kind == FrameKind::Quarters;
}

/// Fields that lie on the frame, about its middle.
std::vector<FrameSetting> settingsOf(const FrameMeasures& m) {
  const double w = m.field_width_mm - m.lap_mm, h = m.field_height_mm - m.lap_mm;
  std::vector<FrameSetting> out;
  if (m.kind == FrameKind::HalfRound) out = {{0, -h / 2, 0}, {0, h / 2, 180}};
  if (m.kind == FrameKind::Quarters)
    out = {{-w / 2, -h / 2, 0}, {w / 2, -h / 2, 0}, {-w / 2, h / 2, 180}, {w / 2, h / 2, 180}};
  if (m.kind == FrameKind::Long)
    for (int i = 0; i < std::min(m.positions, kMostPositions); ++i)
      out.push_back({(i - (m.positions - 1) / 2.0) * m.step_mm, 0, 0});
  return out;
}

/// What all fields of the frame cover together.
Box fieldsBox(const FrameMeasures& m) {
  Box box = Box::around({}, m.field_width_mm, m.field_height_mm);
  if (m.kind == FrameKind::Rails)
    return Box::around({}, m.field_width_mm + m.step_mm, box.height());
  for (const FrameSetting& s : settingsOf(m))
    box.add(Box::around({s.x_mm, s.y_mm}, m.field_width_mm, m.field_height_mm));
  return box;
}

/// Four tags outside the fields, from the top left on clockwise.
std::vector<TagPlace> tagsOf(const FrameMeasures& m) {
  const Box box = fieldsBox(m).grown(m.tag_size_mm / 2 + kTagRoom_mm);
  std::vector<TagPlace> out;
  for (int i = 0; i < 4; ++i) out.push_back({m.first_tag + i, box.corner(i), 0});
  return out;
}

class Doubter {
 public:
  explicit Doubter(const FrameMeasures& m) : m_(m) {}

  std::vector<FrameDoubt> run() {
    if (m_.name.find_first_not_of(" \t") == std::string::npos) forbid(What::NoName);
    if (!(m_.field_width_mm > 0 && m_.field_height_mm > 0)) {
      forbid(What::NoField);
      return std::move(out_);
    }
    for (double mm :
         {m_.field_width_mm, m_.field_height_mm, m_.outer_width_mm, m_.outer_height_mm, m_.step_mm})
      if (!(mm <= kLargest_mm)) {
        forbid(What::TooLarge, mm);
        return std::move(out_);
      }
    settings();
    opening();
    outside();
    tags();
    return std::move(out_);
  }

 private:
  void forbid(What what, double value = 0, double other = 0) {
    out_.push_back({what, true, value, other});
  }
  void note(What what, double value = 0, double other = 0) {
    out_.push_back({what, false, value, other});
  }

  void settings() {
    if (laps(m_.kind)) {
      const double least = m_.kind == FrameKind::HalfRound
                               ? m_.field_height_mm
                               : std::min(m_.field_width_mm, m_.field_height_mm);
      if (!(m_.lap_mm > 0))
        forbid(What::NoLap);
      else if (m_.lap_mm >= least)
        forbid(What::LapTooWide, m_.lap_mm, least);
    }
    if (m_.kind == FrameKind::Long && (m_.positions < 2 || m_.positions > kMostPositions))
      forbid(What::NoPositions, m_.positions, kMostPositions);
    if ((m_.kind == FrameKind::Long || m_.kind == FrameKind::Rails) && !(m_.step_mm > 0))
      forbid(What::NoStep);
    if (m_.kind == FrameKind::Long && m_.step_mm >= m_.field_width_mm)
      note(What::StepsApart, m_.step_mm, m_.field_width_mm);
  }

  void opening() {
    if (!(m_.inner_width_mm > 0 && m_.inner_height_mm > 0)) return note(What::NoOpening);
    const Box fields = fieldsBox(m_);
    if (fields.width() > m_.inner_width_mm + kSame_mm)
      forbid(What::FieldOverOpening, fields.width(), m_.inner_width_mm);
    else if (fields.height() > m_.inner_height_mm + kSame_mm)
      forbid(What::FieldOverOpening, fields.height(), m_.inner_height_mm);
    if (m_.kind == FrameKind::Oval || !(m_.inner_diagonal_mm > 0)) return;
    const double square = std::hypot(m_.inner_width_mm, m_.inner_height_mm);
    if (std::abs(square - m_.inner_diagonal_mm) > kSquareWithin_mm)
      note(What::NotSquare, m_.inner_diagonal_mm, square);
  }

  void outside() {
    if (!(m_.outer_width_mm > 0 && m_.outer_height_mm > 0)) return note(What::NoOutside);
    if (m_.outer_width_mm < m_.inner_width_mm || m_.outer_height_mm < m_.inner_height_mm)
      forbid(What::OpeningOverOuter);
  }

  void tags() {
    if (!(m_.tag_size_mm > 0)) return note(What::NoTags);
    if (!(m_.tag_size_mm >= kLeastTag_mm && m_.tag_size_mm <= kMostTag_mm) ||
        std::abs(m_.tag_height_mm) > kMostTag_mm)
      return forbid(What::TagSize, m_.tag_size_mm);
    if (!(m_.outer_width_mm > 0 && m_.outer_height_mm > 0)) return;
    const Box outer = Box::around({}, m_.outer_width_mm, m_.outer_height_mm);
    for (const TagPlace& t : tagsOf(m_))
      if (!outer.contains(Box::around(t.at, m_.tag_size_mm, m_.tag_size_mm)))
        return note(What::TagOnField, m_.tag_size_mm);
  }

  const FrameMeasures& m_;
  std::vector<FrameDoubt> out_;
};

std::string idFrom(const std::string& name) {
  std::string id;
  for (char c : name) {
    const bool plain = std::isalnum(static_cast<unsigned char>(c)) != 0;
    if (plain)
      id += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    else if (!id.empty() && id.back() != '-')
      id += '-';
  }
  while (!id.empty() && id.back() == '-') id.pop_back();
  return "own-" + (id.empty() ? std::string("frame") : id.substr(0, 80));
}

}  // namespace

std::vector<FrameDoubt> doubtsOf(const FrameMeasures& measures) {
  return Doubter(measures).run();
}

Hoop frameFrom(const FrameMeasures& m) {
  for (const FrameDoubt& d : doubtsOf(m))
    if (d.forbids)
      throw Error("the frame's measures do not fit together", "frame " + m.name,
                  "mend what the list beside it says");
  Hoop h;
  h.id = idFrom(m.name);
  h.name = m.name;
  h.field = {m.field_width_mm, m.field_height_mm,
             m.kind == FrameKind::Oval ? HoopShape::Oval : HoopShape::Rectangle};
  h.settings = settingsOf(m);
  if (m.kind == FrameKind::Rails) h.rail = FrameRail{true, -m.step_mm / 2, m.step_mm / 2};
  const Box fields = fieldsBox(m);
  const double clear = std::max(
      {0.0, (m.outer_width_mm - fields.width()) / 2, (m.outer_height_mm - fields.height()) / 2});
  h.clear_mm = m.outer_width_mm > 0 && m.outer_height_mm > 0 ? clear : kUsualClear_mm;
  if (m.tag_size_mm > 0) {
    h.tags = tagsOf(m);
    h.tag_size_mm = m.tag_size_mm;
    h.tag_height_mm = m.tag_height_mm;
  }
  checkHoop(h, "frame " + m.name);
  return h;
}

}  // namespace rt
