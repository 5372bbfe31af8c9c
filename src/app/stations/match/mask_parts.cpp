#include "app/stations/match/mask_parts.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/render/mask_numbers.h"

namespace hseam::app {
namespace {

using scene::MaskNumbers;
using scene::MaskPart;

MaskPart within(decltype(MaskPart::kind) kind) {
  MaskPart p;
  p.kind = std::move(kind);
  return p;
}

}  // namespace

MaskParts::MaskParts(Desk& desk)
    : Page(desk,
           {"mask-parts", tr("Mask by numbers"), tr("Gradients, tones, a colour or another layer's shape as parts of the mask")}),
      line_({[this] { return line(); },
             [this](const QLineF& drawn, bool keep) {
               const scene::Layer* l = desk_.session.activeLayer();
               const auto back = l ? scene::maskToScene(*l).inverse() : std::nullopt;
               if (!back) return;
               editPart(
                   [&](MaskPart& p) {
                     if (auto* g = std::get_if<scene::GradientPart>(&p.kind)) {
                       g->from = back->map({drawn.x1(), drawn.y1()});
                       g->to = back->map({drawn.x2(), drawn.y2()});
                     }
                   },
                   keep);
             },
             [this] { desk_.session.draft(std::nullopt); },
             [] { return tr("draw where the layer shows fully and where no longer"); }}),
      pick_([this](const QPointF& at) { pick(at); }, [] { return tr("click what the mask shall go by"); }),
      list_(new QComboBox),
      joins_(new QComboBox),
      layers_(new QComboBox),
      inverted_(new QCheckBox(tr("the other way round"))),
      goesAlong_(new QCheckBox(tr("the mask goes along with its picture"))),
      partBox_(new QWidget),
      pages_(new QStackedWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(rowOf({
      button(tr("Gradient"), tr("The layer fades along a line that you draw on the picture"),
             [this] {
               const scene::Layer* l = desk_.session.activeLayer();
               const base::Size s = l ? scene::maskSizeOf(desk_.session.scene(), *l) : base::Size{};
               add(within(scene::GradientPart{
                       scene::GradientFill::Form::along, {s.width / 2.0, s.height * 0.25}, {s.width / 2.0, s.height * 0.75}}),
                   tr("gradient"));
             }),
      button(tr("Tones"), tr("The layer shows where it is light, or dark: click a tone in the picture"),
             [this] { add(within(scene::TonesPart{}), tr("tones")); }),
  }));
  column->addWidget(rowOf({
      button(tr("Colour"), tr("The layer shows where it has a colour: click it in the picture"),
             [this] { add(within(scene::ColourPart{}), tr("colour")); }),
      button(tr("Another's shape"), tr("The layer shows where another layer does"),
             [this] { add(within(scene::LayerPart{}), tr("another layer's shape")); }),
  }));
  list_->setAccessibleName(tr("Part of the mask"));
  list_->setToolTip(tr("The part in hand; they act one after another"));
  connect(list_, &QComboBox::activated, this, [this] {
    refresh();
    emit changed();
  });
  remove_ = button(tr("Take out"), tr("The part in hand goes; the others stay"), [this] {
    const int i = list_->currentIndex();
    edit([i](MaskNumbers& n) { n.parts.erase(n.parts.begin() + i); }, tr("a part less"), true);
    emit changed();
  });
  auto* box = new QVBoxLayout(partBox_);
  box->setContentsMargins(0, 0, 0, 0);
  box->addWidget(rowOf({list_, remove_}));
  joins_->addItems({tr("only within it"), tr("and there as well"), tr("but not there")});
  joins_->setAccessibleName(tr("What the part does to the mask"));
  joins_->setToolTip(tr("Within: both must cover. As well: either. Not there: what it covers is hidden"));
  connect(joins_, &QComboBox::activated, this,
          [this](int i) { editPart([i](MaskPart& p) { p.joins = MaskPart::Joins(i); }, true); });
  inverted_->setToolTip(tr("What it covers and what not change places"));
  connect(inverted_, &QCheckBox::clicked, this, [this](bool on) { editPart([on](MaskPart& p) { p.inverted = on; }, true); });
  box->addWidget(joins_);
  box->addWidget(inverted_);
  const auto ofPart = [this](double scale, auto put) {
    return [this, scale, put](MaskNumbers& n, double v) {
      const int i = list_->currentIndex();
      if (i >= 0 && i < int(n.parts.size())) put(n.parts[std::size_t(i)], v * scale);
    };
  };
  strength_ = field(tr("strength"), {0, 100, 100, 0, tr("%"), true}, tr("How much the part does"),
                    ofPart(0.01, [](MaskPart& p, double v) { p.strength = v; }));
  box->addWidget(strength_);
  auto* form = new QComboBox;
  form->addItems({tr("along a line"), tr("round"), tr("mirrored about its beginning")});
  form->setAccessibleName(tr("Form of the mask's gradient"));
  form->setToolTip(tr("Draw its line on the picture: full at the square, nothing at the round grip"));
  connect(form, &QComboBox::activated, this, [this](int i) {
    editPart(
        [i](MaskPart& p) {
          if (auto* g = std::get_if<scene::GradientPart>(&p.kind)) g->form = scene::GradientFill::Form(i);
        },
        true);
  });
  pages_->addWidget(form);
  pages_->addWidget(tonesPage());
  pages_->addWidget(colourPage());
  pages_->addWidget(layerPage());
  fitToPage(pages_);
  box->addWidget(pages_);
  column->addWidget(partBox_);
  lowest_ = field(tr("lowest"), {0, 100, 0, 0, tr("%"), true}, tr("How much shows even where the mask hides"),
                  [](MaskNumbers& n, double v) { n.lowest = v / 100; });
  softness_ =
      field(tr("softness"), {0, 200, 0, 1, tr("px"), true}, tr("Of what is painted or bounded by a path; stays changeable"),
            [](MaskNumbers& n, double v) { n.softnessPx = v; });
  column->addWidget(lowest_);
  column->addWidget(softness_);
  goesAlong_->setToolTip(tr("Else it stays where it is while the picture is moved, scaled or turned"));
  connect(goesAlong_, &QCheckBox::clicked, this, [this](bool on) {
    const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
    if (!p) return;
    edit([&](MaskNumbers& n) { n.heldAt = on ? std::nullopt : std::optional(p->placement); },
         on ? tr("goes along") : tr("stays where it is"), true);
  });
  column->addWidget(goesAlong_);
}

ValueField* MaskParts::field(const QString& name, const ValueField::Range& range, const QString& tip,
                             const std::function<void(MaskNumbers&, double)>& put) {
  auto* f = new ValueField(name, range, tip);
  const auto set = [this, put, name](double v, bool keep) { edit([&](MaskNumbers& n) { put(n, v); }, name, keep); };
  connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
  connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
  return f;
}

QWidget* MaskParts::tonesPage() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  const auto tone = [&](const QString& name, const QString& tip, double initial, auto put) {
    ValueField* f = field(name, {0, 100, initial, 0, tr("L*"), true}, tip, [this, put](MaskNumbers& n, double v) {
      const int i = list_->currentIndex();
      auto* t = i >= 0 && i < int(n.parts.size()) ? std::get_if<scene::TonesPart>(&n.parts[std::size_t(i)].kind) : nullptr;
      if (t) put(*t, v / 100);
    });
    column->addWidget(f);
    return f;
  };
  low_ = tone(tr("from"), tr("The darkest tone that counts"), 60, [](scene::TonesPart& t, double v) {
    t.low = v;
    t.high = std::max(t.high, v);
  });
  high_ = tone(tr("to"), tr("The lightest tone that counts"), 100, [](scene::TonesPart& t, double v) {
    t.high = v;
    t.low = std::min(t.low, v);
  });
  toneSoftness_ = tone(tr("fades over"), tr("Tones beyond fade away over so much"), 10,
                       [](scene::TonesPart& t, double v) { t.softness = v; });
  return page;
}

