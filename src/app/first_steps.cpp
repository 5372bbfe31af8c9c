#include "app/first_steps.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <algorithm>

#include "app/stations/station.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

const char kPutAway[] = "first-steps/put-away";

template <class Test>
bool anyPicture(const scene::Scene& s, const Test& test) {
  const auto all = scene::allLayers(s);
  return std::any_of(all.begin(), all.end(), [&](const scene::LayerRef& l) { return l->picture() && test(*l->picture()); });
}

}  // namespace

FirstSteps::FirstSteps(Session& session, QWidget* parent)
    : QFrame(parent), session_(session), count_(new QLabel), what_(new QLabel) {
  setProperty("notice", true);
  steps_ = {
      {tr("Two pictures make a scene"), tr("a place, and a subject for it. Add them, or drop them on the picture."), kGather,
       "add", [](const scene::Scene& s) { return s.layers.size() >= 2; }},
      {tr("Guess the subject"),
       tr("choose its card in the sheet, then let the program guess. Right is subject, wrong can be painted."), kCutOut, "guess",
       [](const scene::Scene& s) {
         return anyPicture(s, [](const auto& p) { return !p.cutout->selection.isNull() || !p.cutout->alpha.isNull(); });
       }},
      {tr("Solve the edge"),
       tr("find the undecided band, paint it where you know better, then solve. Strands become partly see-through."), kCutOut,
       "solve", [](const scene::Scene& s) { return anyPicture(s, [](const auto& p) { return !p.cutout->alpha.isNull(); }); }},
      {tr("Set it in place"), tr("drag it where it stands; a corner scales it, the round grip turns it."), kPlace, "set-in-place",
       [](const scene::Scene& s) {
         return anyPicture(s, [](const auto& p) { return !p.cutout->alpha.isNull() && p.placement.scale != 1; });
       }},
      {tr("Match it to the light"), tr("add curves confined to it: shadows and highlights first, then colour."), kMatch,
       "add-adjustment",
       [](const scene::Scene& s) {
         const auto all = scene::allLayers(s);
         return std::any_of(all.begin(), all.end(), [](const scene::LayerRef& l) { return l->adjustment() && l->clip; });
       }},
      {tr("Look over it and hand it over"),
       tr("in grey, in hue, mirrored; then write a flat copy. The layered project is kept by itself."), kHandOver, "write",
       [](const scene::Scene&) { return false; }},
  };
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 6, 14, 6);
  row->setSpacing(10);
  count_->setFont(theme::font(theme::Size::normal, true));
  what_->setWordWrap(true);
  what_->setAccessibleName(tr("First steps"));
  row->addWidget(count_);
  row->addWidget(what_, 1);
  lead_ = button(tr("Show me where"), tr("Go to the place where this step is done"), [this] {
    const Step& s = steps_[std::size_t(step_)];
    emit ledTo(s.station, QLatin1String(s.page));
  });
  next_ = button(tr("Next step"), tr("Go on, whether it is done or not"),
                 [this] { step_ + 1 < int(steps_.size()) ? show(step_ + 1) : end(); });
  row->addWidget(lead_);
  row->addWidget(next_);
  row->addWidget(button(tr("Put away"), tr("Close these steps; \"First steps\" below brings them back"), [this] { end(); }));
  connect(&session_, &Session::historyChanged, this, [this] { look(); });
  hide();
}

bool FirstSteps::wanted() {
  return !QSettings().value(QLatin1String(kPutAway), false).toBool();
}

void FirstSteps::begin() {
  int first = 0;
  while (first + 1 < int(steps_.size()) && steps_[std::size_t(first)].done(session_.scene())) ++first;
  show(first);
  setVisible(true);
}

void FirstSteps::end() {
  hide();
  QSettings().setValue(QLatin1String(kPutAway), true);
}

void FirstSteps::show(int step) {
  step_ = step;
  const Step& s = steps_[std::size_t(step)];
  count_->setText(tr("%1 of %2").arg(step + 1).arg(steps_.size()));
  what_->setText(QStringLiteral("<b>%1:</b> %2").arg(s.what, s.how));
  next_->setText(step + 1 < int(steps_.size()) ? tr("Next step") : tr("That is all"));
}

void FirstSteps::look() {
  if (!isVisible()) return;
  if (step_ + 1 < int(steps_.size()) && steps_[std::size_t(step_)].done(session_.scene())) show(step_ + 1);
}

}  // namespace hseam::app
