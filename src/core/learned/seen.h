#pragma once
// What the learned networks recognise in a picture.

#include <string>

#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::learned {

struct SeenThing {
  bool isPerson = false;
  std::string word;                                 // "dog", "bicycle"
  double left = 0, top = 0, right = 0, bottom = 0;  // its box, as shares of the picture's sides; may reach past them
  double score = 0;                                 // 0..1; below about 0.3 seldom true
};

struct Seen {
  image::Raster<float> subject;   // probability of being the picture's subject, 0..1; the whole picture in kSubjectSide² px
  image::Raster<float> person;    // the same for people alone; all 0 if no person was detected
  std::vector<SeenThing> things;  // the likeliest first, each once
};
inline constexpr int kSubjectSide = 160, kPersonSide = 256;

/// rgb: 3 channels, encoded sRGB 0..1, any size (some 300 px a side are enough). Errors: notFound, corrupt, unsupported (see
/// learned/network.h), cancelled, outOfMemory.
base::Result<Seen> see(const image::Raster<float>& rgb, const base::Progress& progress);

}  // namespace hseam::learned
