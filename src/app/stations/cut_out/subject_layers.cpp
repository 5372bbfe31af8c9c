#include "app/stations/cut_out/subject_layers.h"

#include "core/matte/trimap.h"
#include "core/matte/whole_cut.h"
#include "core/select/pieces.h"

namespace hseam::app {
namespace {

constexpr double kLeastShare = 0.0005;  // of the picture's area: what is smaller is no subject

// The layer with one piece's part of everything that says where the subject is.
base::Result<scene::Layer> pieceOf(const scene::Layer& whole, const select::Pieces& pieces, int index, base::Executor& e) {
  scene::Layer out = whole;
  scene::Cutout& c = std::get<scene::PictureContent>(out.content).cutout.edit();
  const auto only = [&](image::TiledImage& i, std::uint8_t elsewhere) -> base::Status {
    HSEAM_TRY(i, select::onlyPiece(i, pieces, index, elsewhere, e));
    return {};
  };
  HSEAM_DO(only(c.selection, 0));
  HSEAM_DO(only(c.band, matte::kBackground));
  HSEAM_DO(only(c.alpha, 0));
  HSEAM_DO(only(c.shaped, 0));
  HSEAM_DO(only(out.mask.painted, 0));
  HSEAM_DO(only(out.mask.coverage, 0));
  out.hidden = false;
  return out;
}

base::Result<scene::Edit> separated(const scene::Scene& s, const scene::Layer& layer, base::Executor& e,
                                    const base::Progress& progress) {
  scene::Layer whole = layer;
  auto& p = std::get<scene::PictureContent>(whole.content);
  if (whole.mask.coverage.isNull()) {
    HSEAM_TRY(const matte::EdgePlan plan, matte::edgePlanFrom(p.cutout->edgePlan));
    HSEAM_TRY(matte::WholeCut cut, matte::wholeCut(p.source, p.cutout->selection, p.cutout->band, plan, image::PixelFormat::grey8,
                                                   e, progress.part(0, 0.9)));
    whole.mask.coverage = cut.outcome();
    scene::Cutout& c = p.cutout.edit();
    c.band = cut.band;
    c.alpha = cut.cut.alpha;
    c.shaped = cut.shaped;
    c.clean = cut.cut.clean;
  }
  const base::Size size = p.source.size();
  HSEAM_TRY(const select::Pieces pieces,
            select::pieces(whole.mask.coverage, kLeastShare * double(size.width) * double(size.height)));
  const auto at = scene::positionOf(s, layer.id);
  scene::Several all{"a layer for each of " + std::to_string(pieces.count()) + " subjects", {}};
  scene::LayerId free = scene::freeId(s);
  for (int i = 0; i < pieces.count(); ++i) {
    if (progress.cancelled()) return base::cancelledError();
    HSEAM_TRY(scene::Layer part, pieceOf(whole, pieces, i, e));
    part.id = free;
    ++free.value;
    part.name = layer.name + " " + std::to_string(i + 1);
    all.edits.push_back({scene::AddLayer{std::move(part), at->parent, at->index + 1 + i}});
  }
  all.edits.push_back({scene::SetHidden{layer.id, true}});
  progress.report(1);
  return scene::Edit(std::move(all));
}

}  // namespace

void layerForEachPiece(Session& session, Messages& messages, Lane& jobs) {
  const scene::Layer* l = session.activeLayer();
  if (!l || !l->picture()) return;
  if (l->mask.coverage.isNull() && l->picture()->cutout->selection.isNull()) {
    emit messages.said(QObject::tr("Nothing is selected yet: guess the subjects or draw round them"));
    return;
  }
  jobs.start<scene::Edit>(
      QObject::tr("A layer for each subject"),
      [s = session.scene(), layer = *l](base::Executor& e, const base::Progress& progress) {
        return separated(s, layer, e, progress);
      },
      [&session, &messages, from = session.scene()](const scene::Edit& edit) {
        if (!session.applyResult(edit, from)) return;
        emit messages.said(QObject::tr("Each subject has a layer of its own now; the whole picture is hidden below them"));
      });
}

}  // namespace hseam::app
