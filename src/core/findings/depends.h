#pragma once
// What the judgement of a layer rests on, so that it is made anew only where that has changed.

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::findings {

/// Equal for two scenes: the layer is judged alike in both. Holds the layers it names.
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
  /// all: every one of them counts, wherever the layer stands.
  void collect(const scene::Scene& scene, const std::vector<scene::LayerRef>& layers, scene::LayerId of, bool all, bool& passed);
  void follow(const scene::Scene& scene, const scene::Layer& layer, int deep);

  base::Size canvas_;
  scene::Mixing mixing_;
  std::optional<scene::Floor> floor_;
  std::map<std::string, double> tolerance_;
  std::vector<scene::LayerRef> layers_;  // shared and never changed: the same one is the same
  std::vector<GroupLook> groups_;
};

}  // namespace hseam::findings
