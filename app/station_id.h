// The stations down the thread of work, by name.
#pragma once

#include <QString>

namespace rt {

enum class Station { Brief, Compose, Density, Hoopings, Paper, Align, Sew, Ledger };
inline constexpr int kStations = 8;
QString nameOf(Station station);

}  // namespace rt
