// OpenRaster: the archive, its list of layers and their pictures.
#include "core/store/open_raster.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const fuzz::File file(bytes, count, ".ora");
  const auto read = store::readOpenRaster(file.path(), fuzz::memory(), fuzz::here(), {});
  if (read.ok() && !scene::validate(read->scene).ok()) std::abort();
  return 0;
}
