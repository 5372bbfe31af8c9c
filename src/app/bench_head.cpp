#include "app/bench_head.h"

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme/sign.h"
#include "app/theme/theme.h"
#include "app/widgets/builders.h"

namespace hseam::app {

BenchHead::BenchHead(Lane& jobs, QWidget* parent)
    : QFrame(parent), jobs_(jobs), what_(new QLabel), why_(quietLabel({})), progress_(new QProgressBar), waiting_(new QWidget) {
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
  cancel_ = button(tr("Stop"), tr("Stop this work; nothing is changed by it"), [this] {
    if (const auto entries = jobs_.entries(); !entries.empty()) jobs_.stop(entries.front().id);
  });
  cancel_->setIcon(theme::sign("stop"));
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setAccessibleName(tr("Progress"));
  column->addWidget(progress_);
  auto* row = rowOf({act_, cancel_});
  static_cast<QHBoxLayout*>(row->layout())->addStretch(1);
  column->addWidget(row);
  auto* lines = new QVBoxLayout(waiting_);
  lines->setContentsMargins(0, 0, 0, 0);
  lines->setSpacing(2);
  column->addWidget(waiting_);
  connect(&jobs_, &Lane::changed, this, [this] { showJob(); });
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
  const std::vector<Lane::Entry> entries = jobs_.entries();
  const bool running = !entries.empty();
  progress_->setVisible(running);
  cancel_->setVisible(running);
  act_->setVisible(!running && !step_.button.isEmpty());
  what_->setText(running ? entries.front().name : step_.what);
  act_->setText(step_.button);
  listWaiting(entries);
  if (!running) {
    why_->setText(step_.why);
    return;
  }
  progress_->setValue(int(entries.front().share * 1000));
  const double left = entries.front().secondsLeft;
  why_->setText(left > 0.5 ? tr("about %1 s left").arg(int(left + 0.5)) : tr("working…"));
}

void BenchHead::listWaiting(const std::vector<Lane::Entry>& entries) {
  std::vector<quint64> ids;
  for (const Lane::Entry& e : entries) {
    if (!e.runs) ids.push_back(e.id);
  }
  waiting_->setVisible(!ids.empty());
  if (ids == waitingIds_) return;
  waitingIds_ = ids;
  emptyLayout(*waiting_->layout());
  for (const Lane::Entry& e : entries) {
    if (e.runs) continue;
    auto* stop = button(tr("Stop"), tr("Take %1 off the list; nothing is changed by it").arg(e.name), [this, id = e.id] {
      QMetaObject::invokeMethod(
          this, [this, id] { jobs_.stop(id); }, Qt::QueuedConnection);
    });
    stop->setAccessibleName(tr("Stop %1").arg(e.name));
    auto* row = rowOf({quietLabel(tr("then: %1").arg(e.name)), stop});
    waiting_->layout()->addWidget(row);
  }
}

}  // namespace hseam::app
