#include "all_stations.h"

#include "align_station.h"
#include "brief_station.h"
#include "compose_station.h"
#include "density_station.h"
#include "hoopings_station.h"
#include "ledger_station.h"
#include "paper_station.h"
#include "sew_station.h"

namespace rt {

std::vector<StationPanel*> makeStations(const StationContext& c) {
  return {new BriefStation(c), new ComposeStation(c), new DensityStation(c), new HoopingsStation(c),
          new PaperStation(c), new AlignStation(c),   new SewStation(c),     new LedgerStation(c)};
}

}  // namespace rt
