#include "app/stations/look_over.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QLabel>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/stations/ways_of_seeing.h"
#include "core/scene/edit.h"

namespace hseam::app {

LookOver::LookOver(Desk& desk, QWidget* parent) : Station(desk, parent), watch_(desk), heat_(desk) {
  findingsPleat_ = pleats_->add(tr("What gives it away"), tr("Every cut-out's readings against the scene, and what mends them"));
  findings_ = new FindingsPleat(desk, watch_);
  findingsPleat_->content()->addWidget(findings_);
  connect(findings_, &FindingsPleat::changed, this, &Station::changed);
  Pleat* pleat =
      pleats_->add(tr("Look with other eyes"), tr("Views that give a composite away; the picture itself is not changed"));
  eyes_ = new QButtonGroup(this);
  for (const WayOfSeeing& w : waysOfSeeing()) {
    auto* b = new QRadioButton(w.name);
    b->setToolTip(w.tip);
    b->setAccessibleDescription(w.tip);
    b->setChecked(w.eyes == Eyes::plain);
    eyes_->addButton(b, int(w.eyes));
    pleat->content()->addWidget(b);
  }
  connect(eyes_, &QButtonGroup::idClicked, this, [this] { emit changed(); });
  mirror_ = new QCheckBox(tr("mirrored"));
  mirror_->setToolTip(tr("Left and right swapped: what you have got used to looks new"));
  curtain_ = new QCheckBox(tr("before and after, with a curtain"));
  curtain_->setToolTip(
      tr("Left of the curtain: the pictures without adjustments and masks' clean colours. Drag the dashed line."));
  for (QCheckBox* c : {mirror_, curtain_}) {
    connect(c, &QCheckBox::clicked, this, [this] { emit changed(); });
    pleat->content()->addWidget(c);
  }
  auto* heat = new QCheckBox(tr("heat along the seams"));
  heat->setToolTip(
      tr("Thin and blue where the cut does not show, broad and amber where its old background is left on it or its "
         "edge is unlike the rest"));
  connect(heat, &QCheckBox::clicked, &heat_, &HeatView::setOn);
  connect(&heat_, &HeatView::changed, this, &Station::changed);
  pleat->content()->addWidget(heat);
  small_ = new SmallAmong(desk);
  pleat->content()->addWidget(small_);
  freshPleat_ =
      pleats_->add(tr("Fresh eyes"), tr("Get up, look out of the window, come back: what was done since, and how it was"));
  fresh_ = new FreshEyes(desk);
  freshPleat_->content()->addWidget(fresh_);
  connect(fresh_, &FreshEyes::changed, this, &Station::changed);
  Pleat* beside = pleats_->add(tr("Side by side"), tr("A reference or an earlier state, pinned beside the picture"));
  reference_ = new Reference(desk);
  beside->content()->addWidget(reference_);
  Pleat* monitor = pleats_->add(tr("Your monitor"), tr("Its colour profile, so that the canvas shows the colours as they are"));
  monitor_ = new Monitor(desk);
  monitor->content()->addWidget(monitor_);
  comparePleat_ = pleats_->add(tr("What it is compared with"), tr("Its surroundings, or what you mark on the picture"));
  compare_ = new CompareWith(desk);
  comparePleat_->content()->addWidget(compare_);
  tolerancesPleat_ =
      pleats_->add(tr("How strictly it is judged"), tr("Which kinds are looked for, and from where on they count"));
  tolerances_ = new Tolerances(desk);
  tolerancesPleat_->content()->addWidget(tolerances_);
  paperPleat_ = pleats_->add(tr("On paper"), tr("As it will be printed: colours, paper and size"));
  paper_ = new OnPaper(desk);
  paperPleat_->content()->addWidget(paper_);
  connect(monitor_, &Monitor::changed, paper_, [this] { paper_->setMonitor(monitor_->path()); });
  paper_->setMonitor(monitor_->path());
  pleats_->open(findingsPleat_);
}

void LookOver::showEvent(QShowEvent* event) {
  watch_.setKeen(true);
  open_ = true;
  Station::showEvent(event);
  emit shownOrHidden();
}
void LookOver::hideEvent(QHideEvent* event) {
  watch_.setKeen(false);
  open_ = false;
  Station::hideEvent(event);
  emit shownOrHidden();
}

Instrument* LookOver::instrument() {
  if (pleats_->current() == comparePleat_) return compare_->tool();
  return pleats_->current() == findingsPleat_ ? findings_->tool() : nullptr;
}

void LookOver::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  heat_.paint(painter, toWidget);
  if (pleats_->current() == comparePleat_) compare_->paintOver(painter, toWidget, widget);
}

