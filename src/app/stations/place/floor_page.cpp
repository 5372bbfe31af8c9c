#include "app/stations/place/floor_page.h"

#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/findings/found_floor.h"
#include "core/matte/standing.h"

namespace hseam::app {

FloorPage::FloorPage(Desk& desk)
    : Page(desk, {"floor", tr("Floor and horizon"), tr("How large a subject stands where its foot is")}),
      tool_(desk.session, desk.messages),
      reading_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(
      quietLabel(tr("Drag the horizon on the picture: it lies where level lines meet, at the height of the camera.")));
  auto* find = button(tr("Find it in the picture"),
                      tr("From edges that run away from the camera: planks, kerbs, walls. Says so where there are too few"),
                      [this] { findIt(); });
  find->setProperty("main", true);
  column->addWidget(find);
  column->addWidget(
      rowOf({button(tr("From level lines"),
                    tr("Draw four lines on the picture, two and two parallel in the scene: planks, walls, roofs. "
                       "Escape after two is enough where the camera was held level"),
                    [this] {
                      tool_.beginLines();
                      emit changed();
                    }),
             button(tr("As guides"),
                    tr("The horizon as a help line, and a fan of lines from each point where level lines that you drew "
                       "meet: edges of what you bend catch on them"),
                    [this] {
                      auto guides = desk_.session.scene().guides;
                      guides.push_back({false, std::round(tool_.now().horizonY)});
                      for (const base::Point& p : tool_.meetings()) guides.push_back({false, 0, p});
                      desk_.session.apply(scene::SetGuides{guides});
                    })}));
  here_ = button(tr("The horizon lies there"), tr("The line lies right as it is drawn: what rests on it counts as known"),
                 [this] { setFloor([](scene::Floor&) {}, true); });
  column->addWidget(here_);
  told_ = quietLabel({});
  told_->hide();
  column->addWidget(told_);
  height_ = new ValueField(tr("camera at"), {0.05, 100, 1.6, 2, tr("m"), false}, tr("Height of the camera above the floor"));
  angle_ = new ValueField(tr("sees"), {5, 150, 50, 0, tr("°"), true}, tr("Angle of view across the picture's width"));
  real_ = new ValueField(tr("stands"), {0, 30, 0, 2, tr("m tall"), true, tr("unknown")},
                         tr("Real height of the active subject, from its lowest to its highest part"));
  connect(height_, &ValueField::changing, this,
          [this](double v) { setFloor([v](scene::Floor& f) { f.cameraHeightM = v; }, false); });
  connect(height_, &ValueField::changed, this,
          [this](double v) { setFloor([v](scene::Floor& f) { f.cameraHeightM = v; }, true); });
  connect(angle_, &ValueField::changing, this,
          [this](double v) { setFloor([v](scene::Floor& f) { f.viewAngleDeg = v; }, false); });
  connect(angle_, &ValueField::changed, this, [this](double v) { setFloor([v](scene::Floor& f) { f.viewAngleDeg = v; }, true); });
  connect(real_, &ValueField::changed, this, [this](double v) {
    if (picture() && picture()->realHeightM != v) desk_.session.apply(scene::SetRealHeight{desk_.session.active(), v});
  });
  own_ = new ValueField(
      tr("own horizon"), {-1, 32768, -1, 0, tr("px"), true, tr("unknown")},
      tr("Where the horizon lies in the subject's own picture, px from its top: then it is told if it was seen from another "
         "height. The lowest value: unknown"));
  connect(own_, &ValueField::changed, this, [this](double v) {
    const std::optional<double> at = v < 0 ? std::nullopt : std::optional(v);
    if (picture() && picture()->horizonY != at) desk_.session.apply(scene::SetOwnHorizon{desk_.session.active(), at});
  });
  for (ValueField* f : {height_, angle_, real_, own_}) column->addWidget(f);
  reading_->setWordWrap(true);
  reading_->setAccessibleName(tr("Size on the floor"));
  column->addWidget(reading_);
  keeps_ = new QCheckBox(tr("keeps its size as it is moved"));
  keeps_->setToolTip(tr("Moved on the picture, it grows towards you and shrinks into the distance"));
  column->addWidget(keeps_);
  column->addWidget(button(tr("Stand it right"), tr("Scales it about its foot to what the floor asks for"), [this] { stand(); }));
}

const scene::PictureContent* FloorPage::picture() const {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  return l ? l->picture() : nullptr;
}

bool FloorPage::keepsSize() const {
  return keeps_->isChecked() && picture() && picture()->realHeightM > 0 && covered_;
}

// What of the active picture is the subject, worked out beside the window.
void FloorPage::findOutline() {
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  const image::TiledImage mask = p && l->mask.acts() ? l->mask.coverage : image::TiledImage();
  const std::uint64_t of = !p ? 0 : (mask.isNull() ? p->source.stamp() : mask.stamp());
  if (of == outlineOf_) return;
  outlineOf_ = of;
  covered_.reset();
  if (!p) return;
  if (mask.isNull()) {
    const base::Size s = p->source.size();
    covered_ = base::Rect::of(s);
    foot_ = {s.width / 2.0, double(s.height)};
    return;
  }
  desk_.aside.ask<base::Result<std::optional<matte::Standing>>>(
      QStringLiteral("standing"), [mask] { return matte::standingOf(mask); },
      [this](const base::Result<std::optional<matte::Standing>>& found) {
        if (!found.ok() || !*found) return;
        covered_ = (*found)->covered;
        foot_ = (*found)->foot;
        refresh();
      });
}

