#include "core/sets/assembled.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/frames/light.h"
#include "core/frames/montage.h"

namespace hseam::sets {
namespace {

using base::Result;
using image::TiledImage;

// One of the set's, in the base's light but for lamps.
frames::Frame frameOf(const scene::FrameSet& set, std::size_t k) {
  const scene::SetFrame& f = set.frames[k];
  const base::Size base = set.frames[0].picture.size();
  const frames::Homography map{f.toBase};
  const frames::LightChange light = set.way != scene::FrameSet::Way::picked || k == 0
                                        ? frames::LightChange{}
                                        : frames::LightChange{f.gainStops, f.redStops, f.blueStops, true};
  const bool asItIs = map == frames::Homography{} && f.picture.size() == base &&
                      std::abs(light.gainStops) + std::abs(light.redStops) + std::abs(light.blueStops) < 0.01;
  return asItIs ? frames::Frame(f.picture) : frames::Frame(f.picture, map, base, light);
}

TiledImage nothing(const TiledImage& base) {
  constexpr std::array<std::byte, 8> kNothing{};
  return TiledImage::uniform(base.size(), image::PixelFormat::rgba16, kNothing, base.memory());
}

// A grey8 picture whose rows are made from those of another one.
template <class Change>
Result<TiledImage> changedRows(const TiledImage& from, base::Executor& executor, const Change& change) {
  const base::Size size = from.size();
  return image::tiledFromRows(size, image::PixelFormat::grey8, from.memory(), executor, {},
                              [&](int first, int count, std::byte* rows) -> base::Status {
                                HSEAM_TRY(const auto read, image::read8(from, 0, {0, first, size.width, count}));
                                for (std::size_t i = 0; i < read.samples().size(); ++i)
                                  rows[i] = std::byte(change(read.samples()[i]));
                                return {};
                              });
}

// Picks of the old base on the new one: of each of its px, where that lay.
Result<TiledImage> movedPicks(const TiledImage& picks, base::Size size, const frames::Homography& newToOld,
                              const std::array<std::uint8_t, 256>& renamed, base::Executor& executor) {
  HSEAM_TRY(const auto old, image::read8(picks, 0, base::Rect::of(picks.size())));
  return image::tiledFromRows(size, image::PixelFormat::grey8, picks.memory(), executor, {},
                              [&](int first, int count, std::byte* rows) -> base::Status {
                                for (int y = 0; y < count; ++y) {
                                  for (int x = 0; x < size.width; ++x) {
                                    const base::Point p = newToOld.map({x + 0.5, first + y + 0.5});
                                    const int u = int(std::floor(p.x)), v = int(std::floor(p.y));
                                    const bool inside = u >= 0 && v >= 0 && u < old.width() && v < old.height();
                                    rows[y * size.width + x] = std::byte(inside ? renamed[*old.at(u, v)] : 0);
                                  }
                                }
                                return {};
                              });
}

}  // namespace

Result<scene::SetFrame> frameOn(const frames::BaseFrame& base, std::string name, const TiledImage& picture,
                                base::Executor& executor, const base::Progress& progress) {
  scene::SetFrame f;
  f.name = std::move(name);
  f.picture = picture;
  HSEAM_TRY(const frames::Registration r, frames::registered(base, picture, executor, progress));
  f.used = r.use;
  f.unfit = r.reason;
  f.residualPx = r.residualPx;
  f.inlierShare = r.inlierShare;
  f.parallaxShare = r.parallaxShare;
  if (!r.found) return f;
  f.toBase = r.toBase.m;
  HSEAM_TRY(const frames::LightChange light, frames::lightChange(base.picture(), picture, r.toBase));
  if (light.known) f.gainStops = light.gainStops, f.redStops = light.redStops, f.blueStops = light.blueStops;
  return f;
}

Result<std::vector<frames::Frame>> LaidFrames::of(const scene::FrameSet& set, base::Executor& executor,
                                                  const base::Progress& progress) {
  const bool ownLight = set.way != scene::FrameSet::Way::picked;
  const TiledImage& base = set.frames[0].picture;
  std::vector<frames::Frame> out{base};
  std::map<Key, TiledImage> used;
  for (std::size_t k = 1; k < set.frames.size(); ++k) {
    if (progress.cancelled()) return base::cancelledError();
    progress.report(double(k) / double(set.frames.size()));
    const scene::SetFrame& f = set.frames[k];
    if (!f.used) {
      out.emplace_back(nothing(base));
      continue;
    }
    const frames::Frame frame = frameOf(set, k);
    if (!ownLight || frame.liesOnBase()) {
      out.push_back(frame);
      continue;
    }
    const Key key{f.picture.stamp(), base.stamp(), f.toBase};
    TiledImage kept;
    {
      const std::lock_guard lock(mutex_);
      if (const auto found = kept_.find(key); found != kept_.end()) kept = found->second;
    }
    if (kept.isNull()) {
      HSEAM_TRY(kept, frames::onBase(frame, executor, {}));
    }
    used.emplace(key, kept);
    out.emplace_back(std::move(kept));
  }
  const std::lock_guard lock(mutex_);
  kept_ = std::move(used);
  return out;
}

Result<Assembled> assembled(const scene::FrameSet& set, LaidFrames& laid, base::Executor& executor,
                            const base::Progress& progress) {
  HSEAM_TRY(const std::vector<frames::Frame> frames, laid.of(set, executor, progress.part(0, 0.5)));
  const base::Progress rest = progress.part(0.5, 1);
  Assembled out;
  if (set.way == scene::FrameSet::Way::lamps) {
    std::vector<frames::Lamp> lamps;
    for (std::size_t k = 1; k < set.frames.size(); ++k) lamps.push_back({set.frames[k].strength, set.frames[k].tint});
    HSEAM_TRY(out.picture, frames::litBy(frames, lamps, executor, rest));
    return out;
  }
  const TiledImage& base = set.frames[0].picture;
  TiledImage picks = set.picks.isNull() ? image::uniformCoverage(base.size(), 0, base.memory()) : set.picks;
  // Picks of a frame that is left out are free: it shows nothing there.
  const auto gone = [&](std::uint8_t k) { return k > 1 && k <= set.frames.size() && !set.frames[std::size_t(k - 1)].used; };
  if (std::any_of(set.frames.begin(), set.frames.end(), [](const scene::SetFrame& f) { return !f.used; })) {
    HSEAM_TRY(picks, changedRows(picks, executor, [&](std::uint8_t k) { return gone(k) ? std::uint8_t(0) : k; }));
  }
  HSEAM_TRY(const frames::Montage made, set.way == scene::FrameSet::Way::picked
                                            ? frames::montage(frames, picks, frames::UnpickedOfBase::stays, executor, rest)
                                            : frames::lightest(frames, executor, rest));
  out.picture = made.picture;
  out.labels = made.labels;
  out.shares = made.shares;
  return out;
}

Result<scene::FrameSet> withBase(const scene::FrameSet& set, std::size_t index, base::Executor& executor,
                                 const base::Progress& progress) {
  if (index == 0 || index >= set.frames.size()) return base::Error{base::Code::invalid, "base", "there is no such frame"};
  const scene::SetFrame& chosen = set.frames[index];
  if (chosen.picture.size() != set.frames[0].picture.size())
    return base::Error{base::Code::invalid, chosen.name, "is of another size than the base, so that masks would not fit it"};
  HSEAM_TRY(const frames::BaseFrame prepared, frames::BaseFrame::of(chosen.picture, executor));
  scene::FrameSet out;
  out.way = set.way;
  out.frames.push_back({chosen.name, chosen.picture});
  std::array<std::uint8_t, 256> renamed{};
  renamed[index + 1] = 1;
  for (std::size_t k = 0; k < set.frames.size(); ++k) {
    if (k == index) continue;
    const double share = double(k) / double(set.frames.size());
    HSEAM_TRY(scene::SetFrame f, frameOn(prepared, set.frames[k].name, set.frames[k].picture, executor,
                                         progress.part(share, share + 1 / double(set.frames.size()))));
    f.strength = set.frames[k].strength;
    f.tint = set.frames[k].tint;
    f.used = f.used && (k == 0 || set.frames[k].used);
    renamed[k + 1] = std::uint8_t(out.frames.size() + 1);
    out.frames.push_back(std::move(f));
  }
  if (!set.picks.isNull()) {
    HSEAM_TRY(out.picks, movedPicks(set.picks, chosen.picture.size(), frames::Homography{chosen.toBase}, renamed, executor));
  }
  return out;
}

Result<std::optional<scene::FrameSet>> without(const scene::FrameSet& set, std::size_t index, base::Executor& executor) {
  if (index == 0 || index >= set.frames.size()) return base::Error{base::Code::invalid, "frame", "the base cannot go"};
  if (set.frames.size() == 2) return std::optional<scene::FrameSet>();
  scene::FrameSet out = set;
  out.labels = {};
  out.frames.erase(out.frames.begin() + long(index));
  if (!out.picks.isNull()) {
    const int gone = int(index) + 1;
    HSEAM_TRY(out.picks, changedRows(out.picks, executor, [gone](int v) { return v == gone ? 0 : (v > gone ? v - 1 : v); }));
  }
  return std::optional(std::move(out));
}

Result<TiledImage> whereItIs(const TiledImage& labels, std::uint8_t value, base::Executor& executor) {
  return changedRows(labels, executor, [value](int v) { return v == value ? 255 : 0; });
}

}  // namespace hseam::sets
