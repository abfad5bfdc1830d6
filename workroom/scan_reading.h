// A scan of a hooping, read: what it is held against, what was found, and the cloth seen from
// above.
#pragma once

#include <memory>

#include "photo_marks.h"
#include "planner.h"
#include "watch.h"
#include "work.h"

namespace rt {

/// The tag that stands for a mark of a plan where the school is tags: the number in its name.
int tagOfMark(const std::string& mark_id);

/// A tag that alone gives place and angle.
struct OneTag {
  int id = 0;
  Point layout;          ///< The point of the layout that goes to the tag's middle, mm.
  double angle_deg = 0;  ///< Of the layout against the tag.
  friend bool operator==(const OneTag&, const OneTag&) = default;
};

/// Nine anchors of a layout's bounds, row by row: 0 is the top left, 4 the middle.
Point anchorOf(const Box& bounds, int anchor);

/// A frame's field and the tags stuck to it.
PhotoSetup frameSetup(const Hoop& frame);
/// Tags of the frame and marks of a hooping, as a photo is held against them. Layout places are
/// those of the hoop that were meant: what the fit says is what the cloth is off by.
PhotoSetup scanSetup(const Hooping& hooping, const Hoop& frame, MarkSchool school,
                     double tolerance_mm, const std::optional<OneTag>& one_tag = std::nullopt);
/// What of the frame's plane a flattened picture shows: the first field and the frame around it.
Box scanArea(const Hoop& frame);

struct ScanQuestion {
  std::shared_ptr<const ScanTaken> scan;
  PhotoSetup setup;
  Box area;  ///< Hoop frame, mm.
  friend bool operator==(const ScanQuestion& a, const ScanQuestion& b) {
    return a.scan->scan.id == b.scan->scan.id && a.setup == b.setup;
  }
};

struct ScanReading {
  PhotoReading photo;
  FlatPicture picture;   ///< Of the hoop's plane; where it is unknown, of the photo as it is.
  bool flat = false;     ///< The picture shows the hoop's plane in true millimetres.
  double px_per_mm = 1;  ///< Not flat: of the photo to the picture's own frame.
  /// A place of the picture's frame in the photo, px.
  Point toPhoto(Point picture_mm) const;
};
/// Never throws for what the photo shows; Stopped when the watch says so.
ScanReading readScan(const ScanQuestion& question, const Watch& watch = {});

/// An edge of the item near a rough stroke, in the layout's frame: as the scan shows it, or the
/// stroke itself where there is no flat scan or nothing stands out in it.
std::vector<Point> tracedEdge(const ScanReading* reading, const Transform& hoopToLayout,
                              const std::vector<Point>& stroke);
/// What a traced edge bounds: the ring where it comes back to its beginning, else a band along it.
Ring zoneAlong(const std::vector<Point>& edge);

/// Bytes of a file as a scan: checked, packed again where they take too much room, stamped with
/// when it was taken (`file_time` where the photo does not say). Throws Error for what is no photo.
Scan scanFrom(std::string bytes, const std::string& name, const std::string& file_time);

}  // namespace rt
