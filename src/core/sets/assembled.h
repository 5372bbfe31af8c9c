#pragma once
// What a set of frames becomes: registered, brought onto the base, and set together as the set says.

#include <map>
#include <memory>
#include <mutex>

#include "core/frames/lamps.h"
#include "core/frames/registration.h"
#include "core/scene/content/frame_set.h"

namespace hseam::sets {

/// A picture as a frame of the base's set: where it lies, its light, and whether it is of use. One that does not fit is no error:
/// it says so and is not used. Errors: what reading says, cancelled.
base::Result<scene::SetFrame> frameOn(const frames::BaseFrame& base, std::string name, const image::TiledImage& picture,
                                      base::Executor& executor, const base::Progress& progress);

/// Frames on the base's pixels. Where each gives only a part they are brought there as they are read; where all of each is read
/// at every change (lamps, the lightest), they are brought there once and kept while they are in use. Any thread; memory goes
/// through the pictures' own TileMemory.
class LaidFrames {
 public:
  /// One for each frame of the set, in the base's light but for lamps; unused ones show nothing.
  base::Result<std::vector<frames::Frame>> of(const scene::FrameSet& set, base::Executor& executor,
                                              const base::Progress& progress);

 private:
  using Key = std::tuple<std::uint64_t, std::uint64_t, std::array<double, 9>>;  // frame, base, map
  std::mutex mutex_;
  std::map<Key, image::TiledImage> kept_;
};

struct Assembled {
  image::TiledImage picture;
  image::TiledImage labels;    // null where light was added
  std::vector<double> shares;  // of the picture, by frame; empty where light was added
};
/// As set.way says; what moved in the base stays unless something else is picked there. Errors: as frames::montage, lightest and
/// litBy.
base::Result<Assembled> assembled(const scene::FrameSet& set, LaidFrames& laid, base::Executor& executor,
                                  const base::Progress& progress);

/// Another frame becomes the base: all others are registered on it anew, picks are renumbered and go along. index: of frames, 1
/// or more. Errors: invalid (of another size than the base, or nothing in it can be recognised), what registering says.
base::Result<scene::FrameSet> withBase(const scene::FrameSet& set, std::size_t index, base::Executor& executor,
                                       const base::Progress& progress);

/// A frame goes; picks of it become free. Of a set of two nothing is left to set together: nullopt.
base::Result<std::optional<scene::FrameSet>> without(const scene::FrameSet& set, std::size_t index, base::Executor& executor);

/// Of a grey8 picture: 255 where it has the value, else 0.
base::Result<image::TiledImage> whereItIs(const image::TiledImage& labels, std::uint8_t value, base::Executor& executor);

}  // namespace hseam::sets
