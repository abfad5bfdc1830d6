#include "making_words.h"

#include "face.h"
#include "length.h"

namespace rt {
namespace {

/// `"☃" (U+2603)`: some characters look alike or like nothing.
std::string named(const std::string& letters) {
  std::string out = "\"" + letters + "\"";
  for (char32_t code : decodeUtf8(letters)) {
    char hex[16];
    std::snprintf(hex, sizeof hex, " (U+%04X)", static_cast<unsigned>(code));
    out += hex;
  }
  return out;
}

std::string sewingOf(const std::string& piece, Colour thread) {
  return (piece.empty() ? std::string("sewing") : piece) + " in " + thread.hex();
}

}  // namespace

std::string inWords(const LetterWarning& w) {
  const std::string quoted = "\"" + w.letters + "\"", apart = formatNumber(w.mm, 2) + " mm apart";
  switch (w.what) {
    case LetterWarning::What::NoLetter:
      return "the face has no letter " + named(w.letters) + "; it was left out";
    case LetterWarning::What::NotJoined:
      return quoted + " does not join: " + apart;
    case LetterWarning::What::Crowded:
      return quoted +
             (w.mm <= 0.01
                  ? std::string(" collide")
                  : " stand " + apart + ", under " + formatNumber(kCrowdedGap_mm, 1) + " mm") +
             "; widen the gap or the radius";
    case LetterWarning::What::Widened:
      return quoted + " would run into one another on this arc: set " + formatNumber(w.mm, 1) +
             " mm farther apart; a larger radius brings them together";
    case LetterWarning::What::HeightOutside:
      return "a height of " + formatNumber(w.mm, 1) + " mm is outside the face's " +
             formatNumber(w.low_mm, 1) + " to " + formatNumber(w.high_mm, 1) + " mm";
  }
  return "";
}

std::string inWords(const ResizeWarning& w) {
  const std::string count = std::to_string(w.count);
  switch (w.what) {
    case ResizeWarning::What::ShortStitches:
      return count + " stitches are now under " + formatNumber(w.limit_mm, 1) + " mm";
    case ResizeWarning::What::LongStitches:
      return count + " stitches are now over " + formatNumber(w.limit_mm, 0) + " mm";
    case ResizeWarning::What::ColumnsAsRuns:
      return count + (w.count == 1 ? " column is" : " columns are") + " now under " +
             formatNumber(w.limit_mm, 1) + " mm wide and sewn as runs";
    case ResizeWarning::What::DensityChanged:
      return "the size changes by " + formatNumber(w.change * 100, 0) + " %: thread per area is " +
             formatNumber(w.density * 100, 0) + " % of what it was, as every stitch is kept";
  }
  return "";
}

std::string inWords(const Covered& c) {
  return c.top + " lies on " + c.under + ": sewn before it, it would be covered";
}

std::string inWords(const HeldBack& h) {
  return sewingOf(h.piece, h.thread) +
         (h.lies_on ? " lies on " : " comes after a wait, a mark or basting with ") +
         sewingOf(h.before_piece, h.before_thread) + " and cannot be sewn before it";
}

}  // namespace rt