QWidget* MaskParts::colourPage() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  const auto distance = [&](const QString& name, const QString& tip, double initial, double scene::ColourPart::*member) {
    ValueField* f = field(name, {0, 150, initial, 0, QStringLiteral("ΔE"), true}, tip, [this, member](MaskNumbers& n, double v) {
      const int i = list_->currentIndex();
      auto* c = i >= 0 && i < int(n.parts.size()) ? std::get_if<scene::ColourPart>(&n.parts[std::size_t(i)].kind) : nullptr;
      if (c) c->*member = v;
    });
    column->addWidget(f);
    return f;
  };
  reach_ = distance(tr("reach"), tr("How far from the colour still counts fully"), 20, &scene::ColourPart::reach);
  colourSoftness_ =
      distance(tr("fades over"), tr("Colours further off fade away over so much"), 15, &scene::ColourPart::softness);
  return page;
}

QWidget* MaskParts::layerPage() {
  layers_->setAccessibleName(tr("Layer whose shape counts"));
  layers_->setToolTip(tr("Follows that layer as it is moved, cut and painted"));
  connect(layers_, &QComboBox::activated, this, [this] {
    editPart(
        [this](MaskPart& p) {
          if (auto* l = std::get_if<scene::LayerPart>(&p.kind)) l->layer = {layers_->currentData().toULongLong()};
        },
        true);
  });
  return layers_;
}

