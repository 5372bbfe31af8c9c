#include <array>
#include <cmath>

#include "core/scene/edit.h"

namespace hseam::scene {
namespace {

std::string percentWords(double v) {
  return std::to_string(int(std::lround(v * 100))) + " %";
}

struct Describe {
  const Scene& s;
  std::string name(LayerId id) const {
    const Layer* l = findLayer(s, id);
    return l ? l->name : "a layer";
  }
  std::string operator()(const SetCanvas& e) const {
    return "canvas " + std::to_string(e.size.width) + " × " + std::to_string(e.size.height);
  }
  std::string operator()(const SetMixing& e) const {
    return e.mixing == Mixing::linear ? "edges mix as light" : "edges mix as encoded values";
  }
  std::string operator()(const AddLayer& e) const { return "add " + e.layer.name; }
  std::string operator()(const RemoveLayer& e) const { return "take out " + name(e.layer); }
  std::string operator()(const MoveLayer& e) const { return "move " + name(e.layer) + " in the sheet"; }
  std::string operator()(const SetName& e) const { return "name " + e.name; }
  std::string operator()(const SetHidden& e) const { return (e.hidden ? "fold away " : "unfold ") + name(e.layer); }
  std::string operator()(const SetOpacity& e) const { return "opacity of " + name(e.layer) + " " + percentWords(e.opacity); }
  std::string operator()(const SetMode& e) const { return name(e.layer) + ": " + blendModeName(e.mode); }
  std::string operator()(const SetClip& e) const { return (e.clip ? "confine " : "release ") + name(e.layer); }
  std::string operator()(const SetPlacement& e) const { return "place " + name(e.layer); }
  std::string operator()(const SetMask& e) const {
    return "mask of " + name(e.layer) + ": " + (e.coverage.isNull() ? "removed" : e.how);
  }
  std::string operator()(const SetMaskEnabled& e) const { return "mask of " + name(e.layer) + (e.enabled ? " on" : " off"); }
  std::string operator()(const SetAdjustment& e) const {
    return std::string(adjustmentName(e.adjustment)) + " of " + name(e.layer);
  }
  std::string operator()(const SetSelection& e) const { return "selection: " + (e.coverage.isNull() ? "none" : e.how); }
  std::string operator()(const SetSavedSelections& e) const { return e.how; }
  std::string operator()(const SetHints&) const { return "hint"; }
  std::string operator()(const SetBand& e) const { return e.band.isNull() ? "no band" : "undecided band of " + name(e.layer); }
  std::string operator()(const SetCut& e) const { return "solve the edge of " + name(e.layer); }
  std::string operator()(const SetEdgePlan& e) const { return e.how + " of " + name(e.layer); }
  std::string operator()(const SetUseClean& e) const {
    return (e.useClean ? "clean colours of " : "original colours of ") + name(e.layer);
  }
  std::string operator()(const GroupLayers& e) const { return "group " + e.name; }
  std::string operator()(const Ungroup& e) const { return "ungroup " + name(e.group); }
  std::string operator()(const SetIsolated& e) const {
    return name(e.group) + (e.isolated ? " stands by itself" : " acts on what lies below");
  }
  std::string operator()(const SetLocked& e) const { return (e.locked ? "lock " : "unlock ") + name(e.layer); }
  std::string operator()(const SetGuides&) const { return "guides"; }
  std::string operator()(const ReplaceSource& e) const { return "picture of " + name(e.layer) + ": " + e.content.sourceName; }
  std::string operator()(const SetPath& e) const { return "path of " + name(e.layer) + ": " + (e.path ? e.how : "removed"); }
  std::string operator()(const SetLight& e) const { return std::string(lightName(e.light.kind)) + ": " + name(e.layer); }
  std::string operator()(const SetFill& e) const { return std::string(fillName(e.fill.fill)) + " of " + name(e.layer); }
  std::string operator()(const SetFloor& e) const { return e.floor ? "horizon and camera" : "no floor"; }
  std::string operator()(const SetPlaceLight& e) const { return e.light ? "light of the place" : "no light of the place"; }
  std::string operator()(const SetRealHeight& e) const { return "real height of " + name(e.layer); }
  std::string operator()(const SetWarp& e) const { return (e.warp ? "bend " : "do not bend ") + name(e.layer); }
  std::string operator()(const SetMaskNumbers& e) const { return "mask of " + name(e.layer) + ": " + e.how; }
  std::string operator()(const SetShows& e) const { return name(e.layer) + " shows by brightness"; }
  std::string operator()(const SetPainting& e) const { return "paint on " + name(e.layer); }
  std::string operator()(const SetOwnHorizon& e) const { return "horizon of " + name(e.layer) + " itself"; }
  std::string operator()(const SetJudging& e) const { return e.how; }
  std::string operator()(const SetReference& e) const {
    return name(e.layer) + " is compared with " + (e.reference.isNull() ? "what is around it" : "what was marked");
  }
  std::string operator()(const SetFrames& e) const { return "frames of " + name(e.layer) + ": " + e.how; }
  std::string operator()(const SetPermission& e) const { return "permission of " + name(e.layer); }
  std::string operator()(const Several& e) const { return e.label; }
};

}  // namespace

std::string describe(const Scene& scene, const Edit& edit) {
  return std::visit(Describe{scene}, edit);
}

const char* editKind(const Edit& edit) {
  static constexpr std::array<const char*, std::variant_size_v<Edit>> kKinds = {
      "SetCanvas",    "SetMixing",   "AddLayer",      "RemoveLayer",   "MoveLayer",     "SetName",        "SetHidden",
      "SetOpacity",   "SetMode",     "SetClip",       "SetPlacement",  "SetMask",       "SetMaskEnabled", "SetAdjustment",
      "SetSelection", "SetHints",    "SetBand",       "SetCut",        "SetUseClean",   "GroupLayers",    "Ungroup",
      "SetIsolated",  "SetLocked",   "SetGuides",     "ReplaceSource", "SetPath",       "SetEdgePlan",    "SetSavedSelections",
      "SetLight",     "SetFill",     "SetFloor",      "SetPlaceLight", "SetRealHeight", "SetWarp",        "SetMaskNumbers",
      "SetShows",     "SetPainting", "SetOwnHorizon", "SetJudging",    "SetReference",  "SetFrames",      "SetPermission",
      "Several"};
  return kKinds[edit.index()];
}

}  // namespace hseam::scene
