// matting_inputs FOLDER FIRST LAST: what the matting network is trained on (tools/matting_network). Solves FOLDER/00000p.png with
// the band 00000b.png from its colours alone and writes 00000a.png, 16 bit: alpha and how sure single colours are of it.

#include <cmath>
#include <cstdio>
#include <cstdlib>

#include "core/base/executor.h"
#include "core/image/picture_file.h"
#include "core/image/tiled_image.h"
#include "core/matte/solver.h"
#include "truth/must.h"

using namespace hseam;
using truth::must;

int main(int argc, char** argv) {
  if (argc < 4) return 2;
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(1) << 30);
  matte::SolveOptions options;
  options.learned = false;
  for (int i = std::atoi(argv[2]); i < std::atoi(argv[3]); ++i) {
    char stem[512];
    std::snprintf(stem, sizeof stem, "%s/%05d", argv[1], i);
    const auto picture = must(image::readPicture(std::string(stem) + "p.png", memory, *pool, {})).pixels;
    const auto band = must(image::readCoverage(std::string(stem) + "b.png", memory, *pool));
    const base::Rect whole = base::Rect::of(picture.size());
    const auto solved =
        must(matte::solveBand(must(image::readFloat(picture, 0, whole)), must(image::read8(band, 0, whole)), options, *pool, {}));
    const auto rows = [&](int first, int count, std::byte* to) -> base::Status {
      auto* out = reinterpret_cast<std::uint16_t*>(to);
      for (int y = first; y < first + count; ++y) {
        for (int x = 0; x < whole.width; ++x, out += 3) {
          out[0] = std::uint16_t(std::lround(*solved.alpha.at(x, y) * 65535));
          out[1] = std::uint16_t(std::lround(*solved.certainty.at(x, y) * 65535));
          out[2] = 0;
        }
      }
      return {};
    };
    const auto made = must(image::tiledFromRows(picture.size(), image::PixelFormat::rgb16, memory, *pool, {}, rows));
    if (!image::writeTiled(std::string(stem) + "a.png", made).ok()) return 1;
  }
  return 0;
}
