#include "app/stations/adjust_editors.h"

#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/stations/station.h"
#include "app/theme/theme.h"
#include "core/image/transfer.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

using scene::CurvePoints;
using scene::Curves;

constexpr int kLightness = 4;  // in the list of channels

// A tone as the curve of this channel sees it. 0: luma.
float toneOf(const float* p, int channel) {
  if (channel == 0) return 0.3f * p[0] + 0.59f * p[1] + 0.11f * p[2];
  if (channel < kLightness) return p[channel - 1];
  double y = 0;
  constexpr double kWeights[] = {0.2126, 0.7152, 0.0722};
  for (int c = 0; c < 3; ++c) y += kWeights[c] * image::linearFromEncoded(double(p[c]));
  return float(scene::lightnessOfLuminance(y));
}

CurveEditor::Histogram histogramOf(const scene::Scene& scene, int channel) {
  CurveEditor::Histogram h{};
  int level = 0;
  while ((scene.canvas.width >> level) > 256 || (scene.canvas.height >> level) > 256) ++level;
  base::InlineExecutor here;
  render::Renderer renderer;
  const auto pixels = renderer.render(scene, base::Rect::of(render::canvasAt(scene, level)), level, here);
  if (!pixels.ok()) return h;
  for (std::size_t i = 0; i < pixels->pixels(); ++i) {
    const float* p = pixels->samples().data() + i * 4;
    if (p[3] <= 0) continue;
    const float v = toneOf(p, channel);
    h[std::size_t(std::clamp(v, 0.f, 1.f) * 127)] += 1;
  }
  // The tallest peaks are cut, so that one flat sky does not press all the rest to the floor.
  auto sorted = h;
  std::nth_element(sorted.begin(), sorted.begin() + 120, sorted.end());
  const float top = std::max(1.f, sorted[120]);
  for (float& v : h) v = std::min(1.f, v / top);
  return h;
}

CurvePoints Curves::*const kChannels[] = {&Curves::rgb, &Curves::red, &Curves::green, &Curves::blue, &Curves::lightness};

}  // namespace

AdjustEditors::AdjustEditors(Desk& desk, QWidget* parent)
    : QStackedWidget(parent),
      desk_(desk),
      tones_({[this](const QPointF& at) { return grabTone(at); }, [this](double by) { curve_->lift(by); },
              [this] { curve_->let(); },
              [this] { return tr("drag a tone of the picture up to lighten it, down to darken it"); }}),
      ramp_({[this] { return rampLine(); }, [this](const QLineF& line, bool keep) { setRamp(line, keep); },
             [this] { desk_.document().draft(std::nullopt); },
             [this] { return tr("draw from where it is sharp to where it is fully out of focus"); }}) {
  addWidget(quietLabel(tr("Choose an adjustment in the sheet, or add one.")));
  buildCurves();
  buildLevels();
  tints_ = new TintPlane;
  connect(tints_, &TintPlane::changing, this, [this](const scene::ColourBalance& b) { edit(b, false); });
  connect(tints_, &TintPlane::changed, this, [this](const scene::ColourBalance& b) { edit(b, true); });
  addWidget(tints_);
  exposure_ = single(tr("exposure"), {-10, 10, 0, 2, tr("stops"), true}, tr("One stop is twice the light"),
                     [](double v) { return scene::Exposure{v}; });
  saturation_ = single(tr("saturation"), {-100, 200, 0, 0, tr("%"), true}, tr("-100 % is grey; lightness stays"),
                       [](double v) { return scene::Saturation{v / 100}; });
  numbers_ = new NumberFields;
  connect(numbers_, &NumberFields::changing, this, [this](const scene::ByNumbers& n) { edit(n, false); });
  connect(numbers_, &NumberFields::changed, this, [this](const scene::ByNumbers& n) { edit(n, true); });
  lens_ = new LensBlur(desk_);
  connect(lens_, &LensBlur::radiusAsked, this, [this](double px) {
    const auto* n = active() ? std::get_if<scene::ByNumbers>(active()) : nullptr;
    if (n) edit(scene::with(*n, "radius", px), true);
  });
  auto* byNumbers = new QWidget;
  auto* under = new QVBoxLayout(byNumbers);
  under->setContentsMargins(0, 0, 0, 0);
  under->addWidget(numbers_);
  under->addWidget(lens_);
  addWidget(byNumbers);
  toneColours_ = new ToneColours;
  connect(toneColours_, &ToneColours::changing, this, [this](const scene::TonesToColours& c) { edit(c, false); });
  connect(toneColours_, &ToneColours::changed, this, [this](const scene::TonesToColours& c) { edit(c, true); });
  addWidget(toneColours_);
  buildTable();
  fitToPage(this);
}

