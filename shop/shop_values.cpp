#include "shop_values.h"

#include <algorithm>

#include "card_file.h"
#include "cloth_file.h"
#include "rates_file.h"
#include "shelf.h"
#include "thread_list.h"

namespace rt {
namespace {

bool there(const std::filesystem::path& path) {
  std::error_code ignored;
  return std::filesystem::exists(path, ignored);
}

/// The starting values are safe to work with: a file that cannot be read stays for its owner.
void reading(ShopValues& to, const char* what, const std::function<void()>& read) {
  try {
    read();
  } catch (const std::exception& problem) {
    to.problems.push_back(std::string("The shop's own ") + what +
                          " could not be read: " + problem.what());
  }
}

/// One file a fabric; each that cannot be read is named.
void readCloths(ShopValues& to, const std::filesystem::path& folder) {
  std::error_code ignored;
  std::vector<std::filesystem::path> files;
  for (const auto& entry : std::filesystem::directory_iterator(folder, ignored))
    if (entry.path().extension() == ".json") files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  for (const std::filesystem::path& file : files)
    reading(to, "cloths", [&] {
      ClothKnown known = readCloth(file, to.bench.data);
      std::erase_if(to.cloths, [&](const ClothKnown& c) { return c.fabric == known.fabric; });
      to.cloths.push_back(std::move(known));
    });
}

}  // namespace

ShopFiles::ShopFiles(const std::filesystem::path& folder)
    : limits(folder / "shop-limits.json"),
      threads(folder / "threads.csv"),
      frames(folder / "frames.json"),
      rates(folder / "rates.json"),
      card(folder / "card.json"),
      cloths(folder / "cloths") {}

ShopValues openShop(Bench shipped, const std::filesystem::path& folder) {
  const ShopFiles files(folder);
  ShopValues out;
  out.bench = std::move(shipped);
  out.starting = out.bench.shop.fabrics;
  out.shipped = out.bench.shop.hoops;
  reading(out, "limits", [&] { out.limits = readShopLimits(files.limits); });
  reading(out, "thread list", [&] {
    if (there(files.threads)) out.bench.shop.threads = readThreads(files.threads);
  });
  reading(out, "frames", [&] {
    if (there(files.frames)) out.own = readShelf(files.frames);
  });
  reading(out, "starting rates", [&] { out.rates = shopRates(out.bench.data); });
  reading(out, "rates", [&] {
    if (!there(files.rates)) return;
    out.rates = readRates(files.rates, out.rates);
    out.rates_own = true;
  });
  reading(out, "card", [&] {
    if (there(files.card)) out.card = readCard(files.card);
  });
  readCloths(out, files.cloths);
  out.bench.shop.fabrics = withShopLimits(out.starting, out.limits);
  out.bench.shop.hoops = joinedShelf(out.own, out.shipped);
  return out;
}

}  // namespace rt
