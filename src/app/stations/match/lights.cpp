#include "app/stations/match/lights.h"

#include <QColorDialog>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/findings/stands_at.h"
#include "core/matte/kept_shadow.h"

namespace hseam::app {

using scene::CastShadow;
using scene::ContactShadow;
using scene::EdgeLight;
using scene::Shading;

Lights::Lights(Desk& desk)
    : Page(desk, {"lights", tr("Shadows and light"), tr("What ties a subject to the ground and to the scene's light")}),
      tool_(desk.session),
      pages_(new QStackedWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(rowOf({
      button(tr("Keep its shadow"), tr("The shadow on its own paper goes below it in multiply; the paper becomes exactly white"),
             [this] { keepShadow(); }),
      button(tr("Cast a shadow"), tr("From its shape onto the floor, by where the light comes from; it follows the subject"),
             [this] {
               add(
                   tr("shadow of"),
                   [this](const scene::Layer&, base::Point foot, const auto&) {
                     CastShadow s = scene::castShadowOf(desk_.session.scene());
                     s.foot = foot;
                     return scene::LightKind(s);
                   },
                   scene::BlendMode::multiply, true);
             }),
  }));
  column->addWidget(rowOf({
      button(tr("Contact"),
             tr("Dark and tight where it touches the ground; draw another line on the picture for seats and hands"),
             [this] {
               add(
                   tr("contact of"),
                   [](const scene::Layer&, base::Point, std::vector<base::Point> line) {
                     ContactShadow s;
                     s.line = std::move(line);
                     return scene::LightKind(s);
                   },
                   scene::BlendMode::multiply, true);
             }),
      button(tr("Shade it"), tr("A light and a dark side from its rounded form"),
             [this] {
               add(
                   tr("shading of"), [this](const scene::Layer&, base::Point, const auto&) { return litByPlace(Shading{}); },
                   scene::BlendMode::softLight, false);
             }),
  }));
  column->addWidget(rowOf({
      button(tr("Rim"), tr("A rim of light on the side that faces it"),
             [this] {
               add(
                   tr("rim of"), [this](const scene::Layer&, base::Point, const auto&) { return litByPlace(EdgeLight{}); },
                   scene::BlendMode::screen, false);
             }),
      button(tr("Thickness"), tr("The inner edge of an opening as a band, lit and dark by where the light comes from"),
             [this] {
               add(
                   tr("thickness of"),
                   [this](const scene::Layer&, base::Point, const auto&) {
                     EdgeLight e;
                     e.softness = 0;
                     e.dark = 0.7;
                     e.widthPx = 10;
                     return litByPlace(e);
                   },
                   scene::BlendMode::normal, false);
             }),
  }));
  pages_->addWidget(quietLabel(tr("Choose a shadow or light in the sheet, or make one for the active picture, group or words.")));
  built_.resize(std::variant_size_v<scene::LightKind>);
  buildPage<CastShadow>(true, [this](QWidget* page, Fields& to) {
    lightSize<CastShadow>(page, to);
    field<CastShadow>(page, to, tr("darkness"), {0, 100, 75, 0, tr("%"), true}, tr("At the foot"), &CastShadow::density, 100);
    field<CastShadow>(page, to, tr("reach"), {0.2, 100, 6, 1, tr("heights"), false},
                      tr("After so many of the subject's heights little more than a third of the darkness is left"),
                      &CastShadow::fadeHeights);
    field<CastShadow>(page, to, tr("wall at"), {0, 40000, 0, 0, tr("px"), true},
                      tr("From above: where a wall that faces you meets the floor; the shadow climbs it. 0: no wall"),
                      &CastShadow::wallY);
    colour<CastShadow>(page, tr("Colour of the shadow…"),
                       tr("What is left of white where nothing but the surrounding light falls"), &CastShadow::colour);
  });
  buildPage<ContactShadow>(false, [this](QWidget* page, Fields& to) {
    field<ContactShadow>(page, to, tr("width"), {0.5, 400, 14, 1, tr("px"), false}, tr("From the line to half of the darkness"),
                         &ContactShadow::widthPx);
    field<ContactShadow>(page, to, tr("darkness"), {0, 100, 80, 0, tr("%"), true}, tr("On the line"), &ContactShadow::density,
                         100);
    field<ContactShadow>(page, to, tr("flatness"), {5, 100, 35, 0, tr("%"), true},
                         tr("Height to width: small on a floor seen flat, 100 % on a wall"), &ContactShadow::flatness, 100);
    colour<ContactShadow>(page, tr("Colour of the shadow…"), tr("What is left of white in full shadow"), &ContactShadow::colour);
  });
  buildPage<Shading>(true, [this](QWidget* page, Fields& to) {
    field<Shading>(page, to, tr("roundness"), {2, 1000, 60, 0, tr("px"), false}, tr("How far in from its edge the form bends"),
                   &Shading::roundPx);
    field<Shading>(page, to, tr("lit side"), {0, 100, 35, 0, tr("%"), true}, tr("On the side that faces the light"),
                   &Shading::lights, 100);
    field<Shading>(page, to, tr("shaded side"), {0, 100, 50, 0, tr("%"), true}, tr("On the other side"), &Shading::darks, 100);
  });
  buildPage<EdgeLight>(true, [this](QWidget* page, Fields& to) {
    field<EdgeLight>(page, to, tr("width"), {0.5, 400, 6, 1, tr("px"), false}, tr("Of the band inside the edge"),
                     &EdgeLight::widthPx);
    field<EdgeLight>(page, to, tr("softness"), {0, 100, 100, 0, tr("%"), true}, tr("0: an even band, 100 %: fading inwards"),
                     &EdgeLight::softness, 100);
    field<EdgeLight>(page, to, tr("lit"), {0, 100, 80, 0, tr("%"), true}, tr("On the side that faces the light"), &EdgeLight::lit,
                     100);
    field<EdgeLight>(page, to, tr("dark"), {0, 100, 0, 0, tr("%"), true}, tr("On the other side"), &EdgeLight::dark, 100);
    colour<EdgeLight>(page, tr("Colour of the light…"), tr("Of the lit side; the scene's own light suits best"),
                      &EdgeLight::litColour);
    colour<EdgeLight>(page, tr("Colour of the dark side…"), tr("Of the side that is turned away"), &EdgeLight::darkColour);
  });
  column->addWidget(pages_);
  fitToPage(pages_);
}

template <class Kind>
void Lights::buildPage(bool dial, const std::function<void(QWidget*, Fields&)>& rest) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  Fields& to = built_[scene::LightKind(Kind{}).index()];
  if constexpr (requires(Kind k) { k.light; }) {
    if (dial) {
      to.dial = new LightDial;
      const auto turn = [this](const scene::LightFrom& from, bool keep) {
        const auto* l = active();
        const auto* k = l ? std::get_if<Kind>(&l->kind) : nullptr;
        if (!k) return;
        Kind next = *k;
        next.light = from;
        edit(next, keep);
      };
      connect(to.dial, &LightDial::changing, this, [turn](const scene::LightFrom& f) { turn(f, false); });
      connect(to.dial, &LightDial::changed, this, [turn](const scene::LightFrom& f) { turn(f, true); });
      column->addWidget(to.dial);
    }
  }
  rest(page, to);
  column->addStretch(1);
  pages_->addWidget(page);
}

