// The cloth under the stand-in's needle: how it really lies in the frame, and what is sewn on it.
#pragma once

#include <QJsonObject>
#include <random>

#include "camera.h"
#include "machine.h"

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
  /// The frame was brought to another of its settings: its field, in the first one's.
  void set(const rt::Transform& field) { field_ = field; }
  bool hooped() const { return hooped_; }
  /// A stitch from the last needle point to this one, in the machine's field; a trim or jump parts
  /// the thread.
  void needle(const Row& row);
  void lift() { last_.reset(); }
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
  };
  Level level_ = Level::Even;
  bool hooped_ = false;
  rt::Transform lies_;   // from where it was meant to lie in the field to where it lies
  rt::Transform meant_;  // from the layout to where it was meant to lie
  rt::Transform field_;  // of the setting in use, in the first one's
  QString fault_;
  std::vector<Stitch> sewn_;
  std::optional<rt::Point> last_;
  std::mt19937 random_{1};
};

}  // namespace standin
