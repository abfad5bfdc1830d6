// Whether seams lie as they were predicted: both sides measured in the scan of a hooping that is
// sewn and still in its frame.
#pragma once

#include "scan_table.h"
#include "seam_reading.h"

namespace rt {

class SeamCheck : public QObject {
  Q_OBJECT
 public:
  explicit SeamCheck(QObject* parent = nullptr);
  void ask(SeamQuestion question) { read_.ask(std::move(question)); }
  bool busy() const { return read_.running(); }
  void reset() { read_.reset(); }
  /// What was measured in a scan; null: not asked, or not there yet.
  std::shared_ptr<const SeamAnswer> answerFor(const std::string& scan) const;

 signals:
  void changed();
  /// Once for each question that has an answer.
  void measured(const rt::SeamQuestion& question, const rt::SeamAnswer& answer);
  void failed(const QString& words);

 private:
  void take();
  Study<SeamQuestion, SeamAnswer> read_;
  std::string told_;  ///< Id of the scan whose seams were told.
};

}  // namespace rt
