#include "core/repair/shifts.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace hseam::repair {
namespace {

using image::Raster;

constexpr std::size_t kMostShifts = 28;
constexpr double kPieces = 6e3;    // px of the hole from which half of the resolution is enough for the seams
constexpr float kNearness = 0.2f;  // of a difference to what patches say, against one along a seam

struct Shift {
  int dx, dy;
};

// The commonest, none next to another.
std::vector<Shift> commonShifts(const Bits& hole, const Raster<std::int32_t>& chosen, int grain) {
  std::map<std::pair<int, int>, int> count;
  const int width = hole.width();
  for (int y = 0; y < hole.height(); ++y) {
    for (int x = 0; x < width; ++x) {
      if (!*hole.at(x, y)) continue;
      const std::int32_t q = *chosen.at(x, y);
      const auto coarse = [&](int v) { return int(std::lround(double(v) / grain)) * grain; };
      ++count[{coarse(q % width - x), coarse(q / width - y)}];
    }
  }
  std::vector<std::pair<int, std::pair<int, int>>> order;
  order.reserve(count.size());
  for (const auto& [shift, n] : count) order.emplace_back(-n, shift);
  std::sort(order.begin(), order.end());
  std::vector<Shift> out;
  for (const auto& each : order) {
    const std::pair<int, int> s = each.second;
    const bool beside = std::any_of(out.begin(), out.end(), [&](const Shift& o) {
      return std::abs(o.dx - s.first) <= grain && std::abs(o.dy - s.second) <= grain;
    });
    if (beside || (s.first == 0 && s.second == 0)) continue;
    out.push_back({s.first, s.second});
    if (out.size() == kMostShifts) break;
  }
  return out;
}

}  // namespace

base::Status inPieces(const Raster<float>& colours, const Bits& hole, const Bits& source, const base::Progress& progress,
                      Raster<std::int32_t>& chosen) {
  const int width = hole.width(), height = hole.height();
  int left = width, top = height, right = 0, bottom = 0, area = 0;
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      if (!*hole.at(x, y)) continue;
      left = std::min(left, x), right = std::max(right, x + 1), top = std::min(top, y), bottom = std::max(bottom, y + 1);
      ++area;
    }
  }
  const int grain = area > kPieces * 32 ? 8 : (area > kPieces * 4 ? 4 : (area > kPieces ? 2 : 1));
  const std::vector<Shift> shifts = commonShifts(hole, chosen, grain);
  if (shifts.empty()) return {};
  left = std::max(0, left - 2 * grain), top = std::max(0, top - 2 * grain);
  right = std::min(width, right + 2 * grain), bottom = std::min(height, bottom + 2 * grain);
  const int w = (right - left) / grain, h = (bottom - top) / grain;
  if (w < 3 || h < 3) return {};
  // Frame 0 is the picture around the hole, frame k the picture moved by shift k − 1.
  frames::Stack stack;
  frames::DataCosts costs;
  costs.fixed = Bits(w, h, 1, 255);
  const auto place = [&](int v, int first) { return first + v * grain + grain / 2; };
  for (std::size_t k = 0; k <= shifts.size(); ++k) {
    const Shift s = k == 0 ? Shift{0, 0} : shifts[k - 1];
    Raster<float> seen(w, h, 3), cost(w, h, 1);
    Bits shown(w, h, 1);
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) {
        const int px = place(x, left), py = place(y, top), u = px + s.dx, v = py + s.dy;
        if (px >= width || py >= height) continue;
        const bool in = *hole.at(px, py) != 0;
        if (k == 0) {
          *shown.at(x, y) = !in;
          if (!in) *costs.fixed.at(x, y) = 0;
        } else {
          *shown.at(x, y) = u >= 0 && v >= 0 && u < width && v < height && *source.at(u, v);
        }
        const float* own = colours.at(px, py);
        const float* there = k == 0 || !*shown.at(x, y) ? own : colours.at(u, v);
        std::copy_n(there, 3, seen.at(x, y));
        *cost.at(x, y) = kNearness * (std::abs(there[0] - own[0]) + std::abs(there[1] - own[1]) + std::abs(there[2] - own[2]));
      }
    }
    stack.colours.push_back(std::move(seen));
    stack.shown.push_back(std::move(shown));
    stack.cut.emplace_back(w, h, 1);
    costs.cost.push_back(std::move(cost));
  }
  Bits labels(w, h, 1);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      if (*costs.fixed.at(x, y) == 0) continue;
      float best = 1e9f;
      for (std::size_t k = 1; k < stack.colours.size(); ++k) {
        const float c = *stack.shown[k].at(x, y) ? *costs.cost[k].at(x, y) : 1e8f;
        if (c < best) best = c, *labels.at(x, y) = std::uint8_t(k);
      }
    }
  }
  HSEAM_DO(frames::expand(stack, costs, {}, 2, progress, labels));
  for (int y = top; y < bottom; ++y) {
    for (int x = left; x < right; ++x) {
      if (!*hole.at(x, y)) continue;
      const std::uint8_t l = *labels.at(std::min((x - left) / grain, w - 1), std::min((y - top) / grain, h - 1));
      if (l == 0) continue;
      const int u = x + shifts[l - 1u].dx, v = y + shifts[l - 1u].dy;
      if (u >= 0 && v >= 0 && u < width && v < height && *source.at(u, v)) *chosen.at(x, y) = v * width + u;
    }
  }
  return {};
}

}  // namespace hseam::repair
