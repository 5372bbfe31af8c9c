#pragma once
// Selects a part of a picture: by subject, colour or path.

#include <array>
#include <variant>

#include "core/path/path.h"
#include "core/select/subject_guess.h"

namespace hseam::tasks {

/// What stands out.
struct BySubject {
  select::GuessOptions guess;
  std::optional<std::array<int, 2>> at;  // px: of what is seen, the smallest thing that takes in this pixel
  int candidates = 1;                    // how many are told, 1..5
};
/// What has the colour of a pixel.
struct ByColour {
  std::array<int, 2> at{};
  double reach = 10;        // CIEDE2000 within which a colour is chosen wholly
  bool everywhere = false;  // also what does not hang together with the pixel
};
/// What outlines enclose, px of the picture.
struct ByPath {
  path::Path outline;
};
using SelectOptions = std::variant<BySubject, ByColour, ByPath>;

struct Selected {
  image::TiledImage selection;  // grey8, of the picture's size
  select::SeenSubjects seen;    // by subject: what was seen
  std::size_t which = 0;        // of its candidates
};

/// Errors: invalid (there is no such pixel, hints contradict, nothing found), notFound (nothing stands out at that pixel),
/// cancelled, what reading says.
base::Result<Selected> select(const image::TiledImage& picture, const SelectOptions& options, base::Executor& executor,
                              const base::Progress& progress);

}  // namespace hseam::tasks
