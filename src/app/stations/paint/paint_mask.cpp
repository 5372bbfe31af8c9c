#include "app/stations/paint/paint_mask.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/matte/cut_recipe.h"
#include "core/paint/stroke.h"
#include "core/select/reshape.h"
#include "core/select/shape.h"

namespace hseam::app {
namespace {

bool isExtension(const scene::PictureContent& p) {
  return matte::cutRecipeFrom(p.cutout->recipe).extends && !p.cutout->alpha.isNull();
}

// The painted coverage, no more of it than the cut covers.
base::Result<image::TiledImage> withinMask(const image::TiledImage& painted, const image::TiledImage& alpha,
                                           const base::Rect& changed, base::Executor& executor) {
  const base::Rect area = changed.intersected(base::Rect::of(painted.size()));
  HSEAM_TRY(auto p, image::read8(painted, 0, area));
  HSEAM_TRY(const auto a, image::read8(alpha, 0, area));
  for (std::size_t i = 0; i < p.samples().size(); ++i) p.samples()[i] = std::min(p.samples()[i], a.samples()[i]);
  return image::withPixels(painted, area, p, executor);
}

}  // namespace

PaintMask::PaintMask(Desk& desk, const QString& why, std::function<View()> view)
    : Page(desk, {"paint", tr("Paint the mask"), why}),
      view_(std::move(view)),
      brush_(
          desk.session, desk.messages, [this] { return target(); }, [this] { return doing(); }),
      arrow_([this](QPointF from, QPointF to) { extend(from, to); },
             [this] { return tr("drag from hair inside to where it should reach"); }),
      strands_(new StrandTips(desk.session, desk.messages)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* hands =
      new QLabel(tr("<span style='font-weight:600'>left button reveals</span><br>right button hides (pen: eraser end)"));
  hands->setTextFormat(Qt::RichText);
  column->addWidget(hands);
  column->addWidget(strands_);
  connect(strands_, &StrandTips::changed, this, &PaintMask::takeTip);
  connect(strands_, &StrandTips::extendAsked, this, [this] {
    extending_ = true;
    emit changed();
  });
  tip_ = new TipFields({80, 0.6, 1}, tr("The most one stroke reveals or hides"));
  column->addWidget(tip_);
  connect(tip_, &TipFields::changed, this, &PaintMask::takeTip);
  brush_.tip = tip_->tip();
  brush_.tipChanged = [this] {
    if (!strands_->round()) {
      strands_->setLengthPx(brush_.tip.sizePx);
      return;
    }
    tip_->setTip(brush_.tip);
  };
  pressure_ = new QComboBox;
  pressure_->addItems({tr("size"), tr("strength"), tr("nothing")});
  pressure_->setAccessibleName(tr("What pen pressure changes"));
  pressure_->setToolTip(tr("What the pressure of a pen changes"));
  connect(pressure_, &QComboBox::currentIndexChanged, this, [this](int i) {
    brush_.pressure = i == 0 ? paint::Pressure::size : (i == 1 ? paint::Pressure::strength : paint::Pressure::none);
  });
  column->addWidget(namedRow(tr("pressure"), pressure_));
  column->addWidget(rowOf({
      button(tr("Fill it"), tr("Fill the mask: everything of the layer shows"),
             [this] { setMask(paint::filled(mask(), 255), tr("all shown")); }),
      button(tr("Empty it"), tr("Empty the mask: nothing of the layer shows until you paint it back"),
             [this] { setMask(paint::filled(mask(), 0), tr("all hidden")); }),
      button(tr("Invert"), tr("Show what is hidden and hide what shows"),
             [this] { setMask(select::inverted(mask(), desk_.session.executor()), tr("inverted")); }),
  }));
  soften_ = new ValueField(tr("soften by"), {0.3, 30, 1, 1, tr("px"), false},
                           tr("How far the edge of the mask is spread (the picture stays sharp)"));
  column->addWidget(soften_);
  column->addWidget(button(tr("Soften the mask's edge"), tr("Blur the mask slightly, to calm jagged edges"), [this] {
    if (!desk_.session.activeLayer()) return;
    desk_.jobs.start<image::TiledImage>(
        tr("Soften the mask"),
        [m = mask(), px = soften_->value()](base::Executor& e, const base::Progress&) { return select::softened(m, px, e); },
        [this, from = desk_.session.scene(), id = desk_.session.active(), px = soften_->value()](image::TiledImage soft) {
          desk_.session.applyResult(scene::SetMask{id, std::move(soft), tr("softened by %1 px").arg(px).toStdString()}, from);
        });
  }));
  on_ = new QCheckBox(tr("mask is on"));
  on_->setToolTip(tr("Switch the mask off to see the whole layer; nothing is lost"));
  connect(on_, &QCheckBox::clicked, this, [this](bool on) {
    desk_.session.apply(scene::SetMaskEnabled{desk_.session.active(), on});
  });
  alone_ = new QCheckBox(tr("see the mask alone"));
  alone_->setToolTip(tr("White shows, black hides"));
  connect(alone_, &QCheckBox::clicked, this, [this] { emit changed(); });
  column->addWidget(rowOf({on_, alone_}));
  column->addWidget(quietLabel(tr("Shift joins clicks in straight runs. Alt + wheel: size. Alt + Shift + wheel: hardness.")));
}

void PaintMask::takeTip() {
  tip_->setVisible(strands_->round());
  if (strands_->round()) {
    brush_.makeDrawing = nullptr;
    brush_.tip = tip_->tip();
  } else {
    brush_.makeDrawing = [this](const Brush::Target& target, std::uint8_t value) {
      return strands_->drawing(target, value, brush_.pressure);
    };
    brush_.tip = {strands_->lengthPx(), 1, 1};
  }
}

// A copy of the layer, moved by the arrow, all hidden: its hair is painted in where it is wanted, on a layer of its own.
void PaintMask::extend(QPointF from, QPointF to) {
  extending_ = false;
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if (!p || p->cutout->alpha.isNull()) {
    emit desk_.messages.said(tr("Hair is extended from a finished cut: solve the edge first"));
    emit changed();
    return;
  }
  scene::Layer copy = scene::duplicate(desk_.session.scene(), *l);
  auto& content = std::get<scene::PictureContent>(copy.content);
  const base::Affine toScene = p->placement.toScene(p->source.size());
  const auto back = layerToShown(*l, view_()).inverse();
  if (!back) return;
  const base::Point a = toScene.map(back->map({from.x(), from.y()})), b = toScene.map(back->map({to.x(), to.y()}));
  content.placement.x += b.x - a.x;
  content.placement.y += b.y - a.y;
  content.cutout.edit().recipe = matte::toText(matte::CutRecipe{.extends = true});
  copy.name = l->name + ", extended";
  copy.mask = {};
  copy.mask.coverage = image::uniformCoverage(p->source.size(), 0, desk_.session.memory());
  const auto at = scene::positionOf(desk_.session.scene(), l->id);
  if (desk_.session.apply(scene::AddLayer{std::move(copy), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1})) {
    emit desk_.messages.said(tr("Paint the copied hair in: left shows it, strand by strand"));
    emit sceneAsked();
  }
  emit changed();
}

bool PaintMask::maskAlone() const {
  return alone_->isChecked() && alone_->isEnabled();
}

image::TiledImage PaintMask::mask() const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l) return {};
  if (!l->mask.byHand().isNull() && l->mask.byHand().format() == image::PixelFormat::grey8) return l->mask.byHand();
  return image::uniformCoverage(scene::maskSizeOf(desk_.session.scene(), *l), 255, desk_.session.memory());
}

