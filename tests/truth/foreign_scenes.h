#pragma once
// Composites of cut-outs and grounds that others made, clean ones and such with one fault in them, and photographs whose subject
// was masked and put back on itself. A second set beside truth/planted.h, and unlike it: the subject comes from elsewhere and is
// spoilt as a whole. Both share no code.

#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::truth {

struct ForeignScene {
  std::string name;
  scene::Scene scene;
  scene::LayerId layer;  // the subject
  std::string kind;      // of the fault; empty: clean
  double excess = 0;     // of the kind's usual tolerance
};

/// Cut-outs and grounds of the folder (truth::foreignFolder), each brought to the size it has in a scene of 900 px.
class ForeignScenes {
 public:
  ForeignScenes(const std::string& folder, std::shared_ptr<image::TileMemory> memory, base::Executor& executor);
  int subjects() const { return int(subjects_.size()); }
  /// Clean by construction: subject and ground have one blur, one grain, and the subject's lightness and colours are moved onto
  /// the ground's distribution. With a kind: spoilt by that alone. kind: black_point, white_point, cast, saturation, grain,
  /// sharpness, halo, edge_softness, leftovers. up: to the one side or the other, where there are two.
  ForeignScene scene(int subject, unsigned seed, const std::string& kind, double excess, bool up) const;

 private:
  struct Pixels;  // 8 bit
  std::vector<std::pair<std::string, std::shared_ptr<const Pixels>>> subjects_, grounds_;
  std::shared_ptr<image::TileMemory> memory_;
  base::Executor& executor_;
};

/// The folder's photographs, their subject masked (feathered by 0.7 px where nothing is said of the edge) over themselves.
std::vector<ForeignScene> maskedAndPutBack(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                           base::Executor& executor);

}  // namespace hseam::truth
