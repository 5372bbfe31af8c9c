#pragma once
// Several pictures of one place that a picture layer is composed of. core/sets computes the result.

#include <array>
#include <functional>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/image/tiled_image.h"

namespace hseam::scene {

struct RecordOut;
struct RecordIn;

/// One of them, as it was shot, and how it lies on the base.
struct SetFrame {
  std::string name;                                         // the file it came from, for people
  image::TiledImage picture;                                // its own px, sRGB
  std::array<double, 9> toBase{1, 0, 0, 0, 1, 0, 0, 0, 1};  // its px → px of the base: a plane projective map, by rows
  double gainStops = 0, redStops = 0,
         blueStops = 0;  // its exposure relative to the base's: of green, and of red and blue against green
  double residualPx = 0, inlierShare = 1, parallaxShare = 0;  // how well it lies there
  std::string unfit = {};                                     // a sentence: why it does not fit; empty if it does
  bool used = true;                                           // it may give to the picture
  double strength = 1;                                        // of the light that it adds to the base, a factor 0..8
  std::array<double, 3> tint{1, 1, 1};                        // of that light, a factor of each linear channel 0..4
};

struct FrameSet {
  /// How frames are combined: each place from the frame picked for it; the base plus the light that each of the others adds; the
  /// maximum.
  enum class Way { picked, lamps, lightest };
  Way way = Way::picked;
  std::vector<SetFrame> frames;  // the base first; 2..250
  image::TiledImage picks;       // grey8, px of the base: k = this place comes from frame k (from 1), 0 = free; null = all free
  image::TiledImage labels;      // grey8: k = this pixel came from frame k; null where light was added
};

/// Errors: invalid, with the layer's name.
base::Status validFrameSet(const FrameSet& set, base::Size base, const std::string& layer);
/// In a fixed order; null images are left out.
void forEachImage(const FrameSet& set, const std::function<void(const image::TiledImage&)>& visit);
nlohmann::json toJson(const FrameSet& set, const RecordOut& out);
/// Throws nlohmann's exceptions where the form is wrong. Errors: what finding an image says.
base::Result<FrameSet> frameSetFrom(const nlohmann::json& json, const RecordIn& in);

}  // namespace hseam::scene