std::optional<double> FloorPage::ratio(const scene::Placement& now) const {
  const auto* p = picture();
  if (!p || p->realHeightM <= 0 || !covered_) return std::nullopt;
  const scene::Scene& s = desk_.session.shown();
  const base::Point foot = now.toScene(p->source.size()).map(foot_);
  const auto wanted = scene::heightAtFoot(scene::FloorCamera(tool_.now(), s.canvas), foot, p->realHeightM);
  if (!wanted || *wanted < 1e-6) return std::nullopt;
  return now.scale * covered_->height / *wanted;
}

std::optional<scene::Placement> FloorPage::standing(const scene::Placement& now) const {
  const auto off = ratio(now);
  if (!off) return std::nullopt;
  const base::Size size = picture()->source.size();
  const base::Point before = now.toScene(size).map(foot_);
  scene::Placement out = now;
  out.scale = std::clamp(now.scale / *off, 1e-4, 1e4);
  const base::Point after = out.toScene(size).map(foot_);
  out.x += before.x - after.x;
  out.y += before.y - after.y;
  return out;
}

void FloorPage::stand() {
  const auto* p = picture();
  if (!p) return;
  if (p->realHeightM <= 0) {
    emit desk_.messages.said(tr("Say first how tall it stands"));
    return;
  }
  if (const auto right = standing(p->placement)) {
    if (!(*right == p->placement)) desk_.session.apply(scene::SetPlacement{desk_.session.active(), *right});
  } else {
    emit desk_.messages.said(tr("Its foot is above the horizon: nothing stands on the floor there"));
  }
}

// What the picture's lines tell, until somebody has drawn it.
void FloorPage::guess() {
  const scene::Scene& s = desk_.session.scene();
  if (s.floor || s.layers.empty()) {
    told_->hide();
    if (s.layers.empty()) guessedOf_ = nullptr, tool_.setGuess(std::nullopt);
    return;
  }
  if (s.layers.front() == guessedOf_) {
    told_->setVisible(!told_->text().isEmpty());
    return;
  }
  guessedOf_ = s.layers.front();
  tool_.setGuess(std::nullopt);
  told_->clear();
  told_->hide();
  desk_.aside.ask<std::optional<findings::FoundFloor>>(
      {tr("Find the horizon"), QStringLiteral("horizon guess")},
      [s]() -> std::optional<findings::FoundFloor> {
        const auto found = findings::foundFloor(s);
        return found.ok() && found->floor ? std::optional(*found) : std::nullopt;
      },
      [this, of = guessedOf_](const std::optional<findings::FoundFloor>& found) {
        if (of != guessedOf_ || !found) return;
        tool_.setGuess(found->floor);
        told_->setText(tr("Lies where %1 lines meet, to about %2 px. Drag it if it is wrong.")
                           .arg(found->lines)
                           .arg(std::ceil(found->spreadPx)));
        refresh();
        emit changed();
      });
}

void FloorPage::findIt() {
  const scene::Scene from = desk_.session.scene();
  desk_.jobs.start<findings::FoundFloor>(
      {tr("Find the horizon"), QStringLiteral("horizon")},
      [from](base::Executor&, const base::Progress&) { return findings::foundFloor(from); },
      [this](const findings::FoundFloor& found) {
        if (!found.floor) {
          emit desk_.messages.said(
              tr("The horizon can't be told: %1. Draw level lines, or drag it.").arg(QString::fromStdString(found.reason)));
          return;
        }
        setFloor(
            [&](scene::Floor& f) {
              f.horizonY = found.floor->horizonY;
              f.tiltDeg = found.floor->tiltDeg;
              if (found.place->picture()->about.focal35Mm > 0) f.viewAngleDeg = found.floor->viewAngleDeg;
            },
            true);
        emit desk_.messages.said(
            tr("Found from %1 lines, to about %2 px. Drag it if it lies wrong.").arg(found.lines).arg(std::ceil(found.spreadPx)));
      });
}

void FloorPage::setFloor(const std::function<void(scene::Floor&)>& change, bool keep) {
  scene::Floor f = desk_.session.scene().floor.value_or(tool_.now());
  change(f);
  if (!keep) {
    desk_.session.draft(scene::SetFloor{f});
  } else if (desk_.session.scene().floor != f) {
    desk_.session.apply(scene::SetFloor{f});
  }
}

QString FloorPage::words() const {
  const auto* p = picture();
  const auto off = p ? ratio(p->placement) : std::nullopt;
  if (off) return tr("%1 %").arg(100 * *off, 0, 'f', 0);
  return desk_.session.scene().floor ? tr("set") : tr("not set");
}

void FloorPage::refresh() {
  findOutline();
  guess();
  const scene::Floor f = tool_.now();
  here_->setVisible(!desk_.session.scene().floor);
  height_->setValue(f.cameraHeightM);
  angle_->setValue(f.viewAngleDeg);
  const auto* p = picture();
  real_->setEnabled(p);
  real_->setValue(p ? p->realHeightM : 0);
  own_->setEnabled(p);
  own_->setValue(p ? p->horizonY.value_or(-1) : -1);
  if (!p) {
    reading_->setText(tr("Choose a picture to see how it stands."));
  } else if (p->realHeightM <= 0) {
    reading_->setText(tr("Say how tall it stands to see whether its size is right."));
  } else if (const auto off = ratio(p->placement)) {
    const double percent = 100 * (*off - 1);
    reading_->setText(std::abs(percent) < 1 ? tr("It stands right for where its foot is.")
                      : percent > 0         ? tr("It is %1 % too large for where its foot is.").arg(percent, 0, 'f', 0)
                                            : tr("It is %1 % too small for where its foot is.").arg(-percent, 0, 'f', 0));
  } else {
    reading_->setText(tr("Its foot is above the horizon."));
  }
}

}  // namespace hseam::app
