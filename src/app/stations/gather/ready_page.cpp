#include "app/stations/gather/ready_page.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/match/scene_tones.h"
#include "app/stations/other_pictures.h"
#include "app/widgets/builders.h"
#include "app/widgets/level_lines.h"
#include "app/widgets/value_field.h"

namespace hseam::app {
namespace {

using tasks::Readying;
using tasks::ReadyNumbers;

QString percentOf(double share) {
  const double p = 100 * share;
  return p > 0 && p < 0.1 ? QObject::tr("under 0.1 %") : QStringLiteral("%1 %").arg(p, 0, 'f', 1);
}

QString readingWords(const measure::Reading& r, double times, const QString& unit) {
  return r.available ? QStringLiteral("%1 %2").arg(r.value * times, 0, 'f', 1).arg(unit) : QObject::tr("can't tell");
}

}  // namespace

ReadyPage::ReadyPage(Desk& desk)
    : Page(desk,
           {"ready", tr("Ready the picture"), tr("Light, colour and detail of the active picture before it is worked with")}),
      pick_([this](const QPointF& at) { takeGrey(at); }, [] { return tr("click something that is grey in truth"); }) {
  auto* c = column();
  c->addWidget(quietLabel(tr("Adjustments confined to the active picture. Its file stays as it came.")));
  buildLight(*c);
  buildColour(*c);
  buildDetail(*c);
  c->addWidget(quietLabel(tr("Like another picture")));
  other_ = new QComboBox;
  other_->setAccessibleName(tr("The picture that it is made like"));
  other_->setToolTip(tr("Its exposure and the colour of its light are the aim"));
  c->addWidget(namedRow(tr("like"), other_));
  alike_ = button(tr("Make it alike"),
                  tr("Exposure, warmth and tint as that picture has them; with several layers in hand, all of them"),
                  [this] { makeAlike(); });
  c->addWidget(alike_);
  refresh();
}

void ReadyPage::add(QVBoxLayout& c, ValueField* field, double Readying::*value, double times) {
  c.addWidget(field);
  fields_.push_back({field, value, times});
  const auto take = [this, value, times](double v, bool keep) {
    Readying r = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
    r.*value = v / times;
    if (r.sharpen > 0 && value == &Readying::sharpen && came_ && came_->blurPx.available)
      r.sharpenPx = std::clamp(came_->blurPx.value, 0.3, 20.0);
    change(r, keep);
  };
  connect(field, &ValueField::changing, this, [take](double v) { take(v, false); });
  connect(field, &ValueField::changed, this, [take](double v) { take(v, true); });
}

void ReadyPage::buildLight(QVBoxLayout& c) {
  lines_ = new LevelLines;
  c.addWidget(lines_);
  const auto take = [this](const scene::Levels& l, bool keep) {
    Readying r = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
    r.ends = l;
    change(r, keep);
  };
  connect(lines_, &LevelLines::changing, this, [take](const scene::Levels& l) { take(l, false); });
  connect(lines_, &LevelLines::changed, this, [take](const scene::Levels& l) { take(l, true); });
  cutOff_ = quietLabel({});
  cutOff_->setToolTip(tr("Share of the picture in which a channel lies at an end of the tones: nothing is left there"));
  c.addWidget(cutOff_);
  add(c, new ValueField(tr("exposure"), {-4, 4, 0, 2, tr("stops")}, tr("Light, doubled by each stop")), &Readying::stops, 1);
  add(c, new ValueField(tr("highlights"), {0, 100, 0, 0, QStringLiteral("%")}, tr("Brings back what bright areas still hold")),
      &Readying::highlights, 100);
  add(c, new ValueField(tr("shadows"), {0, 100, 0, 0, QStringLiteral("%")}, tr("Lifts what dark areas still hold")),
      &Readying::shadows, 100);
  add(c,
      new ValueField(tr("contrast"), {-100, 100, 0, 0, QStringLiteral("%")},
                     tr("Tones move away from the middle; both ends stay")),
      &Readying::contrast, 100);
}

void ReadyPage::buildColour(QVBoxLayout& c) {
  c.addWidget(quietLabel(tr("Colour")));
  add(c,
      new ValueField(tr("warmth"), {-110, 200, 0, 0, tr("mired")},
                     tr("Above 0 warmer, below 0 cooler; as gels for lamps are numbered")),
      &Readying::mired, 1);
  add(c, new ValueField(tr("tint"), {-100, 100, 0, 0, QStringLiteral("%")}, tr("Above 0 towards magenta, below 0 towards green")),
      &Readying::tint, 100);
  shot_ = button(tr("As shot"), tr("Warmth and tint as the camera left them"), [this] {
    Readying r = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
    r.mired = r.tint = 0;
    change(r, true);
  });
  light_ = button(tr("By its light"), tr("Takes the light's colour out as it is measured from the picture's edges"),
                  [this] { byItsLight(); });
  grey_ = button(tr("Click a grey"), tr("Then click something in the picture that is grey in truth"), [this] { emit changed(); });
  grey_->setCheckable(true);
  c.addWidget(rowOf({shot_, light_, grey_}));
  add(c,
      new ValueField(tr("saturation"), {-100, 100, 0, 0, QStringLiteral("%")},
                     tr("Pale colours gain or lose more than vivid ones")),
      &Readying::vivid, 100);
}

void ReadyPage::buildDetail(QVBoxLayout& c) {
  c.addWidget(quietLabel(tr("Detail")));
  measured_ = quietLabel({});
  measured_->setToolTip(tr("Of the middle of the picture at full size: as it came, and with what is set here"));
  c.addWidget(measured_);
  start_ = button(tr("Start from what is measured"),
                  tr("Sharpening for the measured blur, noise reduction for the measured grain; nothing where nothing is needed"),
                  [this] { startFromMeasured(); });
  c.addWidget(start_);
  add(c, new ValueField(tr("local contrast"), {-100, 200, 0, 0, QStringLiteral("%")}, tr("Tones against their surroundings")),
      &Readying::local, 100);
  add(c,
      new ValueField(tr("grain removed"), {0, 12, 0, 1, QStringLiteral("%")},
                     tr("Differences up to about this are evened out; edges stay")),
      &Readying::denoise, 100);
  add(c,
      new ValueField(tr("sharpening"), {0, 300, 0, 0, QStringLiteral("%")},
                     tr("Of the measured blur, as far as it is known; 100 %: the difference to the blurred picture once more")),
      &Readying::sharpen, 100);
}

Instrument* ReadyPage::instrument() {
  return grey_->isChecked() ? &pick_ : nullptr;
}

QString ReadyPage::words() const {
  if (!activePicture()) return tr("choose a picture");
  return tasks::readyingOf(desk_.session.scene(), desk_.session.active()) == Readying() ? tr("as it came") : tr("readied");
}

void ReadyPage::refresh() {
  const bool picture = activePicture() != nullptr;
  const Readying r = tasks::readyingOf(desk_.session.shown(), desk_.session.active());
  for (const Field& f : fields_) {
    f.field->setValue(r.*f.value * f.times);
    f.field->setEnabled(picture);
  }
  lines_->setEnabled(picture);
  lines_->setLevels(r.ends);
  for (QPushButton* b : {shot_, grey_, start_, light_}) b->setEnabled(picture);
  listOtherPictures(*other_, desk_.session);
  other_->setEnabled(other_->count() > 0);
  alike_->setEnabled(other_->count() > 0);
  showEnds();
  measure();
}

void ReadyPage::showEnds() {
  const auto came = tasks::pictureByItself(desk_.session.shown(), desk_.session.active(), false),
             now = tasks::pictureByItself(desk_.session.shown(), desk_.session.active(), true);
  if (!came.ok() || !now.ok()) {
    lines_->setHistograms({}, {});
    cutOff_->setText(tr("Choose a picture in the sheet at the left."));
    return;
  }
  lines_->setHistograms(tonesOf(*now, ToneOf::lightness), tonesOf(*came, ToneOf::lightness));
  const auto shares = tasks::cutOffShares(*now, desk_.session.executor());
  cutOff_->setText(shares.ok() ? tr("Clipped: shadows %1, highlights %2").arg(percentOf(shares->black), percentOf(shares->white))
                               : QString());
}

void ReadyPage::measure() {
  const scene::PictureContent* p = activePicture();
  if (!p) {
    measured_->setText(tr("nothing measured"));
    return;
  }
  const Readying r = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
  const std::pair of(p->source.stamp(), desk_.session.activeLayer()->mask.coverage.stamp());
  if (came_ && now_ && measuredOf_ == of && measuredWith_ == r) {
    const double levels = 255;
    measured_->setText(tr("blur %1, left %2\ngrain %3, left %4")
                           .arg(readingWords(came_->blurPx, 1, tr("px")), readingWords(now_->blurPx, 1, tr("px")),
                                readingWords(came_->grain, levels, QStringLiteral("/ 255")),
                                readingWords(now_->grain, levels, QStringLiteral("/ 255"))));
    return;
  }
  measured_->setText(tr("measuring blur and grain…\n"));
  if (measuredOf_ != of) came_.reset();
  now_.reset();
  measuredOf_ = of, measuredWith_ = r;
  using Both = std::pair<std::optional<ReadyNumbers>, std::optional<ReadyNumbers>>;
  desk_.aside.ask<Both>(
      {tr("Measure blur and grain"), QStringLiteral("ready numbers")},
      [s = desk_.session.scene(), id = desk_.session.active(), came = came_]() -> Both {
        base::InlineExecutor here;
        Both out{came, std::nullopt};
        if (!came) {
          if (auto n = tasks::readyNumbers(s, id, false, here, {}); n.ok()) out.first = *n;
        }
        if (auto n = tasks::readyNumbers(s, id, true, here, {}); n.ok()) out.second = *n;
        return out;
      },
      [this, of = measuredOf_, with = r](const Both& both) {
        if (of != measuredOf_ || !(with == measuredWith_) || !both.first || !both.second) return;
        came_ = both.first, now_ = both.second;
        measure();
      });
}

void ReadyPage::change(const Readying& to, bool keep) {
  const auto edit = tasks::readied(desk_.session.scene(), desk_.session.active(), to);
  if (!edit.ok()) return;
  if (!keep) {
    desk_.session.draft(*edit);
  } else {
    desk_.session.draft(std::nullopt);
    if (!edit->edits.empty()) desk_.session.apply(*edit);
  }
  emit changed();
}

void ReadyPage::takeGrey(const QPointF& at) {
  const scene::PictureContent* p = activePicture();
  const auto back = p ? p->placement.toScene(p->source.size()).inverse() : std::nullopt;
  if (!back) return;
  // As it came, whatever warmth it has now.
  const base::Point own = back->map({at.x(), at.y()});
  const auto alone = tasks::pictureByItself(desk_.session.scene(), desk_.session.active(), false);
  const auto shown = alone.ok() ? colourAt(desk_.session.executor(), *alone, {own.x, own.y}) : std::nullopt;
  if (!shown) {
    emit desk_.messages.said(tr("Click within %1").arg(activeName()));
    return;
  }
  const tasks::White w = tasks::whiteFor(*shown);
  Readying r = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
  r.mired = std::round(w.mired), r.tint = std::round(100 * w.tint) / 100;
  grey_->setChecked(false);
  change(r, true);
}

void ReadyPage::startFromMeasured() {
  if (!came_) {
    emit desk_.messages.said(tr("Blur and grain are still being measured"));
    return;
  }
  const Readying now = tasks::readyingOf(desk_.session.scene(), desk_.session.active()), to = tasks::startingFrom(now, *came_);
  if (to.sharpen == 0 && to.denoise == 0)
    emit desk_.messages.said(tr("%1 is crisp and free of grain: there is nothing to do").arg(activeName()));
  change(to, true);
}

void ReadyPage::byItsLight() {
  if (!came_ || !came_->light.available) {
    emit desk_.messages.said(came_ ? tr("The colour of its light can't be told") : tr("Its light is still being measured"));
    return;
  }
  ReadyNumbers white = *came_;
  white.light.a = white.light.b = 0;
  const Readying now = tasks::readyingOf(desk_.session.scene(), desk_.session.active());
  Readying to = tasks::alike(now, *came_, white);
  to.stops = now.stops;
  change(to, true);
}

void ReadyPage::makeAlike() {
  if (other_->currentIndex() < 0) return;
  const scene::LayerId like{other_->currentData().toULongLong()};
  std::vector<scene::LayerId> which;
  const scene::Scene from = desk_.session.scene();
  for (const scene::LayerId id : desk_.session.inHand()) {
    const scene::Layer* l = scene::findLayer(from, id);
    if (l && l->picture() && id != like) which.push_back(id);
  }
  desk_.jobs.start<scene::Several>(
      {tr("Make pictures alike"), QStringLiteral("ready alike")},
      [from, which, like](base::Executor& executor, const base::Progress& progress) -> base::Result<scene::Several> {
        HSEAM_TRY(const ReadyNumbers aim, tasks::readyNumbers(from, like, true, executor, progress.part(0, 0.3)));
        scene::Scene now = from;
        scene::Several all{"make pictures alike", {}};
        for (const scene::LayerId id : which) {
          HSEAM_TRY(const ReadyNumbers own, tasks::readyNumbers(now, id, false, executor, progress));
          HSEAM_TRY(const scene::Several one, tasks::readied(now, id, tasks::alike(tasks::readyingOf(now, id), own, aim)));
          HSEAM_TRY(now, scene::apply(now, one));
          all.edits.insert(all.edits.end(), one.edits.begin(), one.edits.end());
        }
        return all;
      },
      [this, from](const scene::Several& all) {
        if (!all.edits.empty()) desk_.session.applyResult(all, from);
      });
}

}  // namespace hseam::app
