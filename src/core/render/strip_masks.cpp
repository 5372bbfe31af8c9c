// A strip painter's masks: where a layer shows.

#include <algorithm>
#include <cmath>

#include "core/render/mask_numbers.h"
#include "core/render/sample.h"
#include "core/render/strip_painter.h"
#include "core/render/warped.h"

namespace hseam::render {

using base::Affine;
using base::Rect;
using base::Status;
using scene::Layer;
using Loan = Scratch::Loan;

// colours: of what the mask's parts look at.
base::Result<bool> StripPainter::timesMask(const Layer& layer, Planes& out, const Planes& colours) {
  if (layer.mask.actsByNumbers()) return timesNumbers(layer, out, colours);
  if (!layer.mask.acts()) return true;
  Loan mask(scratch_, count_);
  HSEAM_TRY(const bool any, samplePicture({nullptr, &layer.mask.coverage, toLevel_}, area_, *mask));
  if (!any) return false;
  for (int i = 0; i < count_; ++i) out.alpha()[i] *= mask->alpha()[i];
  return true;
}

// The painted and bounded part of a mask, softened; px of the mask lie where they belong, outside of it nothing shows.
Status StripPainter::handMade(const Layer& layer, float* out) {
  const Affine m = toLevel_.after(scene::maskToScene(layer));
  if (!layer.mask.acts()) {
    std::fill_n(out, count_, 1.f);
    return {};
  }
  const image::TiledImage& coverage = layer.mask.coverage;
  const double scale = std::sqrt(std::abs(m.determinant())), softness = layer.mask.numbers.softnessPx, sigma = softness * scale;
  if (sigma > kWideSoftnessPx) {
    const auto* p = layer.picture();
    const int coarse = scale < 1 ? int(std::floor(-std::log2(scale) + 1e-6)) : 0;
    HSEAM_TRY(const SoftMasks::Soft soft, tools_.softMasks.of(coverage, softness, coarse, p && p->warp));
    return sampleMask(layer, soft.coverage, m.after(Affine::scaling(double(1 << soft.level))), area_, out);
  }
  const Rect wide = area_.grown(sigma > 0 ? int(std::ceil(3 * sigma)) + 1 : 0);
  Planes mask(wide.width * wide.height);
  HSEAM_DO(sampleMask(layer, coverage, m, wide, mask.alpha()));
  if (const auto back = m.inverse(); back && sigma > 0) soften(mask.alpha(), wide, sigma, *back, coverage.size());
  for (int y = 0; y < area_.height; ++y)
    std::copy_n(mask.alpha() + (area_.y - wide.y + y) * wide.width + area_.x - wide.x, area_.width, out + y * area_.width);
  return {};
}

// Coverage of the layer's px (toLevel: those of `coverage` to px of the level), bent with its picture.
Status StripPainter::sampleMask(const Layer& layer, const image::TiledImage& coverage, const Affine& toLevel, const Rect& area,
                                float* out) {
  const auto* p = layer.picture();
  if (!p || !p->warp) return sampleCoverage(coverage, toLevel, area, out);
  Planes mask(area.width * area.height);
  const auto way = tools_.inverseWarps.of(p->warp, p->source.size(), level_);
  HSEAM_TRY(const bool any, sampleWarped({nullptr, &coverage, toLevel, way.get()}, area, mask));
  if (any) {
    std::copy_n(mask.alpha(), mask.count(), out);
  } else {
    std::fill_n(out, mask.count(), 0.f);
  }
  return {};
}

base::Result<bool> StripPainter::timesNumbers(const Layer& layer, Planes& out, const Planes& colours) {
  Loan maskLoan(scratch_, count_);
  float* mask = maskLoan->alpha();
  HSEAM_DO(handMade(layer, mask));
  const auto back = toLevel_.after(scene::maskToScene(layer)).inverse();
  if (!back) return false;
  for (const scene::MaskPart& part : layer.mask.numbers.parts) {
    if (const auto* other = std::get_if<scene::LayerPart>(&part.kind)) {
      const Layer* l = withinPart_ ? nullptr : scene::findLayer(scene_, other->layer);
      if (!l || l->id == layer.id || l->adjustment()) continue;
      Loan seen(scratch_, count_);
      withinPart_ = true;
      const auto any = fillSource(*l, *seen);
      withinPart_ = false;
      if (!any.ok()) return any.error();
      if (!*any) std::fill_n(seen->alpha(), count_, 0.f);
      joinPart(part, seen->alpha(), count_, mask);
    } else {
      Loan value(scratch_, count_);
      valuesOf(part, colours, area_, *back, value->alpha());
      joinPart(part, value->alpha(), count_, mask);
    }
  }
  const auto lowest = float(layer.mask.numbers.lowest);
  bool any = false;
  for (int i = 0; i < count_; ++i) {
    out.alpha()[i] *= lowest + (1 - lowest) * mask[i];
    any |= out.alpha()[i] > 0;
  }
  return any;
}

}  // namespace hseam::render
