#include "core/frames/overlaps.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/frames/moved.h"
#include "core/image/level.h"

namespace hseam::frames {
namespace {

using base::Rect;
using base::Result;

constexpr double kPixels = 5e5, kLeastShare = 1e-3;

}  // namespace

Result<std::vector<Overlap>> overlapsOf(const std::vector<Frame>& frames, const image::TiledImage& labels,
                                        base::Executor& executor) {
  HSEAM_DO(checkFrames(frames));
  std::vector<Overlap> out;
  if (frames.size() < 3) return out;
  const int level = image::levelOfAtMost(frames[0].picture(), kPixels);
  const Rect whole = Rect::of(frames[0].picture().level(level).size);
  HSEAM_TRY(const Stack stack, stackOf(frames, level, whole, executor));
  const Moved things = moved(stack);
  cv::Mat both(whole.height, whole.width, CV_8U, cv::Scalar(0));
  for (int y = 0; y < whole.height; ++y) {
    for (int x = 0; x < whole.width; ++x) {
      int count = 0;
      for (const auto& solid : things.solid) count += *solid.at(x, y) != 0;
      both.ptr<std::uint8_t>(y)[x] = count > 1 ? 255 : 0;
    }
  }
  // Soft edges touch in threads.
  cv::morphologyEx(both, both, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_ELLIPSE, {3, 3}));
  cv::Mat named, stats, middles;
  const int n = cv::connectedComponentsWithStats(both, named, stats, middles, 8, CV_32S);
  const int k = 1 << level;
  for (int i = 1; i < n; ++i) {
    const int* s = stats.ptr<int>(i);
    if (s[cv::CC_STAT_AREA] < kLeastShare * whole.width * whole.height) continue;
    const Rect at{s[cv::CC_STAT_LEFT], s[cv::CC_STAT_TOP], s[cv::CC_STAT_WIDTH], s[cv::CC_STAT_HEIGHT]};
    std::vector<int> covers(frames.size(), 0), seen(frames.size(), 0);
    for (int y = at.y; y < at.bottom(); ++y) {
      HSEAM_TRY(const auto row, image::read8(labels, 0,
                                             {at.x * k, std::min(y * k + k / 2, labels.size().height - 1),
                                              std::min(at.width * k, labels.size().width - at.x * k), 1}));
      for (int x = at.x; x < at.right(); ++x) {
        if (named.ptr<int>(y)[x] != i) continue;
        for (std::size_t f = 0; f < frames.size(); ++f) covers[f] += *things.solid[f].at(x, y) != 0;
        const int u = std::min((x - at.x) * k + k / 2, row.width() - 1);
        if (const std::uint8_t label = *row.at(u, 0); label > 0 && label <= frames.size()) ++seen[std::size_t(label - 1)];
      }
    }
    Overlap o;
    o.where = at.finer(level).intersected(Rect::of(labels.size()));
    o.areaPx = double(s[cv::CC_STAT_AREA]) * k * k;
    constexpr double kStands = 0.5;  // of the place
    for (std::size_t f = 0; f < frames.size(); ++f) {
      if (covers[f] > kStands * s[cv::CC_STAT_AREA]) o.frames.push_back(f);
    }
    if (o.frames.size() < 2) continue;
    o.inFront = std::size_t(std::max_element(seen.begin(), seen.end()) - seen.begin());
    out.push_back(std::move(o));
  }
  std::sort(out.begin(), out.end(), [](const Overlap& a, const Overlap& b) { return a.areaPx > b.areaPx; });
  return out;
}

Result<image::TiledImage> broughtToFront(const image::TiledImage& picks, base::Size base, const Overlap& overlap,
                                         std::size_t frame, const std::shared_ptr<image::TileMemory>& memory,
                                         base::Executor& executor) {
  const image::TiledImage now = picks.isNull() ? image::uniformCoverage(base, 0, memory) : picks;
  // What was picked for the others there would stay in front.
  HSEAM_TRY(auto part, image::read8(now, 0, overlap.where));
  const double cx = (part.width() - 1) / 2.0, cy = (part.height() - 1) / 2.0, rx = std::max(1.0, part.width() / 2.0),
               ry = std::max(1.0, part.height() / 2.0);
  constexpr double kOfIt = 0.5;  // of the place's width and height: in the middle of it, off its edges
  for (int y = 0; y < part.height(); ++y) {
    for (int x = 0; x < part.width(); ++x) {
      std::uint8_t& v = *part.at(x, y);
      const bool other = v != 0 && v != frame + 1 &&
                         std::find(overlap.frames.begin(), overlap.frames.end(), std::size_t(v - 1)) != overlap.frames.end();
      const double u = (x - cx) / (kOfIt * rx), w = (y - cy) / (kOfIt * ry);
      if (u * u + w * w <= 1) {
        v = std::uint8_t(frame + 1);
      } else if (other) {
        v = 0;
      }
    }
  }
  return image::withPixels(now, overlap.where, part, executor);
}

}  // namespace hseam::frames
