#include "app/stations/match/fills.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/path/edit.h"
#include "core/scene/mask_cover.h"

namespace hseam::app {
namespace {

using scene::GradientFill;
using scene::NoiseFill;
using scene::SolidFill;

// The stops of a gradient as the strip of colours shows them, and back: coverage stays where it was along the line.
scene::TonesToColours coloursOf(const GradientFill& g) {
  scene::TonesToColours t;
  t.stops.clear();
  for (const auto& s : g.stops) t.stops.push_back({s.at, s.colour});
  return t;
}
double coverageAt(const GradientFill& g, double at) {
  if (at <= g.stops.front().at) return g.stops.front().coverage;
  for (std::size_t i = 1; i < g.stops.size(); ++i) {
    const auto &a = g.stops[i - 1], &b = g.stops[i];
    if (at <= b.at) return a.coverage + (b.coverage - a.coverage) * (at - a.at) / std::max(1e-9, b.at - a.at);
  }
  return g.stops.back().coverage;
}

}  // namespace

Fills::Fills(Desk& desk)
    : Page(desk, {"fills", tr("Colours and shapes"), tr("Layers made of colour, gradients and noise; shapes and stitches")}),
      gradient_({[this] { return line(); },
                 [this](const QLineF& drawn, bool keep) {
                   if (!active()) return;
                   scene::Fill next = active()->fill;
                   if (auto* g = std::get_if<GradientFill>(&next)) {
                     g->from = {drawn.x1(), drawn.y1()};
                     g->to = {drawn.x2(), drawn.y2()};
                     edit(next, keep);
                   }
                 },
                 [this] { desk_.session.draft(std::nullopt); }, [] { return tr("draw where the gradient begins and ends"); }}),
      stops_(new ToneColours),
      pages_(new QStackedWidget),
      form_(new QComboBox),
      round_(new QCheckBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(rowOf({
      button(tr("Colour"), tr("A layer of one colour over the active one"), [this] { add(SolidFill{}); }),
      button(tr("Gradient"), tr("Colours that pass into each other; draw its line on the picture"),
             [this] {
               GradientFill g;
               const base::Size c = desk_.session.scene().canvas;
               g.from = {c.width / 2.0, c.height * 0.1};
               g.to = {c.width / 2.0, c.height * 0.9};
               g.stops = {{0, {0, 0, 0}, 0.8}, {1, {0, 0, 0}, 0}};
               add(g);
             }),
      button(tr("Noise"), tr("Clouds, dust, paper"), [this] { add(NoiseFill{}); }),
  }));
  column->addWidget(rowOf({
      button(tr("Shape of the path"), tr("The active layer's path filled with a colour, as a layer of its own"),
             [this] { addFromPath(false); }),
      button(tr("Stitch along it"), tr("A line or stitches along the active layer's path, as a layer of its own"),
             [this] { addFromPath(true); }),
  }));
  pages_->addWidget(quietLabel(tr("Choose one of these layers in the sheet, or make one.")));
  auto* solid = new QWidget;
  auto* s = new QVBoxLayout(solid);
  s->setContentsMargins(0, 0, 0, 0);
  s->addWidget(colourButton(tr("Colour…"), [](scene::Fill& f) { return &std::get<SolidFill>(f).colour; }));
  s->addStretch(1);
  pages_->addWidget(solid);
  pages_->addWidget(gradientPage());
  pages_->addWidget(noisePage());
  column->addWidget(pages_);
  fitToPage(pages_);
  stroke_ = strokePart();
  column->addWidget(stroke_);
}

QPushButton* Fills::colourButton(const QString& name, const std::function<std::array<double, 3>*(scene::Fill&)>& which) {
  return button(name, tr("Asks for the colour"), [this, which, name] {
    if (!active()) return;
    scene::Fill next = active()->fill;
    std::array<double, 3>* colour = which(next);
    const QColor c =
        QColorDialog::getColor(QColor::fromRgbF(float((*colour)[0]), float((*colour)[1]), float((*colour)[2])), this, name);
    if (!c.isValid()) return;
    *colour = {c.redF(), c.greenF(), c.blueF()};
    edit(next, true);
  });
}

QWidget* Fills::gradientPage() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  form_->addItems({tr("along a line"), tr("round"), tr("mirrored about its beginning")});
  form_->setAccessibleName(tr("Form of the gradient"));
  form_->setToolTip(tr("Draw its line on the picture: it begins at the square and ends at the round grip"));
  connect(form_, &QComboBox::activated, this, [this](int i) {
    if (!active()) return;
    scene::Fill next = active()->fill;
    std::get<GradientFill>(next).form = GradientFill::Form(i);
    edit(next, true);
  });
  column->addWidget(form_);
  const auto takeStops = [this](const scene::TonesToColours& colours, bool keep) {
    if (!active() || !std::holds_alternative<GradientFill>(active()->fill)) return;
    scene::Fill next = active()->fill;
    auto& g = std::get<GradientFill>(next);
    const GradientFill before = g;
    g.stops.clear();
    for (const auto& s : colours.stops) g.stops.push_back({s.at, s.colour, coverageAt(before, s.at)});
    edit(next, keep);
  };
  connect(stops_, &ToneColours::changing, this, [takeStops](const scene::TonesToColours& c) { takeStops(c, false); });
  connect(stops_, &ToneColours::changed, this, [takeStops](const scene::TonesToColours& c) { takeStops(c, true); });
  stops_->setAccessibleName(tr("Colours of the gradient"));
  column->addWidget(stops_);
  const auto coverage = [&](const QString& name, const QString& tip, bool first) {
    auto* f = new ValueField(name, {0, 100, 100, 0, tr("%"), true}, tip);
    const auto set = [this, first](double v, bool keep) {
      if (!active()) return;
      scene::Fill next = active()->fill;
      auto& stops = std::get<GradientFill>(next).stops;
      (first ? stops.front() : stops.back()).coverage = v / 100;
      edit(next, keep);
    };
    connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
    connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
    column->addWidget(f);
    return f;
  };
  begins_ = coverage(tr("begins"), tr("How much of it covers where it begins"), true);
  ends_ = coverage(tr("ends"), tr("How much of it covers where it ends"), false);
  column->addStretch(1);
  return page;
}

