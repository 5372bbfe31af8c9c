#pragma once
// Maps places of the floor or a wall back along the light to the caster; for cast_shadow.cpp alone.

#include <array>
#include <optional>

#include "core/render/caster.h"
#include "core/scene/floor.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// The caster as an upright card through its foot that faces the camera, and the light's direction over the floor.
struct Card {
  scene::Vec3 foot, across;  // metres; a unit vector on the floor
  double alongX, alongZ;     // the light's way over the floor, of unit length
  double tanElevation;
};

/// The inverse map of one plane. It is projective: each coordinate is a quotient of two linear functions of x and y.
class PlaneWay {
 public:
  static constexpr int kRun = 8;
  /// kRun places in a row: px of the caster, and metres along the light's way over the floor.
  struct Run {
    std::array<float, kRun> x, y, along;
  };
  PlaneWay() = default;
  /// wallZ: metres from the camera to a wall that faces it; 0: the floor.
  PlaneWay(const scene::FloorCamera& camera, const Card& card, double wallZ, const base::Affine& sceneToCaster);
  /// From `first` (scene px) on, `step` scene px apart, where the plane is seen.
  void at(base::Point first, double step, Run& run) const;

 private:
  using Row = std::array<double, 3>;  // of x, y and 1
  Row x_{}, y_{}, seen_{}, along_{}, depth_{};
};

/// Where a px of the scene lies behind the caster as seen from the light, and the shadow's softness and share there.
/// Self-contained. Any thread.
class ShadowWays {
 public:
  struct Met {
    // What keeps it from being met: the same answer at the corners of a cell holds within.
    enum class By { floor, wall, sky, besides, above, below } by = By::sky;
    base::Point layer;  // px of the caster
    double along = 0;   // metres
    bool met() const { return by == By::floor || by == By::wall; }
  };

  /// px: scene px of one px of the level. Empty if the foot is not on the floor.
  static std::optional<ShadowWays> of(const scene::Scene& scene, const scene::CastShadow& shadow, const Caster& caster,
                                      double px);

  Met at(base::Point scenePx) const;
  const PlaneWay& plane(Met::By by) const { return by == Met::By::wall ? wall_ : floor_; }
  /// Px of the caster: the penumbra there, at least half a px of the level.
  double radius(double along) const { return std::max(along * softening_, leastRadius_); }
  /// Share of the light that an opaque caster blocks there: density and fading.
  double share(double along) const;
  double fading() const { return fading_; }  // share falls as e to the minus this, a metre

 private:
  ShadowWays(const scene::FloorCamera& camera, const Card& card, const scene::CastShadow& shadow, const Caster& caster,
             base::Point foot, double pxPerM, double px);

  scene::FloorCamera camera_;
  Card card_;
  base::Affine toLayer_;
  double density_, wallZ_, heightM_ = 0, softening_ = 0, leastRadius_ = 0, fading_ = 0;
  PlaneWay floor_, wall_;
};

}  // namespace hseam::render
