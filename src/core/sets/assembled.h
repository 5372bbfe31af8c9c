#pragma once
// Composes a set of frames: registration, resampling onto the base, and combination as the set says.

#include <map>
#include <memory>
#include <mutex>

#include "core/frames/lamps.h"
#include "core/frames/registration.h"
#include "core/scene/content/frame_set.h"

namespace hseam::sets {

/// Registers a picture as a frame: its map, exposure, and whether it fits. One that does not fit is not an error: unfit says why,
/// and it is not used. Errors: what reading says, cancelled.
base::Result<scene::SetFrame> frameOn(const frames::BaseFrame& base, std::string name, const image::TiledImage& picture,
                                      base::Executor& executor, const base::Progress& progress);

/// Frames on the base's grid. Where only parts are used they are resampled on reading; where all of each is read at every change
/// (lamps, the lightest) they are resampled once and kept while in use. Any thread; memory goes through the pictures' own
/// TileMemory.
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

/// Makes another frame the base: all others are registered on it again, picks are renumbered and mapped. index: of frames, 1
/// or more. Errors: invalid (of another size than the base, or nothing in it can be recognised), what registering says.
base::Result<scene::FrameSet> withBase(const scene::FrameSet& set, std::size_t index, base::Executor& executor,
                                       const base::Progress& progress);

/// Removes a frame; its picks become free. nullopt if only the base is left.
base::Result<std::optional<scene::FrameSet>> without(const scene::FrameSet& set, std::size_t index, base::Executor& executor);

/// Of a grey8 picture: 255 where it has the value, else 0.
base::Result<image::TiledImage> whereItIs(const image::TiledImage& labels, std::uint8_t value, base::Executor& executor);

}  // namespace hseam::sets
