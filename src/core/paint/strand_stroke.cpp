#include "core/paint/strand_stroke.h"

#include <algorithm>
#include <cmath>

namespace hseam::paint {

using base::Rect;

StrandStroke::StrandStroke(image::TiledImage before, std::vector<StrandTip> tips, const StrandSettings& settings,
                           Direction direction, std::uint8_t value)
    : now_(std::move(before)),
      tips_(std::move(tips)),
      settings_(settings),
      direction_(std::move(direction)),
      value_(value),
      dice_(settings.seed) {
  CORE_CHECK(!tips_.empty());
}

base::Result<Rect> StrandStroke::to(std::span<const Sample> samples, base::Executor& executor) {
  image::ImageEditor editor(now_);
  Rect changed;
  const double step = std::max(1.0, settings_.spacing * settings_.lengthPx);
  for (const Sample& s : samples) {
    if (!last_) {
      // The way is not known before the pointer has moved.
      last_ = s;
      left_ = step / 2;
      continue;
    }
    const double dx = s.at.x - last_->at.x, dy = s.at.y - last_->at.y, d = std::hypot(dx, dy);
    const double travel = std::atan2(dy, dx);
    const int stamps = left_ <= d ? 1 + int((d - left_) / step) : 0;
    for (int i = 0; i < stamps; ++i) {
      const double u = (left_ + i * step) / d;
      const Sample at{{last_->at.x + u * dx, last_->at.y + u * dy}, last_->pressure + u * (s.pressure - last_->pressure)};
      HSEAM_TRY(const Rect part, stamp(editor, at, travel));
      changed = changed.united(part);
    }
    left_ += stamps * step - d;
    last_ = s;
  }
  if (changed.empty()) return changed;
  HSEAM_TRY(now_, std::move(editor).commit(executor));
  return changed;
}

base::Result<Rect> StrandStroke::stamp(image::ImageEditor& editor, const Sample& at, double travel) {
  const double size = settings_.pressure == Pressure::size ? at.pressure : 1;
  const double length = std::max(2.0, settings_.lengthPx * size * (1 + settings_.sizeVaries * dice_.spread()));
  const double strength = settings_.strength * (settings_.pressure == Pressure::strength ? at.pressure : 1);
  const double angle = direction_(at.at, travel) + settings_.angleVariesDeg * M_PI / 180 * dice_.spread();
  const StrandTip& tip = tips_[std::min(tips_.size() - 1, std::size_t(dice_.unit() * double(tips_.size())))];
  const bool mirrored = dice_.unit() < 0.5;
  const double ux = std::cos(angle), uy = std::sin(angle);
  // The square's corners: root in the middle of its lower side.
  double l = at.at.x, t = at.at.y, r = l, b = t;
  for (const double across : {-0.5, 0.5}) {
    for (const double up : {0.0, 1.0}) {
      const double x = at.at.x + length * (up * ux - across * uy), y = at.at.y + length * (up * uy + across * ux);
      l = std::min(l, x), t = std::min(t, y), r = std::max(r, x), b = std::max(b, y);
    }
  }
  const Rect area =
      Rect{int(std::floor(l)), int(std::floor(t)), int(std::ceil(r) - std::floor(l)) + 1, int(std::ceil(b) - std::floor(t)) + 1}
          .intersected(Rect::of(now_.size()));
  constexpr int kSide = image::kTileSide;
  for (int row = area.y / kSide; row * kSide < area.bottom(); ++row) {
    for (int column = area.x / kSide; column * kSide < area.right(); ++column) {
      const Rect part = Rect{column * kSide, row * kSide, kSide, kSide}.intersected(area);
      HSEAM_TRY(std::byte* const bytes, editor.tile(column, row));
      for (int y = part.y; y < part.bottom(); ++y) {
        auto* line = reinterpret_cast<std::uint8_t*>(bytes) + std::ptrdiff_t(y - row * kSide) * kSide;
        for (int x = part.x; x < part.right(); ++x) {
          const double dx = (x + 0.5 - at.at.x) / length, dy = (y + 0.5 - at.at.y) / length;
          const double up = dx * ux + dy * uy, across = dy * ux - dx * uy;
          if (up < 0 || up > 1 || std::abs(across) > 0.5) continue;
          const double c = strength * double(tip.at(mirrored ? -across : across, up, length));
          std::uint8_t& v = line[x - column * kSide];
          v = std::uint8_t(std::lround(v + c * (double(value_) - v)));
        }
      }
    }
  }
  return area;
}

}  // namespace hseam::paint
