// A photo of a hooping becomes marks for the fit.
#pragma once

#include "error.h"
#include "judge.h"
#include "plane.h"

namespace rt {

/// A cross that is drawn or sewn on the cloth.
struct CrossPlace {
  std::string name;
  Point layout;                ///< mm
  std::optional<Point> at_px;  ///< Roughly where it is in the photo.
  friend bool operator==(const CrossPlace&, const CrossPlace&) = default;
};

/// A sewn alignment line: both its ends are marks, the line between them says how it is turned.
struct SewnLinePlace {
  std::string knot_name, end_name;
  Point knot, end;                       ///< Layout frame, mm.
  std::optional<Point> knot_px, end_px;  ///< Roughly where they are in the photo; both or none.
  friend bool operator==(const SewnLinePlace&, const SewnLinePlace&) = default;
};

/// A place of the frame that a person pointed at in the photo.
struct GuideClick {
  Point hoop, px;
  friend bool operator==(const GuideClick&, const GuideClick&) = default;
};

struct PhotoSetup {
  AlignmentSetup base;
  double hoop_tag_mm = 12, tag_height_mm = 0;
  std::vector<TagPlace> hoop_tags;  ///< Hoop frame.
  double cloth_tag_mm = 15;
  std::vector<TagPlace> cloth_tags;  ///< Layout frame.
  std::vector<CrossPlace> crosses;
  std::vector<SewnLinePlace> lines;
  LensPrior lens = {};             ///< What is known of the camera's lens.
  std::vector<GuideClick> guides;  ///< Four or more stand in where no hoop tag is seen.
  friend bool operator==(const PhotoSetup&, const PhotoSetup&) = default;
};

struct PhotoMark {
  Mark mark;
  Point px;
};

struct PhotoAlignment {
  Alignment alignment;
  std::vector<PhotoMark> marks;  ///< Seen, believed or not.
  std::vector<Mark> corners;     ///< Of a tag that is the only mark: they give place and angle.
  std::vector<int> plane_tags;   ///< Hoop tags that the plane rests on.
  double rms_px = 0, k1 = 0;
  std::optional<Plane> plane;  ///< Of the cloth.
};

/// What could be read, and why not more.
struct PhotoReading {
  PhotoAlignment found;          ///< The plane may be known where no mark is.
  std::optional<Error> problem;  ///< Set: there is nothing to fit.
};
PhotoReading readPhoto(const Photo& photo, const PhotoSetup& setup);

/// Hoop tags give the plane, cloth tags and crosses the marks; each with the error that the picture
/// itself shows. Throws Error where there is nothing to fit: no plane, another hoop's tags, no
/// mark.
PhotoAlignment alignPhoto(const Photo& photo, const PhotoSetup& setup);

}  // namespace rt
