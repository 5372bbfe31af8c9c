#include "core/matte/evidence.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hseam::matte {
namespace {

using image::Raster;

constexpr std::size_t kEvidenceSteps = 20;         // alpha is tried at 0, 1/20 .. 1
constexpr float kEvidenceNoise = 0.004f * 0.004f;  // variance of a pixel's value
constexpr float kFlat = 1.f / 12;                  // variance of alpha when nothing is known
constexpr float kNarrowest = 0.1f;                 // of the variance, in shares of kFlat
constexpr float kUnexplained = 0.1f;               // how fast confidence falls when no alpha explains the colour

Evidence evidenceOf(const float* c, const ColourSpread& f, const ColourSpread& b) {
  std::array<float, kEvidenceSteps + 1> distance{}, size{};
  float least = 1e30f;
  for (std::size_t k = 0; k <= kEvidenceSteps; ++k) {
    const float a = float(k) / kEvidenceSteps, q = 1 - a, aa = a * a, qq = q * q;
    std::array<float, 6> m{};
    for (std::size_t i = 0; i < 6; ++i) m[i] = aa * f.covariance[i] + qq * b.covariance[i];
    m[0] += kEvidenceNoise, m[3] += kEvidenceNoise, m[5] += kEvidenceNoise;
    const float x = c[0] - a * f.mean[0] - q * b.mean[0], y = c[1] - a * f.mean[1] - q * b.mean[1],
                z = c[2] - a * f.mean[2] - q * b.mean[2];
    // Cholesky: covariances of greys are nearly singular, and cofactors lose them.
    const float l00 = std::sqrt(m[0]), l10 = m[1] / l00, l20 = m[2] / l00;
    const float l11 = std::sqrt(std::max(kEvidenceNoise * 0.5f, m[3] - l10 * l10)), l21 = (m[4] - l20 * l10) / l11;
    const float l22 = std::sqrt(std::max(kEvidenceNoise * 0.5f, m[5] - l20 * l20 - l21 * l21));
    const float u = x / l00, v = (y - l10 * u) / l11, w = (z - l20 * u - l21 * v) / l22;
    distance[k] = u * u + v * v + w * w;
    size[k] = l00 * l11 * l22;
    least = std::min(least, distance[k]);
  }
  float sum = 0, first = 0, second = 0;
  for (std::size_t k = 0; k <= kEvidenceSteps; ++k) {
    const float a = float(k) / kEvidenceSteps, p = std::exp(-0.5f * (distance[k] - least)) / size[k];
    sum += p, first += p * a, second += p * a * a;
  }
  Evidence e;
  e.alpha = first / sum;
  const float variance = std::max(0.f, second / sum - e.alpha * e.alpha);
  e.deviation = std::sqrt(variance);
  const float narrow = 1 / (variance / kFlat + kNarrowest) - 1 / (1 + kNarrowest);
  e.confidence = std::clamp(narrow * kNarrowest, 0.f, 1.f) / (1 + kUnexplained * least);
  e.logLikelihood = std::log(sum / (kEvidenceSteps + 1)) - 0.5f * least;
  return e;
}

}  // namespace

std::vector<Evidence> colourEvidence(const Raster<float>& picture, const LocalColours& colours, const std::vector<int>& pixels,
                                     base::Executor& executor) {
  std::vector<Evidence> out(pixels.size());
  constexpr int kChunk = 4096;
  executor.forEach((int(pixels.size()) + kChunk - 1) / kChunk, [&](int chunk) {
    const std::size_t from = std::size_t(chunk) * kChunk;
    for (std::size_t i = from, end = std::min(pixels.size(), from + kChunk); i < end; ++i) {
      const int at = pixels[i], x = at % picture.width(), y = at / picture.width();
      const ColourSpread f = colours.subjectAt(x, y), b = colours.backgroundAt(x, y);
      if (f.weight > 0 && b.weight > 0) out[i] = evidenceOf(picture.at(x, y), f, b);
    }
  });
  return out;
}

}  // namespace hseam::matte
