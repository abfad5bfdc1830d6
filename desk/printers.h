// What each printer makes of 100 mm on each paper, as its check ruler was measured once.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace rt {

/// Printers that were measured, by name. None if the list cannot be read.
std::vector<std::string> knownPrinters(const std::filesystem::path& list);
/// 100 for a printer or paper that was not measured.
double printerRuler_mm(const std::filesystem::path& list, const std::string& printer,
                       const std::string& paper);
/// Throws Error where it cannot be kept, and for a ruler that is none.
void setPrinterRuler(const std::filesystem::path& list, const std::string& printer,
                     const std::string& paper, double ruler_mm);

}  // namespace rt
