#pragma once
// The interface of layer contents. Each kind implements it in one file pair of this folder; a new kind needs such a pair, its
// type in Layer::content, and its painting (render/strip_painter).

#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <vector>

#include "core/base/error.h"
#include "core/base/geometry.h"
#include "core/image/tiled_image.h"
#include "core/scene/layer_id.h"

namespace hseam::scene {

struct Scene;
struct Layer;
struct AnyEdit;
using LayerRef = std::shared_ptr<const Layer>;

/// Pixels of a layer's own, for its mask and its cut: their size and where they lie.
struct PixelGrid {
  base::Size size;
  base::Affine toScene;
};

/// Naming of images and children in a record, and looking them up. Errors of reading: notFound, corrupt, those of the disk.
struct RecordOut {
  std::function<std::string(const image::TiledImage&)> image;
  std::function<std::string(const LayerRef&)> layer;
};
struct RecordIn {
  std::function<base::Result<image::TiledImage>(const std::string&)> image;
  std::function<base::Result<LayerRef>(const std::string&)> layer;
};

/// A turn, scale and move of the whole canvas.
struct CanvasMap {
  base::Affine toNew;  // px of the old canvas → px of the new one
  base::Size before, after;
  /// A grey8 image of the old canvas on the new one. labels: values of the nearest pixel, not mixed.
  std::function<base::Result<image::TiledImage>(const image::TiledImage&, bool labels)> resampled;
};

/// One kind of content. The layers passed in hold content of that kind.
struct ContentKind {
  const char* key;     // of its part of a layer's record: "picture"
  bool casts = false;  // it has a shape that shadows can follow
  /// Errors: invalid.
  base::Status (*valid)(const Scene&, const Layer&) = nullptr;
  /// Scene px that it can change; what lies off the canvas does not matter.
  base::Rect (*bounds)(const Scene&, const Layer&) = nullptr;
  /// Empty: its px are the canvas's.
  std::optional<PixelGrid> (*grid)(const Layer&) = nullptr;
  /// Both show the same under the same mask.
  bool (*looksSame)(const Layer&, const Layer&) = nullptr;
  /// Calls with each image that it holds, in a fixed order; null images are left out.
  void (*forEachImage)(const Layer&, const std::function<void(const image::TiledImage&)>&) = nullptr;
  /// The layer whose shape it follows; 0: none.
  LayerId (*follows)(const Layer&) = nullptr;
  /// In a copy: other ids for the layers it follows, and another canvas.
  void (*copied)(Layer&, const std::function<void(LayerId&)>& renew, base::Size canvas) = nullptr;
  /// Into and out of the layer's record. What reads throws nlohmann's exceptions where the form is wrong.
  void (*write)(const Layer&, const RecordOut&, nlohmann::json& layerRecord) = nullptr;
  base::Status (*read)(const nlohmann::json& layerRecord, const RecordIn&, Layer&) = nullptr;
  /// The Edits that take it along, its mask included.
  base::Result<std::vector<AnyEdit>> (*withCanvas)(const Layer&, const CanvasMap&) = nullptr;
};

const ContentKind& kindOf(const Layer& layer);
/// In the order of Layer::content.
const std::vector<const ContentKind*>& contentKinds();

/// Each image that a layer holds, its mask's too; null ones are left out.
void forEachImage(const Layer& layer, const std::function<void(const image::TiledImage&)>& visit);

/// The Edits that take a mask on the canvas along: its pixels and its numbers.
base::Result<std::vector<AnyEdit>> maskWithCanvas(const Layer& layer, const CanvasMap& map);

}  // namespace hseam::scene
