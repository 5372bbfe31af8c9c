#pragma once
// One strip of a level painted layer by layer (scene/semantics.md).

#include <vector>

#include "core/render/lower_layers.h"
#include "core/render/tools.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// Reuses memory for the planes of one strip after another. One thread.
class Scratch {
 public:
  // Planes on loan; contents unspecified.
  class Loan {
   public:
    Loan(Scratch& from, int count) : from_(from), planes_(from.taken(count)) {}
    ~Loan() { from_.spare_.push_back(std::move(planes_)); }
    Loan(const Loan&) = delete;
    Loan& operator=(const Loan&) = delete;
    Planes& operator*() { return planes_; }
    Planes* operator->() { return &planes_; }

   private:
    Scratch& from_;
    Planes planes_;
  };

 private:
  Planes taken(int count) {
    if (spare_.empty() || spare_.back().count() != count) {
      spare_.clear();
      return Planes(count);
    }
    Planes p = std::move(spare_.back());
    spare_.pop_back();
    return p;
  }
  std::vector<Planes> spare_;
};

class Underlay;

/// One thread, one strip; all references must outlive it.
class StripPainter {
 public:
  /// area: px of the level.
  StripPainter(const scene::Scene& scene, const base::Rect& area, int level, Tools& tools, Scratch& scratch);

  /// Paints the scene. backdrop: a cache of the backmost layers (may be null). underlay: holds the layers with a neighbourhood;
  /// null if there are none. canvas: as many pixels as the area.
  base::Status paintScene(LowerLayers* backdrop, Underlay* underlay, Planes& canvas);
  /// The first `until` layers alone. Without an underlay, results within lookAroundPx of the area's border are wrong.
  base::Status paintUntil(std::size_t until, Underlay* underlay, Planes& canvas);

 private:
  base::Status paint(const std::vector<scene::LayerRef>& layers, Planes& canvas, float* shape);
  base::Status paint(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until, Planes& canvas,
                     float* shape);
  std::size_t firstSeen(const std::vector<scene::LayerRef>& layers, const float* shape, std::size_t until) const;
  bool covers(const scene::Layer& layer) const;
  base::Status paintEach(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas,
                         float* shape);
  base::Status paintRun(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas,
                        float* shape);
  base::Status paintOne(const scene::Layer& layer, Planes& canvas, float* shape);
  void paintAdjustments(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas);
  void replaceColours(const std::vector<std::shared_ptr<const BakedAdjustment>>& by, Planes& canvas);
  base::Status paintAdjustment(const scene::Layer& layer, Planes& canvas);
  base::Status paintEffect(const scene::Layer& layer, Planes& canvas, const Planes* behind);
  base::Status paintOpenGroup(const scene::Layer& layer, Planes& canvas, float* shape);
  void put(const scene::Layer& layer, const Planes& source, Planes& canvas, float* shape);
  base::Result<bool> fillSource(const scene::Layer& layer, Planes& out);
  base::Result<bool> fillFrom(const scene::Layer& layer, const scene::PictureContent& picture, Planes& out);
  base::Result<bool> fillFrom(const scene::Layer& layer, const scene::LightContent& light, Planes& out);
  base::Result<bool> fillFrom(const scene::Layer& layer, const scene::FillContent& fill, Planes& out);
  base::Result<bool> fillFrom(const scene::Layer& layer, const scene::AdjustmentContent& adjustment, Planes& out);
  base::Result<bool> fillFrom(const scene::Layer& layer, const scene::GroupContent& group, Planes& out);
  base::Result<bool> timesMask(const scene::Layer& layer, Planes& out, const Planes& colours);
  base::Result<bool> timesNumbers(const scene::Layer& layer, Planes& out, const Planes& colours);
  base::Result<image::Raster<float>> shapeOf(const scene::Layer& layer);
  base::Status handMade(const scene::Layer& layer, float* out);
  base::Status sampleMask(const scene::Layer& layer, const image::TiledImage& coverage, const base::Affine& toLevel,
                          const base::Rect& area, float* out);
  bool reaches(const scene::Layer& layer, double spreadPx = 0) const;

  const scene::Scene& scene_;
  base::Rect area_;
  int level_;
  base::Affine toLevel_;
  int count_;
  Tools& tools_;
  Scratch& scratch_;
  bool withinPart_ = false;   // a layer is looked at for another one's mask
  bool withinShape_ = false;  // lights do not count
};

}  // namespace hseam::render
