// The shop behind every job: limits, threads, frames, the time model, and what was learned.
#pragma once

#include <QObject>
#include <filesystem>
#include <functional>

#include "ledger_entry.h"
#include "making.h"
#include "quote.h"

namespace rt {

/// Keeps the shop's own values in files of its folder and joins them with what ships. Signals
/// `changed` after every change of what a job is judged by.
class Shop : public QObject {
  Q_OBJECT
 public:
  Shop(Bench bench, std::filesystem::path folder, QObject* parent = nullptr);

  /// With the shop's own limits, threads and learned times in place.
  const Bench& bench() const { return bench_; }
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
  const std::vector<Hoop>& ownFrames() const { return frames_; }
  /// One of the same id is replaced. Throws Error where the frames cannot be kept.
  void keepFrame(const Hoop& frame);
  void dropFrame(const std::string& id);

  /// What the shop pays: its own rates, or those that ship.
  const Rates& rates() const { return rates_; }
  bool ratesAreOwn() const { return ratesOwn_; }
  /// Unset: those that ship again. Throws Error where they cannot be kept.
  void setRates(const std::optional<Rates>& rates);

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
  const std::vector<std::string>& problems() const { return problems_; }

 signals:
  void changed();

 private:
  void setFrames(std::vector<Hoop> frames);
  /// Does it, or says in `problems` what of the shop's own could not be read.
  void reading(const char* what, const std::function<void()>& read);
  Bench bench_;
  std::vector<Face> faces_;
  std::vector<Fabric> starting_;
  TimeModel startingTime_;
  double timeFactor_ = 1;
  std::filesystem::path limitsPath_, threadsPath_, framesPath_, ratesPath_;
  std::vector<Hoop> startingFrames_, frames_;
  Rates rates_;
  bool ratesOwn_ = false;
  ShopLimitTable limits_;
  std::vector<std::string> problems_;
};

}  // namespace rt
