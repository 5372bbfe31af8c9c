#include "truth/regraded.h"

#include <cmath>
#include <functional>
#include <opencv2/imgproc.hpp>

#include "core/render/renderer.h"
#include "truth/distance.h"
#include "truth/foreign.h"
#include "truth/must.h"
#include "truth/picture_layer.h"

namespace hseam::truth {
namespace {

constexpr int kLongSide = 720;  // px

using Encoded = std::array<double, 3>;

double lightOf(double v) {
  return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}
double encoded(double v) {
  v = std::clamp(v, 0.0, 1.0);
  return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
}
double luma(const Encoded& c) {
  return 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
}

Encoded inLight(const Encoded& c, const Encoded& gain) {
  return {encoded(gain[0] * lightOf(c[0])), encoded(gain[1] * lightOf(c[1])), encoded(gain[2] * lightOf(c[2]))};
}
// Towards grey by its luma.
Encoded lessColourful(const Encoded& c, double keep) {
  const double y = luma(c);
  return {y + keep * (c[0] - y), y + keep * (c[1] - y), y + keep * (c[2] - y)};
}

// How pictures are graded. much: about twice as far as by little. way: to the one side or the other.
using Grade = std::function<Encoded(const Encoded&, bool much, bool way)>;
struct GradeKind {
  const char* name;
  Grade grade;
};
const GradeKind kGrades[] = {
    {"exposure",
     [](const Encoded& c, bool much, bool way) {
       const double k = std::exp2((way ? 1 : -1) * (much ? 1.0 : 0.5));
       return inLight(c, {k, k, k});
     }},
    {"white balance",
     [](const Encoded& c, bool much, bool way) {
       const double k = (way ? 1 : -1) * (much ? 0.32 : 0.16);
       return inLight(c, {1 + k * 0.8, 1 - 0.05 * k, 1 / (1 + k)});
     }},
    {"fading",
     [](const Encoded& c, bool much, bool way) {
       const double lift = much ? 0.16 : 0.08, top = much ? 0.9 : 0.96;
       Encoded out = lessColourful(c, much ? 0.6 : 0.8);
       const double warm = way ? 0.02 : 0;
       for (std::size_t i = 0; i < 3; ++i) out[i] = lift + warm * (1 - double(i)) + (top - lift) * out[i];
       return out;
     }},
    {"split tone",
     [](const Encoded& c, bool much, bool way) {
       const double y = luma(c), k = (much ? 0.09 : 0.045) * (way ? 1 : -1), dark = (1 - y) * (1 - y), high = y * y;
       // Blue shadows and yellow lights, or green shadows and red lights.
       return way ? Encoded{c[0] - k * dark + k * high, c[1], c[2] + k * dark - k * high}
                  : Encoded{c[0] + k * dark - k * high, c[1] - k * dark + 0.5 * k * high, c[2]};
     }},
    {"dusk", [](const Encoded& c, bool much, bool way) {
       const double k = much ? 0.32 : 0.55;
       const Encoded lit = way ? inLight(c, {0.75 * k, 0.95 * k, 1.35 * k}) : inLight(c, {1.35 * k, 0.95 * k, 0.65 * k});
       return lessColourful(lit, 0.9);
     }}};

image::Raster<float> graded(const cv::Mat& picture, const GradeKind& kind, bool much, bool way) {
  image::Raster<float> out(picture.cols, picture.rows, 3);
  for (int y = 0; y < picture.rows; ++y) {
    for (int x = 0; x < picture.cols; ++x) {
      const float* p = picture.ptr<float>(y) + 3 * x;
      const Encoded c = kind.grade({double(p[0]), double(p[1]), double(p[2])}, much, way);
      // As files hold it.
      for (std::size_t i = 0; i < 3; ++i) out.at(x, y)[i] = float(std::round(255 * std::clamp(c[i], 0.0, 1.0)) / 255);
    }
  }
  return out;
}

image::TiledImage tiled(const float* samples, int width, int height, int channels,
                        const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  image::Raster<std::uint8_t> r(width, height, channels);
  for (std::size_t i = 0; i < r.samples().size(); ++i)
    r.samples()[i] = std::uint8_t(std::lround(255 * std::clamp(samples[i], 0.f, 1.f)));
  return must(image::tiledFromRaster(r, channels == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8, memory, executor));
}

}  // namespace

std::vector<Regraded> regradedPhotos(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                     base::Executor& executor) {
  std::vector<Regraded> all;
  for (const ForeignPhoto& p : foreignPhotos(folder, memory, executor)) {
    const auto pixels = must(image::readFloat(p.picture, 0, base::Rect::of(p.picture.size())));
    const cv::Mat full(pixels.height(), pixels.width(), CV_32FC3, const_cast<float*>(pixels.row(0)));
    const cv::Mat said(p.mask.height(), p.mask.width(), CV_8U, const_cast<std::uint8_t*>(p.mask.row(0)));
    cv::Mat picture, cover, small;
    const double k = std::min(1.0, double(kLongSide) / std::max(full.cols, full.rows));
    cv::resize(full, picture, {}, k, k, cv::INTER_AREA);
    cv::Mat(said >= 192).convertTo(cover, CV_32F, 1 / 255.0);
    cv::resize(cover, small, picture.size(), 0, 0, cv::INTER_AREA);
    image::Raster<float> coverage(small.cols, small.rows, 1);
    std::copy_n(small.ptr<float>(), small.total(), coverage.samples().data());
    const auto tiles = [&](const float* from, int channels) {
      return tiled(from, picture.cols, picture.rows, channels, memory, executor);
    };
    const image::TiledImage asTaken = tiles(picture.ptr<float>(), 3), mask = tiles(small.ptr<float>(), 1);
    image::Raster<float> untouched(picture.cols, picture.rows, 3);
    std::copy_n(picture.ptr<float>(), picture.total() * 3, untouched.samples().data());
    for (const GradeKind& kind : kGrades) {
      for (int i = 0; i < 8; ++i) {
        const bool much = i & 1, way = i & 2, ground = i & 4;
        const image::Raster<float> other = graded(picture, kind, much, way);
        const image::TiledImage tilesOfOther = tiles(other.row(0), 3);
        Regraded out;
        out.name = p.name + ", its " + (ground ? "ground" : "subject") + ": " + kind.name + (much ? " much" : " little") +
                   (way ? " +" : " -");
        out.kind = kind.name;
        out.layer = {2};
        out.scene.canvas = {picture.cols, picture.rows};
        out.scene.layers = {pictureLayer(1, "ground", ground ? tilesOfOther : asTaken, {}),
                            pictureLayer(2, "subject", ground ? asTaken : tilesOfOther, mask)};
        out.truth = ground ? other : untouched;
        out.cover = coverage;
        all.push_back(std::move(out));
      }
    }
  }
  return all;
}

double distanceOverSubject(const Regraded& of, const scene::Scene& scene, base::Executor& executor) {
  render::Renderer renderer;
  const auto shown = must(renderer.render(scene, base::Rect::of(scene.canvas), 0, executor));
  image::Raster<float> where = of.cover;
  for (float& v : where.samples()) v = v > 0.9f ? 1.f : 0.f;
  return meanDistance(shown, of.truth, where);
}

}  // namespace hseam::truth
