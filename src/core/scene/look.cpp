#include "core/scene/look.h"

#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/scene/adjustment_record.h"
#include "core/scene/json_side.h"
#include "core/scene/made_record.h"

namespace hseam::scene {

using Json = nlohmann::json;

std::vector<LayerRef> adjustmentsOf(const Scene& s, LayerId id) {
  const auto at = positionOf(s, id);
  if (!at) return {};
  const Layer* parent = findLayer(s, at->parent);
  const GroupContent* group = parent ? parent->group() : nullptr;
  const auto& list = group ? group->layers : s.layers;
  const auto here = std::size_t(at->index);
  if (list[here]->adjustment()) return {list[here]};
  std::vector<LayerRef> out;
  for (std::size_t i = here + 1; i < list.size() && list[i]->clip; ++i) {
    if (list[i]->adjustment()) out.push_back(list[i]);
  }
  return out;
}

std::string lookRecord(const std::string& name, const std::vector<LayerRef>& layers) {
  Json all = Json::array();
  for (const LayerRef& l : layers) {
    if (!l->adjustment()) continue;
    MaskNumbers numbers = l->mask.numbers;
    numbers.heldAt.reset();
    numbers.softnessPx = 0;
    std::erase_if(numbers.parts, [](const MaskPart& p) {
      return std::holds_alternative<GradientPart>(p.kind) || std::holds_alternative<LayerPart>(p.kind);
    });
    Json j = {{"opacity", l->opacity}, {"mode", blendModeName(l->mode)}, {"adjustment", toJson(l->adjustment()->adjustment)}};
    if (!numbers.neutral()) j["maskNumbers"] = toJson(numbers);
    if (!l->shows.neutral()) j["shows"] = {{"own", l->shows.own}, {"below", l->shows.below}};
    all.push_back(std::move(j));
  }
  return base::jsonText({{"look", name}, {"layers", all}}, 2);
}

base::Result<Look> lookFromRecord(const std::string& record) {
  return guarded<Look>("look", [&]() -> base::Result<Look> {
    const Json j = Json::parse(record);
    Look look{j.at("look").get<std::string>(), {}};
    for (const Json& each : j.at("layers")) {
      Layer l;
      l.opacity = each.at("opacity").get<double>();
      const auto mode = blendModeNamed(each.at("mode").get<std::string>());
      if (!mode) return base::Error{base::Code::unsupported, look.name, "its blend mode is unknown to this version"};
      l.mode = *mode;
      HSEAM_TRY(Adjustment a, adjustmentFromJson(each.at("adjustment")));
      HSEAM_DO(validAdjustment(a));
      l.content = AdjustmentContent{std::move(a)};
      if (each.contains("maskNumbers")) l.mask.numbers = maskNumbersFromJson(each.at("maskNumbers"));
      if (each.contains("shows"))
        l.shows = {each.at("shows").at("own").get<std::array<double, 4>>(),
                   each.at("shows").at("below").get<std::array<double, 4>>()};
      HSEAM_DO(validMaskNumbers(l.mask.numbers));
      HSEAM_DO(validShows(l.shows));
      look.layers.push_back(std::move(l));
    }
    return look;
  });
}

}  // namespace hseam::scene