template <class Kind>
void Lights::field(QWidget* page, Fields& to, const QString& name, const ValueField::Range& range, const QString& tip,
                   double Kind::*member, double shownTimes) {
  auto* f = new ValueField(name, range, tip);
  const auto set = [this, member, shownTimes](double v, bool keep) {
    const auto* l = active();
    const auto* k = l ? std::get_if<Kind>(&l->kind) : nullptr;
    if (!k) return;
    Kind next = *k;
    next.*member = v / shownTimes;
    edit(next, keep);
  };
  connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
  connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
  page->layout()->addWidget(f);
  to.fields.push_back({f, [member, shownTimes](const scene::LightKind& k) { return std::get<Kind>(k).*member * shownTimes; }});
}

template <class Kind>
void Lights::lightSize(QWidget* page, Fields& to) {
  auto* f = new ValueField(
      tr("light's size"), {0, 60, 2, 1, tr("°"), true},
      tr("As seen from the subject: the sun 0.5°, a lamp some degrees, a cloudy sky very large. Larger is softer"));
  const auto set = [this](double v, bool keep) {
    const auto* l = active();
    const auto* k = l ? std::get_if<Kind>(&l->kind) : nullptr;
    if (!k) return;
    Kind next = *k;
    next.light.sizeDeg = v;
    edit(next, keep);
  };
  connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
  connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
  page->layout()->addWidget(f);
  to.fields.push_back({f, [](const scene::LightKind& k) { return std::get<Kind>(k).light.sizeDeg; }});
}

template <class Kind>
void Lights::colour(QWidget* page, const QString& name, const QString& tip, scene::Colour3 Kind::*member) {
  page->layout()->addWidget(button(name, tip, [this, member, name] {
    const auto* l = active();
    const auto* k = l ? std::get_if<Kind>(&l->kind) : nullptr;
    if (!k) return;
    Kind next = *k;
    const auto& was = next.*member;
    const QColor c = QColorDialog::getColor(QColor::fromRgbF(float(was[0]), float(was[1]), float(was[2])), this, name);
    if (!c.isValid()) return;
    next.*member = {c.redF(), c.greenF(), c.blueF()};
    edit(next, true);
  }));
}

const scene::LightContent* Lights::active() const {
  return desk_.session.activeLayer() ? desk_.session.activeLayer()->light() : nullptr;
}