QWidget* Fills::noisePage() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  const auto number = [&](const QString& name, const ValueField::Range& range, const QString& tip,
                          const std::function<void(NoiseFill&, double)>& put) {
    auto* f = new ValueField(name, range, tip);
    const auto set = [this, put](double v, bool keep) {
      if (!active()) return;
      scene::Fill next = active()->fill;
      put(std::get<NoiseFill>(next), v);
      edit(next, keep);
    };
    connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
    connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
    column->addWidget(f);
    return f;
  };
  size_ = number(tr("size"), {1, 4000, 120, 0, tr("px"), false}, tr("Of the largest lumps"),
                 [](NoiseFill& n, double v) { n.sizePx = v; });
  octaves_ = number(tr("detail"), {1, 8, 4, 0, {}, true}, tr("Each step adds lumps of half the size"),
                    [](NoiseFill& n, double v) { n.octaves = int(std::lround(v)); });
  seed_ = number(tr("seed"), {0, 9999, 1, 0, {}, true}, tr("Another number, another pattern"),
                 [](NoiseFill& n, double v) { n.seed = std::uint32_t(std::lround(v)); });
  column->addWidget(rowOf({colourButton(tr("Dark…"), [](scene::Fill& f) { return &std::get<NoiseFill>(f).dark; }),
                           colourButton(tr("Light…"), [](scene::Fill& f) { return &std::get<NoiseFill>(f).light; })}));
  column->addStretch(1);
  return page;
}

QWidget* Fills::strokePart() {
  auto* part = new QWidget;
  auto* column = new QVBoxLayout(part);
  column->setContentsMargins(0, 0, 0, 0);
  const auto number = [&](const QString& name, const ValueField::Range& range, const QString& tip,
                          double path::StrokeStyle::*member) {
    auto* f = new ValueField(name, range, tip);
    const auto set = [this, member](double v, bool keep) {
      if (!active() || !active()->stroke) return;
      path::StrokeStyle style = active()->stroke->style;
      style.*member = v;
      if (member == &path::StrokeStyle::dashPx && style.gapPx == 0) style.gapPx = v;
      editStroke(style, keep);
    };
    connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
    connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
    column->addWidget(f);
    return f;
  };
  width_ = number(tr("line"), {0.5, 200, 6, 1, tr("px"), false}, tr("Width of the line"), &path::StrokeStyle::widthPx);
  dash_ =
      number(tr("stitch"), {0, 400, 0, 1, tr("px"), true}, tr("Length of a stitch; 0: a whole line"), &path::StrokeStyle::dashPx);
  gap_ = number(tr("gap"), {0, 400, 0, 1, tr("px"), true}, tr("Between stitches"), &path::StrokeStyle::gapPx);
  round_->setText(tr("round ends"));
  round_->setToolTip(tr("Of the line and of every stitch"));
  connect(round_, &QCheckBox::clicked, this, [this](bool on) {
    if (!active() || !active()->stroke) return;
    path::StrokeStyle style = active()->stroke->style;
    style.roundEnds = on;
    editStroke(style, true);
  });
  column->addWidget(round_);
  return part;
}

std::optional<QLineF> Fills::line() const {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  const auto* g = l && l->fill() ? std::get_if<GradientFill>(&l->fill()->fill) : nullptr;
  if (!g) return std::nullopt;
  return QLineF(g->from.x, g->from.y, g->to.x, g->to.y);
}

