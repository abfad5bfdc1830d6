// A text as a square of dark and light cells that a phone's camera reads.
#pragma once

#include <string>
#include <vector>

namespace rt {

struct QrCode {
  int size = 0;            ///< Cells a side; four more on each side stay light around it.
  std::vector<bool> dark;  ///< Row by row.
  bool at(int x, int y) const { return dark[static_cast<size_t>(y * size + x)]; }
};

/// By libqrencode, with error correction M. Throws Error for a text that is too long.
QrCode qrCodeOf(const std::string& text);

}  // namespace rt
