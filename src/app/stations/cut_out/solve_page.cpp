#include "app/stations/cut_out/solve_page.h"

#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/widgets/builders.h"

namespace hseam::app {

SolvePage::SolvePage(Desk& desk)
    : Page(desk, {"solve", tr("Solve the edge"), tr("Find how much of each undecided pixel is subject, and its own colour")}),
      original_(new QCheckBox(tr("see the original colours"))),
      clean_(new QCheckBox(tr("clean colours in the scene"))) {
  auto* c = column();
  c->addWidget(
      quietLabel(tr("Gives the layer its mask, strand by strand, and takes the old background's colour out of the edge. What you "
                    "painted on the mask stays.")));
  auto* solveButton = button(tr("Solve"), tr("Solve alpha and the subject's own colours in the band"), [this] { solve(); });
  solveButton->setProperty("main", true);
  c->addWidget(solveButton);
  original_->setToolTip(tr("The edge as photographed, old background's colour included; compare with the clean colours"));
  connect(original_, &QCheckBox::clicked, this, &Page::changed);
  c->addWidget(original_);
  clean_->setToolTip(tr("Whether the scene shows the subject's own colours at the edge or the original ones"));
  connect(clean_, &QCheckBox::clicked, this, [this](bool on) {
    if (activePicture()) desk_.session.apply(scene::SetUseClean{desk_.session.active(), on});
  });
  c->addWidget(clean_);
}

QString SolvePage::words() const {
  const auto* p = activePicture();
  if (!p || p->cutout->alpha.isNull()) return tr("not yet");
  return took_ > 0 ? tr("%1 s").arg(took_, 0, 'f', 1) : tr("solved");
}

void SolvePage::changeView(View& view) const {
  view.original = original_->isChecked();
}

void SolvePage::refresh() {
  const auto* p = activePicture();
  clean_->setChecked(p && p->cutout->useClean);
  for (QCheckBox* b : {clean_, original_}) b->setEnabled(p && !p->cutout->clean.isNull());
}

void SolvePage::solve() {
  QElapsedTimer timer;
  timer.start();
  if (const auto* p = activePicture(); p && (!p->cutout->selection.isNull() || !p->cutout->band.isNull())) emit openAsked();
  solveEdge(desk_, [this, timer] {
    took_ = double(timer.elapsed()) / 1000;
    emit openAsked();
    emit solved();
    emit changed();
  });
}

}  // namespace hseam::app