void LookOver::refresh() {
  heat_.refresh();
  findings_->refresh();
  findingsPleat_->setValue(findings_->words());
  small_->refresh();
  fresh_->refresh();
  freshPleat_->setValue(fresh_->words());
  compare_->refresh();
  comparePleat_->setValue(compare_->words());
  tolerances_->refresh();
  tolerancesPleat_->setValue(tolerances_->words());
  paper_->refresh();
  paperPleat_->setValue(paper_->words());
}

View LookOver::view() const {
  View v;
  v.eyes = Eyes(eyes_->checkedId());
  v.against = fresh_->against();
  return v;
}

const std::shared_ptr<const image::DisplayTransform>& LookOver::display() const {
  return open_ && paper_->transform() ? paper_->transform() : monitor_->transform();
}

bool LookOver::mirrored() const {
  return mirror_->isChecked();
}

std::optional<scene::Scene> LookOver::before() const {
  if (auto then = fresh_->behindCurtain()) return then;
  if (!curtain_->isChecked()) return std::nullopt;
  // The same pictures in their places, cut, but as they came: no adjustments, no modes, no cleaned colours.
  scene::Scene s = desk_.scene();
  for (const auto& l : scene::allLayers(s)) {
    const auto then = [&](const scene::Edit& e) {
      if (auto next = scene::apply(s, e); next.ok()) s = std::move(next).value();
    };
    if (l->adjustment()) {
      then(scene::SetHidden{l->id, true});
    } else if (l->picture()) {
      then(scene::SetUseClean{l->id, false});
      then(scene::SetMode{l->id, scene::BlendMode::normal});
    }
  }
  return s;
}

// What can't be told until somebody says so is asked, one thing at a time and only where the answer matters.
std::optional<NextStep> LookOver::question() const {
  const auto& report = watch_.report();
  if (!report || desk_.scene().floor) return std::nullopt;
  const auto asks = std::find_if(report->readings.begin(), report->readings.end(),
                                 [](const findings::Verdict& v) { return v.asksForFloor && !v.quiet; });
  if (asks == report->readings.end()) return std::nullopt;
  return NextStep{tr("Where does the floor lie?"),
                  tr("Whether %1 stands on it, and how large it should be there, follows from the horizon. Drag its line to "
                     "where level lines meet, or say that it lies right.")
                      .arg(QString::fromStdString(asks->layerName)),
                  tr("Show the line"), [self = const_cast<LookOver*>(this)] { emit self->floorAsked(); }};
}

NextStep LookOver::nextStep() const {
  if (desk_.scene().layers.empty())
    return onTo(kGather, tr("Nothing to look at yet"), tr("Add pictures first."), tr("Go to Gather"));
  if (auto asked = question()) return *asked;
  if (const auto& report = watch_.report(); report && !report->findings.empty()) {
    const findings::Verdict& first = report->findings.front();
    return {tr("%1: %2").arg(QString::fromStdString(first.layerName), tr(findings::kindOf(first.kind).name)),
            QString::fromStdString(first.reason), tr("Show it"), [self = const_cast<LookOver*>(this)] {
              self->pleats_->open(self->findingsPleat_);
              self->findings_->step(1);
            }};
  }
  return onTo(kHandOver, tr("Look with other eyes"),
              tr("In grey: do darks and lights agree? In hue: does the subject share the scene's colour of light? Mirrored: is "
                 "it still at ease? Then hand it over."),
              tr("Go on to Hand over"));
}

std::pair<RunOfWork::Stitch, QString> LookOver::state() const {
  if (const auto& report = watch_.report(); report && !report->layers.empty()) {
    const auto n = report->findings.size();
    if (n > 0) return {RunOfWork::Stitch::knotted, n == 1 ? tr("1 finding") : tr("%1 findings").arg(n)};
    return {RunOfWork::Stitch::tight, tr("nothing found")};
  }
  return desk_.scene().layers.size() > 1 ? std::pair{RunOfWork::Stitch::loose, tr("grey, hue, mirrored")}
                                         : std::pair{RunOfWork::Stitch::none, tr("nothing to see yet")};
}

}  // namespace hseam::app
