#include "core/deliver/export.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <new>
#include <optional>

#include <unistd.h>

#include "core/image/transfer.h"

namespace hseam::deliver {
namespace {

using image::Raster;

constexpr int kBand = 128;

// Rows of the scene at full size, rendered a band at a time as they are asked for.
class FullRows {
 public:
  FullRows(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress)
      : scene_(scene), executor_(executor), progress_(progress) {}

  base::Result<const float*> row(int y) {
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

base::Size exportSize(base::Size canvas, int longSide) {
  const int longest = std::max(canvas.width, canvas.height);
  if (longSide <= 0 || longSide >= longest) return canvas;
  const double scale = double(longSide) / longest;
  return {std::max(1, int(std::lround(canvas.width * scale))), std::max(1, int(std::lround(canvas.height * scale)))};
}

base::Status exportScene(const scene::Scene& scene, const std::string& path, const ExportOptions& o, base::Executor& executor,
                         const base::Progress& progress) try {
  const base::Size size = exportSize(scene.canvas, o.longSide);
  const bool jpeg = o.kind == image::FileKind::jpeg;
  const bool alpha = o.keepAlpha && !jpeg;
  const bool narrow = jpeg || o.kind == image::FileKind::webp;
  const bool wide = !narrow && (o.wide || o.kind == image::FileKind::tiff || o.kind == image::FileKind::openexr);
  const image::PixelFormat format = alpha ? (wide ? image::PixelFormat::rgba16 : image::PixelFormat::rgba8)
                                          : (wide ? image::PixelFormat::rgb16 : image::PixelFormat::rgb8);
  const int channels = image::channelsOf(format);
  std::optional<Raster<float>> small;
  if (size != scene.canvas) {
    HSEAM_TRY(small, reduced(scene, size, executor, progress));
  }
  FullRows full(scene, executor, progress);
  std::vector<float> row(std::size_t(size.width) * 4);
  const auto fill = [&](int y, std::byte* out) -> base::Status {
    const float* in = nullptr;
    if (small) {
      in = small->row(y);
    } else {
      HSEAM_TRY(in, full.row(y));
    }
    std::copy_n(in, row.size(), row.data());
    for (int x = 0; x < size.width; ++x) {
      float* p = row.data() + std::size_t(x) * 4;
      if (!alpha) onWhite(p);
      for (int c = 0; c < channels; ++c) {
        const std::size_t at = std::size_t(x) * std::size_t(channels) + std::size_t(c);
        const float v = std::clamp(p[c], 0.f, 1.f);
        if (wide) {
          reinterpret_cast<std::uint16_t*>(out)[at] = std::uint16_t(std::lround(v * 65535));
        } else {
          reinterpret_cast<std::uint8_t*>(out)[at] = std::uint8_t(std::clamp(std::lround(v * 255 + ditherAt(x, y, c)), 0l, 255l));
        }
      }
    }
    return {};
  };
  HSEAM_DO(image::writePicture(path, {o.kind, size, format, o.quality, true, o.about}, fill));
  progress.report(1);
  return {};
} catch (...) {
  return base::caught(path);
}

base::Result<std::int64_t> exportWeight(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                                        const base::Progress& progress) try {
  namespace fs = std::filesystem;
  std::error_code problem;
  const char* endings[] = {".png", ".jpg", ".tif", ".webp", ".exr"};
  // A folder of our own: nobody else can have put a link in the file's place.
  std::string folder = (fs::temp_directory_path(problem) / "hseam-weight-XXXXXX").string();
  if (problem || !mkdtemp(folder.data()))
    return base::Error{base::Code::unwritable, folder,
                       "there is no room for a temporary file, so that the weight cannot be told"};
  const std::string place = folder + "/picture" + endings[std::size_t(options.kind)];
  const base::Status written = exportScene(scene, place, options, executor, progress);
  const auto bytes = fs::file_size(place, problem);
  const bool told = !problem;
  fs::remove_all(folder, problem);
  if (!written.ok()) return written.error();
  if (!told) return base::Error{base::Code::unwritable, place, "what was written is gone, so that its weight cannot be told"};
  return std::int64_t(bytes);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::deliver
