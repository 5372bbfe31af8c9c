#include "core/scene/stale.h"

#include <functional>

namespace hseam::scene {
namespace {

using Fingerprint = std::vector<std::uint64_t>;

std::uint64_t textStamp(const std::string& text) {
  return std::hash<std::string>{}(text);
}
Fingerprint maskOf(const Layer& l) {
  return {l.mask.byHand().stamp(), std::uint64_t(l.mask.pathActs)};
}
Fingerprint cutOf(const Layer& l) {
  Fingerprint all = maskOf(l);
  if (const auto* p = l.picture()) {
    const Cutout& c = *p->cutout;
    all.insert(all.end(), {p->source.stamp(), c.alpha.stamp(), c.shaped.stamp(), c.clean.stamp(), textStamp(c.edgePlan)});
  }
  return all;
}

// What of a layer an Edit replaces; nothing: all of it.
struct Replaced {
  const Layer& layer;
  const Cutout* cutout = layer.picture() ? &*layer.picture()->cutout : nullptr;

  std::optional<Fingerprint> operator()(const SetMask&) const { return maskOf(layer); }
  std::optional<Fingerprint> operator()(const SetPath&) const {
    Fingerprint all = maskOf(layer);
    all.push_back(std::uint64_t(reinterpret_cast<std::uintptr_t>(layer.mask.path.get())));
    return all;
  }
  std::optional<Fingerprint> operator()(const SetSelection&) const {
    return cutout ? Fingerprint{cutout->selection.stamp()} : Fingerprint{};
  }
  std::optional<Fingerprint> operator()(const SetHints&) const {
    return cutout ? Fingerprint{cutout->hints.stamp()} : Fingerprint{};
  }
  std::optional<Fingerprint> operator()(const SetBand&) const {
    return cutout ? Fingerprint{cutout->band.stamp(), cutout->selection.stamp()} : Fingerprint{};
  }
  std::optional<Fingerprint> operator()(const SetCut&) const { return cutOf(layer); }
  std::optional<Fingerprint> operator()(const SetEdgePlan&) const { return cutOf(layer); }
  std::optional<Fingerprint> operator()(const AddLayer&) const { return Fingerprint{}; }
  template <class E>
  std::optional<Fingerprint> operator()(const E&) const {
    return std::nullopt;
  }
};

bool sameAs(const Layer* before, const Layer* after, const Edit& edit) {
  if (before == after) return true;
  if (!before || !after) return false;
  const auto was = std::visit(Replaced{*before}, edit), is = std::visit(Replaced{*after}, edit);
  return was && is && *was == *is;
}

}  // namespace

std::optional<std::string> changedMeanwhile(const Scene& from, const Scene& now, const Edit& edit) {
  if (const auto* several = std::get_if<Several>(&edit)) {
    for (const AnyEdit& each : several->edits) {
      if (auto changed = changedMeanwhile(from, now, each.edit)) return changed;
    }
    return std::nullopt;
  }
  // A canvas takes all of the scene with it.
  if (std::holds_alternative<SetCanvas>(edit) && (from.canvas != now.canvas || from.layers != now.layers)) return std::string();
  for (const LayerId id : changedLayers(edit)) {
    if (id.value == 0) continue;
    const Layer *before = findLayer(from, id), *after = findLayer(now, id);
    // A layer that the same work adds is in neither.
    if (sameAs(before, after, edit)) continue;
    return after ? after->name : before->name;
  }
  return std::nullopt;
}

}  // namespace hseam::scene
