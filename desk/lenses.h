// What is known of each camera's lens, learned over its photos.
#pragma once

#include <filesystem>
#include <optional>

#include "plane.h"

namespace rt {

/// How a camera's lens bends, by all photos whose plane told it.
struct LearnedLens {
  int photos = 0;
  double k1 = 0, sigma = 0;  ///< Weighted mean, and its error, one sigma.
  /// What a further photo begins with: never surer than focus lets it be.
  LensPrior prior() const;
  friend bool operator==(const LearnedLens&, const LearnedLens&) = default;
};

/// Kept in an INI file, a group a camera. Unset: nothing was learned, or it cannot be read.
std::optional<LearnedLens> knownLens(const std::filesystem::path& list, const std::string& camera);
/// One more photo. `k1` and `sigma` are what it tells by itself. Photos that tell nearly nothing
/// (sigma over 0.01) and cameras without a name are passed over. Gives what is known then.
std::optional<LearnedLens> learnLens(const std::filesystem::path& list, const std::string& camera,
                                     double k1, double sigma);
void forgetLens(const std::filesystem::path& list, const std::string& camera);

}  // namespace rt
