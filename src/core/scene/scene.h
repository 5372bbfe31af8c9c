#pragma once
// The scene as a value: immutable once made, cheap to copy, its pixels shared tiles. What it means: semantics.md.

#include <cstdint>
#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "core/image/tiled_image.h"
#include "core/path/path.h"
#include "core/scene/content/adjustment.h"
#include "core/scene/content/fill.h"
#include "core/scene/content/group.h"
#include "core/scene/content/light.h"
#include "core/scene/content/picture.h"
#include "core/scene/floor.h"
#include "core/scene/judging.h"
#include "core/scene/mask_numbers.h"
#include "core/scene/place_light.h"

namespace hseam::scene {

/// W3C Compositing and Blending Level 1, names as there.
enum class BlendMode : std::uint8_t {
  normal,
  multiply,
  screen,
  overlay,
  darken,
  lighten,
  colorDodge,
  colorBurn,
  hardLight,
  softLight,
  difference,
  exclusion,
  hue,
  saturation,
  color,
  luminosity,
  add,  // this and the next two on light, not in the standard
  subtract,
  divide
};
inline constexpr int kBlendModeCount = 19;
/// The W3C keyword: "soft-light".
const char* blendModeName(BlendMode mode);
std::optional<BlendMode> blendModeNamed(const std::string& name);

enum class Mixing : std::uint8_t { linear, encoded };

struct Mask {
  image::TiledImage coverage;  // grey; null = everything shows. Where a path acts: painted times the path's area
  bool enabled = true;
  image::TiledImage painted;               // the hand-made part while a path acts; null = everything
  std::shared_ptr<const path::Path> path;  // px of the layer; stays editable for ever. Null = none
  bool pathActs = false;
  image::TiledImage pathArea;  // what the path covers; follows from it, is not kept in files, made when it is needed first
  MaskNumbers numbers;         // what is made of numbers comes on top of the coverage
  /// What a brush paints on.
  const image::TiledImage& byHand() const { return pathActs ? painted : coverage; }
  bool acts() const { return enabled && !coverage.isNull(); }
  bool actsByNumbers() const { return enabled && !numbers.neutral(); }
};

struct Layer {
  LayerId id;
  std::string name;
  bool hidden = false;
  double opacity = 1;  // 0..1
  BlendMode mode = BlendMode::normal;
  bool clip = false;    // confined to the layer below
  bool locked = false;  // the window changes nothing of it until it is unlocked
  Mask mask;            // layer px for a picture, scene px for the others
  std::variant<PictureContent, AdjustmentContent, GroupContent, LightContent, FillContent> content;
  ToneRange shows = {};

  const PictureContent* picture() const { return std::get_if<PictureContent>(&content); }
  const AdjustmentContent* adjustment() const { return std::get_if<AdjustmentContent>(&content); }
  const GroupContent* group() const { return std::get_if<GroupContent>(&content); }
  const LightContent* light() const { return std::get_if<LightContent>(&content); }
  const FillContent* fill() const { return std::get_if<FillContent>(&content); }
};

/// A straight guide line, or a fan of them; never part of a picture.
struct Guide {
  bool vertical = false;
  double at = 0;  // scene px
  /// A fan: its lines meet here (scene px), where lines that are parallel in the world run to. The two above then say nothing.
  std::optional<base::Point> meets = {};
  friend bool operator==(const Guide&, const Guide&) = default;
};

struct Scene {
  base::Size canvas;
  Mixing mixing = Mixing::linear;
  std::vector<LayerRef> layers;  // back to front
  std::vector<Guide> guides;
  std::optional<Floor> floor;              // the ground plane; empty: not known yet
  std::optional<PlaceLight> light;         // of the place; empty: not known yet
  std::shared_ptr<const Judging> judging;  // null: as usual, nothing answered
  LayerId highestId;                       // that a layer of this scene or of those before it has had; 0: none yet
};
/// The scene's floor, or the usual one.
Floor floorOf(const Scene& scene);
/// From where the place's light comes: as its drawn shadow lies on the scene's floor, else as it was set. Nothing: it is not
/// known, casts no shadows, or what was drawn says nothing on that floor.
std::optional<LightFrom> lightOf(const Scene& scene);
/// A shadow as that light casts it, else a usual one; its foot is not set.
CastShadow castShadowOf(const Scene& scene);

/// The layer, at any depth; null if there is none. The pointer lives as long as the scene.
const Layer* findLayer(const Scene& scene, LayerId id);
/// Where a layer stands: its parent (0 = top) and its index there.
struct Position {
  LayerId parent;
  int index = 0;
};
std::optional<Position> positionOf(const Scene& scene, LayerId id);
/// Every layer, parents before their children, back to front.
std::vector<LayerRef> allLayers(const Scene& scene);
/// An id that no layer of the scene has, or has had: what refers to a layer by its id never meets another one.
LayerId freeId(const Scene& scene);
/// The highest id that a layer has or has had.
LayerId highestIdOf(const Scene& scene);
/// The size a layer's mask has: its picture's, or the canvas's.
base::Size maskSizeOf(const Scene& scene, const Layer& layer);

/// px of its mask → scene px: with its picture, or where it is held; the canvas itself for the others.
base::Affine maskToScene(const Layer& layer);
/// From the px of a picture (as it is placed, not bent) to the scene; of other layers, whose px are the canvas's, nothing.
base::Affine ownToScene(const Layer& layer);
/// Pictures, groups and fills (words too) have a shape that shadows can follow; adjustments and lights have none. The places of a
/// light are given in its caster's own px (ownToScene).
bool casts(const Layer& layer);
/// Up to where (scene px) the shape is taken to reach above a foot (own px): to the top of its picture, or of what it lays down.
base::Point headAbove(const Scene& scene, const Layer& caster, base::Point foot);

/// Scene px in which the layer can change anything: its picture's place, its children's, or the whole canvas.
base::Rect boundsOf(const Scene& scene, const Layer& layer);

/// Checks the invariants: ids are unique and not 0, sizes match, numbers are in range.
base::Status validate(const Scene& scene);

/// Scene px where a and b may look different; nothing outside does.
std::vector<base::Rect> difference(const Scene& a, const Scene& b);

}  // namespace hseam::scene
