#pragma once
// A cache of what the backmost layers of a scene show in one block, valid while only layers in front of them change: a brush on
// the fifth layer need not render the four behind it again for every dab.

#include <vector>

#include "core/render/planes.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// One thread at a time. Costs 16 bytes for each pixel of the block that was ever asked for.
class LowerLayers {
 public:
  /// block: px of the level, within one cell of the renderer's grid (kBlockSide).
  LowerLayers(const scene::Scene& scene, std::size_t layers, const base::Rect& block, int level);

  /// How many layers of a scene, from the back, it stands for: all of them are the very same objects in `scene`. 0: none.
  std::size_t standsFor(const scene::Scene& scene, int level) const;

  const base::Rect& block() const { return block_; }
  /// The kept strip of kStripRows rows, as wide as the block, that holds the row `y` (px of the level); null: not painted yet.
  const Planes* strip(int y) const;
  void keep(int y, Planes planes);
  /// That strip's place.
  base::Rect placeOf(int y) const;

 private:
  std::vector<scene::LayerRef> layers_;
  base::Size canvas_;
  scene::Mixing mixing_;
  base::Rect block_;
  int level_;
  std::vector<std::unique_ptr<Planes>> strips_;
};

/// How many layers from the back are the very same in both, cut back to where no run of confined layers is divided.
std::size_t sameFromTheBack(const scene::Scene& a, const scene::Scene& b);

}  // namespace hseam::render
