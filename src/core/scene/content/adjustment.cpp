#include "core/scene/content/adjustment.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/scene/adjustment_record.h"
#include "core/scene/content/kind.h"
#include "core/scene/edit.h"

namespace hseam::scene {

using Json = nlohmann::json;

namespace {

const Adjustment& adjustmentOf(const Layer& l) {
  return l.adjustment()->adjustment;
}

// Lengths grow with the canvas.
base::Result<std::vector<AnyEdit>> adjustmentWithCanvas(const Layer& l, const CanvasMap& map) {
  HSEAM_TRY(std::vector<AnyEdit> edits, maskWithCanvas(l, map));
  const auto* parametric = std::get_if<ParametricAdjustment>(&adjustmentOf(l));
  if (!parametric) return edits;
  ParametricAdjustment n = *parametric;
  for (std::size_t i = 0; i < n.values.size(); ++i) {
    const AdjustmentField& f = n.of().fields[i];
    if (std::string(f.unit) == "px") n.values[i] = std::clamp(n.values[i] * map.toNew.scale(), f.low, f.high);
  }
  edits.push_back({SetAdjustment{l.id, std::move(n)}});
  return edits;
}

}  // namespace

const ContentKind AdjustmentContent::kKind{
    .key = "adjustment",
    .valid = [](const Scene&, const Layer& l) { return validAdjustment(adjustmentOf(l)); },
    .bounds = [](const Scene& scene, const Layer&) { return base::Rect::of(scene.canvas); },
    .grid = [](const Layer&) -> std::optional<PixelGrid> { return std::nullopt; },
    .looksSame = [](const Layer& a, const Layer& b) { return adjustmentOf(a) == adjustmentOf(b); },
    .forEachImage = [](const Layer&, const auto&) {},
    .follows = [](const Layer&) { return LayerId{}; },
    .copied = [](Layer&, const auto&, base::Size) {},
    .write = [](const Layer& l, const RecordOut&, Json& j) { j["adjustment"] = toJson(adjustmentOf(l)); },
    .read = [](const Json& j, const RecordIn&, Layer& l) -> base::Status {
      HSEAM_TRY(Adjustment a, adjustmentFromJson(j.at("adjustment")));
      l.content = AdjustmentContent{std::move(a)};
      return {};
    },
    .withCanvas = adjustmentWithCanvas};

}  // namespace hseam::scene
