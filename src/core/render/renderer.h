#pragma once
// From a scene to pixels. Pure: the same scene, area and level give the same bits for any thread count and any way the
// area is split.

#include <functional>
#include <stop_token>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"
#include "core/render/lower_layers.h"
#include "core/render/tools.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// A finished part: `part` in px of the level, its pixels row after row in the planes. Parts are disjoint and make up the area
/// inside the canvas. Called on the executor's threads, for different parts at once.
using PartSink = std::function<void(const base::Rect& part, const Planes& pixels)>;

class Renderer {
 public:
  /// As render(), but passes each part to the sink while it is still in the processor's cache. backdrop: a cache whose block
  /// holds the area; used, and filled where it is empty. The same bits either way.
  base::Status renderTo(const scene::Scene& scene, const base::Rect& area, int level, base::Executor& executor,
                        const PartSink& sink, std::stop_token stop = {}, LowerLayers* backdrop = nullptr);

  /// The part `area` (px of the level) of the scene: four channels, straight encoded sRGB and alpha, 0..1. Level n has
  /// 1/2ⁿ of the canvas's size, rounded up; the canvas's border is not part of the result: outside it alpha is 0.
  /// Any thread. Cost: area × layers that touch it. Errors: cancelled, what pinning says.
  base::Result<image::Raster<float>> render(const scene::Scene& scene, const base::Rect& area, int level,
                                            base::Executor& executor, std::stop_token stop = {});

 private:
  Tools tools_;
};

/// The canvas's size at a level.
base::Size canvasAt(const scene::Scene& scene, int level);

/// Level-0 px of a picture layer's source that rendering `area` (px of the level) reads.
base::Rect needs(const scene::Layer& pictureLayer, const base::Rect& area, int level);
/// Scene px that a change of `area` (level-0 px of the source) can change.
base::Rect touches(const scene::Layer& pictureLayer, const base::Rect& area);

}  // namespace hseam::render
