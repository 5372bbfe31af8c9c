// An edge that takes its colours from further in: where the old background is not known, or was taken for the subject.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/findings/remedies.h"
#include "core/image/transfer.h"

namespace hseam::findings {
namespace {

using base::Code;
using base::Error;
using base::Result;

constexpr int kRim = 3;            // px of the picture that are not trusted
constexpr double kMostPx = 6.5e7;  // of a picture that is worked on whole

// Colours of the trusted inside (light, mean over a few px), carried outwards to every px of the rim.
void carryOut(image::Raster<std::uint8_t>& pixels, const cv::Mat& cover) {
  const int w = pixels.width(), h = pixels.height(), channels = pixels.channels();
  cv::Mat whole = cover >= 253, trusted;
  cv::erode(whole, trusted, cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * kRim + 1, 2 * kRim + 1}));
  if (cv::countNonZero(trusted) == 0) return;
  cv::Mat away, labels;
  cv::distanceTransform(trusted == 0, away, labels, cv::DIST_L2, 5, cv::DIST_LABEL_PIXEL);
  std::vector<cv::Point> place(std::size_t(w) * std::size_t(h) + 1, cv::Point(-1, -1));
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      if (trusted.ptr<std::uint8_t>(y)[x]) place[std::size_t(labels.ptr<int>(y)[x])] = {x, y};
    }
  }
  cv::Mat weight;
  trusted.convertTo(weight, CV_32F, 1.0 / 255);
  const cv::Mat inside = weight.clone();
  cv::GaussianBlur(weight, weight, {}, 1.5);
  for (int c = 0; c < 3; ++c) {
    cv::Mat light(h, w, CV_32F);
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) light.ptr<float>(y)[x] = float(image::linearFromEncoded(pixels.at(x, y)[c] / 255.0));
    }
    cv::multiply(light, inside, light);
    cv::GaussianBlur(light, light, {}, 1.5);
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) {
        const float d = away.ptr<float>(y)[x];
        if (cover.ptr<std::uint8_t>(y)[x] == 0 || d <= 0 || d > 12) continue;
        const cv::Point from = place[std::size_t(labels.ptr<int>(y)[x])];
        if (from.x < 0) continue;
        const float n = weight.ptr<float>(from.y)[from.x];
        if (n <= 0.05f) continue;
        pixels.samples()[(std::size_t(y) * std::size_t(w) + std::size_t(x)) * std::size_t(channels) + std::size_t(c)] =
            std::uint8_t(
                std::lround(255 * image::encodedFromLinear(std::min(1.0, double(light.ptr<float>(from.y)[from.x] / n)))));
      }
    }
  }
}

}  // namespace

Remedy coloursFromInside(scene::LayerId layer) {
  return {RemedyId::edgeFromInside, Says::coloursFromInside,
          [layer](const scene::Scene& s, base::Executor& executor) -> Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, layer);
            if (!l || !l->picture()) return Error{Code::notFound, "", "the picture is gone"};
            const auto& p = *l->picture();
            const image::TiledImage& source = p.shown();
            const bool rgb = source.format() == image::PixelFormat::rgb8, rgba = source.format() == image::PixelFormat::rgba8;
            const base::Size size = source.size();
            if (!rgb && !rgba) return Error{Code::unsupported, l->name, "only 8-bit pictures take colours from further in"};
            if (double(size.width) * size.height > kMostPx)
              return Error{Code::limitExceeded, l->name, "the picture is too large for it"};
            const base::Rect all = base::Rect::of(size);
            HSEAM_TRY(auto pixels, image::read8(source, 0, all));
            cv::Mat cover(size.height, size.width, CV_8U, cv::Scalar(255));
            if (l->mask.acts()) {
              HSEAM_TRY(const auto mask, image::readFloat(l->mask.coverage, 0, all));
              for (int y = 0; y < size.height; ++y) {
                for (int x = 0; x < size.width; ++x)
                  cover.ptr<std::uint8_t>(y)[x] = std::uint8_t(std::lround(255 * *mask.at(x, y)));
              }
            }
            for (int y = 0; rgba && y < size.height; ++y) {
              for (int x = 0; x < size.width; ++x) {
                std::uint8_t& c = cover.ptr<std::uint8_t>(y)[x];
                c = std::uint8_t((c * pixels.at(x, y)[3] + 127) / 255);
              }
            }
            carryOut(pixels, cover);
            HSEAM_TRY(image::TiledImage clean, image::withPixels(source, all, pixels, executor));
            // The mask itself stays as it is.
            return scene::Edit(
                scene::SetCut{layer, p.cutout->alpha, std::move(clean), l->mask.byHand(), p.cutout->recipe, p.cutout->shaped});
          }};
}

}  // namespace hseam::findings
