#pragma once
// What a picture shows, as the learned networks that come with the program see it.

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
  image::Raster<float> subject;  // how likely each place is the picture's subject, 0..1; the picture's frame in kSubjectSide² px
  image::Raster<float> person;   // the same for people alone; 0 where no person was seen, and only right where one is
  std::vector<SeenThing> things;  // the likeliest first, each once
};
inline constexpr int kSubjectSide = 160, kPersonSide = 256;

/// rgb: 3 channels, encoded sRGB 0..1, any size (some 300 px a side are enough). Errors: notFound, corrupt, unsupported (see
/// learned/network.h), cancelled, outOfMemory.
base::Result<Seen> see(const image::Raster<float>& rgb, const base::Progress& progress);

}  // namespace hseam::learned
