#include "core/render/underlay.h"

#include "core/render/renderer.h"
#include "core/scene/look_around.h"

namespace hseam::render {

Underlay::Underlay(const scene::Scene& scene, const base::Rect& cell, int border, int level, Tools& tools, Scratch& scratch)
    : scene_(scene),
      layers_(scene::layersLookingAround(scene.layers)),
      area_(cell.grown(border).intersected(base::Rect::of(canvasAt(scene, level)))),
      level_(level),
      tools_(tools),
      scratch_(scratch) {}

base::Result<const Planes*> Underlay::planes() {
  if (!painted_) {
    painted_.emplace(scratch_, area_.width * area_.height);
    if (const auto done = StripPainter(scene_, area_, level_, tools_, scratch_).paintUntil(layers_, nullptr, **painted_);
        !done.ok()) {
      painted_.reset();
      return done.error();
    }
  }
  return &**painted_;
}

}  // namespace hseam::render
