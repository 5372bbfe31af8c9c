#include "core/deliver/rows.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <optional>
#include <vector>

#include "core/image/colour_profile.h"
#include "core/image/transfer.h"
#include "core/render/renderer.h"

namespace hseam::deliver {

using image::Raster;

// Rows of the scene at full size, rendered a band at a time as they are asked for.
class FullRows {
 public:
  FullRows(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress)
      : scene_(scene), executor_(executor), progress_(progress) {}

  base::Result<const float*> row(int y) {
    constexpr int kBand = 128;
    if (y / kBand != band_) {
      if (progress_.cancelled()) return base::cancelledError();
      band_ = y / kBand;
      const int top = band_ * kBand;
      HSEAM_TRY(pixels_, renderer_.render(scene_, {0, top, scene_.canvas.width, std::min(kBand, scene_.canvas.height - top)}, 0,
                                          executor_, progress_.token()));
      progress_.report(double(top) / scene_.canvas.height);
    }
    return pixels_.row(y - band_ * kBand);
  }

 private:
  const scene::Scene& scene_;
  base::Executor& executor_;
  const base::Progress& progress_;
  render::Renderer renderer_;
  Raster<float> pixels_;
  int band_ = -1;
};

namespace {

struct Tap {
  int first;
  std::vector<float> weights;
};

// Catmull-Rom widened by the reduction (Keys 1981), edges repeated by leaving out what lies outside.
std::vector<Tap> taps(int from, int to) {
  const double step = double(from) / to;
  std::vector<Tap> out;
  for (int i = 0; i < to; ++i) {
    const double centre = (i + 0.5) * step;
    const int first = std::max(0, int(std::ceil(centre - 2 * step - 0.5))),
              last = std::min(from - 1, int(std::floor(centre + 2 * step - 0.5)));
    Tap t{first, {}};
    double sum = 0;
    for (int k = first; k <= last; ++k) {
      const double x = std::abs(k + 0.5 - centre) / step;
      const double w = x < 1 ? (1.5 * x - 2.5) * x * x + 1 : (x < 2 ? ((-0.5 * x + 2.5) * x - 4) * x + 2 : 0);
      t.weights.push_back(float(w));
      sum += w;
    }
    for (float& w : t.weights) w = float(double(w) / sum);
    out.push_back(std::move(t));
  }
  return out;
}

// The scene reduced: every full-size row is squeezed along x as it comes and added to the output rows that see it.
base::Result<Raster<float>> reduced(const scene::Scene& scene, base::Size size, base::Executor& executor,
                                    const base::Progress& progress) {
  const std::vector<Tap> columns = taps(scene.canvas.width, size.width), rows = taps(scene.canvas.height, size.height);
  Raster<float> sum(size.width, size.height, 4);
  FullRows full(scene, executor, progress);
  std::vector<float> linear(std::size_t(scene.canvas.width) * 4), squeezed(std::size_t(size.width) * 4);
  int firstOpen = 0;
  for (int y = 0; y < scene.canvas.height; ++y) {
    HSEAM_TRY(const float* in, full.row(y));
    for (std::size_t x = 0; x < std::size_t(scene.canvas.width); ++x) {
      const float a = in[x * 4 + 3];
      for (std::size_t c = 0; c < 3; ++c) linear[x * 4 + c] = a * image::fastLinear(in[x * 4 + c]);
      linear[x * 4 + 3] = a;
    }
    std::fill(squeezed.begin(), squeezed.end(), 0.f);
    for (std::size_t x = 0; x < std::size_t(size.width); ++x) {
      const Tap& t = columns[x];
      for (std::size_t k = 0; k < t.weights.size(); ++k) {
        for (std::size_t c = 0; c < 4; ++c) squeezed[x * 4 + c] += t.weights[k] * linear[(std::size_t(t.first) + k) * 4 + c];
      }
    }
    while (firstOpen < size.height && rows[std::size_t(firstOpen)].first + int(rows[std::size_t(firstOpen)].weights.size()) <= y)
      ++firstOpen;
    for (int o = firstOpen; o < size.height && rows[std::size_t(o)].first <= y; ++o) {
      const Tap& t = rows[std::size_t(o)];
      const int k = y - t.first;
      if (k >= int(t.weights.size())) continue;
      float* to = sum.row(o);
      for (std::size_t i = 0; i < squeezed.size(); ++i) to[i] += t.weights[std::size_t(k)] * squeezed[i];
    }
  }
  for (std::size_t i = 0; i < sum.pixels(); ++i) {
    float* p = sum.samples().data() + i * 4;
    p[3] = std::clamp(p[3], 0.f, 1.f);
    for (int c = 0; c < 3; ++c) p[c] = p[3] > 1e-6f ? image::fastEncoded(p[c] / p[3]) : 0.f;
  }
  return sum;
}

void onWhite(float* p) {
  if (p[3] >= 1) return;
  for (int c = 0; c < 3; ++c) p[c] = image::fastEncoded(p[3] * image::fastLinear(p[c]) + (1 - p[3]));
  p[3] = 1;
}

}  // namespace

float ditherAt(int x, int y, int channel) {
  // A hash of the place (Wang 2007's integer mix): even, without a visible pattern, the same on every run.
  std::uint32_t h = std::uint32_t(x) * 0x9e3779b1u ^ std::uint32_t(y) * 0x85ebca77u ^ std::uint32_t(channel) * 0xc2b2ae3du;
  h = (h ^ 61u) ^ (h >> 16);
  h *= 9u;
  h ^= h >> 4;
  h *= 0x27d4eb2du;
  h ^= h >> 15;
  return (float(h >> 8) / 16777216.f - 0.5f) * 0.998f;
}

struct Rows::Work {
  base::Size size;
  image::PixelFormat format = image::PixelFormat::rgb8;
  bool alpha = false, wide = false;
  FullRows full;
  std::optional<Raster<float>> small;
  std::vector<float> row;
  std::vector<std::byte> profile;
  std::optional<image::FromSrgb> toProfile;
};

Rows::Rows(std::unique_ptr<Work> work) : work_(std::move(work)) {}
Rows::Rows(Rows&&) noexcept = default;
Rows& Rows::operator=(Rows&&) noexcept = default;
Rows::~Rows() = default;

base::Result<Rows> Rows::of(const scene::Scene& scene, const ExportOptions& o, base::Executor& executor,
                            const base::Progress& progress) {
  auto w = std::unique_ptr<Work>(new Work{exportSize(scene.canvas, o.longSide),
                                          image::PixelFormat::rgb8,
                                          o.keepAlpha && o.kind != image::FileKind::jpeg,
                                          false,
                                          FullRows(scene, executor, progress),
                                          std::nullopt,
                                          {},
                                          {},
                                          std::nullopt});
  const bool narrow = o.kind == image::FileKind::jpeg || o.kind == image::FileKind::webp;
  w->wide = !narrow && (o.wide || o.kind == image::FileKind::tiff || o.kind == image::FileKind::openexr);
  w->format = w->alpha ? (w->wide ? image::PixelFormat::rgba16 : image::PixelFormat::rgba8)
                       : (w->wide ? image::PixelFormat::rgb16 : image::PixelFormat::rgb8);
  w->row.resize(std::size_t(w->size.width) * 4);
  if (!o.profile.empty() && o.kind != image::FileKind::openexr) {
    HSEAM_TRY(w->profile, image::readProfile(o.profile));
    auto made = image::FromSrgb::make(w->profile);
    if (!made.ok()) return base::Error{made.error().code, o.profile, made.error().detail};
    w->toProfile = std::move(made).value();
  }
  if (w->size != scene.canvas) {
    HSEAM_TRY(w->small, reduced(scene, w->size, executor, progress));
  }
  return Rows(std::move(w));
}

base::Size Rows::size() const {
  return work_->size;
}
image::PixelFormat Rows::format() const {
  return work_->format;
}
const std::vector<std::byte>& Rows::profile() const {
  return work_->profile;
}

base::Status Rows::fill(int y, std::byte* out) {
  Work& w = *work_;
  const float* in = nullptr;
  if (w.small) {
    in = w.small->row(y);
  } else {
    HSEAM_TRY(in, w.full.row(y));
  }
  std::copy_n(in, w.row.size(), w.row.data());
  const int channels = image::channelsOf(w.format);
  if (!w.alpha) {
    for (int x = 0; x < w.size.width; ++x) onWhite(w.row.data() + std::size_t(x) * 4);
  }
  if (w.toProfile) w.toProfile->apply(w.row.data(), std::size_t(w.size.width));
  for (int x = 0; x < w.size.width; ++x) {
    const float* p = w.row.data() + std::size_t(x) * 4;
    for (int c = 0; c < channels; ++c) {
      const std::size_t at = std::size_t(x) * std::size_t(channels) + std::size_t(c);
      const float v = std::clamp(p[c], 0.f, 1.f);
      if (w.wide) {
        reinterpret_cast<std::uint16_t*>(out)[at] = std::uint16_t(std::lround(v * 65535));
      } else {
        reinterpret_cast<std::uint8_t*>(out)[at] = std::uint8_t(std::clamp(std::lround(v * 255 + ditherAt(x, y, c)), 0l, 255l));
      }
    }
  }
  return {};
}

}  // namespace hseam::deliver
