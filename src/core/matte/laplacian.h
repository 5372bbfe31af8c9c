#pragma once
// The matting Laplacian (Levin, Lischinski, Weiss 2008, "A Closed-Form Solution to Natural Image Matting") over the
// undecided pixels of a band.

#include <array>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::matte {

/// The system (L_uu + D) x = −L_uk x_k + D x̂ for windows of 3 × 3 pixels, one row of 25 coefficients a pixel.
class Laplacian {
 public:
  /// picture: 3 channels 0..1. band: trimap values. eps: Levin's ε, as added to the colour covariance times 1/9.
  /// Cost: about 600 operations and 150 bytes an undecided pixel, 4 bytes a pixel of the picture while solving.
  Laplacian(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band, double eps, base::Executor& executor);

  int size() const { return int(pixels_.size()); }
  /// y · width + x of each unknown.
  const std::vector<int>& pixels() const { return pixels_; }

  struct Solution {
    std::vector<double> alpha;  // one per unknown, not clamped
    int iterations = 0;
    double residual = 0;  // relative
  };
  /// Conjugate gradients with the diagonal as preconditioner, from `start`; stops at a relative residual of `tolerance` or
  /// after `maxIterations`. weight/target: the data term D and x̂, one per unknown. Errors: cancelled.
  base::Result<Solution> solve(const std::vector<double>& start, const std::vector<double>& weight,
                               const std::vector<double>& target, double tolerance, int maxIterations, base::Executor& executor,
                               const base::Progress& progress) const;

 private:
  void addWindow(const image::Raster<float>& picture, int x, int y, double eps, const image::Raster<std::uint8_t>& band,
                 const std::vector<int>& index);
  double multiply(const std::vector<double>& weight, const std::vector<float>& x, std::vector<double>& out,
                  base::Executor& executor) const;

  int width_ = 0, height_ = 0;
  std::vector<int> pixels_;
  // Where an unknown lies in a vector that is multiplied: spread over the picture with a border, so that a row reads its
  // neighbours without looking anything up.
  std::vector<std::uint32_t> places_;
  // The coefficient of the pixel (dx, dy) stands at (dy + 2) · 4 + dx + 2, those of dx = 2 at 20 + dy + 2: whole vector registers
  // with little padding, since what a multiplication costs is reading these. Those of known pixels and the own one are 0.
  std::vector<std::array<float, 28>> rows_;
  std::vector<double> diagonal_;
  std::vector<double> leftOver_;  // sums of the rows: what couples them to known pixels
  std::vector<double> known_;     // −L_uk x_k
};

}  // namespace hseam::matte
