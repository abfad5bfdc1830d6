#include "rates_file.h"

#include "error.h"
#include "json_reading.h"

namespace rt {

Rates readRates(const std::filesystem::path& path, const Rates& otherwise,
                std::vector<std::string>* left_out) {
  const Json root = readJson(path);
  const std::string where = path.string();
  if (!root.is_object())
    throw Error("this is no list of rates", where, "write { \"labour_per_hour\": … }");
  Rates r = otherwise;
  const auto take = [&](const char* key, double& to) {
    if (root.contains(key))
      to = numberIn(root, key, where);
    else if (left_out)
      left_out->push_back(key);
    if (!(to >= 0)) throw Error(std::string("\"") + key + "\" is below 0", where, "give 0 or more");
  };
  if (root.contains("currency")) r.currency = textIn(root, "currency", where);
  take("labour_per_hour", r.labour_per_hour);
  take("machine_per_hour", r.machine_per_hour);
  take("top_thread_per_1000_m", r.top_thread_per_1000_m);
  take("bobbin_per_1000_m", r.bobbin_per_1000_m);
  take("backing_per_m2", r.backing_per_m2);
  take("hooping_min", r.hooping_min);
  take("setup_min", r.setup_min);
  take("spoilage", r.spoilage);
  if (root.contains("usual_margin")) r.usual_margin = numberIn(root, "usual_margin", where);
  return r;
}

Rates shopRates(const std::filesystem::path& data) {
  return readRates(data / "rates.json", {});
}

std::string ratesJson(const Rates& r) {
  for (double v : {r.labour_per_hour, r.machine_per_hour, r.top_thread_per_1000_m,
                   r.bobbin_per_1000_m, r.backing_per_m2, r.hooping_min, r.setup_min, r.spoilage})
    if (!(v >= 0)) throw Error("a rate is below 0", "rates", "give 0 or more");
  if (!(r.usual_margin >= 0 && r.usual_margin < 1) || !(r.spoilage < 1))
    throw Error("a margin or spoilage of 100 % or more cannot be", "rates",
                "give a part under 1, like 0.4");
  return Json{{"currency", r.currency},
              {"labour_per_hour", r.labour_per_hour},
              {"machine_per_hour", r.machine_per_hour},
              {"top_thread_per_1000_m", r.top_thread_per_1000_m},
              {"bobbin_per_1000_m", r.bobbin_per_1000_m},
              {"backing_per_m2", r.backing_per_m2},
              {"hooping_min", r.hooping_min},
              {"setup_min", r.setup_min},
              {"spoilage", r.spoilage},
              {"usual_margin", r.usual_margin}}
             .dump(1) +
         "\n";
}

}  // namespace rt
