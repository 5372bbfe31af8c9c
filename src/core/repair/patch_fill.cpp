#include "core/repair/patch_fill.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/repair/patch_search.h"
#include "core/repair/shifts.h"

namespace hseam::repair {
namespace {

using image::Raster;

struct Level {
  Raster<float> colours;
  Bits hole, source;
  Raster<float> depth;  // px from the hole's rim
};

// Half the size: of what is known alone; a pixel with any hole in it is hole.
Level halvedLevel(const Level& l) {
  const int width = (l.colours.width() + 1) / 2, height = (l.colours.height() + 1) / 2;
  Level out{Raster<float>(width, height, 3), Bits(width, height, 1), Bits(width, height, 1, 1), {}};
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      std::array<float, 3> sum{};
      int known = 0;
      for (int v = 2 * y; v < std::min(2 * y + 2, l.colours.height()); ++v) {
        for (int u = 2 * x; u < std::min(2 * x + 2, l.colours.width()); ++u) {
          if (!*l.source.at(u, v)) *out.source.at(x, y) = 0;
          if (*l.hole.at(u, v)) {
            *out.hole.at(x, y) = 1;
            continue;
          }
          for (std::size_t c = 0; c < 3; ++c) sum[c] += l.colours.at(u, v)[c];
          ++known;
        }
      }
      for (std::size_t c = 0; c < 3; ++c) out.colours.at(x, y)[c] = known > 0 ? sum[c] / float(known) : 0;
    }
  }
  return out;
}

void findDepth(Level& l) {
  cv::Mat inside(l.hole.height(), l.hole.width(), CV_8U), depth;
  for (int y = 0; y < inside.rows; ++y) {
    for (int x = 0; x < inside.cols; ++x) inside.at<std::uint8_t>(y, x) = *l.hole.at(x, y);
  }
  cv::distanceTransform(inside, depth, cv::DIST_L2, 3);
  l.depth = Raster<float>(inside.cols, inside.rows, 1);
  for (int y = 0; y < inside.rows; ++y) {
    for (int x = 0; x < inside.cols; ++x) *l.depth.at(x, y) = depth.at<float>(y, x);
  }
}

// Ring by ring from the rim inwards, each the mean of what it touches: a beginning.
void fillSmoothly(Level& l) {
  for (bool open = true; open;) {
    open = false;
    const Raster<float> before = l.colours;
    Bits done = l.hole;
    for (int y = 0; y < l.hole.height(); ++y) {
      for (int x = 0; x < l.hole.width(); ++x) {
        if (!*l.hole.at(x, y)) continue;
        std::array<float, 3> sum{};
        int n = 0;
        for (int v = std::max(0, y - 1); v <= std::min(l.hole.height() - 1, y + 1); ++v) {
          for (int u = std::max(0, x - 1); u <= std::min(l.hole.width() - 1, x + 1); ++u) {
            if (*l.hole.at(u, v)) continue;
            for (std::size_t c = 0; c < 3; ++c) sum[c] += before.at(u, v)[c];
            ++n;
          }
        }
        if (n == 0) {
          open = true;
          continue;
        }
        for (std::size_t c = 0; c < 3; ++c) l.colours.at(x, y)[c] = sum[c] / float(n);
        *done.at(x, y) = 0;
      }
    }
    l.hole = done;
  }
}

