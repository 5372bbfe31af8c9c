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

/// What is looked for in every frame; worked out once.
class BaseFrame {
 public:
  /// picture: colours of any format. Errors: invalid (nothing in it can be recognised), what reading says.
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

/// A place that was recognised in both.
struct Landmark {
  base::Point base, frame;  // px of each
  double sigmaPx = 0;       // how exactly it is known: a standard deviation
  double offPx = 0;         // px of the frame: between where it lies and where the map puts it
  bool fits = false;        // it counted for the map
};

struct Registration {
  Homography toBase;         // px of the frame → px of the base
  double residualPx = 0;     // median of the landmarks that fit
  double inlierShare = 0;    // of the landmarks
  double parallaxShare = 0;  // of the places of the base where what is recognised lies elsewhere than the map says
  bool projective = false;   // a similarity did not explain it
  bool found = false;        // there is a map; without one toBase says nothing
  bool use = false;
  std::string reason;  // why not: "only 7 places are recognised"; empty if it is used
  std::vector<Landmark> landmarks;
};

/// Where the frame lies on the base. A frame that does not fit is no error: it says so. Errors: what reading says, cancelled.
base::Result<Registration> registered(const BaseFrame& base, const image::TiledImage& frame, base::Executor& executor,
                                      const base::Progress& progress);

}  // namespace hseam::frames
