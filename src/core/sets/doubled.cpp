#include "core/sets/doubled.h"

#include <algorithm>
#include <cmath>

#include "core/frames/frame.h"
#include "core/image/level.h"

namespace hseam::sets {
namespace {

base::Status isFrame(const scene::FrameSet& set, std::size_t frame) {
  if (frame >= 1 && frame < set.frames.size()) return {};
  return base::Error{base::Code::invalid, "", "there is no such frame beside the base"};
}

float lumaAt(const float* c, int channels) {
  return channels < 3 ? c[0] : 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
}

std::uint8_t byteOf(float v) {
  return std::uint8_t(std::lround(255 * std::clamp(v, 0.f, 1.f)));
}

}  // namespace

base::Result<image::Raster<std::uint8_t>> doubled(const scene::FrameSet& set, std::size_t frame, double pixels) {
  HSEAM_DO(isFrame(set, frame));
  const image::TiledImage& base = set.frames[0].picture;
  const scene::SetFrame& f = set.frames[frame];
  const int level = image::levelOfAtMost(base, pixels);
  const base::Rect all = base::Rect::of(base.level(level).size);
  const frames::Frame laid(f.picture, frames::Homography{f.toBase}, base.size(),
                           frames::LightChange{f.gainStops, f.redStops, f.blueStops, true});
  HSEAM_TRY(const auto under, image::readFloat(base, level, all));
  HSEAM_TRY(const auto over, laid.read(level, all));
  image::Raster<std::uint8_t> out(all.width, all.height, 3);
  for (int y = 0; y < all.height; ++y) {
    for (int x = 0; x < all.width; ++x) {
      const float b = lumaAt(under.at(x, y), under.channels()), o = lumaAt(over.at(x, y), over.channels());
      std::uint8_t* to = out.at(x, y);
      to[0] = byteOf(o), to[1] = byteOf((b + o) / 2), to[2] = byteOf(b);
    }
  }
  return out;
}

base::Result<scene::FrameSet> nudged(scene::FrameSet set, std::size_t frame, double dx, double dy) {
  HSEAM_DO(isFrame(set, frame));
  std::array<double, 9>& m = set.frames[frame].toBase;
  // A shift after the map: its first two rows gain so many times the third.
  for (std::size_t c = 0; c < 3; ++c) m[c] += dx * m[6 + c], m[3 + c] += dy * m[6 + c];
  set.frames[frame].used = true;
  return set;
}

}  // namespace hseam::sets
