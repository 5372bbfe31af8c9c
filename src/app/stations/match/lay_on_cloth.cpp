#include "app/stations/match/lay_on_cloth.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/retouch/cloth.h"

namespace hseam::app {

LayOnCloth::LayOnCloth(Desk& desk)
    : Page(desk, {"lay-on-cloth", tr("Lay it on cloth"),
                  tr("The active picture takes light and folds of what lies behind it, as a print on a shirt or a flag does")}) {
  auto* c = column();
  shading_ =
      new ValueField(tr("shading"), {0, 150, 100, 0, tr("%"), true}, tr("How much of the cloth's light and shade it takes"));
  depth_ = new ValueField(tr("depth of folds"), {0, 60, 6, 0, tr("px"), true}, tr("How far the steepest fold moves it"));
  soft_ = new ValueField(tr("weave"), {0, 60, 4, 0, tr("px"), true}, tr("What is finer than this is weave, and shades nothing"));
  for (ValueField* f : {shading_, depth_, soft_}) c->addWidget(f);
  lay_ = button(tr("Lay it on"), tr("Sets its own colours and its bend; the picture itself stays. Once more after it was moved."),
                [this] { lay(); });
  lay_->setProperty("main", true);
  c->addWidget(lay_);
  outcome_ = quietLabel({});
  outcome_->hide();
  c->addWidget(outcome_);
  connect(&desk_.session, &Session::replaced, this, [this] { outcome_->hide(); });
  refresh();
}

void LayOnCloth::refresh() {
  lay_->setEnabled(activePicture() && !activePicture()->byHand);
}

QString LayOnCloth::words() const {
  return activePicture() && !activePicture()->byHand ? QString() : tr("choose a picture");
}

void LayOnCloth::lay() {
  outcome_->hide();
  const retouch::ClothOptions options{shading_->value() / 100, depth_->value(), soft_->value()};
  desk_.jobs.start<retouch::LaidOnCloth>(
      tr("Lay it on cloth"),
      [from = desk_.session.scene(), id = desk_.session.active(), options](base::Executor& executor,
                                                                           const base::Progress& progress) {
        return retouch::laidOnCloth(from, id, options, executor, progress);
      },
      [this, from = desk_.session.scene()](const retouch::LaidOnCloth& made) {
        if (!desk_.session.applyResult(made.edit, from)) return;
        QString said = tr("It takes %1 stops of shading").arg(made.shadeStops, 0, 'f', 1);
        if (made.movedPx > 0.5) {
          said += tr(" and bends by up to %1 px.").arg(made.movedPx, 0, 'f', 0);
        } else {
          said += tr("; nothing behind it is steep enough to bend it.");
        }
        outcome_->setText(said);
        outcome_->show();
      });
}

}  // namespace hseam::app
