#include "app/stations/place/place_light_page.h"

#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/tasks/show_light.h"

namespace hseam::app {

PlaceLightPage::PlaceLightPage(Desk& desk)
    : Page(desk, {"light", tr("Light of the place"), tr("Where its light comes from, as a shadow in the picture shows it")}),
      tool_(desk.session, desk.messages, [this](const scene::SeenShadow& seen) { return shown(seen); }),
      told_(new QLabel) {
  auto* c = column();
  c->addWidget(quietLabel(
      tr("Show one shadow of the picture: drag from the foot of something upright to the tip of its shadow, then drag the other "
         "handle to its top. New shadows follow it.")));
  told_->setWordWrap(true);
  told_->setAccessibleName(tr("What is known of the place's light"));
  c->addWidget(told_);
  none_ = new QCheckBox(tr("nothing casts a shadow here"));
  none_->setToolTip(tr("An overcast sky, or a room with light from everywhere: subjects get no cast shadow"));
  connect(none_, &QCheckBox::clicked, this, [this](bool on) {
    scene::PlaceLight light = now();
    light.casts = !on;
    // No direction was ever told: taken back, it is not known again.
    const bool unknown = !on && !light.seen && light.from == scene::LightFrom{};
    unknown ? forget() : set(light, true);
  });
  c->addWidget(none_);
  dial_ = new LightDial;
  for (const bool keep : {false, true}) {
    connect(dial_, keep ? &LightDial::changed : &LightDial::changing, this, [this, keep](const scene::LightFrom& from) {
      scene::PlaceLight light = now();
      light.casts = true, light.seen.reset(), light.from = from;
      set(light, keep);
    });
  }
  c->addWidget(dial_);
  size_ =
      new ValueField(tr("light's size"), {0, 60, 2, 1, tr("°"), true},
                     tr("As seen from the subject: the sun 0.5°, a lamp some degrees, a hazy sky very large. Larger is softer"));
  density_ = new ValueField(tr("darkness"), {0, 100, 100, 0, tr("%"), true},
                            tr("Of its shadows; 100 % is as dark as the shadow that was shown"));
  const auto field = [this](ValueField* f, const std::function<void(scene::PlaceLight&, double)>& change) {
    for (const bool keep : {false, true}) {
      connect(f, keep ? &ValueField::changed : &ValueField::changing, this, [this, change, keep](double v) {
        scene::PlaceLight light = now();
        change(light, v);
        set(light, keep);
      });
    }
  };
  field(size_, [](scene::PlaceLight& l, double v) { l.from.sizeDeg = v; });
  field(density_, [](scene::PlaceLight& l, double v) { l.density = v / 100; });
  c->addWidget(size_);
  c->addWidget(density_);
  forget_ = button(tr("Forget it"), tr("The light of the place is not known"), [this] { forget(); });
  c->addWidget(forget_);
}

scene::PlaceLight PlaceLightPage::now() const {
  scene::PlaceLight light = desk_.session.scene().light.value_or(scene::PlaceLight{});
  if (const auto from = scene::lightOf(desk_.session.scene())) light.from = *from;
  return light;
}

void PlaceLightPage::set(const scene::PlaceLight& light, bool keep) {
  if (!keep) {
    desk_.session.draft(scene::SetPlaceLight{light});
  } else if (desk_.session.scene().light != light) {
    desk_.session.apply(scene::SetPlaceLight{light});
  }
}

void PlaceLightPage::forget() {
  desk_.session.apply(scene::SetPlaceLight{std::nullopt});
}

scene::PlaceLight PlaceLightPage::shown(const scene::SeenShadow& seen) {
  const auto light = tasks::shownLight(desk_.session.scene(), seen, desk_.session.executor());
  if (!light.ok()) return now();
  if (!light->unmeasured.empty()) {
    emit desk_.messages.said(
        tr("How dark it is can't be told: %1. Set its darkness by hand.").arg(QString::fromStdString(light->unmeasured)));
  }
  return light->light;
}

QString PlaceLightPage::told() const {
  const scene::Scene& s = desk_.session.shown();
  if (!s.light) return tr("Not known yet.");
  if (!s.light->casts) return tr("Nothing in the place casts a shadow.");
  const auto from = scene::lightOf(s);
  if (!from) return tr("What was shown says nothing on this floor: show it again.");
  const double a = from->azimuthDeg;
  const QString side =
                    std::abs(std::sin(a * M_PI / 180)) < 0.26 ? QString() : (a > 0 ? tr("from the right") : tr("from the left")),
                depth = std::abs(std::cos(a * M_PI / 180)) < 0.26 ? QString()
                        : std::abs(a) > 90                        ? tr("from ahead, into the camera")
                                                                  : tr("from behind the camera");
  const QString where = side.isEmpty() ? depth : (depth.isEmpty() ? side : tr("%1 and %2").arg(side, depth));
  const auto& c = s.light->colour;
  const double left = 1 - s.light->density * (1 - (0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2]));
  return tr("It comes %1, %2° high. Its shadows leave %3 % of the floor's tone.")
      .arg(where)
      .arg(from->elevationDeg, 0, 'f', 0)
      .arg(100 * left, 0, 'f', 0);
}

QString PlaceLightPage::words() const {
  const auto& light = desk_.session.scene().light;
  if (!light) return tr("not known");
  return light->casts ? tr("set") : tr("no shadows");
}

void PlaceLightPage::refresh() {
  const scene::Scene& s = desk_.session.shown();
  const scene::PlaceLight light = s.light.value_or(scene::PlaceLight{});
  told_->setText(told());
  none_->setChecked(!light.casts);
  dial_->setLight(scene::lightOf(s).value_or(light.from));
  size_->setValue(light.from.sizeDeg);
  density_->setValue(100 * light.density);
  dial_->setEnabled(light.casts);
  // They say nothing of a light that is not known.
  for (ValueField* f : {size_, density_}) f->setEnabled(s.light && light.casts);
  forget_->setEnabled(s.light.has_value());
}

}  // namespace hseam::app
