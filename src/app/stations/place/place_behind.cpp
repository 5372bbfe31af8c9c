#include "app/stations/place/place_behind.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/tasks/change_ground.h"

namespace hseam::app {

PlaceBehind::PlaceBehind(Desk& desk)
    : Page(desk, {"place-behind", tr("Another place behind"),
                  tr("Cuts the active picture's subject out, puts another picture behind it, and brings that to the subject")}) {
  auto* c = column();
  places_ = new QComboBox;
  places_->setAccessibleName(tr("The other place"));
  places_->setToolTip(tr("A picture of this scene; add it in Gather, or drop it onto the window"));
  c->addWidget(namedRow(tr("place"), places_));
  bring_ = new QCheckBox(tr("bring the place to the subject"));
  bring_->setChecked(true);
  bring_->setToolTip(tr("Its tones, colours, sharpness and grain, as far as they can be read; each becomes a layer of its own"));
  c->addWidget(bring_);
  put_ = button(tr("Put it behind"), tr("One step: undo takes all of it back"), [this] { put(); });
  put_->setProperty("main", true);
  c->addWidget(put_);
  outcome_ = quietLabel({});
  outcome_->hide();
  c->addWidget(outcome_);
  connect(&desk_.session, &Session::replaced, this, [this] { outcome_->hide(); });
  refresh();
}

void PlaceBehind::refresh() {
  const QVariant chosen = places_->currentData();
  places_->clear();
  const auto* active = activePicture();
  for (const scene::LayerRef& l : scene::allLayers(desk_.session.scene())) {
    if (!active || l->id == desk_.session.active() || !l->picture() || l->picture()->byHand) continue;
    places_->addItem(QString::fromStdString(l->name), QVariant::fromValue(qulonglong(l->id.value)));
  }
  if (const int at = places_->findData(chosen); at >= 0) places_->setCurrentIndex(at);
  put_->setEnabled(active && places_->count() > 0);
}

QString PlaceBehind::words() const {
  if (!activePicture()) return tr("no picture");
  return places_->count() == 0 ? tr("add a place") : QString();
}

void PlaceBehind::put() {
  const scene::LayerId subject = desk_.session.active(), place{places_->currentData().toULongLong()};
  outcome_->hide();
  desk_.jobs.start<tasks::GroundChange>(
      tr("Put another place behind"),
      [from = desk_.session.scene(), subject, place, bring = bring_->isChecked()](base::Executor& executor,
                                                                                  const base::Progress& progress) {
        return tasks::changeGround(from, subject, place, {bring}, executor, progress);
      },
      [this, from = desk_.session.scene(), subject](const tasks::GroundChange& made) {
        if (!desk_.session.applyResult(made.edit, from)) return;
        desk_.session.setActive(subject);
        QStringList said;
        if (made.cut) said << tr("The subject was guessed and cut out: look at its edge in Cut out.");
        if (made.blurredPx > 0)
          said << tr("Blurred by %1 px: as far out of focus as its own background was.").arg(made.blurredPx, 0, 'f', 1);
        for (const auto& s : made.brought.steps) {
          if (s.done) said << QString::fromStdString(s.label);
        }
        if (said.isEmpty()) said << tr("It lies behind.");
        outcome_->setText(said.join(QLatin1Char('\n')));
        outcome_->show();
      });
}

}  // namespace hseam::app
