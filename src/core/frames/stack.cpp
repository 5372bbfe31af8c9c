#include "core/frames/stack.h"

#include "core/image/rgb.h"

namespace hseam::frames {

using image::Raster;

base::Result<Stack> stackOf(const std::vector<Frame>& frames, int level, const base::Rect& area, base::Executor& executor,
                            const std::array<bool, 256>* used) {
  Stack s;
  s.colours.resize(frames.size()), s.shown.resize(frames.size()), s.cut.resize(frames.size());
  std::vector<base::Status> done(frames.size());
  executor.forEach(int(frames.size()), [&](int n) {
    const auto k = std::size_t(n);
    if (used && !(*used)[k]) return;
    done[k] = [&]() -> base::Status {
      HSEAM_TRY(Raster<float> read, frames[k].read(level, area));
      Raster<std::uint8_t> shown(area.width, area.height, 1, 1), cut(area.width, area.height, 1);
      for (std::size_t i = 0; read.channels() == 4 && i < read.pixels(); ++i)
        shown.samples()[i] = read.samples()[i * 4 + 3] > 0.9f;
      if (!used) {
        HSEAM_TRY(const Raster<std::uint8_t> off, frames[k].cutOff(level, area));
        for (std::size_t i = 0; i < off.pixels(); ++i) cut.samples()[i] = off.samples()[i] > 20;  // where a part of the pixel is
      }
      s.colours[k] = image::rgbOf(std::move(read));
      s.shown[k] = std::move(shown);
      s.cut[k] = std::move(cut);
      return {};
    }();
  });
  for (const base::Status& d : done) HSEAM_DO(d);
  return s;
}

}  // namespace hseam::frames
