#include "core/render/mask_numbers.h"

#include <algorithm>
#include <cmath>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/render/soft_masks.h"

namespace hseam::render {
namespace {

using base::Rect;

float falling(float distance, float whole, float over) {
  if (distance <= whole) return 1;
  return over > 0 ? std::max(0.f, 1 - (distance - whole) / over) : 0.f;
}

struct Values {
  const Planes& colours;
  const Rect& area;
  const base::Affine& toMask;
  float* out;

  void operator()(const scene::GradientPart& g) const {
    const double dx = g.to.x - g.from.x, dy = g.to.y - g.from.y, length = std::max(1e-9, dx * dx + dy * dy);
    for (int y = 0, i = 0; y < area.height; ++y) {
      for (int x = 0; x < area.width; ++x, ++i) {
        const base::Point p = toMask.map({area.x + x + 0.5, area.y + y + 0.5});
        const double qx = p.x - g.from.x, qy = p.y - g.from.y;
        double t =
            g.form == scene::GradientFill::Form::round ? std::sqrt((qx * qx + qy * qy) / length) : (qx * dx + qy * dy) / length;
        if (g.form == scene::GradientFill::Form::mirrored) t = std::abs(t);
        out[i] = float(1 - std::clamp(t, 0.0, 1.0));
      }
    }
  }
  void operator()(const scene::TonesPart& t) const {
    const auto low = float(t.low), high = float(t.high), over = float(t.softness);
    for (int i = 0; i < colours.count(); ++i) {
      const float l = toneOf(colours.colour(0)[i], colours.colour(1)[i], colours.colour(2)[i]);
      out[i] = falling(std::max({low - l, l - high, 0.f}), 0, over);
    }
  }
  void operator()(const scene::ColourPart& c) const {
    const image::Lab wanted = image::labFromEncoded(c.colour);
    for (int i = 0; i < colours.count(); ++i) {
      const image::Lab is =
          image::labFromEncoded({double(colours.colour(0)[i]), double(colours.colour(1)[i]), double(colours.colour(2)[i])});
      const double d = std::sqrt((is.l - wanted.l) * (is.l - wanted.l) + (is.a - wanted.a) * (is.a - wanted.a) +
                                 (is.b - wanted.b) * (is.b - wanted.b));
      out[i] = falling(float(d), float(c.reach), float(c.softness));
    }
  }
  void operator()(const scene::LayerPart&) const { CORE_CHECK(false); }
};

}  // namespace

float toneOf(float red, float green, float blue) {
  const float y = 0.2126f * image::fastLinear(red) + 0.7152f * image::fastLinear(green) + 0.0722f * image::fastLinear(blue);
  // CIE 15: L* of a luminance.
  return y > 216.f / 24389 ? 1.16f * std::cbrt(y) - 0.16f : y * (24389.f / 2700);
}

void valuesOf(const scene::MaskPart& part, const Planes& colours, const Rect& area, const base::Affine& toMask, float* out) {
  std::visit(Values{colours, area, toMask, out}, part.kind);
}

void joinPart(const scene::MaskPart& part, const float* values, int count, float* mask) {
  const auto strength = float(part.strength);
  for (int i = 0; i < count; ++i) {
    const float v = part.inverted ? 1 - values[i] : values[i];
    switch (part.joins) {
      case scene::MaskPart::Joins::within:
        mask[i] *= 1 - strength * (1 - v);
        break;
      case scene::MaskPart::Joins::also:
        mask[i] = std::max(mask[i], strength * v);
        break;
      case scene::MaskPart::Joins::without:
        mask[i] *= 1 - strength * v;
        break;
    }
  }
}

void soften(float* plane, const Rect& area, double sigma, const base::Affine& toMask, base::Size size) {
  std::vector<float> within(std::size_t(area.width) * std::size_t(area.height));
  for (int y = 0, i = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x, ++i) {
      const base::Point p = toMask.map({area.x + x + 0.5, area.y + y + 0.5});
      const bool inside = p.x >= 0 && p.y >= 0 && p.x < size.width && p.y < size.height;
      within[std::size_t(i)] = inside ? 1.f : 0.f;
      if (!inside) plane[i] = 0;
    }
  }
  std::vector<float> share = within;
  softenStrip(plane, area.width, area.height, sigma);
  softenStrip(share.data(), area.width, area.height, sigma);
  for (std::size_t i = 0; i < share.size(); ++i) plane[i] = within[i] > 0 ? plane[i] / std::max(1e-3f, share[i]) : 0.f;
}

void showByTone(const scene::ToneRange& shows, const Planes& own, const Planes& below, float* cover) {
  if (shows.neutral()) return;
  for (int i = 0; i < own.count(); ++i) {
    if (cover[i] <= 0) continue;
    cover[i] *= scene::shareAt(shows.own, toneOf(own.colour(0)[i], own.colour(1)[i], own.colour(2)[i]));
    const float under = below.alpha()[i];
    if (under > 0)
      cover[i] *=
          1 - under * (1 - scene::shareAt(shows.below, toneOf(below.colour(0)[i], below.colour(1)[i], below.colour(2)[i])));
  }
}

}  // namespace hseam::render
