#include "app/bench_head.h"

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme/sign.h"
#include "app/theme/theme.h"
#include "app/widgets/builders.h"

namespace hseam::app {

BenchHead::BenchHead(Desk& desk, QWidget* parent)
    : QFrame(parent), desk_(desk), what_(new QLabel), why_(quietLabel({})), progress_(new QProgressBar) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 14, 12);
  column->setSpacing(5);
  what_->setFont(theme::font(theme::Size::title, true));
  what_->setWordWrap(true);
  column->addWidget(what_);
  column->addWidget(why_);
  act_ = button({}, tr("Do the next most useful step (Ctrl+Return)"), [this] {
    if (step_.act) step_.act();
  });
  act_->setProperty("main", true);
  cancel_ = button(tr("Stop"), tr("Stop this work; nothing is changed by it"), [this] { desk_.jobs().cancel(); });
  cancel_->setIcon(theme::sign("stop"));
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setAccessibleName(tr("Progress"));
  column->addWidget(progress_);
  auto* row = rowOf({act_, cancel_});
  static_cast<QHBoxLayout*>(row->layout())->addStretch(1);
  column->addWidget(row);
  connect(&desk_.jobs(), &Jobs::changed, this, [this] { showJob(); });
  showJob();
}

void BenchHead::act() {
  if (act_->isVisible()) act_->click();
}

void BenchHead::setStep(const NextStep& step) {
  step_ = step;
  showJob();
}

void BenchHead::showJob() {
  const Jobs& jobs = desk_.jobs();
  const bool running = jobs.running();
  progress_->setVisible(running);
  cancel_->setVisible(running);
  act_->setVisible(!running && !step_.button.isEmpty());
  what_->setText(running ? jobs.name() : step_.what);
  act_->setText(step_.button);
  if (!running) {
    why_->setText(step_.why);
    return;
  }
  progress_->setValue(int(jobs.share() * 1000));
  const double left = jobs.secondsLeft();
  why_->setText(left > 0.5 ? tr("about %1 s left").arg(int(left + 0.5)) : tr("working…"));
}

}  // namespace hseam::app
