#include "core/repair/patch_search.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <limits>

#include "core/image/transfer.h"

namespace hseam::repair {
namespace {

using image::Raster;

constexpr int kValues = 3;
constexpr int kBandRows = 24;  // bands do not depend on the number of threads

// Spreads bits (Steele, Lea and Flood 2014): every place and round has numbers of its own.
std::uint64_t mixed(std::uint64_t v) {
  v += 0x9e3779b97f4a7c15ull;
  v = (v ^ (v >> 30)) * 0xbf58476d1ce4e5b9ull;
  v = (v ^ (v >> 27)) * 0x94d049bb133111ebull;
  return v ^ (v >> 31);
}

std::int32_t patchDistance(const Raster<std::uint8_t>& look, std::int32_t a, std::int32_t b, std::int32_t most) {
  const int width = look.width();
  std::int32_t sum = 0;
  for (int dy = -kPatchHalf; dy <= kPatchHalf; ++dy) {
    const std::size_t shift = std::size_t(std::int64_t(dy) * width - kPatchHalf);
    const std::uint8_t* p = look.samples().data() + (std::size_t(a) + shift) * kValues;
    const std::uint8_t* q = look.samples().data() + (std::size_t(b) + shift) * kValues;
    std::int32_t row = 0;
    for (int i = 0; i < kPatchSide * kValues; ++i) {
      const std::int32_t d = std::int32_t(p[i]) - std::int32_t(q[i]);
      row += d * d;
    }
    sum += row;
    if (sum >= most) return sum;
  }
  return sum;
}

}  // namespace

Raster<std::uint8_t> lookOf(const Raster<float>& colours) {
  const int width = colours.width(), height = colours.height();
  Raster<std::uint8_t> out(width, height, kValues);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const float* c = colours.at(x, y);
      std::uint8_t* o = out.at(x, y);
      for (int k = 0; k < 3; ++k) o[k] = image::wholeOf<std::uint8_t>(std::clamp(c[k], 0.f, 1.f) * 255);
    }
  }
  return out;
}

Search searchFor(const Raster<float>& colours, const Bits& hole, const Bits& source) {
  Search s;
  const int width = colours.width(), height = colours.height();
  s.look = lookOf(colours);
  s.isTarget = Bits(width, height, 1);
  s.isSource = Bits(width, height, 1);
  s.nearest = Raster<std::int32_t>(width, height, 1, -1);
  s.distance = Raster<std::int32_t>(width, height, 1, std::numeric_limits<std::int32_t>::max());
  // How many pixels of a patch are hole, and how many may be taken, by summed areas.
  const auto summed = [&](const Bits& b) {
    Raster<std::int32_t> sum(width + 1, height + 1, 1);
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x)
        *sum.at(x + 1, y + 1) = (*b.at(x, y) != 0) + *sum.at(x, y + 1) + *sum.at(x + 1, y) - *sum.at(x, y);
    }
    return sum;
  };
  const auto holes = summed(hole), taken = summed(source);
  const auto inPatch = [&](const Raster<std::int32_t>& sum, int x, int y) {
    return *sum.at(x + kPatchHalf + 1, y + kPatchHalf + 1) - *sum.at(x - kPatchHalf, y + kPatchHalf + 1) -
           *sum.at(x + kPatchHalf + 1, y - kPatchHalf) + *sum.at(x - kPatchHalf, y - kPatchHalf);
  };
  for (int y = kPatchHalf; y < height - kPatchHalf; ++y) {
    for (int x = kPatchHalf; x < width - kPatchHalf; ++x) {
      const std::int32_t at = y * width + x;
      if (inPatch(holes, x, y) > 0) {
        *s.isTarget.at(x, y) = 1;
        s.targets.push_back(at);
      } else if (inPatch(taken, x, y) == kPatchSide * kPatchSide) {
        *s.isSource.at(x, y) = 1;
        s.sources.push_back(at);
      }
    }
  }
  return s;
}

void guess(Search& s, std::uint32_t seed) {
  for (const std::int32_t t : s.targets) {
    std::int32_t& n = s.nearest.samples()[std::size_t(t)];
    if (n >= 0 && s.isSource.samples()[std::size_t(n)]) continue;
    n = s.sources[mixed(std::uint64_t(t) << 20 ^ seed) % s.sources.size()];
  }
}

void measure(Search& s, base::Executor& executor) {
  constexpr std::size_t kBlock = 2048;
  executor.forEach(int((s.targets.size() + kBlock - 1) / kBlock), [&](int block) {
    const std::size_t end = std::min(s.targets.size(), std::size_t(block + 1) * kBlock);
    for (std::size_t i = std::size_t(block) * kBlock; i < end; ++i) {
      const std::int32_t t = s.targets[i];
      s.distance.samples()[std::size_t(t)] =
          patchDistance(s.look, t, s.nearest.samples()[std::size_t(t)], std::numeric_limits<std::int32_t>::max());
    }
  });
}

void improve(Search& s, int round, std::uint32_t seed, base::Executor& executor) {
  const int width = s.look.width(), height = s.look.height();
  const Raster<std::int32_t> before = s.nearest;  // what other bands had
  const bool forward = round % 2 == 0;
  executor.forEach((height + kBandRows - 1) / kBandRows, [&](int band) {
    const int first = band * kBandRows, last = std::min(height, first + kBandRows) - 1;
    for (int n = 0; n <= last - first; ++n) {
      const int y = forward ? first + n : last - n;
      for (int m = 0; m < width; ++m) {
        const int x = forward ? m : width - 1 - m;
        const std::int32_t t = y * width + x;
        if (!s.isTarget.samples()[std::size_t(t)]) continue;
        std::int32_t best = s.nearest.samples()[std::size_t(t)], distance = s.distance.samples()[std::size_t(t)];
        const auto offer = [&](int u, int v) {
          if (u < 0 || v < 0 || u >= width || v >= height) return;
          const std::int32_t q = v * width + u;
          if (q == best || !s.isSource.samples()[std::size_t(q)]) return;
          const std::int32_t d = patchDistance(s.look, t, q, distance);
          if (d < distance) distance = d, best = q;
        };
        const int step = forward ? -1 : 1;
        for (const auto& [dx, dy] : {std::pair(step, 0), std::pair(0, step)}) {
          const int u = x + dx, v = y + dy;
          if (u < 0 || v < 0 || u >= width || v >= height || !*s.isTarget.at(u, v)) continue;
          const std::int32_t theirs = v < first || v > last ? *before.at(u, v) : *s.nearest.at(u, v);
          if (theirs >= 0) offer(theirs % width - dx, theirs / width - dy);
        }
        std::uint64_t random = mixed(std::uint64_t(t) ^ std::uint64_t(round) << 34 ^ std::uint64_t(seed) << 44);
        for (int reach = std::max(width, height); reach >= 1; reach /= 2) {
          random = mixed(random);
          const int u = best % width + int(random % std::uint64_t(2 * reach + 1)) - reach,
                    v = best / width + int((random >> 32) % std::uint64_t(2 * reach + 1)) - reach;
          offer(u, v);
        }
        s.nearest.samples()[std::size_t(t)] = best;
        s.distance.samples()[std::size_t(t)] = distance;
      }
    }
  });
}

}  // namespace hseam::repair
