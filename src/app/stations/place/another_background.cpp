#include "app/stations/place/another_background.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/other_pictures.h"
#include "app/stations/shelf_folder.h"
#include "app/widgets/builders.h"
#include "core/image/picture_file.h"
#include "core/tasks/shelve.h"

namespace hseam::app {

AnotherBackground::AnotherBackground(Desk& desk)
    : Page(desk, {"another-background", tr("Another background"),
                  tr("Cuts the active picture's subject out, puts another picture behind it, and brings that to the subject")}) {
  auto* c = column();
  backgrounds_ = new QComboBox;
  backgrounds_->setAccessibleName(tr("The other background"));
  backgrounds_->setToolTip(tr("A picture of this scene, or a place or sky of the shelf (Gather keeps them)"));
  c->addWidget(namedRow(tr("background"), backgrounds_));
  bring_ = new QCheckBox(tr("bring the background to the subject"));
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

void AnotherBackground::refresh() {
  const QVariant chosen = backgrounds_->currentData();
  listOtherPictures(*backgrounds_, desk_.session);
  if (activePicture()) {
    shelf_ = ownShelf().list().items;
    for (const store::ShelfItem& i : shelf_) {
      if (i.kind != store::ShelfKind::texture)
        backgrounds_->addItem(tr("%1 (shelf)").arg(QString::fromStdString(i.name)), QString::fromStdString(i.id));
    }
  }
  if (const int at = backgrounds_->findData(chosen); at >= 0) backgrounds_->setCurrentIndex(at);
  put_->setEnabled(backgrounds_->count() > 0);
}

QString AnotherBackground::words() const {
  return activePicture() ? QString() : tr("no picture");
}

void AnotherBackground::put() {
  const scene::LayerId subject = desk_.session.active();
  const QVariant chosen = backgrounds_->currentData();
  const auto item = std::find_if(shelf_.begin(), shelf_.end(),
                                 [&](const store::ShelfItem& i) { return QString::fromStdString(i.id) == chosen.toString(); });
  const auto ofShelf = item == shelf_.end() ? std::nullopt : std::optional(*item);
  outcome_->hide();
  desk_.jobs.start<tasks::BackgroundChange>(
      tr("Change the background"),
      [from = desk_.session.scene(), subject, chosen, ofShelf, options = tasks::BackgroundOptions{bring_->isChecked()},
       memory = desk_.session.memory()](base::Executor& executor,
                                        const base::Progress& progress) -> base::Result<tasks::BackgroundChange> {
        if (!ofShelf) return tasks::changeBackground(from, subject, {chosen.toULongLong()}, options, executor, progress);
        HSEAM_TRY(const image::Picture picture, image::readPicture(ofShelf->file, memory, executor, progress.part(0, 0.1)));
        return tasks::changeBackgroundFromShelf(from, subject, *ofShelf, picture.pixels, {}, options, executor,
                                                progress.part(0.1, 1));
      },
      [this, from = desk_.session.scene(), subject](const tasks::BackgroundChange& made) {
        if (!desk_.session.applyResult(made.edit, from)) return;
        desk_.session.setActive(subject);
        QStringList said;
        if (made.cut) said << tr("The subject was guessed and cut out: look at its edge in Cut out.");
        if (made.blurredPx > 0)
          said << tr("Blurred by %1 px: as far out of focus as its own background was.").arg(made.blurredPx, 0, 'f', 1);
        for (const auto& s : made.brought.steps) {
          if (s.done) said << QString::fromStdString(s.label.text());
        }
        if (said.isEmpty()) said << tr("It lies behind.");
        outcome_->setText(said.join(QLatin1Char('\n')));
        outcome_->show();
      });
}

}  // namespace hseam::app