// What the patches over a pixel say it is. chosen: the most like of them alone says it, and which pixel it took; null: all of
// them do.
void vote(Level& l, const Bits& hole, const Search& s, Raster<std::int32_t>* chosen, base::Executor& executor) {
  const int width = l.colours.width(), height = l.colours.height();
  // What three quarters of the patches are better than.
  std::vector<std::int32_t> all;
  all.reserve(s.targets.size());
  for (const std::int32_t t : s.targets) all.push_back(s.distance.samples()[std::size_t(t)]);
  std::nth_element(all.begin(), all.begin() + long(all.size() * 3 / 4), all.end());
  const float scale = 1 / (2 * std::max(1.f, float(all[all.size() * 3 / 4])));
  // Of each patch: how like it is; those near the rim know more of what must be there.
  Raster<float> weight(width, height, 1);
  executor.forEach(height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      if (*s.isTarget.at(x, y))
        *weight.at(x, y) = std::exp(-float(*s.distance.at(x, y)) * scale) * std::pow(1.6f, -std::min(*l.depth.at(x, y), 40.f));
    }
  });
  const Raster<float> before = l.colours;
  executor.forEach(height, [&](int y) {
    for (int x = 0; x < width; ++x) {
      if (!*hole.at(x, y)) continue;
      std::array<float, 3> sum{};
      float weights = 0, most = -1;
      for (int dy = -kPatchHalf; dy <= kPatchHalf; ++dy) {
        for (int dx = -kPatchHalf; dx <= kPatchHalf; ++dx) {
          const int u = x - dx, v = y - dy;
          if (u < 0 || v < 0 || u >= width || v >= height || !*s.isTarget.at(u, v)) continue;
          const std::int32_t q = *s.nearest.at(u, v) + dy * width + dx;
          const float w = *weight.at(u, v);
          const float* c = before.samples().data() + std::size_t(q) * 3;
          if (chosen) {
            const float closer = w * (1.f - 0.02f * float(dx * dx + dy * dy));
            if (closer <= most) continue;
            most = closer;
            *chosen->at(x, y) = q;
            for (std::size_t k = 0; k < 3; ++k) sum[k] = c[k];
            weights = 1;
          } else {
            for (std::size_t k = 0; k < 3; ++k) sum[k] += w * c[k];
            weights += w;
          }
        }
      }
      if (weights <= 0) continue;
      for (std::size_t k = 0; k < 3; ++k) l.colours.at(x, y)[k] = sum[k] / weights;
    }
  });
}

// The steps of tone between pieces, and at the rim, are evened: the changes from pixel to pixel are those of the pieces
// themselves, and the colours follow (a Poisson equation, by successive over-relaxation).
void join(Level& l, const Bits& hole, const Raster<std::int32_t>& chosen) {
  const int width = l.colours.width(), height = l.colours.height();
  struct Cell {
    int x, y;
    std::array<float, 3> change;  // sum over the neighbours of what this one is above them
  };
  constexpr float kBleeds = 0.25f;  // apart by as much, of the whole range, and the piece's colours mostly stay
  std::vector<Cell> cells;
  const Raster<float> before = l.colours;
  for (int y = 1; y + 1 < height; ++y) {
    for (int x = 1; x + 1 < width; ++x) {
      if (!*hole.at(x, y)) continue;
      Cell cell{x, y, {}};
      const std::int32_t own = *chosen.at(x, y);
      for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
        const std::int32_t other = *chosen.at(x + dx, y + dy);
        const auto at = [&](std::int32_t place, std::size_t c) {
          return before.samples()[std::size_t(std::clamp(place, 0, width * height - 1)) * 3 + c];
        };
        // As it is in this piece, and in the neighbour's; within one piece both say the same. Beyond the rim nobody knows what
        // the picture was in the hole: there the piece alone says it, and the less the more it is apart from what is there, so
        // that another colour does not bleed into the hole.
        float follows = 0.5f;
        if (!*hole.at(x + dx, y + dy)) {
          float apart = 0;
          for (std::size_t c = 0; c < 3; ++c) apart += std::abs(at(own + dy * width + dx, c) - at(other, c)) / 3;
          follows = std::exp(-apart * apart / (kBleeds * kBleeds));
        }
        for (std::size_t c = 0; c < 3; ++c) {
          const float here = at(own, c) - at(own + dy * width + dx, c), there = at(other - dy * width - dx, c) - at(other, c);
          cell.change[c] += follows * here + (1 - follows) * there;
        }
      }
      cells.push_back(cell);
    }
  }
  constexpr int kSweeps = 60;
  constexpr float kOver = 1.8f;
  for (int sweep = 0; sweep < kSweeps; ++sweep) {
    for (const Cell& cell : cells) {
      float* c = l.colours.at(cell.x, cell.y);
      const float *r = l.colours.at(cell.x + 1, cell.y), *w = l.colours.at(cell.x - 1, cell.y),
                  *d = l.colours.at(cell.x, cell.y + 1), *u = l.colours.at(cell.x, cell.y - 1);
      for (std::size_t k = 0; k < 3; ++k) {
        const float wanted = (r[k] + w[k] + d[k] + u[k] + cell.change[k]) / 4;
        c[k] += kOver * (wanted - c[k]);
      }
    }
  }
  for (const Cell& cell : cells) {
    for (std::size_t k = 0; k < 3; ++k) l.colours.at(cell.x, cell.y)[k] = std::clamp(l.colours.at(cell.x, cell.y)[k], 0.f, 1.f);
  }
}

