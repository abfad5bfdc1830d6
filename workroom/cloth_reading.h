// What photos of a sewn swatch say of its cloth.
#pragma once

#include "cloth_learning.h"
#include "photo_marks.h"

namespace rt {

struct ClothPhotos {
  std::vector<Photo> photos;
  std::vector<std::string> names;  ///< For errors.
  PhotoSetup setup;                ///< Of the frame; the list's frame is the hoop's.
};

struct ClothPhotoLesson {
  ClothLesson lesson;
  size_t sought = 0;          ///< Elements of the list (see sewnElements).
  std::vector<size_t> found;  ///< By photo.
  size_t sights = 0;
};

/// Finds the sewn list's elements in the photos, learns, and looks once more near where the cloth
/// is now thought to have brought them: what a neighbour was taken for does not stand. What several
/// photos say of one element is their weighted mean. `besides`: what was measured otherwise. Throws
/// Error naming the photo that has no plane or shows next to nothing of the list; Stopped.
ClothPhotoLesson learnedFromPhotos(const ClothKnown& before, const Pattern& sewn,
                                   const ClothPhotos& photos,
                                   const std::vector<ClothSight>& besides = {},
                                   const Watch& watch = {});

}  // namespace rt
