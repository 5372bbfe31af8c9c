#include "app/stations/fills.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/station.h"
#include "app/theme/theme.h"
#include "core/path/edit.h"
#include "core/scene/mask_cover.h"

namespace hseam::app {
namespace {

using scene::GradientFill;
using scene::NoiseFill;
using scene::SolidFill;

}  // namespace

void GradientTool::draw(const QPointF& to, bool keep) {
  const scene::Layer* l = desk_.active();
  if (!held_ || !l || !l->fill() || !std::holds_alternative<GradientFill>(l->fill()->fill)) return;
  scene::FillContent next = *l->fill();
  auto& g = std::get<GradientFill>(next.fill);
  g.from = {from_.x(), from_.y()};
  g.to = {to.x(), to.y()};
  const scene::SetFill edit{l->id, next, l->mask};
  if (keep) {
    desk_.apply(edit);
  } else {
    desk_.document().draft(edit);
  }
}

void GradientTool::release(const Touch& touch) {
  const bool drawn = std::hypot(touch.at.x() - from_.x(), touch.at.y() - from_.y()) >= 1;
  if (drawn) draw(touch.at, true);
  held_ = false;
}

void GradientTool::cancel() {
  if (held_) desk_.document().draft(std::nullopt);
  held_ = false;
}

void GradientTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* g = l && l->fill() ? std::get_if<GradientFill>(&l->fill()->fill) : nullptr;
  if (!g) return;
  const QPointF a = toWidget.map(QPointF(g->from.x, g->from.y)), b = toWidget.map(QPointF(g->to.x, g->to.y));
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(QColor(0, 0, 0, 180), 3));
  painter.drawLine(a, b);
  painter.setPen(QPen(theme::colours().blue, 1.5));
  painter.drawLine(a, b);
  painter.setBrush(theme::colours().blue);
  painter.drawRect(QRectF(a - QPointF(5, 5), QSizeF(10, 10)));
  painter.drawEllipse(b, 6, 6);
}

Fills::Fills(Desk& desk, QWidget* parent)
    : QWidget(parent), desk_(desk), gradient_(desk), pages_(new QStackedWidget), form_(new QComboBox), round_(new QCheckBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(rowOf({
      button(tr("Colour"), tr("A layer of one colour over the active one"), [this] { add(SolidFill{}); }),
      button(tr("Gradient"), tr("Colours that pass into each other; draw its line on the picture"),
             [this] {
               GradientFill g;
               const base::Size c = desk_.scene().canvas;
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
  column->addWidget(
      rowOf({colourButton(tr("Begins as…"), [](scene::Fill& f) { return &std::get<GradientFill>(f).stops.front().colour; }),
             colourButton(tr("Ends as…"), [](scene::Fill& f) { return &std::get<GradientFill>(f).stops.back().colour; })}));
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

const scene::FillContent* Fills::active() const {
  return desk_.active() ? desk_.active()->fill() : nullptr;
}

Instrument* Fills::tool() {
  return active() && std::holds_alternative<GradientFill>(active()->fill) ? &gradient_ : nullptr;
}

QString Fills::words() const {
  return active() ? tr(scene::fillName(active()->fill)) : tr("none chosen");
}

void Fills::add(const scene::Fill& fill) {
  scene::Layer l;
  l.id = scene::freeId(desk_.scene());
  l.name = scene::fillName(fill);
  l.content = scene::FillContent{fill, nullptr};
  const auto at = scene::positionOf(desk_.scene(), desk_.document().active());
  desk_.apply(scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1});
}

void Fills::addFromPath(bool stitched) {
  const scene::Layer* from = desk_.active();
  if (!from || !from->mask.path) {
    emit desk_.said(tr("The active layer has no path yet: draw one in Cut out"));
    return;
  }
  const auto* p = from->picture();
  path::Path along = path::mapped(*from->mask.path, p ? p->placement.toScene(p->source.size()) : base::Affine{});
  if (!stitched) {
    // A shape has an inside: what is open is closed by a straight line.
    std::erase_if(along.outlines, [](const path::Outline& o) { return o.nodes.size() < 3 && !o.closed; });
    for (path::Outline& o : along.outlines) o.closed = true;
    if (along.outlines.empty()) {
      emit desk_.said(tr("This path encloses nothing yet"));
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
  auto mask = scene::boundedMask(l.mask, {}, true, desk_.scene().canvas, desk_.memory());
  if (!mask.ok()) {
    emit desk_.refused(QString::fromStdString(mask.error().text()));
    return;
  }
  l.mask = std::move(mask).value();
  l.id = scene::freeId(desk_.scene());
  l.name = (stitched ? "stitches of " : "shape of ") + from->name;
  l.content = std::move(fill);
  const auto at = scene::positionOf(desk_.scene(), from->id);
  desk_.apply(scene::AddLayer{std::move(l), at->parent, at->index + 1});
}

void Fills::apply(const scene::FillContent& fill, const scene::Mask& mask, bool keep) {
  const scene::SetFill edit{desk_.document().active(), fill, mask};
  if (keep) {
    desk_.apply(edit);
  } else {
    desk_.document().draft(edit);
  }
}

void Fills::edit(const scene::Fill& fill, bool keep) {
  if (!active() || active()->fill.index() != fill.index()) return;
  apply({fill, active()->stroke}, desk_.active()->mask, keep);
}

void Fills::editStroke(const path::StrokeStyle& style, bool keep) {
  if (!path::fits(style)) return;
  const scene::Stroke stroke{active()->stroke->along, style};
  scene::Mask mask = desk_.active()->mask;
  const image::TiledImage byHand = mask.byHand();
  mask.path = std::make_shared<const path::Path>(path::strokeOutline(stroke.along, style));
  mask.pathArea = {};
  auto made = scene::boundedMask(mask, mask.pathActs ? byHand : image::TiledImage(), true, desk_.scene().canvas, desk_.memory());
  if (!made.ok()) return;
  apply({active()->fill, std::make_shared<const scene::Stroke>(stroke)}, *made, keep);
}

void Fills::refresh() {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* f = l ? l->fill() : nullptr;
  pages_->setCurrentIndex(f ? int(f->fill.index()) + 1 : 0);
  stroke_->setVisible(f && f->stroke);
  if (!f) return;
  if (const auto* g = std::get_if<GradientFill>(&f->fill)) {
    form_->setCurrentIndex(int(g->form));
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
