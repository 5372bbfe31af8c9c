#include "app/stations/match/gloss_page.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "app/widgets/value_field.h"
#include "core/select/shape.h"
#include "core/tasks/gloss.h"

namespace hseam::app {

GlossPage::GlossPage(Desk& desk)
    : Page(desk, {"gloss", tr("Gloss"), tr("What shines on the active picture mirrors the place that it stands in now")}),
      outline_(
          [this](OutlineTool::Kind, const QPolygonF& o) {
            part_ = o;
            partOf_ = desk_.session.active();
            made_ = {};
            refresh();
            emit changed();
          },
          [] { return tr("draw round what shines: a pane, a boot, a helmet"); }) {
  auto* c = column();
  c->addWidget(quietLabel(tr("Draw round what shines. It gets a layer of its own, confined to the picture.")));
  way_ = new QComboBox;
  way_->addItem(tr("standing upright"));
  way_->addItem(tr("a floor or water"));
  way_->setAccessibleName(tr("How it mirrors"));
  way_->setToolTip(tr("What stands upright swaps left and right; what lies flat turns upside down"));
  c->addWidget(namedRow(tr("mirrors"), way_));
  wide_ = new ValueField(tr("sees"), {1, 8, 3, 1, tr("times")},
                         tr("How many times its own width it mirrors: the rounder it is, the more"));
  rough_ = new ValueField(tr("roughness"), {0, 60, 4, 1, tr("px")},
                          tr("How blurred it mirrors: a polished pane little, leather much"));
  strength_ = new ValueField(tr("strength"), {0, 100, 35, 0, QStringLiteral("%")}, tr("How strongly the mirrored light shows"));
  for (ValueField* f : {wide_, rough_, strength_}) c->addWidget(f);
  mirror_ = button(tr("Let it mirror the place"), tr("Makes the layer; pressed again it is made anew with these values"),
                   [this] { mirror(); });
  mirror_->setProperty("main", true);
  c->addWidget(mirror_);
  connect(&desk_.session, &Session::replaced, this, [this] {
    part_.clear();
    made_ = {};
  });
  refresh();
}

void GlossPage::refresh() {
  const scene::LayerId active = desk_.session.active();
  if (partOf_ != active && made_ != active) part_.clear();
  if (!scene::findLayer(desk_.session.scene(), made_)) made_ = {};
  mirror_->setEnabled(!part_.isEmpty());
}

QString GlossPage::words() const {
  return part_.isEmpty() ? tr("nothing marked") : QString();
}

void GlossPage::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  if (!part_.isEmpty() && made_.value == 0) drawStitched(painter, toWidget.map(part_), true);
}

void GlossPage::mirror() {
  const scene::Layer* l = scene::findLayer(desk_.session.scene(), partOf_);
  if (!l || !l->picture() || part_.isEmpty()) return;
  const auto back = l->picture()->placement.toScene(l->picture()->source.size()).inverse();
  if (!back) return;
  select::Outline round;
  for (const QPointF& p : part_) round.push_back(back->map({p.x(), p.y()}));
  tasks::GlossOptions options;
  options.upsideDown = way_->currentIndex() == 1;
  options.wide = wide_->value();
  options.roughnessPx = rough_->value();
  options.strength = strength_->value() / 100;
  const scene::Scene from = desk_.session.scene();
  desk_.jobs.start<tasks::Gloss>(
      {tr("Let it mirror the place"), QStringLiteral("gloss")},
      [from, subject = partOf_, before = made_, source = l->picture()->source, round, options](
          base::Executor& executor, const base::Progress& progress) -> base::Result<tasks::Gloss> {
        HSEAM_TRY(const image::TiledImage part, select::combined(image::uniformCoverage(source.size(), 0, source.memory()), round,
                                                                 select::Combine::replace, executor));
        if (!scene::findLayer(from, before)) return tasks::glossed(from, subject, part, options, executor, progress);
        // Instead of the one that was made before, as one step.
        HSEAM_TRY(const scene::Scene without, scene::apply(from, scene::RemoveLayer{before}));
        HSEAM_TRY(tasks::Gloss made, tasks::glossed(without, subject, part, options, executor, progress));
        made.edit.edits.insert(made.edit.edits.begin(), {scene::RemoveLayer{before}});
        return made;
      },
      [this, from](const tasks::Gloss& made) {
        if (!desk_.session.applyResult(made.edit, from)) return;
        made_ = made.layer;
        desk_.session.setActive(partOf_);
        refresh();
        emit changed();
      });
}

}  // namespace hseam::app
