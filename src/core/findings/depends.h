#pragma once
// What the judgement of a layer depends on, so that it is made again only where that has changed.

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::findings {

/// Two equal ones: the layer is judged alike in both scenes. Keeps the layers it names alive.
class Depends {
 public:
  Depends(const scene::Scene& scene, scene::LayerId layer);
  friend bool operator==(const Depends&, const Depends&) = default;

 private:
  /// A group's own look, without what is in it.
  struct GroupLook {
    scene::LayerId id;
    double opacity;
    scene::BlendMode mode;
    bool clip, hidden, isolated, maskActs;
    std::uint64_t mask;
    scene::MaskNumbers numbers;
    scene::ToneRange shows;
    friend bool operator==(const GroupLook&, const GroupLook&) = default;
  };
  /// all: every layer counts, also those in front of the judged one.
  void collect(const scene::Scene& scene, const std::vector<scene::LayerRef>& layers, scene::LayerId of, bool all, bool& passed);
  void follow(const scene::Scene& scene, const scene::Layer& layer, int deep);

  base::Size canvas_;
  scene::Mixing mixing_;
  std::optional<scene::Floor> floor_;
  std::optional<scene::PlaceLight> light_;
  std::map<std::string, double> tolerance_;
  std::vector<scene::LayerRef> layers_;  // immutable and shared: compared by pointer
  std::vector<GroupLook> groups_;
};

}  // namespace hseam::findings
