#include "core/findings/skin.h"

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"
#include "core/learned/seen.h"

namespace hseam::findings {
namespace {

constexpr double kLeastScore = 0.35;                                 // of a person that is seen
constexpr float kLeastPerson = 0.5f;                                 // at a place
constexpr double kRoom = 0.2;                                        // around the subject, of its size
constexpr double kReddest = -15, kYellowest = 85, kLeastChroma = 5;  // hue in degrees; skin under any usual light

cv::Rect partAround(const image::Raster<float>& own) {
  int left = own.width(), right = -1, top = own.height(), bottom = -1;
  for (int y = 0; y < own.height(); ++y) {
    for (int x = 0; x < own.width(); ++x) {
      if (own.at(x, y)[3] < 0.5f) continue;
      left = std::min(left, x), right = std::max(right, x), top = std::min(top, y), bottom = std::max(bottom, y);
    }
  }
  if (right < left) return {};
  const int room = int(kRoom * std::max(right - left + 1, bottom - top + 1));
  return cv::Rect(left - room, top - room, right - left + 1 + 2 * room, bottom - top + 1 + 2 * room) &
         cv::Rect(0, 0, own.width(), own.height());
}

// The subject on what lies behind it, as a viewer sees it.
image::Raster<float> shown(const Pair& p, const cv::Rect& part) {
  image::Raster<float> out(part.width, part.height, 3);
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x) {
      const float *own = p.own.at(part.x + x, part.y + y), *behind = p.scene.at(part.x + x, part.y + y), cover = own[3];
      for (int c = 0; c < 3; ++c) out.at(x, y)[c] = cover * own[c] + (1 - cover) * behind[c];
    }
  }
  return out;
}

bool isSkinColour(const float* rgb) {
  const image::Lab lab = image::labFromEncoded({double(rgb[0]), double(rgb[1]), double(rgb[2])});
  const double hue = std::atan2(lab.b, lab.a) * 180 / M_PI;
  return hue > kReddest && hue < kYellowest && std::hypot(lab.a, lab.b) > kLeastChroma;
}

}  // namespace

image::Raster<std::uint8_t> withoutSkin(const Pair& pair) {
  image::Raster<std::uint8_t> out = pair.inside;
  const cv::Rect part = partAround(pair.own);
  if (part.empty()) return out;
  const auto seen = learned::see(shown(pair, part), {});
  if (!seen.ok()) return out;
  const bool somebody = std::any_of(seen->things.begin(), seen->things.end(),
                                    [](const learned::SeenThing& t) { return t.isPerson && t.score > kLeastScore; });
  if (!somebody) return out;
  cv::Mat person;
  cv::resize(cv::Mat(learned::kPersonSide, learned::kPersonSide, CV_32F, const_cast<float*>(seen->person.row(0))), person,
             part.size());
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x) {
      std::uint8_t& counts = *out.at(part.x + x, part.y + y);
      if (counts != 0 && person.ptr<float>(y)[x] > kLeastPerson && isSkinColour(pair.own.at(part.x + x, part.y + y))) counts = 0;
    }
  }
  return out;
}

}  // namespace hseam::findings
