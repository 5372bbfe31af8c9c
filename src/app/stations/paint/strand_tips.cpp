#include "app/stations/paint/strand_tips.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/image/picture_file.h"
#include "core/image/sampler.h"
#include "core/matte/strand_direction.h"

namespace hseam::app {
namespace {

constexpr int kTips = 6;            // variants that stamps choose from
constexpr double kHairWindow = 12;  // px: sigma of the place that is asked how hair lies
constexpr double kPrevails = 0.25;  // coherence below which no direction does
constexpr int kLargestOwn = 1024;   // px a side

// The side of a way on which strands have something to do: less is covered there where they show, more where they hide.
double towards(image::Sampler& mask, base::Point at, double axis, double reach, bool hides) {
  const double x = std::cos(axis) * reach, y = std::sin(axis) * reach;
  const float there = mask.at(at.x + x, at.y + y, 0), back = mask.at(at.x - x, at.y - y, 0);
  return (hides ? there >= back : there <= back) ? axis : axis + M_PI;
}

}  // namespace

StrandTips::StrandTips(Session& session, Messages& messages, QWidget* parent)
    : QWidget(parent), session_(session), messages_(messages), kind_(new QComboBox), lies_(new QComboBox), more_(new QWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  kind_->addItems({tr("round"), tr("hair"), tr("fur"), tr("grass"), tr("leaves"), tr("wool"), tr("own, from a file…"),
                   tr("own, from the selection")});
  kind_->setAccessibleName(tr("Tip"));
  kind_->setObjectName(QStringLiteral("tips"));
  kind_->setToolTip(
      tr("Round, or strands that are stamped along the stroke, no two alike. An own tip is any grey picture, or what "
         "is selected of this cut"));
  connect(kind_, &QComboBox::activated, this, &StrandTips::choose);
  column->addWidget(namedRow(tr("tip"), kind_));
  auto* fields = new QVBoxLayout(more_);
  fields->setContentsMargins(0, 0, 0, 0);
  fields->setSpacing(6);
  lies_->addItems({tr("out of the stroke"), tr("along the stroke"), tr("as the hair lies there")});
  lies_->setAccessibleName(tr("How strands lie"));
  lies_->setToolTip(
      tr("Out of the stroke: draw along the edge, strands stand on the side where less shows (hiding: where more does). As the "
         "hair lies: the "
         "picture is asked at every stamp"));
  fields->addWidget(namedRow(tr("strands lie"), lies_));
  length_ = new ValueField(tr("length"), {6, 1000, 110, 0, tr("px"), false}, tr("Of the strands (Alt + wheel)"));
  strength_ = new ValueField(tr("strength"), {1, 100, 80, 0, tr("%"), true},
                             tr("The most one stamp covers; strokes over strokes become dense"));
  haze_ = new ValueField(tr("haze"), {0, 100, 0, 0, tr("%"), true},
                         tr("A faint blur round the strands, as where many fine ones end"));
  spacing_ = new ValueField(tr("spacing"), {3, 100, 12, 0, tr("%"), true}, tr("Between stamps, of their length"));
  size_ = new ValueField(tr("size ±"), {0, 90, 35, 0, tr("%"), true}, tr("How much the size varies at random"));
  angle_ = new ValueField(tr("angle ±"), {0, 90, 14, 0, tr("°"), true}, tr("How much the direction varies at random"));
  seed_ =
      new ValueField(tr("seed"), {1, 999, 1, 0, {}, true}, tr("Another number, other strands; the same number, the same ones"));
  for (ValueField* f : {length_, strength_, haze_, spacing_, size_, angle_, seed_}) fields->addWidget(f);
  connect(length_, &ValueField::changed, this, &StrandTips::changed);
  fields->addWidget(button(tr("Extend with its own hair…"),
                           tr("Drag from hair inside to where it should reach: a copy on a layer of its own, to be painted in"),
                           [this] { emit extendAsked(); }));
  column->addWidget(more_);
  more_->hide();
}

bool StrandTips::round() const {
  return kind_->currentIndex() == kRound;
}

void StrandTips::choose(int kind) {
  if (kind == kFromFile) readTip();
  if (kind == kFromSelection && !tipFromSelection()) kind_->setCurrentIndex(kHair);
  more_->setVisible(!round());
  emit changed();
}

void StrandTips::readTip() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("A tip of your own"), {}, tr("Grey pictures (*.png *.tif *.tiff *.jpg *.webp)"));
  if (path.isEmpty()) {
    kind_->setCurrentIndex(own_.empty() ? kHair : kFromFile);
    return;
  }
  const auto read = image::readCoverage(path.toStdString(), session_.memory(), session_.executor());
  if (read.ok() && !image::isWide(read->format())) {
    int level = 0;
    while (std::max(read->level(level).size.width, read->level(level).size.height) > kLargestOwn) ++level;
    const base::Size size = read->level(level).size;
    if (auto tip = image::read8(*read, level, {0, 0, size.width, size.height}); tip.ok()) {
      own_ = std::move(tip).value();
      return;
    }
  }
  emit messages_.refused(read.ok() ? tr("A tip needs a grey picture of 8 bit") : QString::fromStdString(read.error().text()));
  kind_->setCurrentIndex(kHair);
}

