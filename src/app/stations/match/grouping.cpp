#include "app/stations/match/grouping.h"

#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/match/merged_copy.h"
#include "app/widgets/builders.h"

namespace hseam::app {

Grouping::Grouping(Desk& desk) : Page(desk, {"group", tr("Group"), tr("Layers that act together on a canvas of their own")}) {
  auto* c = column();
  c->addWidget(
      button(tr("Make a group"),
             tr("The layers in hand (Ctrl+click), or the active one and the layer below, become a group with its own mask, mode "
                "and opacity"),
             [this] {
               const auto held = desk_.document().inHand();
               if (held.size() > 1) {
                 desk_.apply(scene::GroupLayers{held, scene::freeId(desk_.scene()), "group"});
                 return;
               }
               const auto at = scene::positionOf(desk_.scene(), desk_.document().active());
               if (!at || at->index == 0) {
                 emit desk_.said(tr("There is no layer below to group with"));
                 return;
               }
               const scene::Layer* parent = scene::findLayer(desk_.scene(), at->parent);
               const auto& list = parent ? parent->group()->layers : desk_.scene().layers;
               desk_.apply(scene::GroupLayers{
                   {list[std::size_t(at->index) - 1]->id, desk_.document().active()}, scene::freeId(desk_.scene()), "group"});
             }));
  c->addWidget(button(tr("Merged so far"),
                      tr("A picture of what the scene shows up to the active layer, over it; all layers stay"),
                      [this] { mergedSoFar(desk_); }));
  c->addWidget(button(tr("Take the group apart"), tr("Its layers stand in the sheet by themselves again"), [this] {
    if (desk_.active() && desk_.active()->group()) desk_.apply(scene::Ungroup{desk_.document().active()});
  }));
}

}  // namespace hseam::app
