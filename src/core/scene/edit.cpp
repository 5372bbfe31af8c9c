#include "core/scene/edit.h"

#include "core/scene/content/kind.h"
#include "core/scene/mask_cover.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <map>

namespace hseam::scene {
namespace {

using base::Code;
using base::Error;
using base::Result;
using image::TiledImage;
using Layers = std::vector<LayerRef>;

Error noLayer() {
  return {Code::notFound, "", "there is no such layer"};
}

// Rebuilds the path from the top to the layer; `change` returns the layers that stand in its place (none, one or more).
std::optional<Layers> replaced(const Layers& layers, LayerId id, const std::function<Layers(const Layer&)>& change) {
  for (std::size_t i = 0; i < layers.size(); ++i) {
    Layers instead;
    if (layers[i]->id == id) {
      instead = change(*layers[i]);
    } else if (const auto* g = layers[i]->group()) {
      auto inner = replaced(g->layers, id, change);
      if (!inner) continue;
      Layer copy = *layers[i];
      std::get<GroupContent>(copy.content).layers = std::move(*inner);
      instead = {std::make_shared<const Layer>(std::move(copy))};
    } else {
      continue;
    }
    Layers out(layers.begin(), layers.begin() + long(i));
    out.insert(out.end(), instead.begin(), instead.end());
    out.insert(out.end(), layers.begin() + long(i) + 1, layers.end());
    return out;
  }
  return std::nullopt;
}

template <class Change>
Result<Scene> changed(const Scene& scene, LayerId id, const Change& change) {
  auto layers = replaced(scene.layers, id, [&](const Layer& l) {
    Layer copy = l;
    change(copy);
    return Layers{std::make_shared<const Layer>(std::move(copy))};
  });
  if (!layers) return noLayer();
  Scene next = scene;
  next.layers = std::move(*layers);
  return next;
}

template <class Change>
Result<Scene> changedPicture(const Scene& scene, LayerId id, const Change& change) {
  const Layer* l = findLayer(scene, id);
  if (!l) return noLayer();
  if (!l->picture()) return Error{Code::invalid, l->name, "this layer is not a picture"};
  return changed(scene, id, [&](Layer& layer) { change(std::get<PictureContent>(layer.content)); });
}

Result<Scene> inserted(const Scene& scene, LayerRef layer, LayerId parent, int index) {
  const auto into = [&](Layers list) {
    const int at = index < 0 ? int(list.size()) : std::min(index, int(list.size()));
    list.insert(list.begin() + at, layer);
    return list;
  };
  Scene next = scene;
  if (parent.value == 0) {
    next.layers = into(scene.layers);
    return next;
  }
  const Layer* g = findLayer(scene, parent);
  if (!g || !g->group()) return Error{Code::notFound, "", "there is no such group"};
  return changed(scene, parent, [&](Layer& l) {
    auto& list = std::get<GroupContent>(l.content).layers;
    list = into(list);
  });
}

Result<Scene> without(const Scene& scene, LayerId id) {
  auto layers = replaced(scene.layers, id, [](const Layer&) { return Layers{}; });
  if (!layers) return noLayer();
  Scene next = scene;
  next.layers = std::move(*layers);
  return next;
}

const Layers& childrenOf(const Scene& scene, LayerId parent) {
  if (parent.value == 0) return scene.layers;
  const Layer* holder = findLayer(scene, parent);
  CORE_CHECK(holder && holder->group());
  return holder->group()->layers;
}

// Where a layer's pixels live; null: it has none.
std::shared_ptr<image::TileMemory> memoryOf(const Layer& l) {
  std::shared_ptr<image::TileMemory> memory;
  forEachImage(l, [&](const TiledImage& i) { memory = i.memory(); });
  return memory;
}

struct Apply {
  const Scene& s;

