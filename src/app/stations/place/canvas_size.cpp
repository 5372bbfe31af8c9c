#include "app/stations/place/canvas_size.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

QSpinBox* pixels(const QString& name, const QString& tip, int low) {
  auto* box = new QSpinBox;
  box->setRange(low, image::kMaxSide);
  box->setSuffix(QObject::tr(" px"));
  box->setAccessibleName(name);
  box->setToolTip(tip);
  box->setKeyboardTracking(false);
  return box;
}

}  // namespace

CanvasSize::CanvasSize(Desk& desk)
    : Page(desk, {"canvas", tr("Canvas"), tr("Crop, extend, resize or straighten the whole scene; no picture loses a pixel")}) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  buildFrame();
  buildSize();
}

void CanvasSize::buildFrame() {
  left_ = pixels(tr("Frame, from the left"), tr("Where the frame begins; negative reaches out of the picture"), -image::kMaxSide);
  top_ = pixels(tr("Frame, from the top"), tr("Where the frame begins; negative reaches out of the picture"), -image::kMaxSide);
  width_ = pixels(tr("Frame, width"), tr("How wide the canvas will be"), 1);
  height_ = pixels(tr("Frame, height"), tr("How high the canvas will be"), 1);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  const std::pair<QString, QSpinBox*> boxes[] = {
      {tr("from the left"), left_}, {tr("from the top"), top_}, {tr("wide"), width_}, {tr("high"), height_}};
  int at = 0;
  for (const auto& [name, box] : boxes) {
    grid->addWidget(quietLabel(name), at / 2 * 2, at % 2);
    grid->addWidget(box, at / 2 * 2 + 1, at % 2);
    ++at;
    connect(box, &QSpinBox::valueChanged, this, [this, box] {
      QRectF f(left_->value(), top_->value(), width_->value(), height_->value());
      if (const double ratio = frame_.ratio(); ratio > 0) {
        box == height_ ? f.setWidth(std::round(f.height() * ratio)) : f.setHeight(std::round(f.width() / ratio));
      }
      frame_.setFrame(f);
      showFrame();
      emit changed();
    });
  }
  auto* column = static_cast<QVBoxLayout*>(layout());
  column->addLayout(grid);
  frame_.changed = [this] { showFrame(); };
  ratios_ = new QComboBox;
  ratios_->setAccessibleName(tr("Proportions of the frame"));
  ratios_->setToolTip(tr("The frame keeps them while it is dragged"));
  ratios_->addItem(tr("any proportions"), 0.0);
  ratios_->addItem(tr("as the canvas"), -1.0);
  for (const auto& [wide, high] : {std::pair(1, 1), {5, 4}, {4, 3}, {3, 2}, {16, 9}, {2, 1}})
    ratios_->addItem(tr("%1 : %2").arg(wide).arg(high), double(wide) / high);
  connect(ratios_, &QComboBox::activated, this, [this] {
    const base::Size c = desk_.session.scene().canvas;
    const double chosen = ratios_->currentData().toDouble();
    frame_.keepRatio(chosen < 0 ? double(c.width) / c.height : chosen);
    emit changed();
  });
  column->addWidget(rowOf({ratios_, button(tr("Swap sides"), tr("Upright becomes lying, lying upright"), [this] {
                             frame_.swapSides();
                             emit changed();
                           })}));
  column->addWidget(rowOf({
      button(tr("Cut to the frame"),
             tr("The canvas becomes the frame: smaller crops, larger extends. Pictures keep all their pixels."),
             [this] {
               const QRect f = frame_.frame().toRect();
               change(render::cropped({f.x(), f.y(), f.width(), f.height()}));
             }),
      button(tr("Frame all"), tr("The frame goes round everything that is in the scene"),
             [this] {
               base::Rect all = base::Rect::of(desk_.session.scene().canvas);
               for (const auto& l : scene::allLayers(desk_.session.scene())) {
                 if (const auto* p = l->picture())
                   all = all.united(base::boundsOf(p->placement.toScene(p->source.size()), base::Rect::of(p->source.size())));
               }
               frame_.setFrame(QRectF(all.x, all.y, all.width, all.height));
               showFrame();
               emit changed();
             }),
  }));
}

void CanvasSize::buildSize() {
  auto* column = static_cast<QVBoxLayout*>(layout());
  newWidth_ = pixels(tr("New width"), tr("Everything becomes larger or smaller together; the height follows"), 1);
  newHeight_ = quietLabel({});
  connect(newWidth_, &QSpinBox::valueChanged, this, [this](int w) {
    const base::Size c = desk_.session.scene().canvas;
    newHeight_->setText(tr("× %1 px").arg(std::max(1l, std::lround(double(w) * c.height / c.width))));
  });
  column->addWidget(rowOf({newWidth_, newHeight_,
                           button(tr("Resize all"), tr("Scales canvas and layers; the pictures keep all their pixels"), [this] {
                             const base::Size c = desk_.session.scene().canvas;
                             const int w = newWidth_->value();
                             change(render::resized(c, {w, std::max(1, int(std::lround(double(w) * c.height / c.width)))}));
                           })}));
  angle_ = new QDoubleSpinBox;
  angle_->setRange(-45, 45);
  angle_->setDecimals(2);
  angle_->setSingleStep(0.1);
  angle_->setSuffix(tr("°"));
  angle_->setAccessibleName(tr("Turn of the whole scene"));
  angle_->setToolTip(tr("Positive turns clockwise. Draw a line on the picture to find it."));
  auto* draw = new QCheckBox(tr("draw a line that ought to be level"));
  draw->setToolTip(tr("Then draw along the horizon, or along something upright, on the picture"));
  connect(draw, &QCheckBox::toggled, this, [this](bool on) {
    levelling_ = on;
    emit changed();
  });
  level_.drawn = [this, draw](double degrees) {
    angle_->setValue(degrees);
    draw->setChecked(false);
  };
  column->addWidget(draw);
  column->addWidget(rowOf({angle_, button(tr("Straighten"), tr("Turns the whole scene and crops to what stays filled"), [this] {
                             if (angle_->value() != 0)
                               change(render::straightened(desk_.session.scene().canvas, angle_->value()));
                             angle_->setValue(0);
                           })}));
}

Instrument* CanvasSize::instrument() {
  return levelling_ ? static_cast<Instrument*>(&level_) : &frame_;
}

void CanvasSize::showFrame() {
  const QRect f = frame_.frame().toRect();
  const std::pair<QSpinBox*, int> values[] = {{left_, f.x()}, {top_, f.y()}, {width_, f.width()}, {height_, f.height()}};
  for (const auto& [box, value] : values) {
    const QSignalBlocker quiet(box);
    box->setValue(value);
  }
}

void CanvasSize::refresh() {
  const base::Size c = desk_.session.scene().canvas;
  if (c == known_) return;
  known_ = c;
  frame_.setFrame(QRectF(0, 0, c.width, c.height));
  showFrame();
  newWidth_->setValue(c.width);
}

void CanvasSize::change(const render::CanvasChange& change) {
  desk_.jobs.start<scene::Edit>(
      QString::fromStdString(change.label),
      [s = desk_.session.scene(), change](base::Executor& e, const base::Progress&) {
        return render::changedCanvas(s, change, e);
      },
      [this, from = desk_.session.scene()](const scene::Edit& edit) {
        known_ = {};
        desk_.session.applyResult(edit, from);
        refresh();
        emit changed();
      });
}

QString CanvasSize::words() const {
  const base::Size c = desk_.session.scene().canvas;
  return QStringLiteral("%1 × %2").arg(c.width).arg(c.height);
}

}  // namespace hseam::app
