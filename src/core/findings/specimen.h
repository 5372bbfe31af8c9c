#pragma once
// What one layer is judged from: renderings of the layer alone and of the scene behind it.

#include "core/base/executor.h"
#include "core/measure/pixels.h"
#include "core/scene/scene.h"

namespace hseam::findings {

/// The scene with this layer alone: it, what is confined to it, and every adjustment in front of it.
scene::Scene alone(const scene::Scene& scene, scene::LayerId layer);
/// The scene behind the layer, with the adjustments in front of it.
scene::Scene behind(const scene::Scene& scene, scene::LayerId layer);

/// The adjustments that are confined to the layer.
std::vector<scene::LayerId> confinedTo(const scene::Scene& scene, scene::LayerId layer);
/// Whether `layer` is a light or shadow that follows the caster, or a group of only such.
bool isLightOf(const scene::Layer& layer, scene::LayerId caster);
/// The scene without what is confined to the layer.
scene::Scene withoutConfined(const scene::Scene& scene, scene::LayerId layer);
/// Share (0..1) of the covered px of `before` that reach an end of a channel in `after` and did not before; the largest over
/// channels and ends. Straight encoded RGBA of one size.
double clippedMore(const image::Raster<float>& before, const image::Raster<float>& after);

/// Layer and scene at one level: straight encoded colours with coverage, and masks of the px that count. The scene is without the
/// layer's own shadows and lights.
struct Pair {
  image::Raster<float> own, scene;
  image::Raster<std::uint8_t> inside;  // px of the subject, a little inside its edge
  image::Raster<std::uint8_t> ring;    // px of the scene around the subject
  image::Raster<std::uint8_t> whole;   // px of the scene that the subject does not cover
  int level = 0;
};
struct Specimen {
  /// The whole canvas at a level of about a megapixel: tones and colours, place.
  Pair tones;
  /// tones.scene with the layer's own shadows and lights; empty where it has none.
  image::Raster<float> withShadows;
  /// Full size, for detail at the scale of pixels. Of large scenes, squares in a row with empty px between; `squares` holds their
  /// places (x in the row, scene rectangle).
  Pair fine;
  struct Square {
    int x;
    base::Rect scene;
  };
  std::vector<Square> squares;
  /// px of the row → scene px.
  base::Rect inScene(const base::Rect& inRow) const;
  /// The user marked the part of the scene to compare with (scene::PictureContent::reference); ring and whole are that.
  bool marked = false;
  /// What its confined adjustments clip (clippedMore); empty without any.
  std::optional<double> clipped;
  double coveredShare = 0;  // of the canvas
  base::Rect bounds;        // of what is covered, scene px
};

/// Empty if the layer covers nearly nothing or nearly everything, or has nothing behind it. Errors: what rendering says.
base::Result<std::optional<Specimen>> specimenOf(const scene::Scene& scene, scene::LayerId layer, base::Executor& executor,
                                                 const std::stop_token& stop);

}  // namespace hseam::findings
