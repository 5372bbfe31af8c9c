#include "app/stations/look_over/fresh_eyes.h"

#include <QCheckBox>
#include <QDateTime>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/document/rest.h"
#include "app/widgets/builders.h"
#include "core/scene/visits.h"

namespace hseam::app {
namespace {

constexpr int kVisits = 6, kLines = 8;

QString timeOf(const scene::Visit& v) {
  if (v.endedMs == 0) return QObject::tr("earlier");
  const QDateTime from = QDateTime::fromMSecsSinceEpoch(v.beganMs), to = QDateTime::fromMSecsSinceEpoch(v.endedMs);
  const QLocale locale;
  const QString day =
      from.date() == QDate::currentDate() ? QObject::tr("today") : locale.toString(from.date(), QLocale::ShortFormat);
  return QStringLiteral("%1, %2–%3")
      .arg(day, locale.toString(from.time(), QStringLiteral("HH:mm")), locale.toString(to.time(), QStringLiteral("HH:mm")));
}

}  // namespace

FreshEyes::FreshEyes(Desk& desk)
    : Page(desk,
           {"fresh", tr("Fresh eyes"), tr("Get up, look out of the window, come back: what was done since, and how it was")}) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(
      rowOf({button(tr("Look anew"), tr("Shows the picture mirrored for a moment: what you have got used to looks new"),
                    [this] { emit lookAnew(); })}));
  first_ =
      quietLabel(tr("This is the first visit. After %1 minutes' rest the next one begins, and what was done since is told here.")
                     .arg(Rest::kPauseMs / 60000));
  column->addWidget(first_);
  auto* list = new QWidget;
  rows_ = new QVBoxLayout(list);
  rows_->setContentsMargins(0, 0, 0, 0);
  column->addWidget(list);
  done_ = quietLabel(QString());
  done_->setAccessibleName(tr("What was done since"));
  column->addWidget(done_);
  curtain_ = new QCheckBox(tr("left of the curtain"));
  curtain_->setToolTip(tr("The picture as that visit left it; drag the dashed line"));
  difference_ = new QCheckBox(tr("the difference to it, four times"));
  difference_->setToolTip(tr("Black where nothing changed since that visit"));
  for (QCheckBox* c : {curtain_, difference_}) {
    connect(c, &QCheckBox::clicked, this, [this] { emit changed(); });
    column->addWidget(c);
  }
  connect(&desk_.session, &Session::replaced, this, [this] {
    chosenScene_.reset();
    builtCount_ = -1;
  });
  remind_ = new QCheckBox(tr("remind me of a pause"));
  remind_->setToolTip(tr("After %1 minutes without one, with a word in the line below").arg(Rest::kLongMs / 60000));
  remind_->setChecked(Rest::reminds());
  connect(remind_, &QCheckBox::clicked, this, [](bool on) { Rest::setReminds(on); });
  column->addWidget(remind_);
}

void FreshEyes::build() {
  const scene::History& history = desk_.session.history();
  emptyLayout(*rows_);
  auto visits = scene::visitsOf(history, Rest::kPauseMs);
  visits.pop_back();  // the one that goes on
  if (std::none_of(visits.begin(), visits.end(), [&](const auto& v) { return v.last == chosen_; }))
    chosen_ = visits.empty() ? -1 : visits.back().last;
  for (int i = 0; i < kVisits && i < int(visits.size()); ++i) {
    const scene::Visit& v = visits[visits.size() - 1 - std::size_t(i)];
    const int steps = v.last - v.first + 1;
    auto* b = new QRadioButton(steps == 1 ? tr("%1: one step").arg(timeOf(v)) : tr("%1: %2 steps").arg(timeOf(v)).arg(steps));
    b->setToolTip(tr("Look back at the picture as this visit left it"));
    b->setChecked(v.last == chosen_);
    connect(b, &QRadioButton::clicked, this, [this, last = v.last] {
      chosen_ = last;
      refresh();
      emit changed();
    });
    rows_->addWidget(b);
  }
}

void FreshEyes::refresh() {
  const scene::History& history = desk_.session.history();
  if (history.count() != builtCount_ || history.current() != builtCurrent_) {
    builtCount_ = history.count(), builtCurrent_ = history.current();
    build();
  }
  const bool any = chosenScene() != nullptr;
  first_->setVisible(!any);
  for (QWidget* w : std::initializer_list<QWidget*>{curtain_, difference_, done_}) w->setVisible(any);
  if (!any) return;
  const auto done = scene::doneSince(history, chosen_);
  QStringList lines;
  const std::size_t from = done.size() > kLines ? done.size() - kLines : 0;
  if (from > 0) lines << tr("… %1 more").arg(from);
  for (std::size_t i = from; i < done.size(); ++i) lines << QString::fromStdString(done[i]);
  done_->setText(done.empty() ? tr("Nothing was changed since.") : tr("Since then:\n%1").arg(lines.join(QLatin1Char('\n'))));
}

QString FreshEyes::words() const {
  const auto n = scene::visitsOf(desk_.session.history(), Rest::kPauseMs).size();
  return n == 1 ? tr("first visit") : tr("%1 visits").arg(n);
}

std::shared_ptr<const scene::Scene> FreshEyes::chosenScene() const {
  const scene::History& history = desk_.session.history();
  if (chosen_ < 0 || chosen_ >= history.current()) return nullptr;
  // The same one each time, so that views that are alike are equal.
  if (!chosenScene_ || chosenSceneStep_ != chosen_) {
    const auto scene = history.sceneOf(chosen_);
    if (!scene.ok()) return nullptr;
    chosenScene_ = std::make_shared<const scene::Scene>(*scene);
    chosenSceneStep_ = chosen_;
  }
  return chosenScene_;
}

std::optional<scene::Scene> FreshEyes::behindCurtain() const {
  const auto s = curtain_->isChecked() ? chosenScene() : nullptr;
  return s ? std::optional(*s) : std::nullopt;
}

void FreshEyes::changeView(View& view) const {
  view.against = difference_->isChecked() ? chosenScene() : nullptr;
}

QString FreshEyes::sinceLastVisit() const {
  const scene::History& history = desk_.session.history();
  const auto visits = scene::visitsOf(history, Rest::kPauseMs);
  if (visits.size() < 2) return {};
  const auto done = scene::doneSince(history, visits[visits.size() - 2].last);
  return done.empty() ? QString() : tr("Since the last visit: %1").arg(QString::fromStdString(done.back()));
}

}  // namespace hseam::app
