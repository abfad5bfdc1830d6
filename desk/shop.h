// The shop behind every job: limits, threads, frames, the time model, and what was learned.
#pragma once

#include <QObject>
#include <filesystem>
#include <functional>

#include "ledger_entry.h"
#include "shop_values.h"

namespace rt {

/// Keeps the shop's own values in files of its folder and joins them with what ships. Signals
/// `changed` after every change of what a job is judged by.
class Shop : public QObject {
  Q_OBJECT
 public:
  Shop(Bench bench, const std::filesystem::path& folder, QObject* parent = nullptr);

  /// With the shop's own limits, threads and learned times in place.
  const Bench& bench() const { return values_.bench; }
  /// The faces that ship, without their letters.
  const std::vector<Face>& faces() const { return faces_; }
  /// A fabric's limits before needle, thread and backing, and what they were to begin with. One
  /// that is not known gives the first.
  const Fabric& fabric(const std::string& id) const;
  const Fabric& startingFabric(const std::string& id) const;
  bool knows(const std::string& fabric) const;
  /// The shop's own limits; unset: the starting values.
  std::optional<ShopLimits> limits(const std::string& fabric) const;
  /// Throws Error where they cannot be kept.
  void setLimits(const std::string& fabric, const std::optional<ShopLimits>& limits);
  void setThreads(std::vector<ShelfThread> threads);

  /// Frames that were measured here; they stand on the shelf before those that ship.
  const std::vector<Hoop>& ownFrames() const { return values_.own; }
  /// One of the same id is replaced. Throws Error where the frames cannot be kept.
  void keepFrame(const Hoop& frame);
  void dropFrame(const std::string& id);

  /// What the shop pays: its own rates, or those that ship.
  const Rates& rates() const { return values_.rates; }
  bool ratesAreOwn() const { return values_.rates_own; }
  /// Unset: those that ship again. Throws Error where they cannot be kept.
  void setRates(const std::optional<Rates>& rates);
  const ShopCard& card() const { return values_.card; }
  void setCard(const ShopCard& card);

  /// What was learned of how a fabric moves under thread; unset: nothing was.
  std::optional<ClothKnown> cloth(const std::string& fabric) const;
  /// Takes the place of what was known. Throws Error where it cannot be kept.
  void keepCloth(const ClothKnown& cloth);
  void forgetCloth(const std::string& fabric);

  /// What sewn runs made of the time model; 1 without enough of them.
  double timeFactor() const { return timeFactor_; }
  /// The runs of the ledger, to learn times from.
  void setRuns(const std::vector<RunEntry>& runs);
  /// Seconds as the model that ships predicts them.
  double asShipped_s(double seconds) const { return seconds / timeFactor_; }

  struct Learned {
    LearnedLimit density;
    LearnedLeast column, letter;
    bool any() const { return density.enough || column.enough || letter.enough; }
  };
  /// What outcomes propose for a fabric.
  Learned learned(const std::string& fabric, const std::vector<LedgerEntry>& entries) const;

  /// What was wrong with the shop's own files at the start, in words; they stay for their owner.
  const std::vector<std::string>& problems() const { return values_.problems; }

 signals:
  void changed();

 private:
  void setFrames(std::vector<Hoop> frames);
  ShopFiles files_;
  ShopValues values_;
  std::vector<Face> faces_;
  TimeModel startingTime_;
  double timeFactor_ = 1;
};

}  // namespace rt
