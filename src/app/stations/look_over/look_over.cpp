#include "app/stations/look_over/look_over.h"

#include "core/scene/edit.h"
#include "core/tasks/plate.h"

namespace hseam::app {

LookOver::LookOver(Desk& desk) : Station(desk), watch_(desk.session, desk.background), heat_(desk.session, desk.aside) {
  heading(tr("What the program sees"));
  findings_ = add(new FindingsPage(desk, watch_));
  add(new CompareWith(desk));
  add(new Tolerances(desk));
  heading(tr("What you see"));
  eyes_ = add(new OtherEyes(desk));
  fresh_ = add(new FreshEyes(desk));
  reference_ = add(new Reference(desk));
  monitor_ = add(new Monitor(desk));
  paper_ = add(new OnPaper(desk));
  connect(eyes_, &OtherEyes::heatAsked, &heat_, &HeatView::setOn);
  connect(&heat_, &HeatView::changed, this, &Station::changed);
  connect(monitor_, &Monitor::changed, paper_, [this] { paper_->setMonitor(monitor_->path()); });
  paper_->setMonitor(monitor_->path());
  openPage(QStringLiteral("findings"));
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

void LookOver::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  heat_.paint(painter, toWidget);
  Station::paintOver(painter, toWidget, widget);
}

void LookOver::refresh() {
  heat_.refresh();
  Station::refresh();
}

View LookOver::view() const {
  View v;
  eyes_->changeView(v);
  fresh_->changeView(v);
  return v;
}

const std::shared_ptr<const image::DisplayTransform>& LookOver::display() const {
  return open_ && paper_->transform() ? paper_->transform() : monitor_->transform();
}

bool LookOver::mirrored() const {
  return eyes_->mirrored();
}

std::optional<scene::Scene> LookOver::before() const {
  if (auto then = fresh_->behindCurtain()) return then;
  if (!eyes_->curtain()) return std::nullopt;
  return tasks::asTheyCame(desk_.session.scene());
}

// What can't be told until somebody says so is asked, one thing at a time and only where the answer matters.
std::optional<NextStep> LookOver::question() const {
  const auto& report = watch_.report();
  if (!report) return std::nullopt;
  const auto asking = [&](findings::Asks what) -> const findings::Verdict* {
    const auto at = std::find_if(report->readings.begin(), report->readings.end(),
                                 [&](const findings::Verdict& v) { return v.asks == what && !v.quiet; });
    return at == report->readings.end() ? nullptr : &*at;
  };
  const auto step = [this](const QString& what, const QString& why, const QString& button, const QString& page) {
    return NextStep{what, why, button, [self = const_cast<LookOver*>(this), page] { emit self->placeAsked(page); }};
  };
  const scene::Scene& s = desk_.session.scene();
  if (const auto* asks = s.floor ? nullptr : asking(findings::Asks::floor)) {
    const QString why = tr("Whether %1 stands on it, and how large it should be there, follows from the horizon.")
                            .arg(QString::fromStdString(asks->layerName)),
                  what = report->floor.floor
                             ? tr("%1 lines of the picture tell it: drag it if it is wrong, or say that it lies there.")
                                   .arg(report->floor.lines)
                             : tr("Drag its line to where level lines meet, or say that it lies right.");
    return step(tr("Where does the floor lie?"), why + QLatin1Char(' ') + what, tr("Show the line"), QStringLiteral("floor"));
  }
  if (const auto* asks = s.light ? nullptr : asking(findings::Asks::light)) {
    return step(tr("Does anything in the picture cast a shadow?"),
                tr("Drag from its foot to the tip of its shadow, and %1 gets one that falls alike; or say that nothing does.")
                    .arg(QString::fromStdString(asks->layerName)),
                tr("Show a shadow"), QStringLiteral("light"));
  }
  return std::nullopt;
}

NextStep LookOver::nextStep() const {
  if (desk_.session.scene().layers.empty())
    return onTo(kGather, tr("Nothing to look at yet"), tr("Add pictures first."), tr("Go to Gather"));
  if (auto asked = question()) return *asked;
  if (const auto& report = watch_.report(); report && !report->findings.empty()) {
    const findings::Verdict& first = report->findings.front();
    return {tr("%1: %2").arg(QString::fromStdString(first.layerName), tr(findings::kindOf(first.kind).name)),
            QString::fromStdString(first.sentence.text()), tr("Show it"), [self = const_cast<LookOver*>(this)] {
              self->openPage(QStringLiteral("findings"));
              self->findings_->step(1);
            }};
  }
  return onTo(
      kHandOver, tr("Look with other eyes"),
      tr("In grey: do shadows and highlights agree? In hue: does the subject share the scene's colour of light? Mirrored: is "
         "it still at ease? Then hand it over."),
      tr("Go on to Hand over"));
}

std::pair<RunOfWork::Stitch, QString> LookOver::state() const {
  if (const auto& report = watch_.report(); report && !report->layers.empty()) {
    const auto n = report->findings.size();
    if (n > 0) return {RunOfWork::Stitch::knotted, n == 1 ? tr("1 finding") : tr("%1 findings").arg(n)};
    return {RunOfWork::Stitch::tight, tr("nothing found")};
  }
  return desk_.session.scene().layers.size() > 1 ? std::pair{RunOfWork::Stitch::loose, tr("grey, hue, mirrored")}
                                                 : std::pair{RunOfWork::Stitch::none, tr("nothing to see yet")};
}

}  // namespace hseam::app