const scene::Layer* MaskParts::shown() const {
  return scene::findLayer(desk_.session.shown(), desk_.session.active());
}

const MaskPart* MaskParts::part() const {
  const scene::Layer* l = shown();
  const int i = list_->currentIndex();
  return l && i >= 0 && i < int(l->mask.numbers.parts.size()) ? &l->mask.numbers.parts[std::size_t(i)] : nullptr;
}

std::optional<QLineF> MaskParts::line() const {
  const MaskPart* p = part();
  const auto* g = p ? std::get_if<scene::GradientPart>(&p->kind) : nullptr;
  if (!g) return std::nullopt;
  const base::Affine m = scene::maskToScene(*shown());
  const base::Point a = m.map(g->from), b = m.map(g->to);
  return QLineF(a.x, a.y, b.x, b.y);
}

Instrument* MaskParts::instrument() {
  const MaskPart* p = part();
  if (!p) return nullptr;
  if (std::holds_alternative<scene::GradientPart>(p->kind)) return &line_;
  return std::holds_alternative<scene::LayerPart>(p->kind) ? nullptr : &pick_;
}

void MaskParts::pick(const QPointF& at) {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l) return;
  // A picture goes by its own colours, an adjustment by what lies below it.
  scene::Scene seen = desk_.session.scene();
  if (l->adjustment()) {
    if (auto without = scene::apply(seen, scene::SetHidden{l->id, true}); without.ok()) seen = std::move(without).value();
  } else {
    scene::Layer alone = *l;
    alone.clip = alone.hidden = false;
    alone.opacity = 1;
    alone.mask = {};
    alone.mode = scene::BlendMode::normal;
    seen.layers = {std::make_shared<const scene::Layer>(std::move(alone))};
  }
  const auto colour = colourAt(desk_.session.executor(), seen, at);
  if (!colour) {
    emit desk_.messages.said(tr("There is nothing of the layer there"));
    return;
  }
  editPart(
      [&](MaskPart& p) {
        if (auto* c = std::get_if<scene::ColourPart>(&p.kind)) c->colour = *colour;
        if (auto* t = std::get_if<scene::TonesPart>(&p.kind)) {
          constexpr double kEitherSide = 0.12;
          const double tone = double(render::toneOf(float((*colour)[0]), float((*colour)[1]), float((*colour)[2])));
          t->low = std::max(0.0, tone - kEitherSide);
          t->high = std::min(1.0, tone + kEitherSide);
        }
      },
      true);
}

