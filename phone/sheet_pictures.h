// Hooping sheets as pictures, from the very pages that are printed.
#pragma once

#include <QByteArray>
#include <map>
#include <string>

namespace rt {

class Desk;

class SheetPictures {
 public:
  /// Page `page` (from 1) of the sheets of a hooping as PNG; empty: there is no such page. Throws
  /// Error where there is no current plan.
  QByteArray page(const Desk& desk, int hooping, int page);
  /// Pages of a hooping's sheets.
  int pages(const Desk& desk, int hooping);

 private:
  void make(const Desk& desk);
  std::string of_;  ///< Plan and what of it is sewn.
  QByteArray pdf_;
  std::map<int, std::pair<int, int>> pages_;  ///< By hooping: first page, how many.
};

}  // namespace rt
