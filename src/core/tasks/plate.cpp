#include "core/tasks/plate.h"

#include <algorithm>

#include "core/deliver/merged.h"
#include "core/scene/set_words.h"

namespace hseam::tasks {
namespace {

struct Paper {
  scene::Scene scene;
  base::Status apply(const scene::Edit& edit) {
    HSEAM_TRY(scene, scene::apply(scene, edit));
    return {};
  }
  template <class Content>
  base::Status add(const std::string& name, Content content) {
    scene::Layer l;
    l.id = scene::freeId(scene);
    l.name = name;
    l.content = std::move(content);
    return apply(scene::AddLayer{std::move(l), {}, -1});
  }
};

base::Status addPicture(Paper& paper, const std::string& name, const image::TiledImage& picture, int x) {
  scene::PictureContent p;
  p.source = picture;
  p.placement.x = x;
  return paper.add(name, std::move(p));
}

base::Status addWords(Paper& paper, const std::string& words, base::Point at, double sizePx,
                      const std::shared_ptr<image::TileMemory>& memory) {
  if (words.empty()) return {};
  HSEAM_DO(paper.add(words, scene::FillContent{scene::SolidFill{{0.2, 0.2, 0.2}}, nullptr}));
  text::Lettering lettering;
  lettering.words = words;
  lettering.sizePx = sizePx;
  lettering.at = at;
  HSEAM_TRY(const scene::WordsSet set,
            scene::setWords(*paper.scene.layers.back(), lettering, nullptr, paper.scene.canvas, memory));
  return paper.apply(set.edit);
}

}  // namespace

scene::Scene asTheyCame(const scene::Scene& scene) {
  scene::Scene s = scene;
  for (const scene::LayerRef& l : scene::allLayers(scene)) {
    const auto then = [&](const scene::Edit& e) {
      if (auto next = scene::apply(s, e); next.ok()) s = std::move(next).value();
    };
    if (l->adjustment() || l->light()) {
      then(scene::SetHidden{l->id, true});
    } else if (l->picture()) {
      then(scene::SetUseClean{l->id, false});
      then(scene::SetMode{l->id, scene::BlendMode::normal});
    }
  }
  return s;
}

base::Result<scene::Scene> plate(const scene::Scene& scene, const PlateOptions& options,
                                 const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                 const base::Progress& progress) {
  const base::Rect all = base::Rect::of(scene.canvas);
  HSEAM_TRY(const image::TiledImage before, deliver::merged(asTheyCame(scene), all, memory, executor, progress.part(0, 0.5)));
  HSEAM_TRY(const image::TiledImage after, deliver::merged(scene, all, memory, executor, progress.part(0.5, 1)));
  constexpr int kGapOfWidth = 60, kCaptionOfHeight = 14;
  const int gap = std::max(4, all.width / kGapOfWidth);
  const bool words = !options.before.empty() || !options.after.empty();
  const int caption = words ? std::max(16, all.height / kCaptionOfHeight) : 0;
  Paper paper;
  paper.scene.canvas = {2 * all.width + gap, all.height + caption};
  paper.scene.mixing = scene.mixing;
  HSEAM_DO(paper.add("paper", scene::FillContent{scene::SolidFill{{1, 1, 1}}, nullptr}));
  HSEAM_DO(addPicture(paper, "before", before, 0));
  HSEAM_DO(addPicture(paper, "after", after, all.width + gap));
  constexpr double kBaseline = 0.68, kOfCaption = 0.5;
  const double line = all.height + kBaseline * caption, size = std::max(8.0, kOfCaption * caption);
  HSEAM_DO(addWords(paper, options.before, {all.width / 2.0, line}, size, memory));
  HSEAM_DO(addWords(paper, options.after, {all.width + gap + all.width / 2.0, line}, size, memory));
  return paper.scene;
}

}  // namespace hseam::tasks
