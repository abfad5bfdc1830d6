// A photo from a phone: which hooping it is of, read, and drawn with its error ten times as large.
#pragma once

#include <QByteArray>

#include "scan_table.h"

namespace rt {

struct PhonePhoto {
  std::string bytes, name;
  std::string arrived;  ///< UTC: when it was taken, where the photo does not say.
  /// What it may be of: the hooping that was named, or all, the one in hand first.
  struct Candidate {
    int hooping = 1;
    bool sewn = false;  ///< Through.
    ScanTable::Held held;
    std::shared_ptr<const Hooping> sews;  ///< What will be sewn in it.
  };
  std::vector<Candidate> candidates;
  std::function<LensPrior(const std::string& camera)> lens;  ///< Called on the reader's thread.
};

struct PhoneReading {
  PhonePhoto::Candidate of;
  Scan scan;
  std::shared_ptr<const ScanReading> reading;
};

/// Reads it as it is read at Align. Of several candidates the one whose frame's tags, and whose own
/// tags on the cloth, are seen; where frames are alike the one in hand, else the first that is not
/// sewn, unless none of its marks fit and another's do. Throws Error for what is no photo.
PhoneReading readPhonePhoto(const PhonePhoto& photo);

/// The cloth from above with the frame's field and the sewing as it would land; marks where the fit
/// puts them, and what they are off it, ten times as large. Without a fit: where they were meant to
/// be. JPEG.
QByteArray errorPicture(const PhoneReading& reading);

}  // namespace rt
