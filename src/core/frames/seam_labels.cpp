// From coarse to fine: the whole picture on a small level, then only what lies along the seams.

#include "core/frames/seam_labels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <set>

#include "core/frames/moved.h"
#include "core/frames/seam.h"
#include "core/image/level.h"

namespace hseam::frames {
namespace {

using base::Error;
using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;
using Labels = Raster<std::uint8_t>;

constexpr double kWorkPixels = 1.1e5, kMovedPixels = 5e5;  // of the levels on which seams, and things that moved, are looked for
constexpr int kSweeps = 4;
constexpr int kReach = 3;          // px on either side of a seam that may change when it is followed to the next level
constexpr int kBlockPx = 192;      // seams are followed in blocks
constexpr float kTakeAll = 4;      // a pixel of a picked thing that comes from elsewhere; in sums of differences of colour
constexpr float kLeaveOut = 1.5f;  // a pixel of a thing that nobody picked
constexpr float kNotBase = 0.002f, kCutOffCost = 0.1f;

// The labels that meet along seams which are known already.
using Used = std::array<bool, 256>;

// Picks on a level: of the picks under a pixel the commonest. 0: none.
Result<Labels> picksOn(const TiledImage& picks, int level, const Rect& area) {
  const int k = 1 << level;
  const Rect full = Rect{area.x * k, area.y * k, area.width * k, area.height * k}.intersected(Rect::of(picks.size()));
  Labels out(area.width, area.height, 1);
  if (image::isUniformIn(picks, full, 0)) return out;
  for (int y = 0; y < area.height; ++y) {
    const Rect rows = Rect{full.x, (area.y + y) * k, full.width, k}.intersected(full);
    if (rows.empty()) continue;
    HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(picks, 0, rows));
    for (int x = 0; x < area.width; ++x) {
      std::array<int, 256> count{};
      std::uint8_t best = 0;
      for (int v = 0; v < rows.height; ++v) {
        for (int u = x * k; u < std::min((x + 1) * k, rows.width); ++u) {
          const std::uint8_t p = *read.at(u, v);
          if (p != 0 && (++count[p] > count[best] || best == 0)) best = p;
        }
      }
      *out.at(x, y) = best;
    }
  }
  return out;
}

// What has moved, and which of it is picked: seen finely, so that two things that nearly touch stay two.
struct Things {
  Moved moved;
  std::vector<std::set<std::int32_t>> picked;  // by frame
  int shift = 0;                               // levels finer than that of the seams
  std::int32_t at(std::size_t frame, int x, int y) const { return of(moved.pieces[frame], x, y); }
  bool solidAt(std::size_t frame, int x, int y) const { return of(moved.solid[frame], x, y) != 0; }