void AdjustEditors::buildCurves() {
  auto* curves = new QWidget;
  auto* c = new QVBoxLayout(curves);
  c->setContentsMargins(0, 0, 0, 0);
  channel_ = new QComboBox;
  channel_->addItems({tr("all channels"), tr("red"), tr("green"), tr("blue"), tr("lightness, colours kept")});
  channel_->setAccessibleName(tr("Channel of the curve"));
  channel_->setToolTip(tr("Which channel the curve bends. Lightness is CIE L*"));
  connect(channel_, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
  curve_ = new CurveEditor;
  connect(curve_, &CurveEditor::changing, this, [this](const CurvePoints& p) { bend(p, false); });
  connect(curve_, &CurveEditor::changed, this, [this](const CurvePoints& p) { bend(p, true); });
  c->addWidget(channel_);
  c->addWidget(curve_);
  c->addWidget(quietLabel(tr("Or drag a tone in the picture itself, up or down.")));
  c->addStretch(1);
  addWidget(curves);
}

void AdjustEditors::buildLevels() {
  auto* levels = new QWidget;
  auto* l = new QVBoxLayout(levels);
  l->setContentsMargins(0, 0, 0, 0);
  const struct {
    QString name, tip;
    ValueField::Range range;
  } rows[] = {{tr("black at"), tr("Tones up to here become the darkest"), {0, 254, 0, 0, {}, true}},
              {tr("white at"), tr("Tones from here on become the lightest"), {1, 255, 255, 0, {}, true}},
              {tr("middle"), tr("Above 1 lightens the middle tones, below 1 darkens them"), {0.1, 10, 1, 2, {}, false}},
              {tr("darkest"), tr("The darkest tone that comes out"), {0, 255, 0, 0, {}, true}},
              {tr("lightest"), tr("The lightest tone that comes out"), {0, 255, 255, 0, {}, true}}};
  for (const auto& r : rows) {
    auto* f = new ValueField(r.name, r.range, r.tip);
    levels_.push_back(f);
    l->addWidget(f);
    const auto take = [this](bool keep) {
      scene::Levels next{levels_[0]->value() / 255, levels_[1]->value() / 255, levels_[2]->value(), levels_[3]->value() / 255,
                         levels_[4]->value() / 255};
      next.white = std::max(next.white, next.black + 1.0 / 255);
      edit(next, keep);
    };
    connect(f, &ValueField::changing, this, [take] { take(false); });
    connect(f, &ValueField::changed, this, [take] { take(true); });
  }
  l->addStretch(1);
  addWidget(levels);
}

void AdjustEditors::buildTable() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  table_ = quietLabel({});
  column->addWidget(table_);
  column->addWidget(button(tr("Another table…"), tr("Reads a .cube file"), [this] {
    const QString path = QFileDialog::getOpenFileName(this, tr("Read a colour table"), {}, tr("Colour tables (*.cube)"));
    if (path.isEmpty()) return;
    const auto read = tableFrom(path);
    if (read.ok()) {
      edit(*read, true);
    } else {
      emit desk_.refused(QString::fromStdString(read.error().text()));
    }
  }));
  column->addStretch(1);
  addWidget(page);
}

base::Result<scene::TableLookup> AdjustEditors::tableFrom(const QString& path) {
  constexpr qint64 kMostBytes = 128 << 20;
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly))
    return base::Error{base::Code::notFound, path.toStdString(), file.errorString().toStdString()};
  if (file.size() > kMostBytes)
    return base::Error{base::Code::invalid, path.toStdString(), "this is too large for a colour table"};
  auto table = scene::colourTableFromCube(file.readAll().toStdString());
  if (!table.ok()) return base::Error{table.error().code, path.toStdString(), table.error().detail};
  if (table->title.empty()) table->title = QFileInfo(path).completeBaseName().toStdString();
  return scene::TableLookup{std::make_shared<const scene::ColourTable>(std::move(table).value())};
}

ValueField* AdjustEditors::single(const QString& name, const ValueField::Range& range, const QString& tip,
                                  const std::function<scene::Adjustment(double)>& make) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  auto* field = new ValueField(name, range, tip);
  connect(field, &ValueField::changing, this, [this, make](double v) { edit(make(v), false); });
  connect(field, &ValueField::changed, this, [this, make](double v) { edit(make(v), true); });
  column->addWidget(field);
  column->addStretch(1);
  addWidget(page);
  return field;
}

const scene::Adjustment* AdjustEditors::active() const {
  const auto* a = desk_.active() ? desk_.active()->adjustment() : nullptr;
  return a ? &a->adjustment : nullptr;
}

void AdjustEditors::edit(const scene::Adjustment& adjustment, bool keep) {
  const scene::Adjustment* now = active();
  if (!now || now->index() != adjustment.index()) return;
  const scene::SetAdjustment change{desk_.document().active(), adjustment};
  if (!keep) {
    desk_.document().draft(change);
  } else if (!(*now == adjustment)) {
    desk_.apply(change);
  } else {
    desk_.document().draft(std::nullopt);
  }
}

void AdjustEditors::bend(const CurvePoints& points, bool keep) {
  const auto* c = active() ? std::get_if<Curves>(active()) : nullptr;
  if (!c) return;
  Curves next = *c;
  next.*kChannels[channel_->currentIndex()] = points;
  edit(next, keep);
}

