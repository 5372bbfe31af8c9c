#include "app/stations/match/paint_colour.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/paint/colour_stroke.h"
#include "core/scene/painting.h"

namespace hseam::app {

PaintColour::PaintColour(Desk& desk)
    : Page(desk, {"paint-colour", tr("Paint with colour"), tr("On a layer of its own: rims, dust, touched-up shadows")}),
      brush_(
          desk.session, desk.messages, [this] { return target(); },
          [this] {
            return onPainting() ? tr("paints with colour: left lays it down, right takes it away")
                                : tr("add a layer to paint on first");
          }),
      pick_(
          [this](const QPointF& at) {
            if (const auto c = colourAt(desk_.session.executor(), desk_.session.scene(), at)) setColour(*c);
            picking_ = false;
            emit changed();
          },
          [] { return tr("click the colour to paint with"); }),
      confined_(new QCheckBox(tr("confine it to the layer below"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(button(tr("Add a layer to paint on"),
                           tr("Empty, over the active layer; what you paint stays apart from all pictures"),
                           [this] { addLayer(); }));
  confined_->setToolTip(tr("Colour shows only where the layer below does"));
  connect(confined_, &QCheckBox::clicked, this, [this](bool on) {
    if (onPainting()) desk_.session.apply(scene::SetClip{desk_.session.active(), on});
  });
  column->addWidget(confined_);
  shown_ = button(tr("Colour…"), tr("Asks for the colour"), [this] {
    const QColor c =
        QColorDialog::getColor(QColor::fromRgbF(float(colour_[0]), float(colour_[1]), float(colour_[2])), this, tr("Colour"));
    if (c.isValid()) setColour({c.redF(), c.greenF(), c.blueF()});
  });
  take_ = button(tr("Take it from the scene"), tr("The next click on the picture takes the colour that shows there"), [this] {
    picking_ = true;
    emit changed();
  });
  column->addWidget(rowOf({shown_, take_}));
  auto* tip = new TipFields({60, 0.2, 0.6}, tr("The most one stroke covers"));
  column->addWidget(tip);
  connect(tip, &TipFields::changed, this, [this, tip] { brush_.tip = tip->tip(); });
  brush_.tip = tip->tip();
  brush_.tipChanged = [this, tip] { tip->setTip(brush_.tip); };
  setColour(colour_);
}

bool PaintColour::onPainting() const {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  return p && p->byHand;
}

void PaintColour::addLayer() {
  scene::Layer l = scene::emptyPainting(desk_.session.scene(), "painting", desk_.session.memory());
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  l.clip = confined_->isChecked() && at;
  desk_.session.apply(scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1});
  emit changed();
}

void PaintColour::setColour(const std::array<double, 3>& colour) {
  colour_ = colour;
  QPixmap swatch(14, 14);
  swatch.fill(QColor::fromRgbF(float(colour[0]), float(colour[1]), float(colour[2])));
  shown_->setIcon(swatch);
}

std::optional<Brush::Target> PaintColour::target() {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!onPainting()) return std::nullopt;
  const auto& p = *l->picture();
  // The stroke is drawn as coverage; colour goes through it.
  Brush::Target t;
  t.picture = image::uniformCoverage(p.source.size(), 0, desk_.session.memory());
  t.toShown = p.placement.toScene(p.source.size());
  t.left = 255;
  t.right = 255;
  struct Running {
    image::TiledImage painted;
  };
  const auto running = std::make_shared<Running>(Running{p.source});
  t.settle = [this, before = p.source, running](const Brush::Drawn& drawn) -> base::Result<image::TiledImage> {
    HSEAM_TRY(running->painted, paint::laidOn(before, running->painted, drawn.painted, colour_, drawn.right, drawn.fresh,
                                              desk_.session.executor()));
    return drawn.painted;
  };
  t.edit = [id = l->id, running](const image::TiledImage&) { return scene::SetPainting{id, running->painted}; };
  return t;
}

Instrument* PaintColour::instrument() {
  return picking_ ? static_cast<Instrument*>(&pick_) : (onPainting() ? &brush_ : nullptr);
}

QString PaintColour::words() const {
  return onPainting() ? tr("in hand") : tr("none chosen");
}

void PaintColour::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  if (onPainting()) confined_->setChecked(l->clip);
}

}  // namespace hseam::app