 private:
  template <class T>
  T of(const Raster<T>& r, int x, int y) const {
    const int k = 1 << shift;
    return *r.at(std::min(x * k + k / 2, r.width() - 1), std::min(y * k + k / 2, r.height() - 1));
  }
};
// A small piece beside a large one that is picked is a part of it: a sleeve of the wall's colour parts a hand from its arm.
void takeAlong(const Raster<std::int32_t>& pieces, int count, std::set<std::int32_t>& picked) {
  constexpr int kBeside = 5;
  constexpr double kSmall = 0.2;
  std::vector<int> area(std::size_t(count) + 1, 0);
  for (const std::int32_t p : pieces.samples()) ++area[std::size_t(p)];
  std::set<std::int32_t> along;
  for (int y = 0; y < pieces.height(); ++y) {
    for (int x = 0; x < pieces.width(); ++x) {
      const std::int32_t own = *pieces.at(x, y);
      if (own == 0 || picked.contains(own) || along.contains(own)) continue;
      for (const auto& [dx, dy] : {std::pair(kBeside, 0), std::pair(-kBeside, 0), std::pair(0, kBeside), std::pair(0, -kBeside),
                                   std::pair(3, 3), std::pair(-3, 3), std::pair(3, -3), std::pair(-3, -3)}) {
        const int u = x + dx, v = y + dy;
        if (u < 0 || v < 0 || u >= pieces.width() || v >= pieces.height()) continue;
        const std::int32_t there = *pieces.at(u, v);
        if (picked.contains(there) && area[std::size_t(own)] < kSmall * area[std::size_t(there)]) along.insert(own);
      }
    }
  }
  picked.merge(along);
}

Result<Things> thingsOf(const std::vector<Frame>& frames, const TiledImage& picks, UnpickedOfBase unpicked, int seamLevel,
                        base::Executor& executor) {
  const int level = std::min(seamLevel, image::levelOfAtMost(frames[0].picture(), kMovedPixels));
  const Rect whole = Rect::of(frames[0].picture().level(level).size);
  HSEAM_TRY(const Stack s, stackOf(frames, level, whole, executor));
  HSEAM_TRY(const Labels picked, picksOn(picks, level, whole));
  Things out{moved(s), std::vector<std::set<std::int32_t>>(frames.size()), seamLevel - level};
  for (std::size_t i = 0; i < s.pixels(); ++i) {
    if (picked.samples()[i] == 0) continue;
    const std::size_t k = std::size_t(picked.samples()[i] - 1);
    if (const auto piece = out.moved.pieces[k].samples()[i]; piece != 0) out.picked[k].insert(piece);
  }
  if (unpicked == UnpickedOfBase::stays) {
    // A pick of another frame lies on it where that frame shows the place without anything. Where it shows a thing of its own,
    // that stands before it, or its shadow falls there: no reason to go. Of two frames nobody knows.
    std::set<std::int32_t> given;
    for (std::size_t i = 0; i < s.pixels(); ++i) {
      const std::uint8_t k = picked.samples()[i];
      if (k > 1 && (frames.size() == 2 || out.moved.pieces[k - 1].samples()[i] == 0))
        given.insert(out.moved.pieces[0].samples()[i]);
    }
    for (std::int32_t piece = 1; piece <= out.moved.counts[0]; ++piece) {
      if (!given.contains(piece)) out.picked[0].insert(piece);
    }
  }
  for (std::size_t k = 0; k < frames.size(); ++k) takeAlong(out.moved.pieces[k], out.moved.counts[k], out.picked[k]);
  return out;
}

// Picks as fixed labels; 255: free.
Labels fixedBy(const Labels& picks) {
  Labels fixed(picks.width(), picks.height(), 1, 255);
  for (std::size_t i = 0; i < picks.samples().size(); ++i) {
    if (picks.samples()[i] != 0) fixed.samples()[i] = std::uint8_t(picks.samples()[i] - 1);
  }
  return fixed;
}

// What a place may cost because of what has moved there.
DataCosts dataCostsOf(const Stack& s, const Things& things, const Labels& picks) {
  const std::size_t count = s.colours.size();
  DataCosts w;
  w.fixed = fixedBy(picks);
  const bool unknown = count == 2;  // both have the same pieces; a pick of either decides
  const auto picked = [&](std::size_t k, std::int32_t piece) { return piece != 0 && things.picked[k].contains(piece); };
  for (std::size_t k = 0; k < count; ++k) {
    Raster<float> cost(s.width(), s.height(), 1, k == 0 ? 0 : kNotBase);
    for (int y = 0; y < s.height(); ++y) {
      for (int x = 0; x < s.width(); ++x) {
        const auto own = things.at(k, x, y);
        if (*s.cut[k].at(x, y) && !picked(k, own)) *cost.at(x, y) += kCutOffCost;
        if (own != 0 && !unknown && !picked(k, own)) *cost.at(x, y) += kLeaveOut;
        for (std::size_t other = 0; other < count; ++other) {
          if (other == k || !picked(other, things.at(other, x, y))) continue;
          // Of two picked ones the thing itself comes before the other's shadow.
          if (!picked(k, own) || (things.solidAt(other, x, y) && !things.solidAt(k, x, y))) *cost.at(x, y) += kTakeAll;
        }
      }
    }
    w.cost.push_back(std::move(cost));
  }
  return w;
}

// To begin with: picks, else the cheapest.
Labels beginning(const Stack& s, const DataCosts& w) {
  Labels labels(s.width(), s.height(), 1);
  for (std::size_t i = 0; i < s.pixels(); ++i) {
    if (w.fixed.samples()[i] != 255) {
      labels.samples()[i] = w.fixed.samples()[i];
      continue;
    }
    float best = 1e9f;
    for (std::size_t k = 0; k < s.colours.size(); ++k) {
      const float c = w.cost[k].samples()[i] + (s.shown[k].samples()[i] ? 0 : 1e3f);
      if (c < best) best = c, labels.samples()[i] = std::uint8_t(k);
    }
  }
  return labels;
}

// Each pixel of a level as the pixel of the level above it.
Labels doubled(const Labels& small, base::Size size) {
  Labels out(size.width, size.height, 1);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x)
      *out.at(x, y) = *small.at(std::min(x / 2, small.width() - 1), std::min(y / 2, small.height() - 1));
  }
  return out;
}

