#include "core/scene/set_words.h"

#include "core/path/bent.h"
#include "core/scene/mask_cover.h"

namespace hseam::scene {
namespace {

constexpr double kTolerancePx = 0.1;  // px of the canvas

base::Rect boxOf(const path::Path& outlines) {
  base::Rect box = path::boundsOf(outlines);
  box.width = std::max(1, box.width);
  box.height = std::max(1, box.height);
  return box;
}

}  // namespace

base::Result<base::Rect> boxOf(const text::Lettering& words) {
  HSEAM_TRY(const text::Lettered set, text::lettered(words));
  return boxOf(set.outlines);
}

base::Result<WordsSet> setWords(const Layer& fill, const text::Lettering& words, const std::shared_ptr<const Bend>& bend,
                                base::Size canvas, const std::shared_ptr<image::TileMemory>& memory) {
  if (!fill.fill()) return base::Error{base::Code::invalid, fill.name, "words need a fill"};
  HSEAM_TRY(text::Lettered set, text::lettered(words));
  WordsSet out{{fill.id, *fill.fill(), fill.mask}, std::move(set.missing), set.otherTypeface};
  FillContent& content = out.edit.fill;
  content.lettering = std::make_shared<const text::Lettering>(words);
  content.bend = nullptr;
  path::Path outlines = std::move(set.outlines);
  if (bend && !bend->warp.neutral() && !outlines.empty()) {
    const base::Rect box = boxOf(outlines);
    const base::Affine grow{double(box.width) / bend->box.width, 0, 0, double(box.height) / bend->box.height, 0, 0};
    content.bend = std::make_shared<const Bend>(Bend{box, scaled(bend->warp, grow)});
    const base::Size size{box.width, box.height};
    outlines = path::bent(
        outlines,
        [&](base::Point p) {
          const base::Point q = mapped(content.bend->warp, size, {p.x - box.x, p.y - box.y});
          return base::Point{q.x + box.x, q.y + box.y};
        },
        kTolerancePx);
  }
  // Words of nothing but spaces cover nothing: an outline without an inside.
  if (outlines.empty()) outlines.outlines = {{{path::corner({0, 0}), path::corner({1, 0}), path::corner({0, 0})}, true}};
  Mask& mask = out.edit.mask;
  const image::TiledImage byHand = mask.pathActs ? mask.painted : image::TiledImage();
  mask.path = std::make_shared<const path::Path>(std::move(outlines));
  mask.pathArea = {};
  HSEAM_TRY(mask, boundedMask(std::move(mask), byHand, true, canvas, memory));
  return out;
}

}  // namespace hseam::scene