const scene::Layer* Lights::subject() const {
  const scene::Layer* l = active() ? scene::findLayer(desk_.session.scene(), active()->caster) : desk_.session.activeLayer();
  return l && scene::casts(*l) ? l : nullptr;
}

Instrument* Lights::instrument() {
  const auto* l = active();
  const bool worksOnThePicture =
      l && (std::holds_alternative<CastShadow>(l->kind) || std::holds_alternative<ContactShadow>(l->kind));
  return worksOnThePicture ? &tool_ : nullptr;
}

QString Lights::words() const {
  int count = 0;
  for (const auto& l : scene::allLayers(desk_.session.scene())) count += l->light() != nullptr;
  return count == 0 ? tr("none") : QString::number(count);
}

void Lights::add(const QString& name,
                 const std::function<scene::LightKind(const scene::Layer&, base::Point, std::vector<base::Point>)>& make,
                 scene::BlendMode mode, bool below) {
  const scene::Layer* l = subject();
  if (!l || (l->picture() && l->mask.coverage.isNull())) {
    emit desk_.messages.said(tr("Choose a cut-out, a group or words first: a shadow follows their shape"));
    return;
  }
  desk_.aside.ask<base::Result<std::optional<matte::Standing>>>(
      QStringLiteral("where it stands"), [scene = desk_.session.scene(), id = l->id] { return findings::standsAt(scene, id); },
      [this, id = l->id, name, make, mode, below](const base::Result<std::optional<matte::Standing>>& found) {
        const scene::Layer* now = scene::findLayer(desk_.session.scene(), id);
        if (!now) return;
        if (!found.ok() || !*found) {
          emit desk_.messages.said(tr("Nothing of it is covered: there is no shape to follow"));
          return;
        }
        scene::Layer light;
        light.id = scene::freeId(desk_.session.scene());
        light.name = (name + QLatin1Char(' ')).toStdString() + now->name;
        light.mode = mode;
        light.clip = !below;
        light.content =
            scene::LightContent{id, make(*now, findings::shadowFoot(desk_.session.scene(), *now, **found), (*found)->line)};
        const auto at = scene::positionOf(desk_.session.scene(), id);
        desk_.session.apply(scene::AddLayer{std::move(light), at->parent, at->index + (below ? 0 : 1)});
      });
}

void Lights::keepShadow() {
  const scene::Layer* l = subject();
  if (!l || !l->picture() || l->mask.coverage.isNull()) {
    emit desk_.messages.said(tr("Choose a cut-out first: its own shadow is what is kept"));
    return;
  }
  desk_.jobs.start<matte::KeptShadow>(
      tr("Keep the shadow of %1").arg(QString::fromStdString(l->name)),
      [source = l->picture()->source, alpha = l->mask.coverage](base::Executor& e, const base::Progress& progress) {
        return matte::keptShadow(source, alpha, e, progress);
      },
      [this, id = l->id](const matte::KeptShadow& kept) {
        const scene::Layer* now = scene::findLayer(desk_.session.scene(), id);
        if (!now) return;
        scene::Layer shadow;
        shadow.id = scene::freeId(desk_.session.scene());
        shadow.name = "kept shadow of " + now->name;
        shadow.mode = scene::BlendMode::multiply;
        scene::PictureContent p;
        p.source = kept.picture;
        p.sourceName = "shadow of " + now->picture()->sourceName;
        p.placement = now->picture()->placement;
        shadow.content = std::move(p);
        const auto at = scene::positionOf(desk_.session.scene(), id);
        desk_.session.apply(scene::AddLayer{std::move(shadow), at->parent, at->index});
        emit desk_.messages.said(
            tr("Paper raised to white: it was uneven by %1 L*, %2 L* of veil are left; the shadow reaches down to %3 L*")
                .arg(kept.unevenness, 0, 'f', 1)
                .arg(kept.veil, 0, 'f', 2)
                .arg(kept.deepest, 0, 'f', 0));
      });
}

void Lights::edit(const scene::LightKind& kind, bool keep) {
  const auto* l = active();
  if (!l || l->kind.index() != kind.index()) return;
  const scene::SetLight change{desk_.session.active(), {l->caster, kind}};
  if (!keep) {
    desk_.session.draft(change);
  } else if (!(l->kind == kind)) {
    desk_.session.apply(change);
  } else {
    desk_.session.draft(std::nullopt);
  }
}

void Lights::refresh() {
  const scene::Layer* shown = scene::findLayer(desk_.session.shown(), desk_.session.active());
  const auto* l = shown ? shown->light() : nullptr;
  pages_->setCurrentIndex(l ? int(l->kind.index()) + 1 : 0);
  if (!l) return;
  const Fields& page = built_[l->kind.index()];
  for (const Field& f : page.fields) f.widget->setValue(f.get(l->kind));
  std::visit(
      [&](const auto& k) {
        if constexpr (requires { k.light; }) {
          if (page.dial) page.dial->setLight(k.light);
        }
      },
      l->kind);
}

}  // namespace hseam::app