  // The hand-made part of a mask; a path that acts goes on bounding it.
  Result<Scene> withHandMade(LayerId id, const TiledImage& byHand) const {
    const Layer* l = findLayer(s, id);
    if (!l) return noLayer();
    Mask mask = l->mask;
    if (const auto memory = memoryOf(*l); mask.pathActs && memory) {
      HSEAM_TRY(mask, boundedMask(mask, byHand, true, maskSizeOf(s, *l), memory));
    } else {
      mask.coverage = byHand;
    }
    return changed(s, id, [&](Layer& layer) { layer.mask = mask; });
  }
  Result<Scene> operator()(const SetCanvas& e) const {
    for (const LayerRef& l : allLayers(s)) {
      if (!kindOf(*l).grid(*l) && !l->mask.coverage.isNull() && l->mask.coverage.size() != e.size)
        return Error{Code::conflict, l->name, "its mask has the old canvas's size"};
    }
    Scene next = s;
    next.canvas = e.size;
    return next;
  }
  Result<Scene> operator()(const SetMixing& e) const {
    Scene next = s;
    next.mixing = e.mixing;
    return next;
  }
  Result<Scene> operator()(const AddLayer& e) const {
    if (findLayer(s, e.layer.id)) return Error{Code::conflict, e.layer.name, "its id is taken"};
    return inserted(s, std::make_shared<const Layer>(e.layer), e.parent, e.index);
  }
  Result<Scene> operator()(const RemoveLayer& e) const { return without(s, e.layer); }
  Result<Scene> operator()(const MoveLayer& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (!l) return noLayer();
    if (const auto* g = l->group(); g && e.parent.value != 0) {
      Scene inside;
      inside.layers = g->layers;
      if (e.parent == e.layer || findLayer(inside, e.parent))
        return Error{Code::conflict, l->name, "a group cannot be put into itself"};
    }
    const auto kept = std::make_shared<const Layer>(*l);
    HSEAM_TRY(const Scene rest, without(s, e.layer));
    return inserted(rest, kept, e.parent, std::max(0, e.index));
  }
  Result<Scene> operator()(const SetName& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.name = e.name; });
  }
  Result<Scene> operator()(const SetHidden& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.hidden = e.hidden; });
  }
  Result<Scene> operator()(const SetOpacity& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.opacity = e.opacity; });
  }
  Result<Scene> operator()(const SetMode& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.mode = e.mode; });
  }
  Result<Scene> operator()(const SetClip& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.clip = e.clip; });
  }
  Result<Scene> operator()(const SetPlacement& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.placement = e.placement; });
  }
  Result<Scene> operator()(const SetMask& e) const { return withHandMade(e.layer, e.coverage); }
  Result<Scene> operator()(const SetPath& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (!l) return noLayer();
    const auto memory = memoryOf(*l);
    if (!memory || !(l->picture() || l->fill())) return Error{Code::invalid, l->name, "only pictures and shapes have a path"};
    if (e.path) {
      if (const auto wrong = path::fault(*e.path)) return Error{Code::invalid, l->name, *wrong};
    }
    Mask bare = l->mask;
    bare.path = e.path && !e.path->empty() ? e.path : nullptr;
    bare.pathArea = {};
    HSEAM_TRY(const Mask mask, boundedMask(bare, l->mask.byHand(), e.acts, maskSizeOf(s, *l), memory));
    return changed(s, e.layer, [&](Layer& layer) { layer.mask = mask; });
  }
  Result<Scene> operator()(const SetMaskNumbers& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.mask.numbers = e.numbers; });
  }
  Result<Scene> operator()(const SetShows& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.shows = e.shows; });
  }
  Result<Scene> operator()(const SetPainting& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (l && l->picture() && !l->picture()->byHand) return Error{Code::invalid, l->name, "this picture is not painted on"};
    if (l && l->picture() && e.colours.size() != l->picture()->source.size())
      return Error{Code::invalid, l->name, "what is painted must keep its size"};
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.source = e.colours; });
  }
  Result<Scene> operator()(const SetMaskEnabled& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.mask.enabled = e.enabled; });
  }
  Result<Scene> operator()(const SetAdjustment& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (!l) return noLayer();
    if (!l->adjustment()) return Error{Code::invalid, l->name, "this layer is not an adjustment"};
    return changed(s, e.layer, [&](Layer& layer) { std::get<AdjustmentContent>(layer.content).adjustment = e.adjustment; });
  }
  Result<Scene> operator()(const SetSelection& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.cutout.edit().selection = e.coverage; });
  }
  Result<Scene> operator()(const SetSavedSelections& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.cutout.edit().saved = e.saved; });
  }
  Result<Scene> operator()(const SetHints& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.cutout.edit().hints = e.hints; });
  }
  Result<Scene> operator()(const SetBand& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) {
      Cutout& cut = p.cutout.edit();
      cut.band = e.band;
      cut.recipe = e.recipe;
    });
  }
  Result<Scene> operator()(const SetCut& e) const {
    HSEAM_TRY(const Scene cut, changedPicture(s, e.layer, [&](PictureContent& p) {
                Cutout& c = p.cutout.edit();
                c.alpha = e.alpha;
                c.clean = e.clean;
                c.recipe = e.recipe;
                c.shaped = e.shaped;
              }));
    HSEAM_TRY(const Scene masked, Apply{cut}.withHandMade(e.layer, e.mask));
    return changed(masked, e.layer, [&](Layer& l) { l.mask.enabled = true; });
  }
  Result<Scene> operator()(const SetEdgePlan& e) const {
    HSEAM_TRY(const Scene planned, changedPicture(s, e.layer, [&](PictureContent& p) {
                Cutout& c = p.cutout.edit();
                c.edgePlan = e.plan;
                c.shaped = e.shaped;
              }));
    return Apply{planned}.withHandMade(e.layer, e.mask);
  }
  Result<Scene> operator()(const SetUseClean& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.cutout.edit().useClean = e.useClean; });
  }
  Result<Scene> operator()(const GroupLayers& e) const {
    if (e.layers.empty()) return Error{Code::invalid, "", "nothing to group"};
    if (findLayer(s, e.newId)) return Error{Code::conflict, e.name, "its id is taken"};
    const auto first = positionOf(s, e.layers[0]);
    if (!first) return noLayer();
    Layer group{e.newId, e.name, false, 1, BlendMode::normal, false, false, {}, GroupContent{}};
    Layers& inside = std::get<GroupContent>(group.content).layers;
    int frontIndex = 0;
    const Layers siblings = childrenOf(s, first->parent);
    for (std::size_t i = 0; i < siblings.size(); ++i) {
      if (std::find(e.layers.begin(), e.layers.end(), siblings[i]->id) == e.layers.end()) continue;
      inside.push_back(siblings[i]);
      frontIndex = int(i);
    }
    if (inside.size() != e.layers.size())
      return Error{Code::invalid, e.name, "only layers that stand side by side can be grouped"};
    Scene rest = s;
    for (const LayerId id : e.layers) {
      HSEAM_TRY(rest, without(rest, id));
    }
    return inserted(rest, std::make_shared<const Layer>(std::move(group)), first->parent, frontIndex + 1 - int(inside.size()));
  }
  Result<Scene> operator()(const Ungroup& e) const {
    const Layer* l = findLayer(s, e.group);
    if (!l) return noLayer();
    if (!l->group()) return Error{Code::invalid, l->name, "this layer is not a group"};
    Scene next = s;
    next.layers = *replaced(s.layers, e.group, [](const Layer& g) { return g.group()->layers; });
    return next;
  }
  Result<Scene> operator()(const SetIsolated& e) const {
    const Layer* l = findLayer(s, e.group);
    if (!l) return noLayer();
    if (!l->group()) return Error{Code::invalid, l->name, "this layer is not a group"};
    return changed(s, e.group, [&](Layer& g) { std::get<GroupContent>(g.content).isolated = e.isolated; });
  }
  Result<Scene> operator()(const SetLocked& e) const {
    return changed(s, e.layer, [&](Layer& l) { l.locked = e.locked; });
  }
  Result<Scene> operator()(const SetLight& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (!l) return noLayer();
    if (!l->light()) return Error{Code::invalid, l->name, "this layer is no light or shadow"};
    return changed(s, e.layer, [&](Layer& layer) { layer.content = e.light; });
  }
  Result<Scene> operator()(const SetFill& e) const {
    const Layer* l = findLayer(s, e.layer);
    if (!l) return noLayer();
    if (!l->fill()) return Error{Code::invalid, l->name, "this layer is no fill"};
    return changed(s, e.layer, [&](Layer& layer) {
      layer.content = e.fill;
      layer.mask = e.mask;
    });
  }
  Result<Scene> operator()(const SetFloor& e) const {
    Scene next = s;
    next.floor = e.floor;
    return next;
  }
  Result<Scene> operator()(const SetPlaceLight& e) const {
    if (e.light) HSEAM_DO(validPlaceLight(*e.light));
    Scene next = s;
    next.light = e.light;
    return next;
  }
  Result<Scene> operator()(const SetWarp& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.warp = e.warp && !e.warp->neutral() ? e.warp : nullptr; });
  }
  Result<Scene> operator()(const SetRealHeight& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.realHeightM = e.heightM; });
  }
  Result<Scene> operator()(const SetPermission& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.permission = e.permission; });
  }
  Result<Scene> operator()(const SetOwnHorizon& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.horizonY = e.horizonY; });
  }
  Result<Scene> operator()(const SetReference& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) { p.reference = e.reference; });
  }
  Result<Scene> operator()(const SetJudging& e) const {
    Scene next = s;
    next.judging = e.judging == Judging{} ? nullptr : std::make_shared<const Judging>(e.judging);
    return next;
  }
  Result<Scene> operator()(const SetGuides& e) const {
    Scene next = s;
    next.guides = e.guides;
    return next;
  }
  Result<Scene> operator()(const ReplaceSource& e) const {
    HSEAM_TRY(const Scene next, changedPicture(s, e.layer, [&](PictureContent& p) { p = e.content; }));
    return changed(next, e.layer, [&](Layer& l) { l.mask = e.mask; });
  }
  Result<Scene> operator()(const SetFrames& e) const {
    return changedPicture(s, e.layer, [&](PictureContent& p) {
      if (p.source.stamp() != e.source.stamp()) p.cutout.edit().clean = {};
      p.frames = e.frames;
      p.source = e.source;
    });
  }
  Result<Scene> operator()(const Several& e) const {
    Scene next = s;
    for (const AnyEdit& each : e.edits) {
      HSEAM_TRY(next, std::visit(Apply{next}, each.edit));
    }
    return next;
  }
};

