#include "core/matte/foreground.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/image/rgb.h"
#include "core/image/transfer.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;

constexpr float kGradientWeight = 0.1f;
constexpr float kRegularisation = 1e-3f;
constexpr int kSweepsFine = 4, kSweepsCoarse = 10;
constexpr int kSurroundings = 48;  // px, for colours on both sides
constexpr int kCoarsePixels = 32;  // up to this side a level gets the many sweeps

struct Level {
  Raster<float> picture;  // linear
  Raster<float> alpha;
};

Level halved(const Level& in) {
  const int w = (in.picture.width() + 1) / 2, h = (in.picture.height() + 1) / 2;
  Level out{Raster<float>(w, h, 3), Raster<float>(w, h)};
  for (int y = 0; y < h; ++y) {
    const int ys[2] = {2 * y, std::min(2 * y + 1, in.picture.height() - 1)};
    for (int x = 0; x < w; ++x) {
      const int xs[2] = {2 * x, std::min(2 * x + 1, in.picture.width() - 1)};
      for (const int py : ys) {
        for (const int px : xs) {
          for (int c = 0; c < 3; ++c) out.picture.at(x, y)[c] += 0.25f * in.picture.at(px, py)[c];
          *out.alpha.at(x, y) += 0.25f * *in.alpha.at(px, py);
        }
      }
    }
  }
  return out;
}

struct Colours {
  Raster<float> subject, background;  // linear, 3 channels
};

// The two unknown colours of one pixel, given its neighbours' (Germer et al., equation 4: two equations a channel).
void relax(const Level& level, Colours& now, int x, int y) {
  const int w = level.alpha.width(), h = level.alpha.height();
  const float a = *level.alpha.at(x, y);
  const float* image = level.picture.at(x, y);
  float weights = 0, f[3] = {}, b[3] = {};
  const int dx[4] = {-1, 1, 0, 0}, dy[4] = {0, 0, -1, 1};
  for (int k = 0; k < 4; ++k) {
    const int px = std::clamp(x + dx[k], 0, w - 1), py = std::clamp(y + dy[k], 0, h - 1);
    const float weight = kRegularisation + kGradientWeight * std::abs(a - *level.alpha.at(px, py));
    weights += weight;
    for (int c = 0; c < 3; ++c) {
      f[c] += weight * now.subject.at(px, py)[c];
      b[c] += weight * now.background.at(px, py)[c];
    }
  }
  const float a00 = a * a + weights, a01 = a * (1 - a), a11 = (1 - a) * (1 - a) + weights;
  const float inverse = 1 / (a00 * a11 - a01 * a01);
  for (int c = 0; c < 3; ++c) {
    const float r0 = a * image[c] + f[c], r1 = (1 - a) * image[c] + b[c];
    now.subject.at(x, y)[c] = std::clamp((a11 * r0 - a01 * r1) * inverse, 0.f, 1.f);
    now.background.at(x, y)[c] = std::clamp((a00 * r1 - a01 * r0) * inverse, 0.f, 1.f);
  }
}

std::vector<int> isFractional(const Raster<float>& alpha) {
  std::vector<int> out;
  const int w = alpha.width(), h = alpha.height();
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const float a = *alpha.at(x, y);
      bool wanted = a > 0 && a < 1;
      // One pixel further out, for what resampling mixes in.
      if (!wanted && a <= 0) {
        for (int d = 0; d < 9 && !wanted; ++d)
          wanted = *alpha.at(std::clamp(x + d % 3 - 1, 0, w - 1), std::clamp(y + d / 3 - 1, 0, h - 1)) > 0;
      }
      if (wanted) out.push_back(y * w + x);
    }
  }
  return out;
}

Raster<float> enlargedColours(const Raster<float>& coarse, base::Size size) {
  Raster<float> out(size.width, size.height, 3);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x)
      std::copy_n(coarse.at(std::min(x / 2, coarse.width() - 1), std::min(y / 2, coarse.height() - 1)), 3, out.at(x, y));
  }
  return out;
}

// Sweeps in the two colours of a chess board: within one colour pixels do not see each other, so that the order of work
// does not matter to the result.
void sweep(const Level& level, const std::vector<int>& pixels, int sweeps, Colours& now, base::Executor& executor) {
  const int w = level.alpha.width();
  std::vector<int> fields[2];
  for (const int at : pixels) fields[(at % w + at / w) % 2].push_back(at);
  constexpr int kChunk = 4096;
  for (int s = 0; s < sweeps; ++s) {
    for (const auto& field : fields) {
      executor.forEach((int(field.size()) + kChunk - 1) / kChunk, [&](int c) {
        for (std::size_t i = std::size_t(c) * kChunk, end = std::min(field.size(), i + kChunk); i < end; ++i)
          relax(level, now, field[i] % w, field[i] / w);
      });
    }
  }
}

std::vector<int> allOf(base::Size size) {
  std::vector<int> out(std::size_t(size.width) * std::size_t(size.height));
  for (std::size_t i = 0; i < out.size(); ++i) out[i] = int(i);
  return out;
}

