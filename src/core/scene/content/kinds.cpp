#include "core/scene/content/kind.h"
#include "core/scene/edit.h"

namespace hseam::scene {
namespace {

using Content = decltype(Layer::content);

template <std::size_t... Index>
std::vector<const ContentKind*> kindsOf(std::index_sequence<Index...>) {
  return {&std::variant_alternative_t<Index, Content>::kKind...};
}

}  // namespace

const std::vector<const ContentKind*>& contentKinds() {
  static const std::vector<const ContentKind*> kAll = kindsOf(std::make_index_sequence<std::variant_size_v<Content>>());
  return kAll;
}

const ContentKind& kindOf(const Layer& layer) {
  return *contentKinds()[layer.content.index()];
}

void forEachImage(const Layer& layer, const std::function<void(const image::TiledImage&)>& visit) {
  for (const image::TiledImage* i : {&layer.mask.coverage, &layer.mask.painted}) {
    if (!i->isNull()) visit(*i);
  }
  kindOf(layer).forEachImage(layer, visit);
}

base::Result<std::vector<AnyEdit>> maskWithCanvas(const Layer& l, const CanvasMap& map) {
  std::vector<AnyEdit> edits;
  if (!l.mask.coverage.isNull()) {
    HSEAM_TRY(image::TiledImage mask, map.resampled(l.mask.coverage, false));
    edits.push_back({SetMask{l.id, std::move(mask), "with the canvas"}});
  }
  if (!l.mask.numbers.neutral()) edits.push_back({SetMaskNumbers{l.id, mapped(l.mask.numbers, map.toNew), "with the canvas"}});
  return edits;
}

}  // namespace hseam::scene
