#include "app/stations/cut_out/take_out.h"

#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "app/widgets/value_field.h"
#include "core/repair/fill.h"
#include "core/select/reshape.h"

namespace hseam::app {
namespace {

struct FilledPicture {
  image::TiledImage picture, mask;
};

}  // namespace

TakeOut::TakeOut(Desk& desk)
    : Page(desk, {"take-out", tr("Take it out of the picture"),
                  tr("What is selected disappears: its surroundings go on over it, on a layer of their own")}),
      wider_(new ValueField(tr("wider"), {0, 60, 6, 0, QStringLiteral("px")},
                            tr("How far beyond the selection the fill reaches, so that no rim of the thing stays"))) {
  auto* c = column();
  c->addWidget(quietLabel(tr("Select the thing and its shadow with the pages above. The picture itself stays as it is.")));
  c->addWidget(wider_);
  fill_ = button(tr("Fill from the surroundings"),
                 tr("Makes a layer above the picture that shows what may lie behind the selection"), [this] { fill(1); });
  another_ = button(tr("Another one"), tr("Replaces the last fill by another candidate; undo brings it back"),
                    [this] { fill(seed_ + 1); });
  fill_->setObjectName(QStringLiteral("fill"));
  c->addWidget(fill_);
  c->addWidget(another_);
  connect(&desk_.session, &Session::replaced, this, [this] { made_ = madeFrom_ = {}; });
  refresh();
}

const scene::Layer* TakeOut::filledFrom() const {
  const scene::Scene& s = desk_.session.scene();
  const bool again = desk_.session.active() == made_ && scene::findLayer(s, made_) && scene::findLayer(s, madeFrom_);
  const scene::Layer* l = again ? scene::findLayer(s, madeFrom_) : desk_.session.activeLayer();
  return l && l->picture() ? l : nullptr;
}

void TakeOut::refresh() {
  const scene::Layer* l = filledFrom();
  const bool selected = l && !l->picture()->cutout.selection.isNull();
  fill_->setEnabled(selected && desk_.session.active() != made_);
  another_->setEnabled(selected && desk_.session.active() == made_ && made_.value != 0);
}

QString TakeOut::words() const {
  const scene::Layer* l = filledFrom();
  return l && !l->picture()->cutout.selection.isNull() ? QString() : tr("nothing selected");
}

void TakeOut::fill(std::uint32_t seed) {
  const scene::Layer* from = filledFrom();
  if (!from || from->picture()->cutout.selection.isNull()) return;
  const bool again = desk_.session.active() == made_ && made_.value != 0 && seed > 1;
  seed_ = seed;
  desk_.jobs.start<FilledPicture>(
      tr("Fill from the surroundings"),
      [source = from->picture()->source, selection = from->picture()->cutout.selection, seed, px = wider_->value()](
          base::Executor& executor, const base::Progress& progress) -> base::Result<FilledPicture> {
        HSEAM_TRY(const image::TiledImage hole, select::widened(selection, px, executor));
        HSEAM_TRY(image::TiledImage picture, repair::filled(source, hole, {seed, {}}, executor, progress));
        return FilledPicture{std::move(picture), hole};
      },
      [this, id = from->id, again, of = from->picture()->source.stamp()](const FilledPicture& made) {
        const scene::Scene& s = desk_.session.scene();
        const scene::Layer* l = scene::findLayer(s, id);
        const auto at = scene::positionOf(s, id);
        if (!l || !at || l->picture()->source.stamp() != of) {
          emit desk_.messages.refused(tr("The picture was changed while it was filled: the fill is dropped. Do it again."));
          return;
        }
        scene::Layer fresh;
        fresh.id = scene::freeId(s);
        fresh.name = l->name + ", filled";
        scene::PictureContent p;
        p.source = made.picture;
        p.sourceName = l->picture()->sourceName;
        p.placement = l->picture()->placement;
        p.warp = l->picture()->warp;
        fresh.content = std::move(p);
        fresh.mask.coverage = made.mask;
        scene::Several step{"fill from the surroundings of " + l->name, {}};
        if (again && scene::findLayer(s, made_)) step.edits.push_back({scene::RemoveLayer{made_}});
        step.edits.push_back({scene::AddLayer{fresh, at->parent, at->index + 1}});
        if (!desk_.session.apply(step)) return;
        made_ = fresh.id;
        madeFrom_ = id;
        desk_.session.setActive(made_);
      });
}

}  // namespace hseam::app
