#include "core/findings/remedies.h"

#include <algorithm>
#include <cmath>

#include "core/findings/specimen.h"
#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/matte/foreground.h"
#include "core/select/reshape.h"

namespace hseam::findings {
namespace {

using base::Code;
using base::Error;
using base::Result;
using scene::Edit;
using scene::Layer;
using scene::LayerId;
using scene::Scene;

double encodedOfL(double l) {
  return image::encodedFromLinear(scene::luminanceOfLightness(std::clamp(l / 100, 0.0, 1.0)));
}

Result<const Layer*> pictureIn(const Scene& s, LayerId id) {
  const Layer* l = scene::findLayer(s, id);
  if (!l || !l->picture()) return Error{Code::notFound, "", "the picture is gone"};
  return l;
}

// The mask as grey8; where there is none, the picture's own coverage.
Result<image::TiledImage> coverageOf(const Layer& l, base::Executor& executor) {
  const auto& p = *l.picture();
  if (!l.mask.byHand().isNull() && l.mask.byHand().format() == image::PixelFormat::grey8) return l.mask.byHand();
  const base::Size size = p.source.size();
  if (!l.mask.byHand().isNull()) return Error{Code::unsupported, l.name, "its mask has more than 8 bits"};
  if (!image::hasAlpha(p.source.format())) return image::uniformCoverage(size, 255, p.source.memory());
  return image::tiledFromRows(size, image::PixelFormat::grey8, p.source.memory(), executor, {},
                              [&](int first, int count, std::byte* rows) -> base::Status {
                                HSEAM_TRY(const auto part, image::readFloat(p.source, 0, {0, first, size.width, count}));
                                const int channels = part.channels();
                                for (std::size_t i = 0; i < part.pixels(); ++i)
                                  rows[i] =
                                      std::byte(int(std::lround(255 * part.samples()[(i + 1) * std::size_t(channels) - 1])));
                                return {};
                              });
}

// A change of the coverage's values, pixel by pixel within `area`.
template <class Change>
Result<image::TiledImage> changed(const image::TiledImage& coverage, const base::Rect& area, base::Executor& executor,
                                  const Change& change) {
  const base::Rect part = area.intersected(base::Rect::of(coverage.size()));
  if (part.empty()) return coverage;
  HSEAM_TRY(auto pixels, image::read8(coverage, 0, part));
  for (std::uint8_t& v : pixels.samples()) v = change(v);
  return image::withPixels(coverage, part, pixels, executor);
}

}  // namespace

Remedy confined(RemedyId id, Words label, LayerId layer, const scene::Adjustment& adjustment) {
  // "lift_shadows": "lift shadows on NAME".
  std::string doing = keyOf(id);
  std::replace(doing.begin(), doing.end(), '_', ' ');
  return {id, std::move(label), [layer, adjustment, doing](const Scene& s, base::Executor&) -> Result<Edit> {
            const auto at = scene::positionOf(s, layer);
            if (!at) return Error{Code::notFound, "", "the layer is gone"};
            const Layer* parent = scene::findLayer(s, at->parent);
            const auto* group = parent ? parent->group() : nullptr;
            const auto& list = group ? group->layers : s.layers;
            auto index = std::size_t(at->index) + 1;
            while (index < list.size() && list[index]->clip) ++index;
            Layer l;
            l.id = scene::freeId(s);
            l.name = doing + " on " + list[std::size_t(at->index)]->name;
            l.clip = true;
            l.content = scene::AdjustmentContent{adjustment};
            return Edit(scene::AddLayer{std::move(l), at->parent, int(index)});
          }};
}

Remedy ofTheScene(RemedyId id, Words label, LayerId layer, const scene::Adjustment& adjustment) {
  return {id, std::move(label), [layer, adjustment](const Scene& s, base::Executor&) -> Result<Edit> {
            const auto at = scene::positionOf(s, layer);
            if (!at) return Error{Code::notFound, "", "the layer is gone"};
            const Layer* parent = scene::findLayer(s, at->parent);
            const auto* group = parent ? parent->group() : nullptr;
            const auto& list = group ? group->layers : s.layers;
            auto index = std::size_t(at->index);
            const std::string subject = list[index]->name;
            while (index > 0 && isLightOf(*list[index - 1], layer)) --index;
            Layer l;
            l.id = scene::freeId(s);
            l.name = std::string(scene::adjustmentName(adjustment)) + " behind " + subject;
            l.content = scene::AdjustmentContent{adjustment};
            return Edit(scene::AddLayer{std::move(l), at->parent, int(index)});
          }};
}

scene::Adjustment shadowsTo(double fromL, double toL) {
  const double v = encodedOfL(fromL), t = encodedOfL(toL);
  scene::Levels l;
  if (t > v) {
    l.outBlack = std::clamp((t - v) / std::max(1e-6, 1 - v), 0.0, 1.0);
  } else {
    l.black = std::clamp((v - t) / std::max(1e-6, 1 - t), 0.0, 0.95);
  }
  return l;
}

scene::Adjustment highlightsTo(double fromL, double toL) {
  const double v = encodedOfL(fromL), t = encodedOfL(toL);
  scene::Levels l;
  if (t < v) {
    l.outWhite = std::clamp(t / std::max(1e-6, v), 0.0, 1.0);
  } else {
    l.white = std::clamp(v / std::max(1e-6, t), 0.05, 1.0);
  }
  return l;
}

scene::Adjustment middleTo(double fromL, double toL) {
  const double v = std::clamp(encodedOfL(fromL), 0.01, 0.99), t = std::clamp(encodedOfL(toL), 0.01, 0.99);
  scene::Levels l;
  l.middle = std::clamp(std::log(v) / std::log(t), 0.1, 10.0);
  return l;
}

scene::Adjustment withoutTint(double a, double b) {
  // The encoded colour that has this tint at L* 60, by three steps of Newton on its distance from grey.
  const image::Lab grey = image::labFromEncoded({0.5663, 0.5663, 0.5663});
  std::array<double, 3> c{0.5663, 0.5663, 0.5663};
  for (int step = 0; step < 12; ++step) {
    const image::Lab now = image::labFromEncoded(c);
    const double dl = grey.l - now.l, da = grey.a + a - now.a, db = grey.b + b - now.b;
    // Inverse of the derivative about mid grey, from the definition of L*a*b* (encoded per unit).
    c[0] += 0.0096 * dl + 0.0076 * da + 0.0036 * db;
    c[1] += 0.0096 * dl - 0.0028 * da + 0.0004 * db;
    c[2] += 0.0096 * dl + 0.0012 * da - 0.0091 * db;
    for (double& v : c) v = std::clamp(v, 0.02, 0.98);
  }
  scene::ParametricAdjustment n = scene::parametric(scene::AdjustmentId::slope);
  const double mean = 0.5663;
  n = with(n, "slopeRed", std::clamp(mean / c[0], 0.0, 4.0));
  n = with(n, "slopeGreen", std::clamp(mean / c[1], 0.0, 4.0));
  return with(n, "slopeBlue", std::clamp(mean / c[2], 0.0, 4.0));
}

Remedy withoutLeftovers(LayerId layer, const std::vector<base::Rect>& pieces, const std::vector<base::Rect>& holes) {
  return {RemedyId::cleanUp, Says::cleanUp, [=](const Scene& s, base::Executor& executor) -> Result<Edit> {
            HSEAM_TRY(const Layer* l, pictureIn(s, layer));
            HSEAM_TRY(image::TiledImage mask, coverageOf(*l, executor));
            const auto back = scene::maskToScene(*l).inverse();
            if (!back) return Error{Code::invalid, l->name, "its placement flattens it"};
            for (const base::Rect& r : pieces) {
              HSEAM_TRY(mask,
                        changed(mask, base::boundsOf(*back, r).grown(1), executor, [](std::uint8_t) { return std::uint8_t(0); }));
            }
            for (const base::Rect& r : holes) {
              HSEAM_TRY(mask, changed(mask, base::boundsOf(*back, r).grown(1), executor,
                                      [](std::uint8_t) { return std::uint8_t(255); }));
            }
            return Edit(scene::SetMask{layer, std::move(mask), "loose pieces out, holes closed"});
          }};
}

Remedy cleanEdge(LayerId layer) {
  return {RemedyId::cleanEdge, Says::ownColours, [layer](const Scene& s, base::Executor& executor) -> Result<Edit> {
            HSEAM_TRY(const Layer* l, pictureIn(s, layer));
            const auto& p = *l->picture();
            if (image::hasAlpha(p.source.format()))
              return Error{Code::unsupported, l->name, "its old background is not known: draw the cut in instead"};
            HSEAM_TRY(image::TiledImage mask, coverageOf(*l, executor));
            HSEAM_TRY(image::TiledImage clean, matte::cleanColours(p.source, mask, executor, {}));
            return Edit(scene::SetCut{layer, mask, std::move(clean), mask, p.cutout->recipe, p.cutout->shaped});
          }};
}

Remedy tighter(LayerId layer, double px) {
  return {RemedyId::tighter, Says::drawCutIn, [layer, px](const Scene& s, base::Executor& executor) -> Result<Edit> {
            HSEAM_TRY(const Layer* l, pictureIn(s, layer));
            HSEAM_TRY(image::TiledImage mask, coverageOf(*l, executor));
            HSEAM_TRY(mask, select::widened(mask, -px, executor));
            return Edit(scene::SetMask{layer, std::move(mask), "drawn in"});
          }};
}

Remedy crisper(LayerId layer, double times) {
  return {RemedyId::crisperCut, Says::narrowCut, [layer, times](const Scene& s, base::Executor& executor) -> Result<Edit> {
            HSEAM_TRY(const Layer* l, pictureIn(s, layer));
            HSEAM_TRY(image::TiledImage mask, coverageOf(*l, executor));
            HSEAM_TRY(mask, changed(mask, base::Rect::of(mask.size()), executor, [times](std::uint8_t v) {
                        return std::uint8_t(std::lround(std::clamp((v - 127.5) * times + 127.5, 0.0, 255.0)));
                      }));
            return Edit(scene::SetMask{layer, std::move(mask), "its edge as narrow as the picture's"});
          }};
}

}  // namespace hseam::findings