// What is known for sure: the picture itself, on the side that it shows.
void setKnown(const Level& level, Colours& now) {
  for (std::size_t i = 0; i < level.alpha.pixels(); ++i) {
    const float a = level.alpha.samples()[i];
    const float* c = level.picture.samples().data() + i * 3;
    if (a >= 1) std::copy_n(c, 3, now.subject.samples().data() + i * 3);
    if (a <= 0) std::copy_n(c, 3, now.background.samples().data() + i * 3);
  }
}

}  // namespace

base::Result<OwnColours> ownColours(const Raster<float>& picture, const Raster<float>& alpha, base::Executor& executor,
                                    const base::Progress& progress) {
  Level finest{Raster<float>(picture.width(), picture.height(), 3), alpha};
  for (std::size_t i = 0; i < picture.samples().size(); ++i)
    finest.picture.samples()[i] = image::fastLinear(picture.samples()[i]);
  std::vector<Level> levels;
  levels.push_back(std::move(finest));
  while (std::max(levels.back().alpha.width(), levels.back().alpha.height()) > 1) levels.push_back(halved(levels.back()));

  Colours now;
  std::vector<int> finestPixels;
  for (std::size_t n = levels.size(); n-- > 0;) {
    if (progress.cancelled()) return base::cancelledError();
    const Level& level = levels[n];
    const base::Size size = level.alpha.size();
    now = n + 1 == levels.size() ? Colours{level.picture, level.picture}
                                 : Colours{enlargedColours(now.subject, size), enlargedColours(now.background, size)};
    const bool fine = std::max(size.width, size.height) > kCoarsePixels;
    if (n < 2) setKnown(level, now);
    finestPixels = n < 2 ? isFractional(level.alpha) : allOf(size);
    sweep(level, finestPixels, fine ? kSweepsFine : kSweepsCoarse, now, executor);
    if (n > 0) levels[n] = {};
    progress.report(1.0 / double(1 << std::min<std::size_t>(n, 10)));
  }
  OwnColours own{std::move(finestPixels), {}};
  own.colours.reserve(own.pixels.size());
  for (const int at : own.pixels) {
    const float* c = now.subject.samples().data() + std::size_t(at) * 3;
    own.colours.push_back({image::fastEncoded(c[0]), image::fastEncoded(c[1]), image::fastEncoded(c[2])});
  }
  return own;
}

base::Result<image::TiledImage> withOwnColours(const image::TiledImage& source, const Rect& area, const OwnColours& own,
                                               base::Executor& executor) try {
  image::ImageEditor editor(source);
  const int channels = image::channelsOf(source.format());
  const bool wide = image::isWide(source.format());
  int column = -1, row = -1;
  std::byte* tile = nullptr;
  for (std::size_t i = 0; i < own.pixels.size(); ++i) {
    const int x = area.x + own.pixels[i] % area.width, y = area.y + own.pixels[i] / area.width;
    if (x / image::kTileSide != column || y / image::kTileSide != row) {
      column = x / image::kTileSide, row = y / image::kTileSide;
      HSEAM_TRY(tile, editor.tile(column, row));
    }
    const std::size_t at =
        (std::size_t(y % image::kTileSide) * image::kTileSide + std::size_t(x % image::kTileSide)) * std::size_t(channels);
    for (std::size_t c = 0; c < 3; ++c) {
      if (wide) {
        reinterpret_cast<std::uint16_t*>(tile)[at + c] = std::uint16_t(std::lround(own.colours[i][c] * 65535));
      } else {
        reinterpret_cast<std::uint8_t*>(tile)[at + c] = std::uint8_t(std::lround(own.colours[i][c] * 255));
      }
    }
  }
  return std::move(editor).commit(executor);
} catch (...) {
  return base::caught();
}

base::Result<image::TiledImage> cleanColours(const image::TiledImage& source, const image::TiledImage& alpha,
                                             base::Executor& executor, const base::Progress& progress) try {
  CORE_CHECK(source.size() == alpha.size());
  const Rect whole = Rect::of(source.size());
  Rect fractional;
  constexpr int kTile = 256;
  for (int y = 0; y < whole.height; y += kTile) {
    for (int x = 0; x < whole.width; x += kTile) {
      const Rect tile = Rect{x, y, kTile, kTile}.intersected(whole);
      if (!image::isUniformIn(alpha, tile, 0) && !image::isUniformIn(alpha, tile, 255)) fractional = fractional.united(tile);
    }
  }
  if (fractional.empty()) return source;
  const Rect area = fractional.grown(kSurroundings).intersected(whole);
  HSEAM_TRY(Raster<float> read, image::readFloat(source, 0, area));
  HSEAM_TRY(const Raster<float> a, image::readFloat(alpha, 0, area));
  HSEAM_TRY(const OwnColours own, ownColours(image::rgbOf(std::move(read)), a, executor, progress));
  return withOwnColours(source, area, own, executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::matte