void giveIds(const Layer& layer, LayerId& next, std::map<LayerId, LayerId>& fresh) {
  fresh[layer.id] = next;
  ++next.value;
  if (const auto* g = layer.group()) {
    for (const LayerRef& l : g->layers) giveIds(*l, next, fresh);
  }
}

// What points at a layer that is copied as well points at its copy. Marks on a canvas of another size stay behind.
Layer withIds(const Layer& layer, const std::map<LayerId, LayerId>& fresh, base::Size canvas) {
  Layer copy = layer;
  const auto renew = [&](LayerId& id) {
    if (const auto at = fresh.find(id); at != fresh.end()) id = at->second;
  };
  renew(copy.id);
  kindOf(copy).copied(copy, renew, canvas);
  for (MaskPart& part : copy.mask.numbers.parts) {
    if (auto* other = std::get_if<LayerPart>(&part.kind)) renew(other->layer);
  }
  if (auto* g = std::get_if<GroupContent>(&copy.content)) {
    for (LayerRef& l : g->layers) l = std::make_shared<const Layer>(withIds(*l, fresh, canvas));
  }
  return copy;
}

}  // namespace

Result<Scene> apply(const Scene& scene, const Edit& edit) {
  HSEAM_TRY(Scene next, std::visit(Apply{scene}, edit));
  HSEAM_DO(validate(next));
  next.highestId.value = std::max(highestIdOf(scene).value, highestIdOf(next).value);
  return next;
}

Layer duplicate(const Scene& scene, const Layer& layer) {
  LayerId next = freeId(scene);
  std::map<LayerId, LayerId> fresh;
  giveIds(layer, next, fresh);
  Layer copy = withIds(layer, fresh, scene.canvas);
  copy.name += " copy";
  return copy;
}

}  // namespace hseam::scene
