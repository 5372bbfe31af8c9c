#include "app/stations/match/grouping.h"

#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/match/merged_copy.h"
#include "app/widgets/builders.h"

namespace hseam::app {

Grouping::Grouping(Desk& desk) : Page(desk, {"group", tr("Group"), tr("Layers that act together on a canvas of their own")}) {
  auto* c = column();
  c->addWidget(button(
      tr("Make a group"),
      tr("The layers in hand (Ctrl+click), or the active one and the layer below, become a group with its own mask, mode "
         "and opacity"),
      [this] {
        const auto held = desk_.session.inHand();
        if (held.size() > 1) {
          desk_.session.apply(scene::GroupLayers{held, scene::freeId(desk_.session.scene()), "group"});
          return;
        }
        const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
        if (!at || at->index == 0) {
          emit desk_.messages.said(tr("There is no layer below to group with"));
          return;
        }
        const scene::Layer* parent = scene::findLayer(desk_.session.scene(), at->parent);
        const auto& list = parent ? parent->group()->layers : desk_.session.scene().layers;
        desk_.session.apply(scene::GroupLayers{
            {list[std::size_t(at->index) - 1]->id, desk_.session.active()}, scene::freeId(desk_.session.scene()), "group"});
      }));
  c->addWidget(button(tr("Merged so far"),
                      tr("A picture of what the scene shows up to the active layer, over it; all layers stay"),
                      [this] { mergedSoFar(desk_.session, desk_.messages, desk_.jobs); }));
  c->addWidget(button(tr("Take the group apart"), tr("Its layers stand in the sheet by themselves again"), [this] {
    if (desk_.session.activeLayer() && desk_.session.activeLayer()->group())
      desk_.session.apply(scene::Ungroup{desk_.session.active()});
  }));
}

}  // namespace hseam::app
