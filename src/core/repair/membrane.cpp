#include "core/repair/membrane.h"

#include <algorithm>
#include <array>

namespace hseam::repair {
namespace {

using image::Raster;
using Holds = Raster<std::uint8_t>;

constexpr auto kBeside = std::uint8_t(Hold::beside), kFixed = std::uint8_t(Hold::fixed), kLoose = std::uint8_t(Hold::loose);

// Half the size: fixed where any pixel is, as the mean of those.
void halve(const Raster<float>& values, const Holds& holds, Raster<float>& small, Holds& smallHolds) {
  const int channels = values.channels();
  for (int y = 0; y < small.height(); ++y) {
    for (int x = 0; x < small.width(); ++x) {
      int fixed = 0;
      bool loose = false;
      for (int v = 2 * y; v < std::min(2 * y + 2, values.height()); ++v) {
        for (int u = 2 * x; u < std::min(2 * x + 2, values.width()); ++u) {
          loose |= *holds.at(u, v) == kLoose;
          if (*holds.at(u, v) != kFixed) continue;
          for (int c = 0; c < channels; ++c) small.at(x, y)[c] += values.at(u, v)[c];
          ++fixed;
        }
      }
      for (int c = 0; fixed > 0 && c < channels; ++c) small.at(x, y)[c] /= float(fixed);
      *smallHolds.at(x, y) = fixed > 0 ? kFixed : (loose ? kLoose : kBeside);
    }
  }
}

// Successive over-relaxation.
void sweep(Raster<float>& values, const Holds& holds, int times) {
  constexpr float kOver = 1.7f;
  const int width = values.width(), height = values.height(), channels = values.channels();
  for (int n = 0; n < times; ++n) {
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) {
        if (*holds.at(x, y) != kLoose) continue;
        std::array<const float*, 4> around{};
        std::size_t count = 0;
        const auto take = [&](int u, int v) {
          if (u >= 0 && v >= 0 && u < width && v < height && *holds.at(u, v) != kBeside) around[count++] = values.at(u, v);
        };
        take(x - 1, y), take(x + 1, y), take(x, y - 1), take(x, y + 1);
        if (count == 0) continue;
        for (int c = 0; c < channels; ++c) {
          float sum = 0;
          for (std::size_t k = 0; k < count; ++k) sum += around[k][c];
          float& own = values.at(x, y)[c];
          own += kOver * (sum / float(count) - own);
        }
      }
    }
  }
}

}  // namespace

void relax(Raster<float>& values, const Holds& holds) {
  const int width = values.width(), height = values.height();
  for (std::size_t i = 0; i < holds.samples().size(); ++i) {
    if (holds.samples()[i] == kLoose)
      std::fill_n(values.samples().begin() + std::ptrdiff_t(i) * values.channels(), values.channels(), 0.f);
  }
  constexpr int kSmall = 4, kSweeps = 30;
  if (std::min(width, height) > kSmall) {
    Raster<float> small((width + 1) / 2, (height + 1) / 2, values.channels());
    Holds smallHolds(small.width(), small.height(), 1);
    halve(values, holds, small, smallHolds);
    relax(small, smallHolds);
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) {
        if (*holds.at(x, y) == kLoose) std::copy_n(small.at(x / 2, y / 2), values.channels(), values.at(x, y));
      }
    }
  }
  sweep(values, holds, kSweeps);
}

void takeLight(Raster<float>& copied, const Raster<float>& under, const Holds& inside) {
  Raster<float> apart(copied.width(), copied.height(), 3);
  Holds holds(copied.width(), copied.height(), 1);
  for (std::size_t i = 0; i < holds.samples().size(); ++i) {
    const float *c = copied.samples().data() + 4 * i, *u = under.samples().data() + 4 * i;
    if (inside.samples()[i] > 0) {
      holds.samples()[i] = kLoose;
    } else if (c[3] > 0.99f && u[3] > 0.99f) {
      holds.samples()[i] = kFixed;
      for (std::size_t k = 0; k < 3; ++k) apart.samples()[3 * i + k] = u[k] - c[k];
    }
  }
  relax(apart, holds);
  for (std::size_t i = 0; i < holds.samples().size(); ++i) {
    if (holds.samples()[i] != kLoose) continue;
    for (std::size_t k = 0; k < 3; ++k) {
      float& v = copied.samples()[4 * i + k];
      v = std::clamp(v + apart.samples()[3 * i + k], 0.f, 1.f);
    }
  }
}

}  // namespace hseam::repair
