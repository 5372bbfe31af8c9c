#include "core/repair/copied_from.h"

#include <algorithm>

namespace hseam::repair {

std::vector<CopiedFrom> piecesOf(const image::Raster<std::int32_t>& chosen, const image::Raster<std::uint8_t>& hole,
                                 std::size_t most) {
  const int w = hole.width(), h = hole.height();
  const auto shiftAt = [&](std::int32_t at) { return chosen.samples()[std::size_t(at)] - at; };
  const auto area = double(std::count_if(hole.samples().begin(), hole.samples().end(), [](std::uint8_t v) { return v != 0; }));
  std::vector<bool> seen(hole.samples().size());
  std::vector<CopiedFrom> out;
  std::vector<std::int32_t> open;
  constexpr double kLeast = 0.01;
  for (std::int32_t start = 0; start < w * h; ++start) {
    if (hole.samples()[std::size_t(start)] == 0 || seen[std::size_t(start)]) continue;
    const std::int32_t shift = shiftAt(start);
    int left = w, top = h, right = 0, bottom = 0, count = 0;
    open.assign(1, start);
    seen[std::size_t(start)] = true;
    while (!open.empty()) {
      const std::int32_t at = open.back();
      open.pop_back();
      const int x = at % w, y = at / w;
      left = std::min(left, x), right = std::max(right, x + 1), top = std::min(top, y), bottom = std::max(bottom, y + 1);
      ++count;
      for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
        const int u = x + dx, v = y + dy;
        if (u < 0 || v < 0 || u >= w || v >= h) continue;
        const std::int32_t next = v * w + u;
        if (hole.samples()[std::size_t(next)] == 0 || seen[std::size_t(next)] || shiftAt(next) != shift) continue;
        seen[std::size_t(next)] = true;
        open.push_back(next);
      }
    }
    if (count < kLeast * area) continue;
    const base::Rect to{left, top, right - left, bottom - top};
    const int from = chosen.samples()[std::size_t(start)], dx = from % w - start % w, dy = from / w - start / w;
    out.push_back({to, {to.x + dx, to.y + dy, to.width, to.height}, count / area});
  }
  std::sort(out.begin(), out.end(), [](const CopiedFrom& a, const CopiedFrom& b) { return a.share > b.share; });
  if (out.size() > most) out.resize(most);
  return out;
}

}  // namespace hseam::repair
