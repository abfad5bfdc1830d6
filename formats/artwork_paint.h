// What a resolved drawing's fills and strokes are painted with. Part of reading artwork.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <pugixml.hpp>
#include <string>

#include "pattern.h"
#include "polygon.h"

namespace rt {

/// A colour that may let through what is below; each value from 0 to 1.
struct Tint {
  double red = 0, green = 0, blue = 0, opacity = 1;
  Colour colour() const;
};

/// What is seen where `top` lies on `below` (Porter and Duff 1984, "over").
Tint overlaid(const Tint& top, const Tint& below);
/// How far two colours are apart, whatever their opacity: the sum of the channels' differences.
double apart(const Tint& a, const Tint& b);

/// A style's value for `key`, or the attribute of that name; empty without both.
std::string styleOf(const pugi::xml_node& node, const std::string& key);
/// The number that `text` begins with.
double numberOr(const std::string& text, double otherwise);

/// The paints of one drawing.
class Paints {
 public:
  explicit Paints(const pugi::xml_document& drawing);

  /// The element that `url(#id)` or `#id` names; an empty node if there is none.
  pugi::xml_node referred(std::string_view url) const;

  /// `samples` gives places of the ink, in the element's own frame.
  using Samples = std::function<std::vector<Point>()>;
  /// The tint of an element's `fill` or `stroke`: of a gradient the mean over the ink, of a pattern
  /// the mean of its paths. Unset where it is not painted; a pattern without a colour is grey, with
  /// a word in `warnings`.
  std::optional<Tint> of(const pugi::xml_node& node, const std::string& which,
                         const Samples& samples, std::vector<std::string>& warnings) const;

 private:
  void index(const pugi::xml_node& node);
  std::optional<Tint> patternTint(const pugi::xml_node& server) const;
  void gather(const pugi::xml_node& node, std::vector<Tint>& tints) const;

  std::map<std::string, pugi::xml_node> byId_;
};

/// About 1,500 places spread evenly over an area; one at least unless it is empty.
std::vector<Point> spreadOver(const Area& area);

}  // namespace rt
