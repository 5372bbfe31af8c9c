#pragma once
// A picture, where it is placed, and its cut.

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/shared_value.h"
#include "core/image/metadata.h"
#include "core/image/tiled_image.h"
#include "core/scene/content/cutout.h"
#include "core/scene/content/frame_set.h"
#include "core/scene/permission.h"
#include "core/scene/placement.h"
#include "core/scene/warp.h"

namespace hseam::scene {

struct ContentKind;

struct PictureContent {
  static const ContentKind kKind;
  image::TiledImage source;                // never changed, but where it is painted by hand, or set together, in the first place
  bool byHand = false;                     // colour is painted on it; then 8-bit RGB with coverage
  std::shared_ptr<const FrameSet> frames;  // what source is set together from; null = one picture
  std::string sourceName;                  // the file it came from, for people
  std::string sourceHash;                  // key of the original file in the project; empty if there is none
  image::Metadata about;                   // what the file said of itself
  std::optional<Permission> permission;    // nothing: not noted
  Placement placement;
  std::shared_ptr<const Warp> warp;  // bends the picture before it is placed; null = not at all
  base::SharedValue<Cutout> cutout;
  double realHeightM = 0;          // of what is shown, from its lowest to its highest covered px; 0: unknown
  std::optional<double> horizonY;  // px of the picture: its own camera's horizon, in the middle column; nothing: unknown
  image::TiledImage reference;     // grey8, px of the canvas: where of the scene it is compared with; null: around it
  const image::TiledImage& shown() const { return cutout->useClean && !cutout->clean.isNull() ? cutout->clean : source; }
};

}  // namespace hseam::scene
