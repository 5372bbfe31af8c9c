#include "core/frames/montage.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/frames/blocks.h"
#include "core/frames/offsets.h"
#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

using base::Rect;
using base::Result;
using image::PixelFormat;
using image::Raster;
using image::TiledImage;

constexpr int kSoft = 1;  // px on either side of a seam over which frames are mixed

base::Status blendBlock(const std::vector<Frame>& frames, const TiledImage& labels, const Offsets& offsets, const Rect& block,
                        PixelFormat format, int width, int firstRow, std::byte* rows) {
  const Rect wide = block.grown(kSoft);
  HSEAM_TRY(const Raster<std::uint8_t> own, image::read8(labels, 0, wide));
  std::array<bool, 256> used{};
  for (const std::uint8_t l : own.samples()) used[l] = true;
  const bool one = std::count(used.begin(), used.end(), true) == 1;
  std::vector<float> sum(std::size_t(block.width) * std::size_t(block.height) * 3), weights(sum.size() / 3);
  for (std::size_t k = 0; k < frames.size(); ++k) {
    if (!used[k + 1]) continue;
    HSEAM_TRY(const Raster<float> read, frames[k].read(0, block));
    const int channels = read.channels();
    for (int y = 0; y < block.height; ++y) {
      for (int x = 0; x < block.width; ++x) {
        int near = one ? 1 : 0;
        for (int v = 0; !one && v <= 2 * kSoft; ++v) {
          for (int u = 0; u <= 2 * kSoft; ++u) near += *own.at(x + u, y + v) == k + 1;
        }
        const float* c = read.at(x, y);
        if (near == 0 || (channels == 4 && c[3] <= 0 && *own.at(x + kSoft, y + kSoft) != k + 1)) continue;
        const std::size_t i = std::size_t(y) * std::size_t(block.width) + std::size_t(x);
        const std::array<float, 3> add = offsets.at(k, block.x + x, block.y + y);
        for (std::size_t ch = 0; ch < 3; ++ch) sum[i * 3 + ch] += float(near) * (c[channels < 3 ? 0 : ch] + add[ch]);
        weights[i] += float(near);
      }
    }
  }
  for (int y = 0; y < block.height; ++y) {
    for (int x = 0; x < block.width; ++x) {
      const std::size_t i = std::size_t(y) * std::size_t(block.width) + std::size_t(x);
      std::array<float, 3> rgb{};
      for (std::size_t c = 0; c < 3; ++c) rgb[c] = weights[i] > 0 ? sum[i * 3 + c] / weights[i] : 0;
      put(format, std::size_t(block.y + y - firstRow) * std::size_t(width) + std::size_t(block.x + x), rgb.data(), rows);
    }
  }
  return {};
}

Result<std::vector<double>> sharesOf(const TiledImage& labels, std::size_t frames) {
  HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(labels, 0, Rect::of(labels.size())));
  std::array<std::int64_t, 256> counts{};
  for (const std::uint8_t l : read.samples()) ++counts[l];
  std::vector<double> shares;
  for (std::size_t k = 1; k <= frames; ++k) shares.push_back(double(counts[k]) / double(read.pixels()));
  return shares;
}

}  // namespace

Result<Montage> montage(const std::vector<Frame>& frames, const TiledImage& picks, UnpickedOfBase unpicked,
                        base::Executor& executor, const base::Progress& progress) {
  HSEAM_TRY(const SeamLabels found, seamLabels(frames, picks, unpicked, executor, progress.part(0, 0.7)));
  HSEAM_TRY(const Offsets offsets, offsetsOf(frames, found.labels));
  const base::Size size = frames[0].size();
  const PixelFormat format = withoutAlpha(frames[0].picture().format());
  Montage out;
  HSEAM_TRY(out.picture, image::tiledFromRows(size, format, frames[0].picture().memory(), executor, progress.part(0.7, 1),
                                              [&](int first, int count, std::byte* rows) {
                                                return blocksOf(size.width, first, count, executor, [&](const Rect& block) {
                                                  return blendBlock(frames, found.labels, offsets, block, format, size.width,
                                                                    first, rows);
                                                });
                                              }));
  out.labels = found.labels;
  out.seamCost = found.cost;
  HSEAM_TRY(out.shares, sharesOf(found.labels, frames.size()));
  return out;
}

Result<Montage> lightest(const std::vector<Frame>& frames, base::Executor& executor, const base::Progress& progress) {
  HSEAM_DO(checkFrames(frames));
  const base::Size size = frames[0].size();
  const PixelFormat format = withoutAlpha(frames[0].picture().format());
  Raster<std::uint8_t> labels(size.width, size.height, 1, 1);
  Montage out;
  HSEAM_TRY(out.picture,
            image::tiledFromRows(
                size, format, frames[0].picture().memory(), executor, progress, [&](int first, int count, std::byte* rows) {
                  return blocksOf(size.width, first, count, executor, [&](const Rect& block) -> base::Status {
                    std::vector<float> best(std::size_t(block.width) * std::size_t(block.height) * 3, 0),
                        luma(best.size() / 3, -1);
                    for (std::size_t k = 0; k < frames.size(); ++k) {
                      HSEAM_TRY(const Raster<float> read, frames[k].read(0, block));
                      const std::size_t ch = std::size_t(read.channels());
                      for (std::size_t i = 0; i < read.pixels(); ++i) {
                        const float* c = read.samples().data() + i * ch;
                        if (ch == 4 && c[3] <= 0) continue;
                        float y = 0;
                        for (std::size_t n = 0; n < 3; ++n) {
                          const float v = c[ch < 3 ? 0 : n];
                          best[i * 3 + n] = std::max(best[i * 3 + n], v);
                          y += std::array{0.2126f, 0.7152f, 0.0722f}[n] * image::fastLinear(v);
                        }
                        if (y <= luma[i]) continue;
                        luma[i] = y;
                        *labels.at(block.x + int(i % std::size_t(block.width)), block.y + int(i / std::size_t(block.width))) =
                            std::uint8_t(k + 1);
                      }
                    }
                    for (std::size_t i = 0; i < luma.size(); ++i) {
                      const std::size_t x = i % std::size_t(block.width), y = i / std::size_t(block.width);
                      put(format, (std::size_t(block.y - first) + y) * std::size_t(size.width) + std::size_t(block.x) + x,
                          best.data() + i * 3, rows);
                    }
                    return {};
                  });
                }));
  HSEAM_TRY(out.labels, image::tiledFromRaster(labels, PixelFormat::grey8, frames[0].picture().memory(), executor));
  HSEAM_TRY(out.shares, sharesOf(out.labels, frames.size()));
  return out;
}

}  // namespace hseam::frames