// What shows of the layer within its selection: a lock of hair becomes a tip.
bool StrandTips::tipFromSelection() {
  const scene::Layer* l = session_.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if (!p || p->cutout->selection.isNull() || l->mask.coverage.isNull() ||
      l->mask.coverage.format() != image::PixelFormat::grey8) {
    emit messages_.said(tr("Select a lock of a finished cut first; its coverage becomes the tip"));
    return false;
  }
  const base::Rect box =
      image::differenceOf(p->cutout->selection, image::uniformCoverage(p->source.size(), 0, session_.memory()));
  if (box.empty() || std::max(box.width, box.height) > kLargestOwn) {
    emit messages_.said(tr("The selection is empty or larger than 1024 px: select a single lock"));
    return false;
  }
  auto chosen = image::read8(p->cutout->selection, 0, box);
  const auto shown = image::read8(l->mask.coverage, 0, box);
  if (!chosen.ok() || !shown.ok()) return false;
  for (std::size_t i = 0; i < chosen->samples().size(); ++i)
    chosen->samples()[i] = std::uint8_t(chosen->samples()[i] * shown->samples()[i] / 255);
  own_ = std::move(chosen).value();
  return true;
}

std::vector<paint::StrandTip> StrandTips::tips() const {
  const double haze = haze_->value() / 100;
  std::vector<paint::StrandTip> all;
  if (kind_->currentIndex() >= kFromFile) {
    all.push_back(paint::StrandTip::from(own_, haze));
    return all;
  }
  constexpr paint::Growth kGrowths[] = {paint::Growth::hair,  paint::Growth::hair,   paint::Growth::fur,
                                        paint::Growth::grass, paint::Growth::leaves, paint::Growth::wool};
  for (std::uint64_t i = 0; i < kTips; ++i)
    all.push_back(paint::StrandTip::grown(kGrowths[kind_->currentIndex()], std::uint64_t(seed_->value()) * 1000 + i, haze));
  return all;
}

std::unique_ptr<paint::Drawing> StrandTips::drawing(const Brush::Target& target, std::uint8_t value, paint::Pressure pressure) {
  paint::StrandSettings s;
  s.lengthPx = length_->value();
  s.strength = strength_->value() / 100;
  s.spacing = spacing_->value() / 100;
  s.sizeVaries = size_->value() / 100;
  s.angleVariesDeg = angle_->value();
  // Each stroke has its own strands, the same ones after undo.
  s.seed = std::uint64_t(seed_->value()) + (target.picture.stamp() << 10);
  s.pressure = pressure;
  auto mask = std::make_shared<image::Sampler>(target.picture);
  const auto* p = session_.activeLayer() ? session_.activeLayer()->picture() : nullptr;
  const image::TiledImage source = p ? p->source : image::TiledImage();
  const auto way = Lies(lies_->currentIndex());
  const double reach = s.lengthPx / 2;
  const auto direction = [mask, source, way, reach, hides = value < 128](base::Point at, double travel) {
    if (way == kAlong) return travel;
    if (way == kAsHair && !source.isNull()) {
      const auto hair = matte::strandDirection(source, at, kHairWindow);
      if (hair.ok() && hair->coherence > kPrevails) return towards(*mask, at, hair->angle, reach, hides);
    }
    return towards(*mask, at, travel + M_PI / 2, reach, hides);
  };
  return std::make_unique<paint::StrandStroke>(target.picture, tips(), s, direction, value);
}

}  // namespace hseam::app
