#include "core/scene/mask_numbers.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {
namespace {

constexpr std::size_t kMostParts = 16;

bool inRange(double v, double low, double high) {
  return v >= low && v <= high;
}

struct PartFits {
  bool operator()(const GradientPart& g) const {
    const auto near = [](base::Point p) { return std::abs(p.x) < 1e7 && std::abs(p.y) < 1e7; };
    return near(g.from) && near(g.to);
  }
  bool operator()(const TonesPart& t) const {
    return inRange(t.low, 0, 1) && inRange(t.high, t.low, 1) && inRange(t.softness, 0, 1);
  }
  bool operator()(const ColourPart& c) const {
    return std::all_of(c.colour.begin(), c.colour.end(), [](double v) { return inRange(v, 0, 1); }) && inRange(c.reach, 0, 200) &&
           inRange(c.softness, 0, 200);
  }
  bool operator()(const LayerPart&) const { return true; }
};

base::Error wrongNumbers(const char* what) {
  return {base::Code::invalid, "mask", what};
}

}  // namespace

const char* maskPartName(const MaskPart& part) {
  static constexpr const char* kNames[] = {"gradient", "tones", "colour", "layer"};
  return kNames[part.kind.index()];
}

base::Status validMaskNumbers(const MaskNumbers& n) {
  if (n.parts.size() > kMostParts) return wrongNumbers("a mask has at most 16 parts");
  for (const MaskPart& p : n.parts) {
    if (!inRange(p.strength, 0, 1) || !std::visit(PartFits{}, p.kind)) return wrongNumbers("a part of the mask is out of range");
  }
  if (!inRange(n.lowest, 0, 1) || !inRange(n.softnessPx, 0, 200))
    return wrongNumbers("its lowest reveal or its softness is out of range");
  if (n.heldAt && !validPlacement(*n.heldAt)) return wrongNumbers("the place where it is held is out of reach");
  return {};
}

base::Status validShows(const ToneRange& s) {
  for (const auto& t : {s.own, s.below}) {
    if (!inRange(t[0], 0, 1) || !inRange(t[3], 0, 1) || !std::is_sorted(t.begin(), t.end()))
      return base::Error{base::Code::invalid, "shows by brightness", "its tones must rise from 0 to 1"};
  }
  return {};
}

MaskNumbers mapped(MaskNumbers n, const base::Affine& m) {
  for (MaskPart& p : n.parts) {
    if (auto* g = std::get_if<GradientPart>(&p.kind)) g->from = m.map(g->from), g->to = m.map(g->to);
  }
  n.softnessPx = std::clamp(n.softnessPx * m.scale(), 0.0, 200.0);
  return n;
}

}  // namespace hseam::scene
