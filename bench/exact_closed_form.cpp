#include "exact_closed_form.h"

#include <Eigen/Dense>
#include <Eigen/SparseCholesky>
#include <algorithm>

#include "core/matte/trimap.h"

namespace hseam::bench {

image::Raster<float> exactClosedForm(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band) {
  const int w = picture.width(), h = picture.height();
  std::vector<int> unknown(picture.pixels(), -1);
  std::vector<int> pixels;
  image::Raster<float> alpha(w, h);
  for (std::size_t i = 0; i < picture.pixels(); ++i) {
    const auto k = matte::knownOf(band.samples()[i]);
    alpha.samples()[i] = k == matte::Known::subject ? 1.f : 0.f;
    if (k != matte::Known::undecided) continue;
    unknown[i] = int(pixels.size());
    pixels.push_back(int(i));
  }
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::VectorXd right = Eigen::VectorXd::Zero(long(pixels.size()));
  for (int cy = 1; cy + 1 < h; ++cy) {
    for (int cx = 1; cx + 1 < w; ++cx) {
      int at[9];
      bool any = false;
      Eigen::Matrix<double, 9, 3> c;
      for (int k = 0; k < 9; ++k) {
        const int x = cx + k % 3 - 1, y = cy + k / 3 - 1;
        at[k] = y * w + x;
        any |= unknown[std::size_t(at[k])] >= 0;
        for (int ch = 0; ch < 3; ++ch) c(k, ch) = picture.at(x, y)[ch];
      }
      if (!any) continue;
      const Eigen::Vector3d mean = c.colwise().mean().transpose();
      const Eigen::Matrix3d cov = c.transpose() * c / 9.0 - mean * mean.transpose() + Eigen::Matrix3d::Identity() * (1e-7 / 9);
      const Eigen::Matrix3d inverse = cov.inverse();
      for (int i = 0; i < 9; ++i) {
        const int row = unknown[std::size_t(at[i])];
        if (row < 0) continue;
        for (int j = 0; j < 9; ++j) {
          const double dot = (c.row(i).transpose() - mean).dot(inverse * (c.row(j).transpose() - mean));
          const double value = (i == j ? 1.0 : 0.0) - (1 + dot) / 9;
          const int column = unknown[std::size_t(at[j])];
          if (column >= 0) {
            entries.emplace_back(row, column, value);
          } else {
            right(row) -= value * double(alpha.samples()[std::size_t(at[j])]);
          }
        }
      }
    }
  }
  Eigen::SparseMatrix<double> system(long(pixels.size()), long(pixels.size()));
  system.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> factorised(system);
  const Eigen::VectorXd x = factorised.solve(right);
  for (std::size_t i = 0; i < pixels.size(); ++i)
    alpha.samples()[std::size_t(pixels[i])] = float(std::clamp(x(long(i)), 0.0, 1.0));
  return alpha;
}

}  // namespace hseam::bench
