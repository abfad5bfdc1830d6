// Sizes of paper.
#pragma once

namespace rt {

enum class Paper { A4, Letter, A3 };

/// Of a sheet, upright.
struct SheetSize {
  double width_mm = 210, height_mm = 297;
};
inline SheetSize sheetSize(Paper paper) {
  switch (paper) {
    case Paper::A3:
      return {297, 420};
    case Paper::Letter:
      return {215.9, 279.4};
    case Paper::A4:
      break;
  }
  return {210, 297};
}

}  // namespace rt
