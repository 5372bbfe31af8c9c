#include "core/findings/kinds.h"

#include <algorithm>
#include <cmath>

#include "core/base/error.h"

namespace hseam::findings {

const std::vector<Kind>& kinds() {
  static const std::vector<Kind> all = {
      {KindId::blackPoint, "black_point", "black point", "L*", 3, false, "How dark its darkest tones are", false, true},
      {KindId::whitePoint, "white_point", "white point", "L*", 3, false, "How light its lightest tones are", false, true},
      {KindId::midTone, "mid_tone", "middle tone", "L*", 3, false, "How light it is as a whole"},
      {KindId::cast, "cast", "cast", "a*b*", 4, false, "The colour of the light on it"},
      {KindId::saturation, "saturation", "saturation", "times", 1.25, true, "How colourful it is"},
      {KindId::grain, "grain", "grain", "times", 1.4, true, "How grainy it is"},
      {KindId::sharpness, "sharpness", "sharpness", "times", 1.4, true, "How wide its edges are"},
      {KindId::clipping, "clipping", "cut-off tones", "%", 0.5, false, "What its adjustments drive to the end of a channel"},
      {KindId::halo, "halo", "halo", "CIEDE2000", 3, false, "What is left of its old background along the edge", true},
      {KindId::edgeSoftness, "edge_softness", "softness of the cut", "times", 1.4, true, "How wide the cut's own edge is", true},
      {KindId::jaggedness, "jaggedness", "jagged edge", "px", 0.14, false, "Steps along the cut", true},
      {KindId::leftovers, "leftovers", "leftovers", "px²", 6, false, "Loose pieces beside it and holes in it"},
      {KindId::effectiveResolution, "effective_resolution", "effective resolution", "%", 110, false, "How much it is enlarged"},
      {KindId::lightDirection, "light_direction", "light's side", "°", 25, false, "From where light falls on it"},
      {KindId::paperVeil, "paper_veil", "paper's veil", "L*", 0.5, false, "Whether the paper of a kept shadow is exact white"},
      {KindId::groundSize, "ground_size", "size on the ground", "%", 8, false, "Its size by where its foot is"},
      {KindId::contactShadow, "contact_shadow", "contact", "L*", 4, false, "How dark the floor is where it touches"},
      {KindId::castShadow, "cast_shadow", "cast shadow", "of one", 0.5, false, "Whether it casts a shadow where others do"},
      {KindId::cameraHeight, "camera_height", "camera height", "%", 10, false, "From how high it was seen"},
      {KindId::frameFit, "frame_fit", "frame off the base", "px", 0.5, false, "How far its frames lie off one another"},
      {KindId::brokenLines, "broken_lines", "broken lines", "px", 0.5, false,
       "Whether what runs from one of its frames into another meets there"},
      {KindId::cutThings, "cut_things", "things cut through", "%", 4, false,
       "Whether a seam between its frames cuts through something"}};
  return all;
}

const Kind& kindOf(KindId id) {
  const Kind& kind = kinds()[std::size_t(id)];
  CORE_CHECK(kind.id == id);
  return kind;
}

std::string keyOf(KindId id) {
  return kindOf(id).key;
}

std::optional<KindId> kindNamed(const std::string& key) {
  const auto at = std::find_if(kinds().begin(), kinds().end(), [&](const Kind& k) { return key == k.key; });
  return at == kinds().end() ? std::nullopt : std::optional(at->id);
}

double toleranceOf(const Kind& kind, const scene::Judging* judging) {
  if (!judging) return kind.tolerance;
  const auto own = judging->tolerance.find(kind.key);
  return own == judging->tolerance.end() ? kind.tolerance : own->second;
}

double excessOf(const Kind& kind, double reading, double target, double tolerance) {
  if (!kind.ratio) return std::abs(reading - target) / tolerance;
  return std::abs(std::log(std::max(1e-6, reading) / target)) / std::log(std::max(1.0001, tolerance));
}

}  // namespace hseam::findings
