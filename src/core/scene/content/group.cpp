#include "core/scene/content/group.h"

#include <nlohmann/json.hpp>

#include "core/scene/content/kind.h"
#include "core/scene/edit.h"
#include "core/scene/look_around.h"

namespace hseam::scene {

using Json = nlohmann::json;

namespace {

const GroupContent& groupOf(const Layer& l) {
  return *l.group();
}

// Adjustments change only what the others lay down; a blur among them spreads it.
base::Rect groupBounds(const Scene& scene, const Layer& l) {
  base::Rect all;
  for (const LayerRef& child : groupOf(l).layers) {
    if (!child->adjustment() || !groupOf(l).isolated) all = all.united(boundsOf(scene, *child));
  }
  return all.grown(int(lookAroundPx(groupOf(l).layers)));
}

void writeGroup(const Layer& l, const RecordOut& name, Json& j) {
  j["group"] = Json::array();
  for (const LayerRef& child : groupOf(l).layers) j["group"].push_back(name.layer(child));
  if (!groupOf(l).isolated) j["isolated"] = false;
}

base::Status readGroup(const Json& j, const RecordIn& named, Layer& l) {
  GroupContent g;
  for (const Json& n : j.at("group")) {
    HSEAM_TRY(LayerRef child, named.layer(n.get<std::string>()));
    g.layers.push_back(std::move(child));
  }
  g.isolated = j.value("isolated", true);
  l.content = std::move(g);
  return {};
}

}  // namespace

const ContentKind GroupContent::kKind{
    .key = "group",
    .casts = true,
    .valid = [](const Scene&, const Layer&) { return base::Status(); },
    .bounds = groupBounds,
    .grid = [](const Layer&) -> std::optional<PixelGrid> { return std::nullopt; },
    // Its children are compared one by one.
    .looksSame = [](const Layer& a, const Layer& b) { return groupOf(a).isolated == groupOf(b).isolated; },
    .forEachImage = [](const Layer&, const auto&) {},
    .follows = [](const Layer&) { return LayerId{}; },
    .copied = [](Layer&, const auto&, base::Size) {},
    .write = writeGroup,
    .read = readGroup,
    .withCanvas = maskWithCanvas};

}  // namespace hseam::scene
