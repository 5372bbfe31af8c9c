#include "core/render/soft_masks.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <opencv2/imgproc.hpp>

namespace hseam::render {
namespace {

constexpr std::size_t kMostKept = 8;
// Standard deviation on the level where it is worked out, px: at least this, so that enlarging it again adds nothing.
constexpr double kLeastOnLevel = 4;

std::vector<float> bellOf(double sigma) {
  const int reach = std::max(1, int(std::ceil(3 * sigma)));
  std::vector<float> bell(std::size_t(2 * reach + 1));
  double sum = 0;
  for (int i = -reach; i <= reach; ++i) sum += std::exp(-0.5 * i * i / (sigma * sigma));
  float* to = bell.data();
  for (int i = -reach; i <= reach; ++i) *to++ = float(std::exp(-0.5 * i * i / (sigma * sigma)) / sum);
  return bell;
}

// The Gaussian's share that falls inside a side of this many px, for each px of it.
std::vector<float> shareInside(int side, double sigma) {
  std::vector<float> share(std::size_t(side), 1.f);
  softenStrip(share.data(), side, 1, sigma);
  // One row: the pass across rows has weighed it by the middle of the bell alone.
  const std::vector<float> bell = bellOf(sigma);
  for (float& v : share) v /= bell[bell.size() / 2];
  return share;
}

base::Result<SoftMasks::Soft> made(const image::TiledImage& mask, double sigmaPx, int level, bool whole) {
  const base::Size size = mask.level(level).size;
  HSEAM_TRY(image::Raster<float> values, image::readFloat(mask, level, base::Rect::of(size)));
  // Halving by area softens too: by (4^level − 1) / 12 px² of the mask.
  const double scale = double(1 << level), variance = sigmaPx * sigmaPx - (scale * scale - 1) / 12;
  const double sigma = std::sqrt(std::max(0.25, variance)) / scale;
  cv::Mat plane(size.height, size.width, CV_32F, values.row(0));
  const int reach = int(std::ceil(3 * sigma));
  cv::GaussianBlur(plane, plane, cv::Size(2 * reach + 1, 2 * reach + 1), sigma, sigma, cv::BORDER_CONSTANT);
  const std::vector<float> across = shareInside(size.width, sigma), down = shareInside(size.height, sigma);
  for (int y = 0; y < size.height; ++y) {
    float* row = plane.ptr<float>(y);
    for (int x = 0; x < size.width; ++x) row[x] /= std::max(1e-3f, across[std::size_t(x)] * down[std::size_t(y)]);
  }
  const base::Size out = whole ? mask.size() : size;
  if (whole && level > 0) {
    cv::Mat large;
    cv::resize(plane, large, cv::Size(int(size.width * scale), int(size.height * scale)), 0, 0, cv::INTER_CUBIC);
    plane = large;
  }
  base::InlineExecutor here;
  HSEAM_TRY(image::TiledImage coverage,
            image::tiledFromRows(out, image::PixelFormat::grey16, mask.memory(), here, {},
                                 [&](int first, int count, std::byte* rows) -> base::Status {
                                   auto* to = reinterpret_cast<std::uint16_t*>(rows);
                                   for (int y = 0; y < count; ++y) {
                                     const float* from = plane.ptr<float>(first + y);
                                     for (int x = 0; x < out.width; ++x)
                                       *to++ = std::uint16_t(std::lround(std::clamp(from[x], 0.f, 1.f) * 65535.f));
                                   }
                                   return {};
                                 }));
  return SoftMasks::Soft{std::move(coverage), whole ? 0 : level};
}

}  // namespace

void softenStrip(float* values, int width, int height, double sigmaPx) {
  const std::vector<float> bell = bellOf(sigmaPx);
  const int reach = int(bell.size() / 2);
  std::vector<float> line(std::size_t(width + 2 * reach)), out(std::size_t(width) * std::size_t(height), 0.f);
  for (int y = 0; y < height; ++y) {
    float* row = values + std::size_t(y) * std::size_t(width);
    std::fill(line.begin(), line.end(), 0.f);
    std::copy_n(row, width, line.begin() + reach);
    std::fill_n(row, width, 0.f);
    for (int k = 0; k <= 2 * reach; ++k) {
      const float share = bell[std::size_t(k)];
      const float* from = line.data() + k;
      for (int x = 0; x < width; ++x) row[x] += share * from[x];
    }
  }
  for (int y = 0; y < height; ++y) {
    float* to = out.data() + std::size_t(y) * std::size_t(width);
    const float* middle = bell.data() + reach;
    for (int k = std::max(-reach, -y); k <= std::min(reach, height - 1 - y); ++k) {
      const float share = middle[k];
      const float* from = values + std::size_t(y + k) * std::size_t(width);
      for (int x = 0; x < width; ++x) to[x] += share * from[x];
    }
  }
  std::copy(out.begin(), out.end(), values);
}

base::Result<SoftMasks::Soft> SoftMasks::of(const image::TiledImage& mask, double sigmaPx, int atLeast, bool whole) {
  const int finest = int(std::floor(std::log2(std::max(1.0, sigmaPx / kLeastOnLevel))));
  const int level = std::clamp(whole ? finest : std::max(finest, atLeast), 0, mask.levelCount() - 1);
  std::shared_ptr<Kept> kept;
  {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const auto& k) {
      return k->stamp == mask.stamp() && k->sigmaPx == sigmaPx && k->level == level && k->whole == whole;
    });
    if (found != kept_.end()) {
      kept = *found;
    } else {
      kept = std::make_shared<Kept>();
      kept->stamp = mask.stamp(), kept->sigmaPx = sigmaPx, kept->level = level, kept->whole = whole;
      if (kept_.size() >= kMostKept) kept_.erase(kept_.begin());
      kept_.push_back(kept);
    }
  }
  // Whoever comes second waits for the first.
  std::call_once(kept->made, [&] { kept->soft = made(mask, sigmaPx, level, whole); });
  return *kept->soft;
}

}  // namespace hseam::render
