#pragma once
// What the canvas shows: which scene is derived from the document's, and how its pixels become screen pixels. Values only.

#include <QImage>
#include <array>
#include <functional>
#include <memory>
#include <optional>

#include "core/image/raster.h"
#include "core/render/planes.h"
#include "core/scene/scene.h"

namespace hseam::app {

/// What lies behind where nothing is.
struct Ground {
  enum class Kind { woven, flat };
  Kind kind = Kind::woven;
  std::array<double, 3> colour{0.5, 0.5, 0.5};  // sRGB-encoded; of a flat ground
  friend bool operator==(const Ground&, const Ground&) = default;
};

/// How colours are turned for checking.
enum class Eyes { plain, grey, hue, saturation, clipped, redGreenBlind, zones, grain, focus };

struct View {
  /// 0: the whole scene. Else only this picture layer, in its own pixels, on the ground.
  scene::LayerId onlyLayer;
  Ground ground;
  bool uncut = false;                  // without its mask (onlyLayer must be set)
  bool maskAlone = false;              // the active layer's mask as a grey picture (onlyLayer must be set)
  bool ghostOfSource = false;          // the uncut picture faintly over the cut
  bool original = false;               // the picture's own colours instead of the clean ones
  std::vector<scene::LayerId> ghosts;  // layers at half strength; never part of a scene or an export
  scene::LayerId differenceOf;         // this layer shows as its difference from what lies below; 0: none
  Eyes eyes = Eyes::plain;
  std::shared_ptr<const scene::Scene> against;  // what is shown is the difference to it; null: the scene itself
  friend bool operator==(const View&, const View&) = default;
};

/// The scene to render for a view: the document's own, or one made of a single layer.
scene::Scene sceneFor(const scene::Scene& scene, const View& view);

/// How far (px of the level) eyes look around a pixel; 0: they see each pixel alone, and toScreen turns it.
int reachOf(Eyes eyes);
/// The difference of two pictures of one size becomes the first, as many times.
void differ(image::Raster<float>& pixels, const image::Raster<float>& from, float times);
/// Eyes that look around: straight encoded colours become what they see, in place.
void seeAround(image::Raster<float>& pixels, Eyes eyes);

/// px of the active layer's mask → px of the shown scene; the identity for masks that lie on the canvas.
base::Affine layerToShown(const scene::Layer& layer, const View& view);

/// Takes px of a bent picture to px of the picture; nothing where none of it lies.
using Unbend = std::function<std::optional<base::Point>(base::Point)>;
/// What comes after the inverse of layerToShown where the layer's picture is shown bent; null where it is not.
Unbend unbendShown(const scene::Layer& layer, const View& view);

/// Rendered pixels (straight encoded RGBA) on the ground, for the screen: the part `part` (px of the level, where the weave
/// lies) goes to `at` of an RGB32 picture. Mixing with the ground is done in linear light, as everywhere.
void toScreen(const render::Planes& pixels, const base::Rect& part, const View& view, QImage& into, QPoint at);
/// The same for a whole raster; origin: of the raster in px of its level.
QImage toScreen(const image::Raster<float>& pixels, int originX, int originY, const View& view);

}  // namespace hseam::app