// Pixels near a change of label.
Labels nearSeams(const Labels& labels) {
  const int w = labels.width(), h = labels.height();
  Labels seam(w, h, 1), wide(w, h, 1), out(w, h, 1);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const std::uint8_t l = *labels.at(x, y);
      if ((x + 1 < w && *labels.at(x + 1, y) != l) || (y + 1 < h && *labels.at(x, y + 1) != l)) *seam.at(x, y) = 1;
    }
  }
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      if (!*seam.at(x, y)) continue;
      for (int u = std::max(0, x - kReach + 1); u <= std::min(w - 1, x + kReach); ++u) *wide.at(u, y) = 1;
    }
  }
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      if (!*wide.at(x, y)) continue;
      for (int v = std::max(0, y - kReach + 1); v <= std::min(h - 1, y + kReach); ++v) *out.at(x, v) = 1;
    }
  }
  return out;
}

template <class T>
Raster<T> part(const Raster<T>& from, const Rect& area) {
  Raster<T> out(area.width, area.height, from.channels());
  for (int y = 0; y < area.height; ++y)
    std::memcpy(out.row(y), from.at(area.x, area.y + y), sizeof(T) * std::size_t(area.width) * std::size_t(from.channels()));
  return out;
}

// The costs of the working level, seen from a finer one: per pixel less, as a seam has more pixels there.
DataCosts finer(const DataCosts& coarse, const Rect& area, int up, const Labels& picks) {
  const int k = 1 << up;
  DataCosts w;
  w.fixed = fixedBy(picks);
  for (const Raster<float>& c : coarse.cost) {
    Raster<float> own(area.width, area.height, 1);
    for (int y = 0; y < area.height; ++y) {
      for (int x = 0; x < area.width; ++x)
        *own.at(x, y) = *c.at(std::min((area.x + x) / k, c.width() - 1), std::min((area.y + y) / k, c.height() - 1)) / float(k);
    }
    w.cost.push_back(std::move(own));
  }
  return w;
}

// Follows the seams on one level, block by block; blocks of one colour of a chessboard do not touch each other.
base::Status followSeams(const std::vector<Frame>& frames, const TiledImage& picks, int level, int up, const DataCosts& coarse,
                         base::Executor& executor, const base::Progress& progress, Labels& labels) {
  const Labels open = nearSeams(labels);
  const int columns = (labels.width() + kBlockPx - 1) / kBlockPx, rows = (labels.height() + kBlockPx - 1) / kBlockPx;
  for (int colour = 0; colour < 4; ++colour) {
    std::vector<Rect> blocks;
    for (int r = colour / 2; r < rows; r += 2) {
      for (int c = colour % 2; c < columns; c += 2) {
        const Rect core = Rect{c * kBlockPx, r * kBlockPx, kBlockPx, kBlockPx}.intersected(Rect::of(labels.size()));
        bool any = false;
        for (int y = core.y; y < core.bottom() && !any; ++y)
          any = std::any_of(open.at(core.x, y), open.at(core.x, y) + core.width, [](auto v) { return v != 0; });
        if (any) blocks.push_back(core);
      }
    }
    std::vector<base::Status> done(blocks.size());
    executor.forEach(int(blocks.size()), [&](int n) {
      if (progress.cancelled()) return;
      done[std::size_t(n)] = [&]() -> base::Status {
        const Rect& core = blocks[std::size_t(n)];
        const Rect area = core.grown(1).intersected(Rect::of(labels.size()));
        HSEAM_TRY(const Labels picked, picksOn(picks, level, area));
        const DataCosts w = finer(coarse, area, up, picked);
        Labels own = part(labels, area), within = part(open, area);
        base::InlineExecutor here;
        Used used{true};  // the base gives the area its size
        for (const std::uint8_t l : own.samples()) used[l] = true;
        for (const std::uint8_t p : picked.samples()) used[p > 0 ? p - 1 : own.samples()[0]] = true;
        HSEAM_TRY(const Stack s, stackOf(frames, level, area, here, &used));
        for (int y = 0; y < area.height; ++y) {
          for (int x = 0; x < area.width; ++x) {
            const bool inside =
                area.x + x >= core.x && area.y + y >= core.y && area.x + x < core.right() && area.y + y < core.bottom();
            if (!inside) *within.at(x, y) = 0;
            // A pick that the coarser level was too coarse for.
            if (inside && *w.fixed.at(x, y) != 255) *own.at(x, y) = *w.fixed.at(x, y);
          }
        }
        HSEAM_DO(expand(s, w, within, 2, {}, own));
        for (int y = core.y; y < core.bottom(); ++y)
          std::memcpy(labels.at(core.x, y), own.at(core.x - area.x, y - area.y), std::size_t(core.width));
        return {};
      }();
    });
    for (const base::Status& d : done) HSEAM_DO(d);
  }
  return progress.cancelled() ? base::Status(base::cancelledError()) : base::Status();
}

