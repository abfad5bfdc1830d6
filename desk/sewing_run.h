// A setting at the machine: what was sent, how far it is, and where to go on.
#pragma once

#include "job_document.h"
#include "ledger_keeper.h"
#include "machine_link.h"
#include "sewn_journal.h"

namespace rt {

/// Keeps each event of the machine as it comes, under the plan and job that were sent, whichever
/// job is in hand by then.
class SewingRun : public QObject {
  Q_OBJECT
 public:
  SewingRun(JobDocument& document, LedgerKeeper& ledger, const std::filesystem::path& folder,
            QObject* parent = nullptr);

  MachineLink& machine() { return link_; }
  const MachineLink& machine() const { return link_; }

  /// What is at the machine.
  struct Sent {
    SettingKey key;
    int hooping = 1, setting = 1;
    std::string job_id, job_title;
    Pattern rows;                 ///< As sent: placed by the alignment.
    double predicted_s = 0;       ///< Of sewing alone, by the time model in force.
    std::string frame = {};       ///< Id.
    Transform settingPlace = {};  ///< Its field, in that of the hooping's first setting.
  };
  const std::optional<Sent>& sent() const { return sent_; }
  /// What it is called in the machine's memory; files of one job begin alike.
  static QString fileOf(const Sent& sent);
  bool isSent(const SettingKey& key) const { return sent_ && sent_->key == key; }

  void send(Sent what, const Field& field, double stitches_per_minute);
  /// Starts at `resumeRow`, or goes on after a pause or a colour.
  void start(size_t overlap_stitches);
  /// Where sewing goes on: so many stitches before the last row that is known to be sewn, by the
  /// record or by the machine's memory, but not back over a landing or a trim.
  size_t resumeRow(size_t overlap_stitches) const;
  /// The last row that record, journal or machine know as sewn.
  size_t knownRow() const;
  /// Needle points before a row of what was sent.
  int stitchesBefore(size_t row) const;
  /// Where a person wants to go on, forward or back. What is passed by so is kept as skipped on
  /// purpose when it is sewn from there, not while the place is looked for.
  void moveTo(size_t row);
  /// Rows at which blocks begin, of what was sent.
  std::vector<size_t> blockStarts() const;
  /// Row before which a full bobbin was put in, as far as the machine told.
  size_t bobbinFrom() const { return bobbinFrom_; }
  /// The needle (from 1) that a thread goes on, so that the fewest are threaded anew.
  int needleFor(const QString& thread) const;
  /// Facts of a plan, on the cloth in hand, that the job's file may not have yet.
  std::vector<RowsSewn> journalOf(const std::string& plan) const;

 signals:
  void moved();
  void phaseChanged();
  /// A thread is asked for, broke, or the setting is done.
  void colourAsked(const QString& thread);
  void broke(int stitch);
  /// `whole`: sewn from its first row without a break, in so many seconds of the machine.
  void finished(const rt::SettingKey& key, bool whole, double taken_s);
  void failed(const QString& words);

 private:
  void take(const MachineEvent& event);
  void keepChoice();
  void keep(const char* event, bool done = false);
  void keepAt(size_t row, const char* event, bool done = false);
  void note(const char* event, int stitch, const QString& words = {});

  JobDocument& document_;
  LedgerKeeper& ledger_;
  SewnJournal journal_;
  MachineLink link_;
  std::optional<Sent> sent_;
  std::string run_;
  size_t from_ = 0;
  size_t bobbinFrom_ = 0;
  std::optional<size_t> byHand_;  ///< Row that a person chose to go on at.
  bool whole_ = false, begun_ = false, journalFails_ = false;
};

}  // namespace rt
