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

/// What a printer makes of true size, as its 100 mm check ruler was measured: pages are drawn so
/// much larger or smaller about their middle that what comes out is true.
struct PrinterScale {
  double ruler_mm = 100;  ///< Measured length of the printed 100 mm.
  double factor() const { return 100 / ruler_mm; }
};
/// A printer that is farther off than this is set to fit the page: that is mended there.
inline constexpr double kMostPrinterError_mm = 5;

}  // namespace rt
