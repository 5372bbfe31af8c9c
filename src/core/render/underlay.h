#pragma once
// The layers with a neighbourhood (scene::looksAround) and all below them, painted with the border that they need. Layers in
// front of them work by pixel and are painted in strips.

#include "core/render/strip_painter.h"

namespace hseam::render {

/// One cell of the renderer's grid; one thread. Paints when it is first asked. All references must outlive it.
class Underlay {
 public:
  /// cell: px of the level. border: how far the layers look, px of the level.
  Underlay(const scene::Scene& scene, const base::Rect& cell, int border, int level, Tools& tools, Scratch& scratch);

  /// How many layers from the back.
  std::size_t layers() const { return layers_; }
  /// The area of `planes`. Correct within the cell.
  const base::Rect& area() const { return area_; }
  /// Stays valid while this lives. Errors: what painting says.
  base::Result<const Planes*> planes();

 private:
  const scene::Scene& scene_;
  std::size_t layers_;
  base::Rect area_;
  int level_;
  Tools& tools_;
  Scratch& scratch_;
  std::optional<Scratch::Loan> painted_;
};

}  // namespace hseam::render