std::optional<Brush::Target> PaintMask::target() const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l) return std::nullopt;
  Brush::Target t;
  t.picture = mask();
  t.toShown = layerToShown(*l, view_());
  t.unbend = unbendShown(*l, view_());
  const scene::LayerId id = l->id;
  t.edit = [id](const image::TiledImage& painted) { return scene::SetMask{id, painted, "painted"}; };
  // Copied hair comes without the ground that it stood on.
  if (const auto* p = l->picture(); p && isExtension(*p)) {
    t.settle = [this, alpha = p->cutout->outcome()](const Brush::Drawn& drawn) {
      return withinMask(drawn.painted, alpha, drawn.all, desk_.session.executor());
    };
  }
  return t;
}

void PaintMask::setMask(base::Result<image::TiledImage> coverage, const QString& how) {
  if (!desk_.session.activeLayer()) {
    emit desk_.messages.said(tr("Choose a layer in the sheet first"));
  } else if (!coverage.ok()) {
    emit desk_.messages.refused(QString::fromStdString(coverage.error().text()));
  } else {
    desk_.session.apply(scene::SetMask{desk_.session.active(), *coverage, how.toStdString()});
  }
}

void PaintMask::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  setEnabled(l != nullptr);
  const bool has = l && !l->mask.coverage.isNull();
  const QSignalBlocker quiet(on_);
  on_->setChecked(has && l->mask.enabled);
  on_->setEnabled(has);
  alone_->setEnabled(has && l->picture());
}

QString PaintMask::words() const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l || l->mask.coverage.isNull()) return tr("no mask");
  return l->mask.enabled ? tr("on") : tr("off");
}

Instrument* PaintMask::instrument() {
  if (!desk_.session.activeLayer()) return nullptr;
  return extending_ ? static_cast<Instrument*>(&arrow_) : &brush_;
}

void PaintMask::changeView(View& view) const {
  if (!maskAlone() || !activePicture()) return;
  view.onlyLayer = desk_.session.active();
  view.maskAlone = true;
}

QString PaintMask::doing() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? tr("paints the mask of %1: left reveals, right hides").arg(QString::fromStdString(l->name))
           : tr("choose a layer in the sheet to paint its mask");
}

}  // namespace hseam::app
