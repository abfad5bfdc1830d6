// The cloth under the stand-in's needle: how it really lies in the frame, and what is sewn on it.
#pragma once

#include <QJsonObject>
#include <random>

#include "camera.h"
#include "machine.h"
#include "moving_cloth.h"

namespace standin {

/// How badly the cloth is hooped on purpose.
enum class Level {
  Even,       ///< A little turned and off.
  Crooked,    ///< Turned and off by more.
  Stretched,  ///< Pulled longer one way, or out of square.
  Wrong,      ///< One mark drawn at a wrong place, or a tag seen twice.
  Mean,       ///< Any of these, in a photo taken badly.
};
constexpr int kLevels = 5;

/// Cloth that is clamped by an unseen hand. What is sewn stays on it when it is clamped again.
class VirtualCloth {
 public:
  /// Clamps it anew, so that the layout should lie in the field as `meant` says; the same seed
  /// clamps it the same way.
  void hoop(Level level, uint32_t seed, const rt::Transform& meant);
  /// From the next clamping on the cloth moves while it is sewn, as clothMake says. Throws Error
  /// for a fabric that there is none of.
  void letMove(const std::string& fabric, uint32_t seed);
  /// The frame was brought to another of its settings: its field, in the first one's.
  void set(const rt::Transform& field) { field_ = field; }
  bool hooped() const { return hooped_; }
  /// A stitch from the last needle point to this one, in the machine's field; a trim or jump parts
  /// the thread.
  void needle(const Row& row);
  void lift();
  /// A photo of what lies in the frame, as base64, of the marks that the request says were put
  /// there. The error is in `error`.
  QJsonObject photo(const QJsonObject& request);
  /// How the cloth really lies, and what was done to it.
  QJsonObject truth() const;
  const rt::Transform& lies() const { return lies_; }

 private:
  std::vector<rt::LaidThread> sewnLinesOf(const QJsonValue& asked) const;
  rt::Scene sceneOf(const QJsonObject& request) const;
  rt::Camera cameraFor(const rt::Scene& scene, int width);

  struct Stitch {
    rt::Point from, to;  // on the cloth: layout frame
    uint8_t bgr[3];
    size_t hole = kNone, before = kNone;  // of the moving cloth
  };
  static constexpr size_t kNone = static_cast<size_t>(-1);
  rt::Transform onCloth() const;
  void layMoving(rt::Point field, Stitch stitch);
  void settle();
  rt::Point whereNow(rt::Point layout) const;
  Level level_ = Level::Even;
  bool hooped_ = false;
  rt::Transform lies_;   // from where it was meant to lie in the field to where it lies
  rt::Transform meant_;  // from the layout to where it was meant to lie
  rt::Transform field_;  // of the setting in use, in the first one's
  QString fault_;
  std::vector<Stitch> sewn_;
  std::optional<rt::Point> last_;
  std::optional<rt::ClothMake> make_;
  uint32_t seed_ = 1;
  std::optional<rt::MovingCloth> moving_;
  size_t hole_ = kNone;
  std::mt19937 random_{1};
};

}  // namespace standin
