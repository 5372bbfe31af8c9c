#include "app/stations/look_over/done_to_it.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "app/widgets/value_field.h"
#include "core/findings/specimen.h"

namespace hseam::app {
namespace {

// Its own shadows and lights, what is confined to it, and the adjustments next below it.
std::vector<scene::LayerId> doneTo(const scene::Scene& s, scene::LayerId layer) {
  std::vector<scene::LayerId> all = findings::confinedTo(s, layer);
  std::vector<scene::LayerId> within;  // of a group that is listed as one
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    const auto has = [&](const std::vector<scene::LayerId>& v) { return std::find(v.begin(), v.end(), l->id) != v.end(); };
    if (!findings::isLightOf(*l, layer) || has(all) || has(within)) continue;
    all.push_back(l->id);
    if (!l->group()) continue;
    for (const scene::LayerRef& inner : l->group()->layers) within.push_back(inner->id);
  }
  const auto at = scene::positionOf(s, layer);
  if (!at) return all;
  const scene::Layer* parent = scene::findLayer(s, at->parent);
  const auto& list = parent && parent->group() ? parent->group()->layers : s.layers;
  for (int i = at->index - 1; i >= 0; --i) {
    const scene::Layer& l = *list[std::size_t(i)];
    if (findings::isLightOf(l, layer)) continue;
    if (!l.adjustment() || l.clip) break;
    all.push_back(l.id);
  }
  return all;
}

// "lift shadows on fox": "lift shadows".
QString shortly(const QString& name, const QString& subject) {
  for (const char* word : {" on ", " of ", " under ", " behind "}) {
    const QString end = QLatin1String(word) + subject;
    if (name.endsWith(end)) return name.chopped(end.size());
  }
  return name;
}

}  // namespace

DoneToIt::DoneToIt(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), title_(new QLabel), rows_(new QVBoxLayout) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 4, 0, 0);
  column->setSpacing(2);
  column->addWidget(title_);
  column->addLayout(rows_);
  rows_->setSpacing(2);
}

void DoneToIt::build(const std::vector<scene::LayerId>& layers) {
  emptyLayout(*rows_);
  fields_.clear();
  for (const scene::LayerId id : layers) {
    const scene::Layer* l = scene::findLayer(session_.scene(), id);
    const QString name = QString::fromStdString(l->name);
    auto* field = new ValueField(shortly(name, QString::fromStdString(session_.activeLayer()->name)), {0, 100, 100, 0, tr("%")},
                                 tr("How strongly %1 shows; 100 as it was made").arg(name));
    connect(field, &ValueField::changing, this, [this, id](double v) { session_.draft(scene::SetOpacity{id, v / 100}); });
    connect(field, &ValueField::changed, this, [this, id](double v) { session_.apply(scene::SetOpacity{id, v / 100}); });
    auto* out = button(tr("Out"), tr("Takes %1 away").arg(name), [this, id] { session_.apply(scene::RemoveLayer{id}); });
    out->setAccessibleName(tr("Take %1 out").arg(name));
    rows_->addWidget(rowOf({field, out}));
    fields_.emplace_back(id, field);
  }
}

void DoneToIt::refresh() {
  const scene::Layer* active = scene::findLayer(session_.scene(), session_.active());
  const std::vector<scene::LayerId> layers =
      active && active->picture() ? doneTo(session_.scene(), active->id) : std::vector<scene::LayerId>{};
  setVisible(!layers.empty());
  if (layers.empty()) return;
  title_->setText(tr("Done to %1").arg(QString::fromStdString(active->name)));
  if (!std::equal(layers.begin(), layers.end(), fields_.begin(), fields_.end(),
                  [](scene::LayerId id, const auto& f) { return id == f.first; }))
    build(layers);
  for (const auto& [id, field] : fields_) field->setValue(100 * scene::findLayer(session_.shown(), id)->opacity);
}

}  // namespace hseam::app
