#pragma once
// A picture, and how a subject is cut out of it.

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/image/metadata.h"
#include "core/image/tiled_image.h"
#include "core/scene/content/frame_set.h"
#include "core/scene/permission.h"
#include "core/scene/placement.h"
#include "core/scene/warp.h"

namespace hseam::scene {

struct ContentKind;

/// A selection kept under a name.
struct NamedSelection {
  std::string name;
  image::TiledImage coverage;  // grey8, px of the layer
};

/// How a subject is cut out of its picture: all of it stays, so that the cut can be solved again. Pictures in layer px.
struct Cutout {
  image::TiledImage selection;  // grey8 coverage chosen by hand or guess; null = none
  image::TiledImage hints;      // grey8: 255 subject, 0 background, 128 nothing said
  image::TiledImage band;       // grey8: 255 subject, 0 background, 128 undecided
  image::TiledImage alpha;      // grey8: the last solution, before any painting
  image::TiledImage shaped;     // grey8: alpha as the edge plan wants it; null = alpha itself
  image::TiledImage clean;      // the subject's own colours, in the source's format; shares untouched tiles with it
  std::string recipe;           // JSON object owned by the matte folder: how band and alpha were made
  std::vector<NamedSelection> saved;
  std::string edgePlan;  // JSON object owned by the matte folder: what the user wants of the edge; empty = nothing
  bool useClean = true;  // show the clean colours
  /// What painting starts from.
  const image::TiledImage& outcome() const { return shaped.isNull() ? alpha : shaped; }
};

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
  Cutout cutout;
  double realHeightM = 0;          // of what is shown, from its lowest to its highest covered px; 0: unknown
  std::optional<double> horizonY;  // px of the picture: its own camera's horizon, in the middle column; nothing: unknown
  image::TiledImage reference;     // grey8, px of the canvas: where of the scene it is compared with; null: around it
  const image::TiledImage& shown() const { return cutout.useClean && !cutout.clean.isNull() ? cutout.clean : source; }
};

}  // namespace hseam::scene