void MaskParts::add(const MaskPart& part, const QString& how) {
  if (!desk_.session.activeLayer()) {
    emit desk_.messages.said(tr("Choose a layer in the sheet first"));
    return;
  }
  MaskPart fresh = part;
  if (auto* other = std::get_if<scene::LayerPart>(&fresh.kind)) {
    const auto all = scene::allLayers(desk_.session.scene());
    for (const auto& l : all) {
      if (l->id != desk_.session.active() && l->picture()) other->layer = l->id;
    }
    if (other->layer.value == 0) {
      emit desk_.messages.said(tr("There is no other picture whose shape could count"));
      return;
    }
  }
  edit([&](MaskNumbers& n) { n.parts.push_back(fresh); }, how, true);
  refresh();  // the list has it now
  list_->setCurrentIndex(list_->count() - 1);
  refresh();
  emit changed();
}

void MaskParts::edit(const std::function<void(MaskNumbers&)>& change, const QString& how, bool keep) {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l) return;
  MaskNumbers next = l->mask.numbers;
  change(next);
  if (next == l->mask.numbers) {
    desk_.session.draft(std::nullopt);
    return;
  }
  const scene::SetMaskNumbers made{l->id, std::move(next), how.toStdString()};
  if (keep) {
    desk_.session.apply(made);
  } else {
    desk_.session.draft(made);
  }
}

void MaskParts::editPart(const std::function<void(MaskPart&)>& change, bool keep) {
  const int i = list_->currentIndex();
  edit(
      [&](MaskNumbers& n) {
        if (i >= 0 && i < int(n.parts.size())) change(n.parts[std::size_t(i)]);
      },
      part() ? tr(scene::maskPartName(*part())) : QString(), keep);
}

QString MaskParts::words() const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l || l->mask.numbers.neutral()) return tr("none");
  return l->mask.numbers.parts.size() == 1 ? tr("1 part") : tr("%1 parts").arg(l->mask.numbers.parts.size());
}

void MaskParts::refresh() {
  const scene::Layer* l = shown();
  setEnabled(l);
  const MaskNumbers numbers = l ? l->mask.numbers : MaskNumbers{};
  const QSignalBlocker quiet(list_);
  const int was = list_->currentIndex();
  list_->clear();
  for (std::size_t i = 0; i < numbers.parts.size(); ++i)
    list_->addItem(QStringLiteral("%1. %2").arg(i + 1).arg(tr(scene::maskPartName(numbers.parts[i]))));
  list_->setCurrentIndex(std::clamp(was, numbers.parts.empty() ? -1 : 0, int(numbers.parts.size()) - 1));
  lowest_->setValue(numbers.lowest * 100);
  softness_->setValue(numbers.softnessPx);
  goesAlong_->setVisible(l && l->picture());
  goesAlong_->setChecked(!numbers.heldAt);
  const MaskPart* p = part();
  partBox_->setVisible(p);
  if (!p) return;
  joins_->setCurrentIndex(int(p->joins));
  inverted_->setChecked(p->inverted);
  strength_->setValue(p->strength * 100);
  pages_->setCurrentIndex(int(p->kind.index()));
  if (const auto* g = std::get_if<scene::GradientPart>(&p->kind)) {
    static_cast<QComboBox*>(pages_->widget(0))->setCurrentIndex(int(g->form));
  } else if (const auto* t = std::get_if<scene::TonesPart>(&p->kind)) {
    low_->setValue(t->low * 100);
    high_->setValue(t->high * 100);
    toneSoftness_->setValue(t->softness * 100);
  } else if (const auto* c = std::get_if<scene::ColourPart>(&p->kind)) {
    reach_->setValue(c->reach);
    colourSoftness_->setValue(c->softness);
  } else if (const auto* other = std::get_if<scene::LayerPart>(&p->kind)) {
    layers_->clear();
    for (const auto& each : scene::allLayers(desk_.session.scene())) {
      if (each->id == l->id || each->adjustment()) continue;
      layers_->insertItem(0, QString::fromStdString(each->name), qulonglong(each->id.value));
    }
    layers_->setCurrentIndex(layers_->findData(qulonglong(other->layer.value)));
  }
}

}  // namespace hseam::app
