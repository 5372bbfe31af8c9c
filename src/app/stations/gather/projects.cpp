#include "app/stations/gather/projects.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

NewScene::NewScene(Desk& desk, Workspace& workspace)
    : Page(desk, {"new", tr("Start a new scene"), tr("An empty canvas of a size you type, or the size of the first picture")}),
      workspace_(workspace) {
  auto* c = column();
  width_ = new QSpinBox;
  height_ = new QSpinBox;
  for (QSpinBox* box : {width_, height_}) {
    box->setRange(1, image::kMaxSide);
    box->setSuffix(tr(" px"));
    box->setToolTip(tr("Pixels of the new canvas"));
  }
  width_->setAccessibleName(tr("Width of the canvas"));
  height_->setAccessibleName(tr("Height of the canvas"));
  c->addWidget(rowOf({width_, new QLabel(QStringLiteral("×")), height_}));
  c->addWidget(button(tr("New scene of this size"), tr("Begins an untitled scene; this one is kept in its file"), [this] {
    workspace_.newScene({width_->value(), height_->value()});
  }));
  c->addWidget(quietLabel(tr("Or simply add pictures to an empty scene: the first one gives the canvas its size.")));
}

QString NewScene::words() const {
  const base::Size c = desk_.session.scene().canvas;
  return tr("now %1 × %2").arg(c.width).arg(c.height);
}

void NewScene::refresh() {
  if (width_->hasFocus() || height_->hasFocus()) return;
  width_->setValue(desk_.session.scene().canvas.width);
  height_->setValue(desk_.session.scene().canvas.height);
}

OpenProject::OpenProject(Desk& desk, Workspace& workspace)
    : Page(desk, {"open", tr("Open a project"), tr("Go on with a scene that was kept")}), workspace_(workspace) {
  auto* c = column();
  c->addWidget(button(tr("Choose a project…"), tr("Open a .hseam file"), [this] { emit openAsked(); }));
  recents_ = new QWidget;
  (new QVBoxLayout(recents_))->setContentsMargins(0, 0, 0, 0);
  c->addWidget(recents_);
}

void OpenProject::listRecents() {
  auto* column = static_cast<QVBoxLayout*>(recents_->layout());
  emptyLayout(*column);
  for (const QString& path : workspace_.recents()) {
    column->addWidget(button(QFileInfo(path).completeBaseName(), path, [this, path] { workspace_.openProject(path); }));
  }
  for (const QString& path : workspace_.leftBehind()) {
    const QString when = QFileInfo(path).lastModified().toString(QStringLiteral("d MMM, hh:mm"));
    auto* open = button(tr("untitled, %1").arg(when), tr("Never named, and still there: every finished step is in it"),
                        [this, path] { workspace_.openProject(path); });
    auto* drop = button(tr("Discard"), tr("Delete this untitled scene for good"), [this, path] {
      workspace_.discardLeftBehind(path);
      QMetaObject::invokeMethod(
          this, [this] { listRecents(); }, Qt::QueuedConnection);
    });
    column->addWidget(rowOf({open, drop}));
  }
}

}  // namespace hseam::app
