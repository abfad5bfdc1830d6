// The camera over the frame: photos of the cloth of the hooping in hand, and practice on cloth that
// an unseen hand clamped badly.
#pragma once

#include <QElapsedTimer>

#include "machine_link.h"
#include "scan_table.h"

namespace rt {

class ClothCamera : public QObject {
  Q_OBJECT
 public:
  ClothCamera(MachineLink& machine, ScanTable& scans, QObject* parent = nullptr);

  /// A photo of the hooping in hand becomes a scan. Connects to the machine first, and clamps the
  /// cloth if that was not done for this hooping.
  void shoot();
  /// Clamps the cloth of the hooping in hand anew, worse with the level (0 to 4), and takes a
  /// photo.
  void practise(int level, std::optional<quint32> seed = std::nullopt);
  bool busy() const { return want_ != Want::Nothing; }
  int level() const { return level_; }
  /// The hooping whose cloth was clamped for practice and whose truth is not known yet.
  bool practising() const;
  /// Ends the practice: `told` says how the cloth really lies.
  void askTruth();
  struct Truth {
    Transform lies;  ///< From where the layout was meant to lie in the field to where it lies.
    QString fault;   ///< What was done to it; empty: nothing.
  };
  /// Of the last practice of the hooping in hand; unset until it is asked.
  std::optional<Truth> truth() const;

 signals:
  void changed();
  void told();

 private:
  enum class Want { Nothing, Photo, Truth };
  void goOn();
  QJsonObject scene() const;

  MachineLink& machine_;
  ScanTable& scans_;
  Want want_ = Want::Nothing;
  std::optional<SettingKey> clamped_, practised_, toldOf_;
  std::optional<quint32> seed_;
  int level_ = 0;
  Truth truth_;
};

}  // namespace rt
