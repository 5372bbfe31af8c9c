#pragma once
// A composite in double precision, written from core/scene/semantics.md and the W3C text alone; shares no code with the
// renderer. Pictures must lie on whole pixels at scale 1, unturned.

#include <array>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::reference {

struct Pixel {
  std::array<double, 3> colour{};  // straight, encoded
  double alpha = 0;
};

/// The whole canvas, row by row.
std::vector<Pixel> composite(const scene::Scene& scene);
/// A part of the canvas.
std::vector<Pixel> composite(const scene::Scene& scene, const base::Rect& area);

/// B(Cb, Cs) of the W3C text, sections 9 and 10.
std::array<double, 3> blend(scene::BlendMode mode, const std::array<double, 3>& backdrop, const std::array<double, 3>& source);

/// Sentences 1 and 2 for one pixel.
Pixel laid(const Pixel& backdrop, const std::array<double, 3>& source, double coverage, double opacity, scene::BlendMode mode,
           scene::Mixing mixing);

}  // namespace hseam::reference
