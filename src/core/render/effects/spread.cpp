#include "core/render/effects/spread.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/effects/spread.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using Float = hn::ScalableTag<float>;

// to[x] = constant + weight · (sum of the row over x + from … x + to), from sums up to each pixel's left border and what the ends
// take of their pixels. All pointers stand at x = 0.
void runMeans(const float* sumFrom, const float* sumTo, const float* rowFrom, const float* rowTo, const float* shares, int count,
              float* to) {
  const Float d;
  const auto shareFrom = hn::Set(d, shares[0]), shareTo = hn::Set(d, shares[1]), weight = hn::Set(d, shares[2]),
             constant = hn::Set(d, shares[3]);
  for (int x = 0; x < count; x += int(hn::Lanes(d))) {
    const auto whole = hn::Sub(hn::LoadU(d, sumTo + x), hn::LoadU(d, sumFrom + x));
    const auto ends = hn::Sub(hn::Mul(shareTo, hn::LoadU(d, rowTo + x)), hn::Mul(shareFrom, hn::LoadU(d, rowFrom + x)));
    hn::Store(hn::Add(constant, hn::Mul(weight, hn::Add(whole, ends))), d, to + x);
  }
}

void addTo(const float* row, int count, float* sum) {
  const Float d;
  for (int x = 0; x < count; x += int(hn::Lanes(d))) hn::Store(hn::Add(hn::Load(d, sum + x), hn::Load(d, row + x)), d, sum + x);
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

#include <hwy/aligned_allocator.h>

namespace hseam::render {

HWY_EXPORT(runMeans);
HWY_EXPORT(addTo);

namespace effects {
namespace {

constexpr int kLanes = 16;  // of the widest vectors: rows may be read and written so far over their end

// Runs that differ in dy alone.
struct Alike {
  ShapeRun run;
  std::vector<int> dys;
};
std::vector<Alike> alikeOf(const std::vector<ShapeRun>& shape) {
  std::vector<Alike> out;
  for (const ShapeRun& r : shape) {
    const auto same = std::find_if(out.begin(), out.end(), [&](const Alike& a) {
      return std::abs(a.run.from - r.from) < 1e-9 && std::abs(a.run.to - r.to) < 1e-9 && std::abs(a.run.weight - r.weight) < 1e-9;
    });
    if (same != out.end()) {
      same->dys.push_back(r.dy);
    } else {
      out.push_back({r, {r.dy}});
    }
  }
  return out;
}

// Rows that are summed side by side: one sum waits for the one before it, four do not wait for each other.
constexpr int kRows = 4;

// Memory of one thread from plane to plane: fresh pages would cost as much as the sums do.
struct Buffers {
  std::vector<float> row[kRows], sums[kRows];
  hwy::AlignedFreeUniquePtr<float[]> total, line;
  std::size_t totalSize = 0, lineSize = 0;

  void fit(std::size_t padded, std::size_t totals, std::size_t stride) {
    for (int k = 0; k < kRows; ++k) row[k].resize(padded), sums[k].resize(padded);
    if (totals > totalSize) total = hwy::AllocateAligned<float>(totals), totalSize = totals;
    if (stride > lineSize) line = hwy::AllocateAligned<float>(stride), lineSize = stride;
    std::fill_n(total.get(), totals, 0.f);
  }
};

// Rows with their borders repeated, less their first values so that sums stay small where a row hardly changes; and sums of them
// up to each pixel's left border.
void sumRows(const float* in, int width, int count, int reach, Buffers& b) {
  for (int k = 0; k < count; ++k) {
    const float* from = in + k * width;
    float* row = b.row[k].data();
    std::fill_n(row, reach, 0.f);
    for (int x = 0; x < width; ++x) row[reach + x] = from[x] - from[0];
    std::fill_n(row + reach + width, reach + kLanes, from[width - 1] - from[0]);
  }
  float sum[kRows] = {};
  float *rows[kRows], *sums[kRows];
  for (int k = 0; k < kRows; ++k) rows[k] = b.row[k].data(), sums[k] = b.sums[k].data();
  for (int x = 0, n = width + 2 * reach + kLanes; x < n; ++x) {
    for (int k = 0; k < kRows; ++k) {
      sums[k][x] = sum[k];
      sum[k] += rows[k][x];
    }
  }
}

}  // namespace

void spreadOver(float* plane, base::Size size, const std::vector<ShapeRun>& shape) {
  const int w = size.width, h = size.height;
  const std::size_t count = std::size_t(w) * std::size_t(h);
  if (count == 0 || std::all_of(plane, plane + count, [&](float v) { return v == plane[0]; })) return;
  int reach = 1;
  double area = 0;
  for (const auto& r : shape) {
    reach = std::max({reach, int(std::ceil(std::abs(r.from))) + 2, int(std::ceil(std::abs(r.to))) + 2});
    area += r.weight * (r.to - r.from);
  }
  const auto alike = alikeOf(shape);
  const std::size_t stride = (std::size_t(w) + kLanes - 1) / kLanes * kLanes;
  thread_local Buffers buffers;
  buffers.fit(std::size_t(w) + 2 * std::size_t(reach) + kLanes, stride * std::size_t(h), stride);
  float *total = buffers.total.get(), *line = buffers.line.get();
  for (int y = 0; y < h; ++y) {
    const int k = y % kRows;
    const float* in = plane + std::size_t(y) * std::size_t(w);
    if (k == 0) sumRows(in, w, std::min(kRows, h - y), reach, buffers);
    const float *row = buffers.row[k].data(), *sums = buffers.sums[k].data();
    for (const Alike& a : alike) {
      // Of pixel x the run covers x + 0.5 + from … x + 0.5 + to.
      const double from = a.run.from + 0.5, to = a.run.to + 0.5, share = a.run.weight / area;
      const int f = reach + int(std::floor(from)), t = reach + int(std::floor(to));
      const float shares[4] = {float(from - std::floor(from)), float(to - std::floor(to)), float(share),
                               float(share * (a.run.to - a.run.from)) * in[0]};
      HWY_DYNAMIC_DISPATCH(runMeans)(sums + f, sums + t, row + f, row + t, shares, w, line);
      for (const int dy : a.dys) {
        // The first and the last row stand for all beyond them.
        const int first = y == 0 ? 0 : y - dy, last = y == h - 1 ? h - 1 : y - dy;
        for (int out = std::max(0, first); out <= std::min(h - 1, last); ++out)
          HWY_DYNAMIC_DISPATCH(addTo)(line, w, total + std::size_t(out) * stride);
      }
    }
  }
  for (int y = 0; y < h; ++y) std::copy_n(total + std::size_t(y) * stride, w, plane + std::size_t(y) * std::size_t(w));
}

}  // namespace effects
}  // namespace hseam::render
#endif
