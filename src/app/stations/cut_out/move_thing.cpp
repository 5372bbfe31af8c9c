#include "app/stations/cut_out/move_thing.h"

#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "app/widgets/value_field.h"
#include "core/retouch/lift.h"
#include "core/select/shape.h"

namespace hseam::app {
namespace {

scene::Layer pictureLike(const scene::PictureContent& of, scene::LayerId id, const std::string& name,
                         const image::TiledImage& source, const image::TiledImage& mask) {
  scene::PictureContent p;
  p.source = source;
  p.sourceName = of.sourceName;
  p.sourceHash = of.sourceHash;
  p.permission = of.permission;
  p.placement = of.placement;
  p.warp = of.warp;
  scene::Layer l;
  l.id = id;
  l.name = name;
  l.content = std::move(p);
  l.mask.coverage = mask;
  return l;
}

struct Lifting {
  scene::Several step;
  scene::LayerId thing, shadow;  // shadow 0: there is none
};

// Picture, filled place, shadow and thing, from back to front. The picture shows all of itself again, in its own colours; its
// mask is switched off, not lost.
Lifting liftingOf(const scene::Scene& s, const scene::Layer& from, const scene::Position& at, const retouch::Lifted& made,
                  const image::TiledImage& thing) {
  const scene::PictureContent& p = *from.picture();
  const std::uint64_t first = scene::freeId(s).value;
  Lifting out{{"lift " + from.name + " off its picture", {}}, {first + 1}, {}};
  auto& edits = out.step.edits;
  int index = at.index;
  if (from.mask.acts()) edits.push_back({scene::SetMaskEnabled{from.id, false}});
  if (p.cutout->useClean && !p.cutout->clean.isNull()) edits.push_back({scene::SetUseClean{from.id, false}});
  edits.push_back({scene::AddLayer{pictureLike(p, {first}, from.name + ", filled", made.ground, made.hole), at.parent, ++index}});
  if (!made.shadow.isNull()) {
    out.shadow = {first + 2};
    scene::Layer shadow = pictureLike(p, out.shadow, from.name + ", its shadow", made.shadow, made.shadowPlace);
    shadow.mode = scene::BlendMode::multiply;
    edits.push_back({scene::AddLayer{std::move(shadow), at.parent, ++index}});
  }
  scene::Layer lifted = from;
  lifted.id = out.thing;
  lifted.name = from.name + ", lifted";
  lifted.mask.coverage = thing;
  edits.push_back({scene::AddLayer{std::move(lifted), at.parent, ++index}});
  return out;
}

}  // namespace

MoveThing::MoveThing(Desk& desk)
    : Page(desk, {"move-thing", tr("Move it in its picture"),
                  tr("What is selected or cut out is lifted off with its shadow, and its place is filled")}),
      outline_(
          [this](OutlineTool::Kind, const QPolygonF& o) {
            shadow_ = o;
            shadowOf_ = desk_.session.active();
            refresh();
            emit changed();
          },
          [] { return tr("draw round the shadow of what is to be moved"); }),
      wider_(new ValueField(tr("wider"), {0, 60, 6, 0, QStringLiteral("px")},
                            tr("How far beyond the thing and its shadow the place is filled, so that no rim of them stays"))) {
  auto* c = column();
  c->addWidget(quietLabel(
      tr("Select the thing with the pages above, or cut it out. Then draw round its shadow, loosely, or leave that out.")));
  forget_ = button(tr("Forget the outline"), tr("The thing goes without a shadow"), [this] {
    shadow_.clear();
    refresh();
    emit changed();
  });
  forget_->setEnabled(false);
  c->addWidget(forget_);
  c->addWidget(wider_);
  lift_ = button(tr("Lift it off"),
                 tr("Fills its place; thing and shadow become layers of their own, both in hand, to be moved in Place"),
                 [this] { lift(); });
  c->addWidget(lift_);
  connect(&desk_.session, &Session::replaced, this, [this] {
    shadow_.clear();
    lifted_ = {};
  });
  refresh();
}

image::TiledImage MoveThing::thing() const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l || !l->picture()) return {};
  return l->mask.acts() ? l->mask.coverage : l->picture()->cutout->selection;
}

void MoveThing::refresh() {
  if (shadowOf_ != desk_.session.active()) shadow_.clear();
  lift_->setEnabled(!thing().isNull());
  forget_->setEnabled(!shadow_.isEmpty());
}

QString MoveThing::words() const {
  if (thing().isNull()) return tr("nothing selected");
  return shadow_.isEmpty() ? QString() : tr("with its shadow");
}

void MoveThing::changeView(View& view) const {
  view.uncut = true;
}

void MoveThing::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  if (!shadow_.isEmpty()) drawStitched(painter, toWidget.map(shadow_), true);
}

void MoveThing::lift() {
  const scene::Layer* l = desk_.session.activeLayer();
  const image::TiledImage what = thing();
  if (!l || what.isNull()) return;
  select::Outline round;
  for (const QPointF& p : shadow_) round.push_back({p.x(), p.y()});
  const scene::Scene from = desk_.session.scene();
  desk_.jobs.start<retouch::Lifted>(
      tr("Lift it off its picture"),
      [source = l->picture()->source, what, round, px = wider_->value()](
          base::Executor& executor, const base::Progress& progress) -> base::Result<retouch::Lifted> {
        image::TiledImage shadow;
        if (!round.empty()) {
          const auto nothing = image::uniformCoverage(source.size(), 0, source.memory());
          HSEAM_TRY(shadow, select::combined(nothing, round, select::Combine::replace, executor));
        }
        return retouch::lifted(source, what, shadow, {px, 1}, executor, progress);
      },
      [this, from, id = l->id, what](const retouch::Lifted& made) {
        const scene::Layer* layer = scene::findLayer(from, id);
        const auto at = scene::positionOf(from, id);
        if (!layer || !at) return;
        const Lifting lifting = liftingOf(from, *layer, *at, made, what);
        if (!desk_.session.applyResult(lifting.step, from)) return;
        lifted_ = lifting.thing;
        shadow_.clear();
        desk_.session.setActive(lifted_);
        if (lifting.shadow.value != 0) desk_.session.toggleInHand(lifting.shadow);
        emit desk_.messages.said(tr("It is lifted off: drag it where it belongs in Place."));
      });
}

}  // namespace hseam::app