Instrument* AdjustEditors::tool() {
  if (!active()) return nullptr;
  if (std::holds_alternative<Curves>(*active())) return &tones_;
  const auto* n = std::get_if<scene::ByNumbers>(active());
  return n && std::string_view(n->of().key) == "defocus" ? &ramp_ : nullptr;
}

// Of the shown scene, px.
std::optional<QLineF> AdjustEditors::rampLine() const {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* n = l && l->adjustment() ? std::get_if<scene::ByNumbers>(&l->adjustment()->adjustment) : nullptr;
  if (!n || std::string_view(n->of().key) != "defocus") return std::nullopt;
  const base::Size c = desk_.scene().canvas;
  return QLineF((*n)["sharpX"] * c.width, (*n)["sharpY"] * c.height, (*n)["fullX"] * c.width, (*n)["fullY"] * c.height);
}

void AdjustEditors::setRamp(const QLineF& line, bool keep) {
  const auto* now = active() ? std::get_if<scene::ByNumbers>(active()) : nullptr;
  if (!now) return;
  const base::Size c = desk_.scene().canvas;
  scene::ByNumbers n = *now;
  const auto held = [](double v) { return std::clamp(v, -1.0, 2.0); };
  n = scene::with(n, "sharpX", held(line.x1() / c.width));
  n = scene::with(n, "sharpY", held(line.y1() / c.height));
  n = scene::with(n, "fullX", held(line.x2() / c.width));
  n = scene::with(n, "fullY", held(line.y2() / c.height));
  edit(n, keep);
}

// The curve gets a point at the tone that lies there without it.
bool AdjustEditors::grabTone(const QPointF& at) {
  auto without = scene::apply(desk_.scene(), scene::SetHidden{desk_.document().active(), true});
  if (!without.ok()) return false;
  const base::Rect spot = base::Rect{int(std::floor(at.x())) - 1, int(std::floor(at.y())) - 1, 3, 3}.intersected(
      base::Rect::of(desk_.scene().canvas));
  if (spot.empty()) return false;
  const auto pixels = render::Renderer().render(*without, spot, 0, desk_.executor());
  if (!pixels.ok()) return false;
  double tone = 0;
  for (std::size_t i = 0; i < pixels->pixels(); ++i)
    tone += double(toneOf(pixels->samples().data() + i * 4, channel_->currentIndex()));
  curve_->grab(tone / double(pixels->pixels()));
  return true;
}

void AdjustEditors::refresh() {
  const scene::Adjustment* a = active();
  setCurrentIndex(a ? int(a->index()) + 1 : 0);
  if (!a) return;
  if (const auto* c = std::get_if<Curves>(a)) {
    const bool dark = theme::look() == theme::Look::dark;
    const QColor colours[] = {theme::colours().text, dark ? QColor(255, 130, 130) : QColor(170, 20, 20),
                              dark ? QColor(130, 230, 140) : QColor(10, 100, 20),
                              dark ? QColor(140, 170, 255) : QColor(20, 40, 180), theme::colours().quiet};
    curve_->setColour(colours[channel_->currentIndex()]);
    curve_->setCurve(c->*kChannels[channel_->currentIndex()]);
    if (isVisible()) refreshHistograms();
  } else if (const auto* v = std::get_if<scene::Levels>(a)) {
    const double shown[] = {v->black * 255, v->white * 255, v->middle, v->outBlack * 255, v->outWhite * 255};
    for (std::size_t i = 0; i < levels_.size(); ++i) levels_[i]->setValue(shown[i]);
  } else if (const auto* e = std::get_if<scene::Exposure>(a)) {
    exposure_->setValue(e->stops);
  } else if (const auto* k = std::get_if<scene::Saturation>(a)) {
    saturation_->setValue(k->amount * 100);
  } else if (const auto* n = std::get_if<scene::ByNumbers>(a)) {
    numbers_->show(*n);
    const bool lens = std::string_view(n->of().key) == "defocus";
    lens_->setVisible(lens);
    if (lens) lens_->refresh();
  } else if (const auto* t = std::get_if<scene::TonesToColours>(a)) {
    toneColours_->setColours(*t);
  } else if (const auto* l = std::get_if<scene::TableLookup>(a)) {
    table_->setText(tr("%1, %2 steps a side").arg(QString::fromStdString(l->table->title)).arg(l->table->side));
  } else {
    tints_->setBalance(std::get<scene::ColourBalance>(*a));
  }
}

// Tones of the scene as it is and of the scene without this adjustment, from a small rendering.
void AdjustEditors::refreshHistograms() {
  struct Both {
    CurveEditor::Histogram with{}, without{};
  };
  const scene::Scene& s = desk_.document().shown();
  auto without = scene::apply(s, scene::SetHidden{desk_.document().active(), true});
  if (!without.ok()) return;
  desk_.aside().ask<Both>(
      QStringLiteral("histograms"),
      [s, other = std::move(without).value(), channel = channel_->currentIndex()] {
        return Both{histogramOf(s, channel), histogramOf(other, channel)};
      },
      [this](const Both& h) { curve_->setHistograms(h.with, h.without); });
}

}  // namespace hseam::app