const scene::FillContent* Fills::active() const {
  return desk_.session.activeLayer() ? desk_.session.activeLayer()->fill() : nullptr;
}

Instrument* Fills::instrument() {
  return active() && std::holds_alternative<GradientFill>(active()->fill) ? &gradient_ : nullptr;
}

QString Fills::words() const {
  return active() ? tr(scene::fillName(active()->fill)) : tr("none chosen");
}

void Fills::add(const scene::Fill& fill) {
  scene::Layer l;
  l.id = scene::freeId(desk_.session.scene());
  l.name = scene::fillName(fill);
  l.content = scene::FillContent{fill, nullptr};
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  desk_.session.apply(scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1});
}

void Fills::addFromPath(bool stitched) {
  const scene::Layer* from = desk_.session.activeLayer();
  if (!from || !from->mask.path) {
    emit desk_.messages.said(tr("The active layer has no path yet: draw one in Cut out"));
    return;
  }
  const auto* p = from->picture();
  path::Path along = path::mapped(*from->mask.path, p ? p->placement.toScene(p->source.size()) : base::Affine{});
  if (!stitched) {
    // A shape has an inside: what is open is closed by a straight line.
    std::erase_if(along.outlines, [](const path::Outline& o) { return o.nodes.size() < 3 && !o.closed; });
    for (path::Outline& o : along.outlines) o.closed = true;
    if (along.outlines.empty()) {
      emit desk_.messages.said(tr("This path encloses nothing yet"));
      return;
    }
  }
  scene::FillContent fill{SolidFill{{0.95, 0.9, 0.8}}, nullptr};
  scene::Layer l;
  l.mask.path = std::make_shared<const path::Path>(along);
  if (stitched) {
    const path::StrokeStyle style{6, 18, 12, true};
    fill.stroke = std::make_shared<const scene::Stroke>(scene::Stroke{along, style});
    l.mask.path = std::make_shared<const path::Path>(path::strokeOutline(along, style));
  }
  auto mask = scene::boundedMask(l.mask, {}, true, desk_.session.scene().canvas, desk_.session.memory());
  if (!mask.ok()) {
    emit desk_.messages.refused(QString::fromStdString(mask.error().text()));
    return;
  }
  l.mask = std::move(mask).value();
  l.id = scene::freeId(desk_.session.scene());
  l.name = (stitched ? "stitches of " : "shape of ") + from->name;
  l.content = std::move(fill);
  const auto at = scene::positionOf(desk_.session.scene(), from->id);
  desk_.session.apply(scene::AddLayer{std::move(l), at->parent, at->index + 1});
}

void Fills::apply(const scene::FillContent& fill, const scene::Mask& mask, bool keep) {
  const scene::SetFill edit{desk_.session.active(), fill, mask};
  if (keep) {
    desk_.session.apply(edit);
  } else {
    desk_.session.draft(edit);
  }
}

void Fills::edit(const scene::Fill& fill, bool keep) {
  if (!active() || active()->fill.index() != fill.index()) return;
  scene::FillContent next = *active();
  next.fill = fill;
  apply(next, desk_.session.activeLayer()->mask, keep);
}

void Fills::editStroke(const path::StrokeStyle& style, bool keep) {
  if (!path::fits(style)) return;
  const scene::Stroke stroke{active()->stroke->along, style};
  scene::Mask mask = desk_.session.activeLayer()->mask;
  const image::TiledImage byHand = mask.byHand();
  mask.path = std::make_shared<const path::Path>(path::strokeOutline(stroke.along, style));
  mask.pathArea = {};
  auto made = scene::boundedMask(mask, mask.pathActs ? byHand : image::TiledImage(), true, desk_.session.scene().canvas,
                                 desk_.session.memory());
  if (!made.ok()) return;
  apply({active()->fill, std::make_shared<const scene::Stroke>(stroke)}, *made, keep);
}

void Fills::refresh() {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  const auto* f = l ? l->fill() : nullptr;
  pages_->setCurrentIndex(f ? int(f->fill.index()) + 1 : 0);
  stroke_->setVisible(f && f->stroke);
  if (!f) return;
  if (const auto* g = std::get_if<GradientFill>(&f->fill)) {
    form_->setCurrentIndex(int(g->form));
    stops_->setColours(coloursOf(*g));
    begins_->setValue(100 * g->stops.front().coverage);
    ends_->setValue(100 * g->stops.back().coverage);
  } else if (const auto* n = std::get_if<NoiseFill>(&f->fill)) {
    size_->setValue(n->sizePx);
    octaves_->setValue(n->octaves);
    seed_->setValue(n->seed);
  }
  if (f->stroke) {
    width_->setValue(f->stroke->style.widthPx);
    dash_->setValue(f->stroke->style.dashPx);
    gap_->setValue(f->stroke->style.gapPx);
    round_->setChecked(f->stroke->style.roundEnds);
  }
}

}  // namespace hseam::app
