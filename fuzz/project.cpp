// Projects: header, schema, records, manifests and tiles.
#include "core/store/project_file.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const fuzz::File file(bytes, count, ".hseam");
  const auto opened = store::ProjectFile::open(file.path(), fuzz::memory(), fuzz::here());
  if (!opened.ok()) return 0;
  const scene::Scene& s = opened->history.scene();
  if (!scene::validate(s).ok()) std::abort();
  for (const auto& l : scene::allLayers(s)) {
    if (const auto* p = l->picture())
      static_cast<void>(image::readFloat(p->source, p->source.levelCount() - 1, {0, 0, 4, 4}).ok());
  }
  return 0;
}
