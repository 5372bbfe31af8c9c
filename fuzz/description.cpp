// Scene descriptions and the records of layers and adjustments.
#include "core/scene/layer_record.h"
#include "core/store/scene_description.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const fuzz::File file(bytes, count, ".json");
  static_cast<void>(store::readDescription(file.path(), fuzz::memory(), fuzz::here(), {}).ok());
  const std::string text(reinterpret_cast<const char*>(bytes), count);
  const auto adjustment = scene::adjustmentFromRecord(text);
  if (adjustment.ok() && scene::validAdjustment(*adjustment).ok()) scene::AdjustmentFunction{*adjustment}({0.2, 0.5, 0.9});
  const auto image = [](const std::string&) -> base::Result<image::TiledImage> {
    return image::uniformCoverage({8, 8}, 9, fuzz::memory());
  };
  const auto child = [](const std::string&) -> base::Result<scene::LayerRef> {
    return base::Error{base::Code::notFound, "", "none"};
  };
  static_cast<void>(scene::layerFromRecord(text, image, child).ok());
  static_cast<void>(scene::sceneFromRecord(text, child).ok());
  return 0;
}
