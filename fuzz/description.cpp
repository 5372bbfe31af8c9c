// Scene descriptions and the records of layers, and tables of colours.
#include "core/scene/layer_record.h"
#include "core/store/scene_description.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const fuzz::File file(bytes, count, ".json");
  static_cast<void>(store::readDescription(file.path(), fuzz::memory(), fuzz::here(), {}).ok());
  const std::string text(reinterpret_cast<const char*>(bytes), count);
  if (const auto table = scene::colourTableFromCube(text); table.ok())
    static_cast<void>(scene::lookedUp(*table, 0.2f, 0.5f, 0.9f));
  const auto image = [](const std::string&) -> base::Result<image::TiledImage> {
    return image::uniformCoverage({8, 8}, 9, fuzz::memory());
  };
  const auto child = [](const std::string&) -> base::Result<scene::LayerRef> {
    return base::Error{base::Code::notFound, "", "none"};
  };
  const auto layer = scene::layerFromRecord(text, image, child);
  if (const auto* a = layer.ok() ? layer->adjustment() : nullptr; a && scene::validAdjustment(a->adjustment).ok())
    scene::AdjustmentFunction{a->adjustment}({0.2, 0.5, 0.9});
  static_cast<void>(scene::sceneFromRecord(text, child).ok());
  return 0;
}
