#pragma once
// Tones of a scene, for the editors that stand on them.

#include "app/widgets/histogram.h"
#include "core/scene/scene.h"

namespace hseam::app {

/// As which of its tones a colour counts.
enum class ToneOf { luma, red, green, blue, lightness };

/// 0..1 of a straight encoded pixel; lightness: CIE L* / 100.
float toneOf(const float* rgb, ToneOf which);
/// From a small rendering; all 0 where nothing can be rendered.
Histogram tonesOf(const scene::Scene& scene, ToneOf which);

}  // namespace hseam::app
