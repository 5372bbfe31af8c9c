#include "app/stations/match/lens_blur.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"
#include "core/measure/lens_blur.h"

namespace hseam::app {
namespace {

constexpr double kFullFrameMm = 36;
constexpr double kMostRadius = 100;  // px, of the adjustment

}  // namespace

LensBlur::LensBlur(Session& session, QWidget* parent) : QWidget(parent), session_(session), told_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(3);
  column->addWidget(quietLabel(tr("As the camera would have drawn it:")));
  focal_ = new ValueField(tr("focal length"), {2, 1200, 50, 0, tr("mm"), false},
                          tr("Of the lens itself; what the picture's file says, where it says it"));
  aperture_ = new ValueField(tr("f-number"), {0.7, 64, 2.8, 1, {}, false}, tr("The aperture: smaller numbers blur more"));
  focus_ = new ValueField(tr("focused at"), {0.1, 500, 3, 1, tr("m"), false}, tr("How far away what is sharp stands"));
  distance_ = new ValueField(tr("this lies at"), {0.1, 5000, 30, 1, tr("m"), false}, tr("How far away what is blurred lies"));
  for (ValueField* f : {focal_, aperture_, focus_, distance_}) {
    column->addWidget(f);
    connect(f, &ValueField::changing, this, &LensBlur::refresh);
    connect(f, &ValueField::changed, this, &LensBlur::refresh);
  }
  told_->setAccessibleName(tr("Blur of that distance"));
  column->addWidget(told_);
  use_ = button(tr("Use this radius"), tr("The adjustment above takes it"), [this] { emit radiusAsked(radius_); });
  column->addWidget(use_);
}

// The picture furthest back is the place that was photographed.
const scene::PictureContent* LensBlur::plate() const {
  for (const auto& l : scene::allLayers(session_.scene())) {
    if (const auto* p = l->picture(); p && !p->byHand && !l->hidden) return p;
  }
  return nullptr;
}

double LensBlur::focalPx() const {
  const auto* p = plate();
  if (p && p->about.focal35Mm > 0) return p->placement.scale * p->source.size().width * p->about.focal35Mm / kFullFrameMm;
  const double angle = scene::floorOf(session_.scene()).viewAngleDeg * M_PI / 180;
  return session_.scene().canvas.width / 2.0 / std::tan(angle / 2);
}

void LensBlur::refresh() {
  const auto* p = plate();
  if (const std::uint64_t from = p ? p->source.stamp() : 0; from != filledFrom_) {
    filledFrom_ = from;
    if (p && p->about.focalMm > 0) focal_->setValue(p->about.focalMm);
    if (p && p->about.aperture > 0) aperture_->setValue(p->about.aperture);
  }
  const auto disc =
      measure::blurDiameterPx({focal_->value(), aperture_->value(), focus_->value(), focalPx()}, distance_->value());
  use_->setEnabled(disc.has_value());
  if (!disc) {
    told_->setText(tr("No lens focuses that near."));
    return;
  }
  radius_ = std::min(kMostRadius, *disc / 2);
  const QString from = p && p->about.focal35Mm > 0 ? tr("by its file's lens") : tr("by the angle of view set in Place");
  told_->setText(tr("A point becomes a disc of %1 px (%2).").arg(*disc, 0, 'f', 1).arg(from));
}

}  // namespace hseam::app
