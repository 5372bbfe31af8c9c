#pragma once
// The shape that shadows and lit edges follow: a picture layer's coverage, read at any place and any width.

#include <utility>
#include <vector>

#include "core/image/raster.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// Holds parts of the layer's coverage as they are needed. One thread; the layer must outlive it.
class Caster {
 public:
  /// A picture layer; what is not covered by its mask or by its own alpha is empty. False from ok(): its place is flat.
  explicit Caster(const scene::Layer& layer);
  bool ok() const { return ok_; }
  const base::Affine& toScene() const { return toScene_; }
  const base::Affine& toLayer() const { return toLayer_; }
  base::Size size() const { return size_; }
  double scale() const { return scale_; }

  /// Reads what lies within `area` (px of the layer) for widths from `least` to `most` layer px. Errors: what reading says.
  base::Status prepare(const base::Rect& area, double leastPx, double mostPx);
  /// Coverage 0..1 about a place, as wide as `widthPx` (layer px): levels of detail, smoothly between. Outside of what was
  /// prepared, and of the picture, 0.
  float at(base::Point layerPx, double widthPx) const;
  /// The mean over a disc of radiusPx, by 13 places.
  float disc(base::Point layerPx, double radiusPx) const;

  /// Places of the layer (px) and the widest disc about any of them.
  struct Spot {
    double left = 0, top = 0, right = 0, bottom = 0, radius = 0;
  };
  /// The least and the greatest that discs there can be: 0 and 1 where that is not worth finding out.
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

  const scene::Layer& layer_;
  base::Affine toScene_, toLayer_;
  base::Size size_;
  double scale_ = 1;
  bool ok_ = false;
  std::vector<Part> parts_;  // consecutive levels
};

}  // namespace hseam::render
