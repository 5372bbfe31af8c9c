#pragma once
// What of a scene is looked at to judge one layer: the layer alone and what it is set into, as they show.

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
/// A light or shadow that follows the layer, or a group of nothing else.
bool isLightOf(const scene::Layer& layer, scene::LayerId caster);
/// The scene without what is confined to the layer.
scene::Scene withoutConfined(const scene::Scene& scene, scene::LayerId layer);
/// Share (0..1) of what `before` covers that comes to lie at one end of a channel in `after` and did not before; of the channel
/// and the end where it is most. Straight encoded RGBA of one size.
double clippedMore(const image::Raster<float>& before, const image::Raster<float>& after);

/// Two pictures of one size, px of a level: straight encoded colours with coverage, and what of them counts.
struct Pair {
  image::Raster<float> own, scene;
  image::Raster<std::uint8_t> inside;  // of the subject, a little in from its edge
  image::Raster<std::uint8_t> ring;    // of the scene, around the subject
  image::Raster<std::uint8_t> whole;   // of the scene, wherever the subject does not cover it
  int level = 0;
};
struct Specimen {
  /// The whole canvas at a level of about a megapixel: tones and colours, place.
  Pair tones;
  /// Full size, for what is as small as pixels. Large scenes: squares of it in a row, with empty px in between; their places in
  /// the scene are in `squares` (x of the row, scene rectangle).
  Pair fine;
  struct Square {
    int x;
    base::Rect scene;
  };
  std::vector<Square> squares;
  /// px of the row → scene px.
  base::Rect inScene(const base::Rect& inRow) const;
  /// The scene's ring and whole are what the user marked for it (scene::PictureContent::reference).
  bool marked = false;
  /// What its confined adjustments clip (clippedMore); nothing: there are none.
  std::optional<double> clipped;
  double coveredShare = 0;  // of the canvas
  base::Rect bounds;        // of what is covered, scene px
};

/// Nothing: the layer covers (nearly) nothing or (nearly) everything, or stands on nothing. Errors: what rendering says.
base::Result<std::optional<Specimen>> specimenOf(const scene::Scene& scene, scene::LayerId layer, base::Executor& executor,
                                                 const std::stop_token& stop);

}  // namespace hseam::findings
