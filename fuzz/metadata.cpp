// What a file says of itself: whatever it holds, the texts are UTF-8 and go into a project's record.
#include "core/base/text.h"
#include "core/image/picture_file.h"
#include "core/scene/layer_record.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const fuzz::File file(bytes, count, ".bin");
  const auto about = image::readMetadata(file.path());
  if (!about.ok()) return 0;
  for (const std::string* text :
       {&about->camera, &about->lens, &about->takenAt, &about->title, &about->creator, &about->rights}) {
    if (!base::isUtf8(*text)) std::abort();
  }
  scene::Layer layer;
  layer.id = {1};
  scene::PictureContent p;
  p.about = *about;
  layer.content = std::move(p);
  const auto name = [](const auto&) { return std::string("1"); };
  if (scene::layerRecord(layer, name, name).empty()) std::abort();
  return 0;
}
