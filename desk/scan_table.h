// Scans of the hooping in hand: taken in, read, and what was found in them kept as marks.
#pragma once

#include "job_document.h"
#include "measured.h"
#include "scan_reading.h"
#include "study.h"

namespace rt {

class ScanTable : public QObject {
  Q_OBJECT
 public:
  explicit ScanTable(JobDocument& document, QObject* parent = nullptr);

  /// The hooping that scans are held against.
  struct Held {
    SettingKey key;
    std::vector<SettingKey> settings;  ///< All of the hooping: sewing them moves no cloth.
    PhotoSetup setup;
    Box area;
    Transform meant;                           ///< Layout to the field, as it was intended.
    std::map<std::string, std::string> names;  ///< Of marks, by what the photo's reader calls them.
    friend bool operator==(const Held&, const Held&) = default;
  };
  void hold(std::optional<Held> held);
  const std::optional<Held>& held() const { return held_; }

  /// Takes a photo in; read in the background, kept as a scan of the hooping in hand, and then read
  /// for marks. `failed` says why it is none.
  void take(std::string bytes, const QString& name, const QString& file_time);
  /// A scan of any hooping that was read elsewhere against what it is held against: it and what it
  /// says of the cloth go into the record as those that are taken in here. Why it says nothing;
  /// empty: it does.
  std::string keep(const Held& held, Scan scan, const ScanReading& reading);
  /// Another of the hooping's scans is looked at; no mark changes by that.
  void choose(std::string scan);
  /// Reads the scan in hand for marks once more.
  void readAgain();
  /// Ids by value: they may stand in the record, which grows meanwhile.
  void drop(std::string scan);
  /// Roughly where a mark is, in the hoop's plane: it is looked for there.
  void pointAt(const std::string& mark, Point hoop);
  /// A place of the frame in a scan whose plane is not known.
  void pointAtGuide(Point frame, Point picture);
  size_t guides() const { return guides_.size(); }
  void forgetGuides();

  /// What is known of a camera's lens, asked before each reading.
  void useLenses(std::function<LensPrior(const std::string& camera)> lenses) {
    lenses_ = std::move(lenses);
  }

  /// Of the hooping in hand, oldest first.
  std::vector<const ScanTaken*> scans() const;
  /// The one that is looked at; null: none.
  const ScanTaken* shown() const;
  /// What was read in it; null until it is there.
  std::shared_ptr<const ScanReading> reading() const;
  bool busy() const { return intake_.running() || read_.running(); }
  /// A photo of the hooping in hand came, and what it says of the cloth is not known yet.
  bool measuring() const {
    return held_ &&
           ((intake_.running() && forKey_ == held_->key) || (read_.running() && !unread_.empty()));
  }
  /// The cloth is clamped anew: what was found before counts no more.
  void clampedAnew();
  WorkProgress progress() const {
    return intake_.running() ? intake_.progress() : read_.progress();
  }
  void stop();
  /// Whether a scan was taken before the cloth was clamped as it is: it may be looked at, it is no
  /// base for an alignment.
  bool old(const ScanTaken& scan) const { return held_ && old(*held_, scan.scan); }

 signals:
  void changed();
  /// A photo with four tags of its frame or more was read for the first time: what it alone says of
  /// its camera's lens.
  void lensSeen(const std::string& camera, double k1, double sigma);
  /// Marks of a scan were kept: how many.
  void marked(int marks);
  void failed(const QString& words);

 private:
  struct Arrived {
    std::string bytes, name, file_time;
    size_t number = 0;
    friend bool operator==(const Arrived& a, const Arrived& b) { return a.number == b.number; }
  };
  void ask();
  void takeIn();
  void takeReading();
  bool old(const Held& held, const Scan& scan) const;
  std::string keepReading(const Held& held, const Scan& scan, const ScanReading& reading);
  void keepMarks(const Held& held, const std::string& read, const PhotoReading& photo);
  void findUnread();
  PhotoSetup setup() const;

  JobDocument& document_;
  std::optional<Held> held_;
  std::string shown_;   ///< Id; empty: the latest.
  std::string unread_;  ///< Id of the scan whose marks are to be kept once it is read.
  std::map<std::string, Point> hints_;  ///< By mark, hoop frame.
  std::vector<GuideClick> guides_;
  std::function<LensPrior(const std::string&)> lenses_;
  size_t arrivals_ = 0;
  SettingKey forKey_;  ///< Hooping in hand when the photo came.
  Study<Arrived, Scan> intake_;
  Study<ScanQuestion, ScanReading> read_;
};

}  // namespace rt
