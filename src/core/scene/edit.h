#pragma once
// Every change of a scene, as data. apply() is the only way to change a scene: for the window, the command line, remedies and
// tests. An Edit holds results (tiles) and their recipe, so undo and loading never compute.

#include <string>
#include <variant>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::scene {

struct SetCanvas {
  base::Size size;
};
struct SetMixing {
  Mixing mixing;
};
/// index counts from the back; −1 = front. The layer's id must be free.
struct AddLayer {
  Layer layer;
  LayerId parent;
  int index = -1;
};
struct RemoveLayer {
  LayerId layer;
};
struct MoveLayer {
  LayerId layer;
  LayerId parent;
  int index = 0;
};  // index after removal
struct SetName {
  LayerId layer;
  std::string name;
};
struct SetHidden {
  LayerId layer;
  bool hidden;
};
struct SetOpacity {
  LayerId layer;
  double opacity;
};
struct SetMode {
  LayerId layer;
  BlendMode mode;
};
struct SetClip {
  LayerId layer;
  bool clip;
};
struct SetPlacement {
  LayerId layer;
  Placement placement;
};
struct SetMask {
  LayerId layer;
  image::TiledImage coverage;
  std::string how;
};  // how: "painted", "inverted"…; null = none
/// The path of a picture or fill layer, and whether it bounds the mask. The hand-made part of the mask stays. Null = none.
struct SetPath {
  LayerId layer;
  std::shared_ptr<const path::Path> path;
  bool acts = false;
  std::string how;
};
/// What of a layer's mask is made of numbers.
struct SetMaskNumbers {
  LayerId layer;
  MaskNumbers numbers;
  std::string how;
};
struct SetShows {
  LayerId layer;
  ToneRange shows;
};
/// What is painted with colour on a layer of its own; of the same size as before.
struct SetPainting {
  LayerId layer;
  image::TiledImage colours;
};
struct SetMaskEnabled {
  LayerId layer;
  bool enabled;
};
struct SetAdjustment {
  LayerId layer;
  Adjustment adjustment;
};
struct SetLight {
  LayerId layer;
  LightContent light;
};
/// What a fill layer is made of, and the mask that gives it its shape (a stroke's outline as the mask's path).
struct SetFill {
  LayerId layer;
  FillContent fill;
  Mask mask;
};
struct SetFloor {
  std::optional<Floor> floor;
};
/// Nothing: not known.
struct SetPlaceLight {
  std::optional<PlaceLight> light;
};
/// null: it is not bent.
struct SetWarp {
  LayerId layer;
  std::shared_ptr<const Warp> warp;
};
/// nothing: not noted.
struct SetPermission {
  LayerId layer;
  std::optional<Permission> permission;
};
struct SetRealHeight {
  LayerId layer;
  double heightM;
};
/// The horizon of a picture's own camera; nothing: unknown.
struct SetOwnHorizon {
  LayerId layer;
  std::optional<double> horizonY;
};
/// Where of the scene a picture is compared with (grey8 of the canvas's size); null: the program chooses.
struct SetReference {
  LayerId layer;
  image::TiledImage reference;
};
struct SetJudging {
  Judging judging;
  std::string how;
};
struct SetSelection {
  LayerId layer;
  image::TiledImage coverage;
  std::string how;
};
/// The selections that are kept with a picture.
struct SetSavedSelections {
  LayerId layer;
  std::vector<NamedSelection> saved;
  std::string how;
};
struct SetHints {
  LayerId layer;
  image::TiledImage hints;
};
struct SetBand {
  LayerId layer;
  image::TiledImage band;
  std::string recipe;
};
/// A solved cut: alpha, the subject's own colours, and the mask that follows from them. shaped: alpha as the layer's edge plan
/// wants it; null = as solved.
struct SetCut {
  LayerId layer;
  image::TiledImage alpha, clean, mask;
  std::string recipe;
  image::TiledImage shaped = {};
};
/// What is wanted of the edge, the solved alpha shaped by it (null = as solved), and the mask that follows.
struct SetEdgePlan {
  LayerId layer;
  std::string plan;
  image::TiledImage shaped, mask;
  std::string how;
};
struct SetUseClean {
  LayerId layer;
  bool useClean;
};
/// Puts neighbours under one parent into a new isolated group at the front one's place. newId must be free.
struct GroupLayers {
  std::vector<LayerId> layers;
  LayerId newId;
  std::string name;
};
struct Ungroup {
  LayerId group;
};

struct SetIsolated {
  LayerId group;
  bool isolated;
};
struct SetLocked {
  LayerId layer;
  bool locked;
};
struct SetGuides {
  std::vector<Guide> guides;
};
/// Another picture in a layer's place; what is kept of the cut and the mask comes along as results of the new size.
struct ReplaceSource {
  LayerId layer;
  PictureContent content;
  Mask mask;
};
/// The frames of a picture and the composed result; null: it becomes one picture, as it is now. Clean colours are dropped, since
/// they belong to the old picture; the cut stays.
struct SetFrames {
  LayerId layer;
  std::shared_ptr<const FrameSet> frames;
  image::TiledImage source;
  std::string how;
};
/// Several changes as one step; only the last scene must be valid.
struct Several {
  std::string label;
  std::vector<struct AnyEdit> edits;
};

using Edit =
    std::variant<SetCanvas, SetMixing, AddLayer, RemoveLayer, MoveLayer, SetName, SetHidden, SetOpacity, SetMode, SetClip,
                 SetPlacement, SetMask, SetMaskEnabled, SetAdjustment, SetSelection, SetHints, SetBand, SetCut, SetUseClean,
                 GroupLayers, Ungroup, SetIsolated, SetLocked, SetGuides, ReplaceSource, SetPath, SetEdgePlan, SetSavedSelections,
                 SetLight, SetFill, SetFloor, SetPlaceLight, SetRealHeight, SetWarp, SetMaskNumbers, SetShows, SetPainting,
                 SetOwnHorizon, SetJudging, SetReference, SetFrames, SetPermission, Several>;

struct AnyEdit {
  Edit edit;
};

/// Errors: notFound (no such layer), invalid (a value out of range), conflict (an id taken, a group into itself).
base::Result<Scene> apply(const Scene& scene, const Edit& edit);

/// The layers that an Edit changes, itself not counted where it only locks, hides or adds.
std::vector<LayerId> changedLayers(const Edit& edit);
/// The outermost locked layer that holds this one, or this one itself if it is locked; null if it may be changed.
const Layer* lockOn(const Scene& scene, LayerId layer);

/// What it does, for the step list: "opacity of lamplighter 64 %". scene: the one it is applied to.
std::string describe(const Scene& scene, const Edit& edit);
/// The Edit's stable name in the project's journal: "SetOpacity".
const char* editKind(const Edit& edit);

/// A deep copy with new ids, for duplicating; its name gets " copy".
Layer duplicate(const Scene& scene, const Layer& layer);

}  // namespace hseam::scene
