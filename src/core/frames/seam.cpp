#include "core/frames/seam.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

namespace hseam::frames {
namespace {

using image::Raster;
using Labels = Raster<std::uint8_t>;

// Never cut, yet small enough that sums of it stay exact to a part in a thousand.
constexpr float kForbidden = 1e4f;
constexpr float kLength = 0.004f;  // a pixel of seam where both frames agree: straight seams before crooked ones

float between(const Raster<float>& a, const Raster<float>& b, std::size_t i) {
  const float *p = a.samples().data() + i * 3, *q = b.samples().data() + i * 3;
  return std::abs(p[0] - q[0]) + std::abs(p[1] - q[1]) + std::abs(p[2] - q[2]);
}

// Of cutting between the neighbours i and j, one from frame a, the other from frame b.
float cutCost(const Stack& s, std::size_t a, std::size_t b, std::size_t i, std::size_t j) {
  if (a == b) return 0;
  const Raster<float>&x = s.colours[a], &y = s.colours[b];
  float gradient = 0;
  const float *xi = x.samples().data() + i * 3, *xj = x.samples().data() + j * 3, *yi = y.samples().data() + i * 3,
              *yj = y.samples().data() + j * 3;
  for (int c = 0; c < 3; ++c) gradient += std::abs((xj[c] - xi[c]) - (yj[c] - yi[c]));
  return kLength + between(x, y, i) + between(x, y, j) + gradient;
}

float dataCost(const Stack& s, const DataCosts& w, std::size_t i, std::size_t frame) {
  const std::uint8_t fixed = w.fixed.samples()[i];
  if (fixed != 255) return fixed == frame ? 0 : kForbidden;
  return (s.shown[frame].samples()[i] ? 0 : kForbidden / 4) + w.cost[frame].samples()[i];
}

// One expansion of a label. True: something changed.
bool expandOne(const Stack& s, const DataCosts& w, const Labels& within, std::uint8_t alpha, std::vector<int>& node,
               Labels& labels) {
  const int width = s.width(), height = s.height();
  std::vector<std::size_t> open;
  for (std::size_t i = 0; i < s.pixels(); ++i) {
    node[i] = -1;
    if (labels.samples()[i] == alpha || (!within.empty() && !within.samples()[i])) continue;
    if (w.fixed.samples()[i] != 255 && w.fixed.samples()[i] != alpha) continue;
    node[i] = int(open.size());
    open.push_back(i);
  }
  if (open.empty()) return false;
  cv::detail::GCGraph<float> graph{};
  graph.create(unsigned(open.size()), unsigned(open.size() * 4));
  for (std::size_t n = 0; n < open.size(); ++n) graph.addVtx();
  bool together = false;  // two of them are neighbours
  // On the source's side: it stays; on the sink's: it becomes alpha.
  std::vector<float> keep(open.size()), change(open.size());
  const auto neighbour = [&](std::size_t i, std::size_t j) {
    const std::uint8_t li = labels.samples()[i], lj = labels.samples()[j];
    const int ni = node[i], nj = node[j];
    if (ni < 0 && nj < 0) return;
    const float stay = cutCost(s, li, lj, i, j);
    if (ni >= 0 && nj >= 0) {
      // E(stay, stay), E(stay, alpha), E(alpha, stay); both alpha costs nothing (Kolmogorov and Zabih 2004).
      const float b = cutCost(s, li, alpha, i, j), c = cutCost(s, alpha, lj, i, j);
      // theta = stay + (c − stay) x_i + (−c) x_j + (b + c − stay) (1 − x_i) x_j
      keep[std::size_t(ni)] += stay;
      change[std::size_t(ni)] += c;
      keep[std::size_t(nj)] += c;
      graph.addEdges(ni, nj, std::max(0.f, b + c - stay), 0);
      together = true;
      return;
    }
    const bool first = ni >= 0;
    const std::size_t inner = first ? i : j, outer = first ? j : i;
    const std::uint8_t there = labels.samples()[outer];
    keep[std::size_t(first ? ni : nj)] += cutCost(s, labels.samples()[inner], there, inner, outer);
    change[std::size_t(first ? ni : nj)] += cutCost(s, alpha, there, inner, outer);
  };
  for (std::size_t n = 0; n < open.size(); ++n) {
    const std::size_t i = open[n];
    const int x = int(i % std::size_t(width)), y = int(i / std::size_t(width));
    keep[n] += dataCost(s, w, i, labels.samples()[i]);
    change[n] += dataCost(s, w, i, alpha);
    if (x + 1 < width) neighbour(i, i + 1);
    if (y + 1 < height) neighbour(i, i + std::size_t(width));
    if (x > 0 && node[i - 1] < 0) neighbour(i - 1, i);
    if (y > 0 && node[i - std::size_t(width)] < 0) neighbour(i - std::size_t(width), i);
  }
  // A node on the source's side stays, so what staying costs is cut from the sink's end. Pixels that all stand alone need no cut,
  // and the library takes none without edges.
  for (std::size_t n = 0; together && n < open.size(); ++n) graph.addTermWeights(int(n), change[n], keep[n]);
  if (together) graph.maxFlow();
  bool changed = false;
  for (std::size_t n = 0; n < open.size(); ++n) {
    if (together ? graph.inSourceSegment(int(n)) : keep[n] <= change[n]) continue;
    labels.samples()[open[n]] = alpha;
    changed = true;
  }
  return changed;
}

}  // namespace

double costOf(const Stack& s, const DataCosts& w, const Labels& labels) {
  double sum = 0;
  const int width = s.width(), height = s.height();
  for (std::size_t i = 0; i < s.pixels(); ++i) {
    const int x = int(i % std::size_t(width)), y = int(i / std::size_t(width));
    const std::uint8_t l = labels.samples()[i];
    sum += double(dataCost(s, w, i, l));
    if (x + 1 < width) sum += double(cutCost(s, l, labels.samples()[i + 1], i, i + 1));
    if (y + 1 < height) sum += double(cutCost(s, l, labels.samples()[i + std::size_t(width)], i, i + std::size_t(width)));
  }
  return sum;
}

base::Status expand(const Stack& s, const DataCosts& w, const Labels& within, int sweeps, const base::Progress& progress,
                    Labels& labels) {
  std::vector<int> node(s.pixels());
  const std::size_t count = s.colours.size();
  std::vector<char> settled(count, 0);
  for (int sweep = 0; sweep < sweeps; ++sweep) {
    bool any = false;
    for (std::size_t k = 0; k < count; ++k) {
      if (progress.cancelled()) return base::cancelledError();
      progress.report((double(sweep) + double(k) / double(count)) / sweeps);
      if (settled[k] || s.colours[k].empty()) continue;
      const bool changed = expandOne(s, w, within, std::uint8_t(k), node, labels);
      if (changed) std::fill(settled.begin(), settled.end(), char(0));
      settled[k] = 1;
      any |= changed;
    }
    if (!any) break;
  }
  return {};
}

}  // namespace hseam::frames
