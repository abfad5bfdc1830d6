// What a photo says of itself.
#pragma once

#include <span>
#include <string>

namespace rt {

/// From a JPEG's or PNG's own notes (EXIF 2.3); what they lack stays empty.
struct PhotoNotes {
  int orientation = 1;  ///< How it is held, 1 to 8 (tag 0x0112).
  std::string taken;    ///< `2026-11-26T13:54:02`, by the camera's clock (0x9003).
  std::string offset;   ///< Of that clock from UTC, `+01:00` (0x9011).
  std::string camera;   ///< Model (0x0110).
  double focal_mm = 0;  ///< Focal length of the lens (0x920A); 0: not said.
};

/// Reads at most what the notes claim and the bytes hold; damaged notes are as good as none.
PhotoNotes photoNotes(std::span<const uint8_t> bytes);

}  // namespace rt
