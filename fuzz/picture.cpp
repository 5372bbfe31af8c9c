// Pictures of every kind: limits, pixels, profile, metadata. The first byte chooses an ending, which matters for camera raw.
#include "core/image/picture_file.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  if (count < 1) return 0;
  const fuzz::File file(bytes + 1, count - 1, bytes[0] == 'r' ? ".dng" : ".bin");
  const auto picture = image::readPicture(file.path(), fuzz::memory(), fuzz::here(), {});
  if (picture.ok() && picture->pixels.size().empty()) std::abort();
  static_cast<void>(image::readMetadata(file.path()).ok());
  return 0;
}