// From the level below: each target where its pixel there looked.
void takeOver(const Search& small, Search& s) {
  const int width = s.look.width(), smallWidth = small.look.width();
  for (const std::int32_t t : s.targets) {
    const int x = t % width, y = t / width;
    const int u = std::clamp(x / 2, kPatchHalf, smallWidth - 1 - kPatchHalf),
              v = std::clamp(y / 2, kPatchHalf, small.look.height() - 1 - kPatchHalf);
    const std::int32_t n = *small.nearest.at(u, v);
    if (n < 0) continue;
    const int sx = 2 * (n % smallWidth) + (x - 2 * u), sy = 2 * (n / smallWidth) + (y - 2 * v);
    if (sx < 0 || sy < 0 || sx >= width || sy >= s.look.height() || !*s.isSource.at(sx, sy)) continue;
    s.nearest.samples()[std::size_t(t)] = sy * width + sx;
  }
}

}  // namespace

base::Result<bool> fillPatches(Raster<float>& colours, const Bits& hole, const Bits& source, std::uint32_t seed,
                               base::Executor& executor, const base::Progress& progress, Raster<std::int32_t>* taken) {
  std::vector<Level> levels{{colours, hole, source, {}}};
  constexpr int kLeastSide = 28;  // px: a smaller level has too few patches
  constexpr std::size_t kLeastSources = 400;
  constexpr float kShallow = 9;  // px: a hole that is no deeper is seen as a whole by its patches
  if (searchFor(colours, hole, source).sources.empty()) return false;
  findDepth(levels[0]);
  while (true) {
    const Level& l = levels.back();
    const float deepest = *std::max_element(l.depth.samples().begin(), l.depth.samples().end());
    if (deepest <= kShallow || std::min(l.colours.width(), l.colours.height()) < 2 * kLeastSide) break;
    Level next = halvedLevel(l);
    findDepth(next);
    if (searchFor(next.colours, next.hole, next.source).sources.size() < kLeastSources) break;
    levels.push_back(std::move(next));
  }
  Search below;
  for (std::size_t n = levels.size(); n-- > 0;) {
    Level& l = levels[n];
    const bool coarsest = n + 1 == levels.size(), finest = n == 0;
    const Bits open = l.hole;
    if (coarsest) {
      fillSmoothly(l);
    } else {
      const Level& small = levels[n + 1];
      for (int y = 0; y < open.height(); ++y) {
        for (int x = 0; x < open.width(); ++x) {
          if (*open.at(x, y)) std::copy_n(small.colours.at(x / 2, y / 2), 3, l.colours.at(x, y));
        }
      }
    }
    Search s = searchFor(l.colours, open, l.source);
    if (s.targets.empty()) return false;
    if (!coarsest) takeOver(below, s);
    guess(s, seed);
    // What a large hole looks like has been decided on smaller levels: there one look at the neighbours is enough.
    constexpr std::size_t kMany = 120'000;
    const int rounds = coarsest ? 14 : (s.targets.size() > kMany ? 0 : (finest ? 3 : 5));
    int improvement = 0;
    Raster<std::int32_t> chosen(open.width(), open.height(), 1);
    for (std::size_t i = 0; i < chosen.samples().size(); ++i) chosen.samples()[i] = std::int32_t(i);
    if (!coarsest) {
      measure(s, executor);
      improve(s, improvement++, seed + std::uint32_t(n), executor);
      vote(l, open, s, &chosen, executor);
    }
    for (int round = 0; round < rounds; ++round) {
      if (progress.cancelled()) return base::cancelledError();
      s.look = lookOf(l.colours);
      measure(s, executor);
      for (int k = 0; k < (coarsest ? 4 : 2); ++k) improve(s, improvement++, seed + std::uint32_t(n), executor);
      vote(l, open, s, coarsest && round < 3 ? nullptr : &chosen, executor);
    }
    if (finest) {
      HSEAM_DO(inPieces(l.colours, open, l.source, progress.part(1 - 1.0 / double(levels.size()), 1), chosen));
      for (std::size_t i = 0; i < open.samples().size(); ++i) {
        if (open.samples()[i])
          std::copy_n(l.colours.samples().data() + std::size_t(chosen.samples()[i]) * 3, 3, l.colours.samples().data() + i * 3);
      }
      join(l, open, chosen);
      if (taken) *taken = chosen;
    }
    progress.report(double(levels.size() - n) / double(levels.size()));
    below = std::move(s);
  }
  colours = std::move(levels[0].colours);
  return true;
}

}  // namespace hseam::repair
