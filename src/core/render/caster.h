#pragma once
// The shape that casts shadows: a layer's coverage, filtered at any place and width.

#include <functional>
#include <utility>
#include <vector>

#include "core/image/raster.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// The coverage of a layer as it shows, without the lights within it, for an area of a level of the scene.
using ShapeOf = std::function<base::Result<image::Raster<float>>(const scene::Layer& layer, int level, const base::Rect& area)>;

/// Holds parts of the layer's coverage as they are needed. One thread; the layer must outlive it.
///
/// A picture that is neither bent nor masked by numbers is read in its own px (mask times its own alpha), at its levels of
/// detail. The shape of anything else is painted, and its px are the scene's.
class Caster {
 public:
  /// ok() is false if it casts nothing or its placement is singular.
  Caster(const scene::Scene& scene, const scene::Layer& layer, ShapeOf shapeOf);
  bool ok() const { return ok_; }
  /// Of the px in which the shape is read.
  const base::Affine& toScene() const { return toScene_; }
  const base::Affine& toLayer() const { return toLayer_; }
  /// Of the px in which a light's places are given.
  const base::Affine& placesToScene() const { return placesToScene_; }
  /// scene::headAbove.
  base::Point headAbove(base::Point foot) const { return scene::headAbove(scene_, layer_, foot); }
  base::Size size() const { return size_; }
  double scale() const { return scale_; }

  /// Reads what lies within `area` (px of the layer) for widths from `least` to `most` layer px. Errors: what reading says.
  base::Status prepare(const base::Rect& area, double leastPx, double mostPx);
  /// Coverage 0..1 about a place, as wide as `widthPx` (layer px): levels of detail, smoothly between. Outside of what was
  /// prepared, and of the picture, 0.
  float at(base::Point layerPx, double widthPx) const;
  /// 13, 19 or 37 samples: few suffice for small discs; in wide ones they would show as steps.
  enum class Detail : std::uint8_t { few, more, many };
  /// How wide each place is read, in radii.
  static double spread(Detail detail) { return detail == Detail::few ? 0.7 : detail == Detail::more ? 0.55 : 0.4; }
  /// The mean over a disc of radiusPx.
  float disc(base::Point layerPx, double radiusPx, Detail detail = Detail::few) const;

  /// Places of the layer (px) and the widest disc about any of them.
  struct Spot {
    double left = 0, top = 0, right = 0, bottom = 0, radius = 0;
  };
  /// Bounds of what discs there can give; 0 and 1 where computing them does not pay.
  std::pair<float, float> range(const Spot& spot) const;

 private:
  struct Part {
    int level = 0;
    base::Rect area;
    image::Raster<float> values;
  };
  // Between which two levels a width lies.
  struct Width {
    std::size_t part;
    float next;  // share of the coarser one
  };
  Width widthOf(double px) const;
  float at(base::Point layerPx, const Width& width) const;
  float sampled(const Part& part, base::Point layerPx) const;
  float discIn(const Part& part, base::Point layerPx, double radiusPx, Detail detail) const;
  base::Result<image::Raster<float>> coverage(int level, const base::Rect& area) const;
  base::Rect wholeAt(int level) const;

  const scene::Scene& scene_;
  const scene::Layer& layer_;
  ShapeOf shapeOf_;
  bool painted_ = false;
  int levels_ = 1;
  base::Affine toScene_, toLayer_, placesToScene_;
  base::Size size_;
  double scale_ = 1;
  bool ok_ = false;
  std::vector<Part> parts_;  // consecutive levels
};

}  // namespace hseam::render
