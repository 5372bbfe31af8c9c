#include "core/tasks/cut_out.h"

#include <algorithm>
#include <cmath>

#include "core/image/pixel_format.h"
#include "core/matte/cut_recipe.h"
#include "core/select/subject_guess.h"

namespace hseam::tasks {

using base::Error;
using base::Result;

Result<std::vector<ToldStretch>> stretchesOf(const image::TiledImage& picture, const matte::Cut& cut, base::Executor& executor) {
  const base::Size size = cut.alpha.size();
  HSEAM_TRY(const image::TiledImage mask,
            image::tiledFromRows(size, image::PixelFormat::grey8, picture.memory(), executor, {},
                                 [&](int first, int count, std::byte* rows) -> base::Status {
                                   HSEAM_TRY(const auto alpha, image::readFloat(cut.alpha, 0, {0, first, size.width, count}));
                                   for (std::size_t i = 0; i < alpha.samples().size(); ++i)
                                     rows[i] = std::byte(std::lround(alpha.samples()[i] * 255));
                                   return {};
                                 }));
  HSEAM_TRY(const matte::Unrolled outline, matte::unrolled(mask));
  HSEAM_TRY(const auto readings, matte::edgeReadings(outline, 0, int(outline.places.size()), mask, cut.clean, picture));
  std::vector<ToldStretch> told;
  for (const matte::Stretch& s : matte::stretchesOf(outline, readings)) {
    told.push_back({s.kind, double(s.confidence), s.count, outline.places[std::size_t(s.first)].at,
                    outline.places[std::size_t(s.first + s.count - 1)].at});
  }
  return told;
}

Result<image::TiledImage> cutoutPicture(const matte::Cut& cut, base::Executor& executor) {
  const base::Size size = cut.alpha.size();
  const bool wide = image::isWide(cut.clean.format());
  const int channels = image::channelsOf(cut.clean.format());
  return image::tiledFromRows(
      size, wide ? image::PixelFormat::rgba16 : image::PixelFormat::rgba8, cut.clean.memory(), executor, {},
      [&](int first, int count, std::byte* rows) -> base::Status {
        HSEAM_TRY(const auto colours, image::readFloat(cut.clean, 0, {0, first, size.width, count}));
        HSEAM_TRY(const auto alpha, image::readFloat(cut.alpha, 0, {0, first, size.width, count}));
        for (std::size_t i = 0; i < alpha.pixels(); ++i) {
          for (int c = 0; c < 4; ++c) {
            const float v = c < 3 ? colours.samples()[i * std::size_t(channels) + std::size_t(std::min(c, channels - 1))]
                                  : alpha.samples()[i];
            if (wide) {
              reinterpret_cast<std::uint16_t*>(rows)[4 * i + std::size_t(c)] = std::uint16_t(std::lround(v * 65535));
            } else {
              rows[4 * i + std::size_t(c)] = std::byte(std::lround(v * 255));
            }
          }
        }
        return {};
      });
}

Result<scene::Several> cutLayerOut(const scene::Scene& scene, scene::LayerId id, base::Executor& executor,
                                   const base::Progress& progress) {
  const scene::Layer* layer = scene::findLayer(scene, id);
  if (!layer || !layer->picture()) return Error{base::Code::notFound, layer ? layer->name : "", "there is no picture to cut"};
  const scene::PictureContent& p = *layer->picture();
  scene::Several out{"cut out " + layer->name, {}};
  image::TiledImage selection = p.cutout->selection;
  if (selection.isNull()) {
    HSEAM_TRY(selection, select::guessSubject(p.source, {}, executor, progress.part(0, 0.3)));
    out.edits.push_back({scene::SetSelection{id, selection, "guessed"}});
  }
  HSEAM_TRY(const matte::EdgePlan plan, matte::edgePlanFrom(p.cutout->edgePlan));
  HSEAM_TRY(const matte::WholeCut made, matte::wholeCut(p.source, selection, p.cutout->band, plan, image::PixelFormat::grey8,
                                                        executor, progress.part(0.3, 1)));
  matte::CutRecipe how = matte::cutRecipeFrom(p.cutout->recipe);
  how.encodedShare = made.cut.encodedShare;
  const std::string recipe = matte::toText(how);
  out.edits.push_back({scene::SetBand{id, made.band, recipe}});
  out.edits.push_back({scene::SetCut{id, made.cut.alpha, made.cut.clean, made.outcome(), recipe, made.shaped}});
  return out;
}

}  // namespace hseam::tasks
