#include "app/stations/match/adjust_editors.h"

#include <QButtonGroup>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/stations/match/scene_tones.h"
#include "app/theme/theme.h"
#include "app/widgets/builders.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

using scene::CurvePoints;
using scene::Curves;

CurvePoints Curves::*const kChannels[] = {&Curves::rgb, &Curves::red, &Curves::green, &Curves::blue, &Curves::lightness};

}  // namespace

AdjustEditors::AdjustEditors(Session& session, Messages& messages, Lane& aside, QWidget* parent)
    : QStackedWidget(parent),
      session_(session),
      messages_(messages),
      aside_(aside),
      tones_({[this](const QPointF& at) { return grabTone(at); }, [this](double by) { curve_->lift(by); },
              [this] { curve_->let(); },
              [this] { return tr("drag a tone of the picture up to lighten it, down to darken it"); }}),
      ramp_({[this] { return rampLine(); }, [this](const QLineF& line, bool keep) { setRamp(line, keep); },
             [this] { session_.draft(std::nullopt); },
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
  connect(numbers_, &NumberFields::changing, this, [this](const scene::ParametricAdjustment& n) { edit(n, false); });
  connect(numbers_, &NumberFields::changed, this, [this](const scene::ParametricAdjustment& n) { edit(n, true); });
  lens_ = new LensBlur(session_);
  connect(lens_, &LensBlur::radiusAsked, this, [this](double px) {
    const auto* n = active() ? std::get_if<scene::ParametricAdjustment>(active()) : nullptr;
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
  curve_ = new CurveEditor;
  connect(curve_, &CurveEditor::changing, this, [this](const CurvePoints& p) { bend(p, false); });
  connect(curve_, &CurveEditor::changed, this, [this](const CurvePoints& p) { bend(p, true); });
  connect(curve_, &CurveEditor::lineAsked, this, [this](int line) { takeChannel(line); });
  c->addWidget(curve_);
  // The lines of the field by name, for the keys and for those that still lie straight.
  channels_ = new QButtonGroup(this);
  const struct {
    QString name, tip;
  } lines[] = {{tr("all"), tr("The line that bends red, green and blue alike")},
               {tr("red"), tr("The line of red alone")},
               {tr("green"), tr("The line of green alone")},
               {tr("blue"), tr("The line of blue alone")},
               {tr("L*"), tr("The line of lightness (CIE L*); colours keep their hue")}};
  auto* row = new QWidget;
  auto* names = new QHBoxLayout(row);
  names->setContentsMargins(0, 0, 0, 0);
  names->setSpacing(4);
  for (int i = 0; i < int(std::size(lines)); ++i) {
    auto* b = new QRadioButton(lines[i].name);
    b->setToolTip(lines[i].tip);
    b->setAccessibleName(tr("Curve of %1").arg(lines[i].name));
    b->setChecked(i == 0);
    channels_->addButton(b, i);
    names->addWidget(b);
  }
  connect(channels_, &QButtonGroup::idClicked, this, [this](int line) { takeChannel(line); });
  c->addWidget(row);
  c->addWidget(quietLabel(tr("Or drag a tone in the picture itself, up or down.")));
  c->addStretch(1);
  addWidget(curves);
}

void AdjustEditors::takeChannel(int line) {
  channels_->button(line)->setChecked(true);
  refresh();
}

void AdjustEditors::buildLevels() {
  levels_ = new LevelLines;
  connect(levels_, &LevelLines::changing, this, [this](const scene::Levels& l) { edit(l, false); });
  connect(levels_, &LevelLines::changed, this, [this](const scene::Levels& l) { edit(l, true); });
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(levels_);
  column->addStretch(1);
  addWidget(page);
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
      emit messages_.refused(QString::fromStdString(read.error().text()));
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
  const auto* a = session_.activeLayer() ? session_.activeLayer()->adjustment() : nullptr;
  return a ? &a->adjustment : nullptr;
}

void AdjustEditors::edit(const scene::Adjustment& adjustment, bool keep) {
  const scene::Adjustment* now = active();
  if (!now || now->index() != adjustment.index()) return;
  const scene::SetAdjustment change{session_.active(), adjustment};
  if (!keep) {
    session_.draft(change);
  } else if (!(*now == adjustment)) {
    session_.apply(change);
  } else {
    session_.draft(std::nullopt);
  }
}

void AdjustEditors::bend(const CurvePoints& points, bool keep) {
  const auto* c = active() ? std::get_if<Curves>(active()) : nullptr;
  if (!c) return;
  Curves next = *c;
  next.*kChannels[channels_->checkedId()] = points;
  edit(next, keep);
}

Instrument* AdjustEditors::tool() {
  if (!active()) return nullptr;
  if (std::holds_alternative<Curves>(*active())) return &tones_;
  const auto* n = std::get_if<scene::ParametricAdjustment>(active());
  return n && n->id == scene::AdjustmentId::defocus ? &ramp_ : nullptr;
}

// Of the shown scene, px.
std::optional<QLineF> AdjustEditors::rampLine() const {
  const scene::Layer* l = scene::findLayer(session_.shown(), session_.active());
  const auto* n = l && l->adjustment() ? std::get_if<scene::ParametricAdjustment>(&l->adjustment()->adjustment) : nullptr;
  if (!n || n->id != scene::AdjustmentId::defocus) return std::nullopt;
  const base::Size c = session_.scene().canvas;
  return QLineF((*n)["sharpX"] * c.width, (*n)["sharpY"] * c.height, (*n)["fullX"] * c.width, (*n)["fullY"] * c.height);
}

void AdjustEditors::setRamp(const QLineF& line, bool keep) {
  const auto* now = active() ? std::get_if<scene::ParametricAdjustment>(active()) : nullptr;
  if (!now) return;
  const base::Size c = session_.scene().canvas;
  scene::ParametricAdjustment n = *now;
  const auto clamped = [](double v) { return std::clamp(v, -1.0, 2.0); };
  n = scene::with(n, "sharpX", clamped(line.x1() / c.width));
  n = scene::with(n, "sharpY", clamped(line.y1() / c.height));
  n = scene::with(n, "fullX", clamped(line.x2() / c.width));
  n = scene::with(n, "fullY", clamped(line.y2() / c.height));
  edit(n, keep);
}

// The curve gets a point at the tone that lies there without it.
bool AdjustEditors::grabTone(const QPointF& at) {
  auto without = scene::apply(session_.scene(), scene::SetHidden{session_.active(), true});
  if (!without.ok()) return false;
  const base::Rect spot = base::Rect{int(std::floor(at.x())) - 1, int(std::floor(at.y())) - 1, 3, 3}.intersected(
      base::Rect::of(session_.scene().canvas));
  if (spot.empty()) return false;
  const auto pixels = render::Renderer().render(*without, spot, 0, session_.executor());
  if (!pixels.ok()) return false;
  double tone = 0;
  for (std::size_t i = 0; i < pixels->pixels(); ++i)
    tone += double(toneOf(pixels->samples().data() + i * 4, ToneOf(channels_->checkedId())));
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
    std::vector<CurveEditor::Line> lines;
    for (std::size_t i = 0; i < std::size(kChannels); ++i) lines.push_back({c->*kChannels[i], colours[i]});
    curve_->setCurves(lines, channels_->checkedId());
    if (isVisible()) refreshHistograms();
  } else if (const auto* v = std::get_if<scene::Levels>(a)) {
    levels_->setLevels(*v);
    if (isVisible()) refreshHistograms();
  } else if (const auto* e = std::get_if<scene::Exposure>(a)) {
    exposure_->setValue(e->stops);
  } else if (const auto* k = std::get_if<scene::Saturation>(a)) {
    saturation_->setValue(k->amount * 100);
  } else if (const auto* n = std::get_if<scene::ParametricAdjustment>(a)) {
    numbers_->show(*n);
    const bool lens = n->id == scene::AdjustmentId::defocus;
    lens_->setVisible(lens);
    if (lens) lens_->refresh();
  } else if (const auto* t = std::get_if<scene::TonesToColours>(a)) {
    toneColours_->setColours(*t);
    if (isVisible()) refreshHistograms();
  } else if (const auto* l = std::get_if<scene::TableLookup>(a)) {
    table_->setText(tr("%1, %2 steps a side").arg(QString::fromStdString(l->table->title)).arg(l->table->side));
  } else {
    tints_->setBalance(std::get<scene::ColourBalance>(*a));
  }
}

// Tones of the scene as it is and of the scene without this adjustment, as the open editor counts them.
void AdjustEditors::refreshHistograms() {
  struct Both {
    Histogram with{}, without{};
  };
  const scene::Adjustment* a = active();
  ToneOf which = ToneOf::luma;
  if (std::holds_alternative<scene::Levels>(*a)) which = ToneOf::lightness;
  if (std::holds_alternative<Curves>(*a)) which = ToneOf(channels_->checkedId());
  const scene::Scene& s = session_.shown();
  auto without = scene::apply(s, scene::SetHidden{session_.active(), true});
  if (!without.ok()) return;
  aside_.ask<Both>(
      QStringLiteral("histograms"),
      [s, other = std::move(without).value(), which] {
        return Both{tonesOf(s, which), tonesOf(other, which)};
      },
      [this](const Both& h) {
        curve_->setHistograms(h.with, h.without);
        levels_->setHistograms(h.with, h.without);
        toneColours_->setHistogram(h.without);
      });
}

}  // namespace hseam::app