// Picks hold wherever they are, also far from any seam.
base::Status honourPicks(const TiledImage& picks, Labels& labels) {
  constexpr int kRows = 256;
  for (int y = 0; y < labels.height(); y += kRows) {
    const Rect rows = Rect{0, y, labels.width(), kRows}.intersected(Rect::of(labels.size()));
    if (image::isUniformIn(picks, rows, 0)) continue;
    HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(picks, 0, rows));
    for (std::size_t i = 0; i < read.samples().size(); ++i) {
      if (read.samples()[i] != 0) labels.row(y)[i] = std::uint8_t(read.samples()[i] - 1);
    }
  }
  return {};
}

base::Status checkPicks(const std::vector<Frame>& frames, const TiledImage& picks) {
  if (picks.size() != frames[0].size() || picks.format() != image::PixelFormat::grey8)
    return Error{base::Code::conflict, "", "the picks do not fit the frames"};
  constexpr int kRows = 256;
  for (int y = 0; y < picks.size().height; y += kRows) {
    HSEAM_TRY(const auto read, image::read8(picks, 0, Rect{0, y, picks.size().width, kRows}.intersected(Rect::of(picks.size()))));
    const std::uint8_t most = *std::max_element(read.samples().begin(), read.samples().end());
    if (most > frames.size())
      return Error{base::Code::invalid, "",
                   "a pick names frame " + std::to_string(most) + ", but there are " + std::to_string(frames.size())};
  }
  return {};
}

}  // namespace

Result<SeamLabels> seamLabels(const std::vector<Frame>& frames, const TiledImage& picks, UnpickedOfBase unpicked,
                              base::Executor& executor, const base::Progress& progress) {
  HSEAM_DO(checkFrames(frames));
  HSEAM_DO(checkPicks(frames, picks));
  const int level = image::levelOfAtMost(frames[0].picture(), kWorkPixels);
  const Rect whole = Rect::of(frames[0].picture().level(level).size);
  HSEAM_TRY(const Stack s, stackOf(frames, level, whole, executor));
  HSEAM_TRY(const Labels picked, picksOn(picks, level, whole));
  HSEAM_TRY(const Things things, thingsOf(frames, picks, unpicked, level, executor));
  const DataCosts costs = dataCostsOf(s, things, picked);
  Labels labels = beginning(s, costs);
  HSEAM_DO(expand(s, costs, {}, kSweeps, progress.part(0, 0.6), labels));
  SeamLabels out;
  out.cost = costOf(s, costs, labels);
  for (int n = level; n-- > 0;) {
    labels = doubled(labels, frames[0].picture().level(n).size);
    HSEAM_DO(followSeams(frames, picks, n, level - n, costs, executor, progress, labels));
    progress.report(0.6 + 0.4 * double(level - n) / level);
  }
  HSEAM_DO(honourPicks(picks, labels));
  for (std::uint8_t& l : labels.samples()) ++l;
  HSEAM_TRY(out.labels, image::tiledFromRaster(labels, image::PixelFormat::grey8, picks.memory(), executor));
  return out;
}

}  // namespace hseam::frames
