#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLocale>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/gather/frames_page.h"
#include "app/widgets/builders.h"
#include "app/widgets/value_field.h"
#include "core/scene/colour_functions.h"

namespace hseam::app {
namespace {

using scene::FrameSet;

constexpr double kMostMired = 150, kUnseenShare = 0.002;

// Factors of the linear channels that make white light so much warmer, as bright as before.
std::array<double, 3> tintOf(double mired) {
  const auto m = scene::warmthMatrix(mired, 0);
  std::array<double, 3> white{};
  for (std::size_t c = 0; c < 3; ++c) white[c] = std::max(0.0, m[3 * c] + m[3 * c + 1] + m[3 * c + 2]);
  const double bright = 0.2126 * white[0] + 0.7152 * white[1] + 0.0722 * white[2];
  for (double& w : white) w /= std::max(1e-6, bright);
  return white;
}

// The warmth whose tint has this share of red to blue: it rises with warmth.
double miredOf(const std::array<double, 3>& tint) {
  double low = -kMostMired, high = kMostMired;
  for (int i = 0; i < 30; ++i) {
    const double middle = (low + high) / 2;
    const auto t = tintOf(middle);
    (t[0] * tint[2] < tint[0] * t[2] ? low : high) = middle;
  }
  return std::round((low + high) / 2);
}

QString placeWords(base::Point p) {
  const QString across = p.x < 0.38 ? QObject::tr("left") : (p.x > 0.62 ? QObject::tr("right") : QString());
  const QString down = p.y < 0.38 ? QObject::tr("top") : (p.y > 0.62 ? QObject::tr("bottom") : QString());
  if (across.isEmpty() && down.isEmpty()) return QObject::tr("the middle");
  return down.isEmpty() ? across : (across.isEmpty() ? down : QObject::tr("%1 %2").arg(down, across));
}

QString colourWords(const std::array<double, 3>& c) {
  const double warmth = c[0] / std::max(0.05, c[2]);
  return warmth > 1.35 ? QObject::tr("warm") : (warmth < 0.75 ? QObject::tr("cool") : QObject::tr("neutral"));
}

std::vector<std::uint64_t> stampsOf(const FrameSet& set) {
  std::vector<std::uint64_t> out;
  for (const scene::SetFrame& f : set.frames) out.push_back(f.picture.stamp() * (f.used ? 1 : 0));
  return out;
}

}  // namespace

LampsPage::LampsPage(Desk& desk, FrameWork& work)
    : Page(desk,
           {"lamps", tr("Light from several lamps"),
            tr("Each frame lit by another lamp: what it adds to the base is weakened, strengthened and coloured afterwards")}),
      work_(work),
      way_(new QComboBox),
      rows_(new QVBoxLayout),
      told_(quietLabel({})) {
  auto* c = column();
  way_->addItem(tr("as picked"), int(FrameSet::Way::picked));
  way_->addItem(tr("the lamps added up"), int(FrameSet::Way::lamps));
  way_->addItem(tr("the lightest of all"), int(FrameSet::Way::lightest));
  way_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  way_->setAccessibleName(tr("What becomes of the frames"));
  way_->setToolTip(
      tr("Picked places, the sum of what each frame adds to the base in light, or the lightest frame at each place"));
  c->addWidget(namedRow(tr("shows"), way_));
  rows_->setContentsMargins(0, 0, 0, 0);
  c->addLayout(rows_);
  told_->setAccessibleName(tr("What the lamps leave dark"));
  c->addWidget(told_);
  hatched_ = new QCheckBox(tr("hatch what none of them lights"));
  hatched_->setToolTip(tr("Marks the places that stay as dark as in the base, whatever is turned up"));
  connect(hatched_, &QCheckBox::toggled, this, [this] { emit changed(); });
  c->addWidget(hatched_);
  connect(way_, &QComboBox::activated, this, [this] { work_.setWay(FrameSet::Way(way_->currentData().toInt())); });
  connect(&work_, &FrameWork::changed, this, [this] {
    refresh();
    emit changed();
  });
  refresh();
}

void LampsPage::refresh() {
  const FrameSet* set = work_.set();
  way_->setEnabled(set);
  const auto stamps = set ? stampsOf(*set) : std::vector<std::uint64_t>();
  if (stamps != shownOf_) {
    shownOf_ = stamps;
    measured_ = nullptr;
    emptyLayout(*rows_);
    strengths_.clear(), warmths_.clear(), lights_.clear();
    for (std::size_t k = 1; set && k < set->frames.size(); ++k) {
      const QString name = tr("lamp %1").arg(k);
      auto* strength = new ValueField(name, {0, 300, 100, 0, QStringLiteral("%")},
                                      tr("How much of the light that frame %1 adds to the base shows").arg(k + 1));
      auto* warmth = new ValueField(tr("its warmth"), {-kMostMired, kMostMired, 0, 0, QStringLiteral("mired")},
                                    tr("The colour of its light: warmer to the right, cooler to the left"));
      auto* lights = quietLabel({});
      for (QWidget* w : {static_cast<QWidget*>(lights), static_cast<QWidget*>(strength), static_cast<QWidget*>(warmth)})
        rows_->addWidget(w);
      const auto set1 = [this, k, strength, warmth] { work_.setLamp(k, strength->value() / 100, tintOf(warmth->value())); };
      connect(strength, &ValueField::changed, this, set1);
      connect(warmth, &ValueField::changed, this, set1);
      strengths_.push_back(strength), warmths_.push_back(warmth), lights_.push_back(lights);
    }
    if (set) measure();
  }
  if (set) {
    const QSignalBlocker quiet(way_);
    way_->setCurrentIndex(way_->findData(int(set->way)));
  }
  for (std::size_t k = 0; set && k < strengths_.size(); ++k) {
    const scene::SetFrame& f = set->frames[k + 1];
    strengths_[k]->setValue(f.strength * 100);
    warmths_[k]->setValue(miredOf(f.tint));
    strengths_[k]->setEnabled(f.used);
    warmths_[k]->setEnabled(f.used);
    lights_[k]->setText(lightWords(k));
  }
  told_->setVisible(measured_ != nullptr);
  hatched_->setVisible(measured_ != nullptr);
  if (measured_) {
    double dark = 0;
    for (const std::uint8_t v : measured_->unlit.samples()) dark += v;
    const bool all = dark < 0.005 * double(measured_->unlit.pixels());
    told_->setText(
        all ? tr("No place is left dark.")
            : tr("%1 % of the picture is lit by none of them.").arg(std::lround(100 * dark / double(measured_->unlit.pixels()))));
  }
}

QString LampsPage::lightWords(std::size_t lamp) const {
  const FrameSet* set = work_.set();
  const QString file = QString::fromStdString(set->frames[lamp + 1].name);
  if (!set->frames[lamp + 1].used) return tr("%1: left out").arg(file);
  if (!measured_ || lamp >= measured_->frames.size()) return file;
  const frames::Lights& l = measured_->frames[lamp];
  if (l.share < kUnseenShare) return tr("%1 adds no light: leave it out").arg(file);
  return tr("%1 lights %2, %3 % of the picture, by %4 stop, %5")
      .arg(file, placeWords(l.brightest))
      .arg(std::lround(100 * l.share))
      .arg(QLocale().toString(l.stops, 'f', 1), colourWords(l.colour));
}

void LampsPage::measure() {
  const FrameSet* set = work_.set();
  if (!set) return;
  FrameSet lit = *set;
  lit.way = FrameSet::Way::lamps;
  // Those of picks are in another light: they would be put out of the way.
  const auto laid = set->way == FrameSet::Way::lamps ? work_.laid() : std::make_shared<sets::LaidFrames>();
  const auto of = shownOf_;
  desk_.aside.ask<std::shared_ptr<const frames::WhatLights>>(
      QStringLiteral("lamps"),
      [lit, laid]() -> std::shared_ptr<const frames::WhatLights> {
        base::InlineExecutor here;
        const auto frames = laid->of(lit, here, {});
        if (!frames.ok()) return nullptr;
        auto measured = frames::whatLights(*frames);
        return measured.ok() ? std::make_shared<const frames::WhatLights>(std::move(measured).value()) : nullptr;
      },
      [this, of](const std::shared_ptr<const frames::WhatLights>& measured) {
        if (of != shownOf_) return;
        measured_ = measured;
        unlit_ = {};
        if (measured) {
          image::Raster<std::uint8_t> marks = measured->unlit;
          for (std::uint8_t& m : marks.samples()) m = m ? 128 : 255;
          base::InlineExecutor here;
          if (auto tiled = image::tiledFromRaster(marks, image::PixelFormat::grey8, desk_.session.memory(), here); tiled.ok())
            unlit_ = *tiled;
        }
        refresh();
        emit changed();
      });
}

void LampsPage::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  const auto* p = activePicture();
  if (!p || unlit_.isNull() || !hatched_->isChecked() || !work_.set()) return;
  const base::Size size = p->source.size(), small = unlit_.size();
  const base::Affine m = p->placement.toScene(size);
  const QTransform toScene = QTransform::fromScale(double(size.width) / small.width, double(size.height) / small.height) *
                             QTransform(m.a, m.c, m.b, m.d, m.e, m.f);
  overlay_.paint(painter, unlit_, toScene * toWidget, widget, LabelOverlay::Style::band);
}

QString LampsPage::words() const {
  const FrameSet* set = work_.set();
  if (!set || set->way == FrameSet::Way::picked) return {};
  return set->way == FrameSet::Way::lamps ? tr("added up") : tr("the lightest");
}

}  // namespace hseam::app
