#pragma once
// Frames of one place are brought onto one of them, the base: by features (SIFT, Lowe 2004) on a small level, then by patches
// that are tracked to a fraction of a pixel (Lucas and Kanade 1981, Baker and Matthews 2004) at full size. What has moved does
// not count.

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/frames/homography.h"
#include "core/image/tiled_image.h"

namespace hseam::frames {

/// Features of the base, computed once for all frames.
class BaseFrame {
 public:
  /// picture: colours of any format. Errors: invalid (no features), what reading says.
  static base::Result<BaseFrame> of(const image::TiledImage& picture, base::Executor& executor);
  BaseFrame(BaseFrame&&) noexcept;
  BaseFrame& operator=(BaseFrame&&) noexcept;
  ~BaseFrame();
  const image::TiledImage& picture() const;

 private:
  friend class Registrar;
  struct Parts;
  explicit BaseFrame(std::unique_ptr<const Parts> parts);
  std::unique_ptr<const Parts> parts_;
};

/// A matched feature.
struct Landmark {
  base::Point base, frame;  // px of each
  double sigmaPx = 0;       // standard deviation
  double offPx = 0;         // px of the frame: residual of the map
  bool fits = false;        // inlier
};

struct Registration {
  Homography toBase;         // px of the frame → px of the base
  double residualPx = 0;     // median of the landmarks that fit
  double inlierShare = 0;    // of the landmarks
  double parallaxShare = 0;  // of the base's area where features contradict the map
  bool projective = false;   // a similarity did not fit
  bool found = false;        // there is a map; without one toBase says nothing
  bool use = false;
  std::string reason;  // why not: "only 7 places are recognised"; empty if it is used
  std::vector<Landmark> landmarks;
};

/// Registers a frame on the base. A frame that does not fit is not an error: see use and reason. Errors: what reading says,
/// cancelled.
base::Result<Registration> registered(const BaseFrame& base, const image::TiledImage& frame, base::Executor& executor,
                                      const base::Progress& progress);

}  // namespace hseam::frames
