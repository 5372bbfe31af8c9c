// matte_bench PICTURES [--quick]: the solver beside OpenCV's information-flow matting and an exact closed form, on crops of about
// 0.6 megapixel with known alpha. --quick leaves the slow information flow out.

#include <sys/resource.h>

#include <chrono>
#include <cstdio>
#include <cstring>
#include <functional>
#include <opencv2/core.hpp>
#include <opencv2/alphamat.hpp>
#include <opencv2/imgproc.hpp>
#include <string>
#include <vector>

#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "core/matte/band.h"
#include "core/matte/foreground.h"
#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "exact_closed_form.h"
#include "matte_errors.h"

namespace {

using namespace hseam;
using image::Raster;

struct Case {
  std::string name;
  Raster<float> picture, truth;
  Raster<std::uint8_t> band;
};

// Undecided: alpha within 0.02..0.98, dilated by 12 px.
Raster<std::uint8_t> bandOf(const Raster<float>& truth) {
  cv::Mat soft(truth.height(), truth.width(), CV_8U);
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x) soft.at<std::uint8_t>(y, x) = *truth.at(x, y) > 0.02f && *truth.at(x, y) < 0.98f ? 255 : 0;
  }
  cv::dilate(soft, soft, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(25, 25)));
  Raster<std::uint8_t> band(truth.width(), truth.height());
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x) {
      *band.at(x, y) = soft.at<std::uint8_t>(y, x) ? matte::kUndecided : (*truth.at(x, y) >= 0.5f ? matte::kSubject : matte::kBackground);
    }
  }
  return band;
}

template <class T>
T must(base::Result<T> result) {
  if (!result.ok()) {
    std::fprintf(stderr, "%s\n", result.error().text().c_str());
    std::exit(1);
  }
  return std::move(result).value();
}

class Cases {
 public:
  explicit Cases(std::string folder) : folder_(std::move(folder)) {}
  Case photographed(const std::string& name, const std::string& file, base::Rect crop) {
    Case c{name, colours(file + ".jpg", crop), coverage(file + "-alpha.png", crop), {}};
    c.band = bandOf(c.truth);
    return c;
  }
  // A subject with known alpha and colours, laid over another picture in linear light.
  Case composed(const std::string& name, const std::string& file, base::Rect crop, const std::string& behind, base::Rect there) {
    Case c{name, colours(file + "-colours.jpg", crop), coverage(file + "-alpha.png", crop), {}};
    const Raster<float> back = colours(behind, there);
    for (std::size_t i = 0; i < c.truth.samples().size(); ++i) {
      for (std::size_t k = 0; k < 3; ++k) {
        float& v = c.picture.samples()[i * 3 + k];
        const double a = double(c.truth.samples()[i]);
        v = float(image::encodedFromLinear(a * image::linearFromEncoded(double(v)) + (1 - a) * image::linearFromEncoded(double(back.samples()[i * 3 + k]))));
      }
    }
    c.band = bandOf(c.truth);
    return c;
  }

 private:
  Raster<float> colours(const std::string& file, base::Rect crop) {
    return must(image::readFloat(must(image::readPicture(folder_ + "/" + file, memory_, here_, {})).pixels, 0, crop));
  }
  Raster<float> coverage(const std::string& file, base::Rect crop) { return must(image::readFloat(must(image::readCoverage(folder_ + "/" + file, memory_, here_)), 0, crop)); }
  std::string folder_;
  std::shared_ptr<image::TileMemory> memory_ = image::TileMemory::create(std::size_t(4) << 30);
  base::InlineExecutor here_;
};

Raster<float> informationFlow(const Case& c) {
  cv::Mat picture(c.picture.height(), c.picture.width(), CV_8UC3), band(c.band.height(), c.band.width(), CV_8U), result;
  for (int y = 0; y < picture.rows; ++y) {
    for (int x = 0; x < picture.cols; ++x) {
      const float* p = c.picture.at(x, y);
      picture.at<cv::Vec3b>(y, x) = cv::Vec3b(cv::saturate_cast<uchar>(p[2] * 255), cv::saturate_cast<uchar>(p[1] * 255), cv::saturate_cast<uchar>(p[0] * 255));
      band.at<std::uint8_t>(y, x) = *c.band.at(x, y);
    }
  }
  cv::alphamat::infoFlow(picture, band, result);
  Raster<float> alpha(c.picture.width(), c.picture.height());
  for (int y = 0; y < result.rows; ++y) {
    for (int x = 0; x < result.cols; ++x) *alpha.at(x, y) = float(result.at<std::uint8_t>(y, x)) / 255;
  }
  return alpha;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  const bool quick = argc > 2 && std::strcmp(argv[2], "--quick") == 0;
  Cases make(argv[1]);
  const std::vector<Case> cases = {make.photographed("wool on paper", "lamplighter", {750, 700, 800, 750}),
                                   make.photographed("fur, close colours", "fox", {420, 250, 800, 750}),
                                   make.composed("fur over the pier", "fox", {420, 250, 800, 750}, "pier.jpg", {1500, 900, 800, 750})};
  const auto pool = base::makePool(0);
  struct Method {
    std::string name;
    std::function<Raster<float>(const Case&)> solve;
  };
  std::vector<Method> methods = {{"hidden seam", [&](const Case& c) { return must(matte::solveAlpha(c.picture, c.band, {}, *pool, {})); }},
                                 {"exact closed form", [](const Case& c) { return bench::exactClosedForm(c.picture, c.band); }}};
  if (!quick) methods.push_back({"information flow", informationFlow});
  std::printf("%-20s %-18s %8s %8s %8s %8s %8s\n", "case", "method", "SAD/1k", "MSE*1k", "Grad/1k", "Conn/1k", "s/MP");
  std::vector<bench::MatteErrors> mean(methods.size());
  for (const Case& c : cases) {
    for (std::size_t m = 0; m < methods.size(); ++m) {
      const auto from = std::chrono::steady_clock::now();
      const Raster<float> alpha = methods[m].solve(c);
      const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
      const auto e = bench::matteErrors(alpha, c.truth, c.band);
      std::printf("%-20s %-18s %8.3f %8.3f %8.3f %8.3f %8.2f\n", c.name.c_str(), methods[m].name.c_str(), e.sad, e.mse, e.gradient, e.connectivity,
                  seconds / (double(c.picture.pixels()) / 1e6));
      std::fflush(stdout);
      mean[m].sad += e.sad / double(cases.size()), mean[m].mse += e.mse / double(cases.size());
      mean[m].gradient += e.gradient / double(cases.size()), mean[m].connectivity += e.connectivity / double(cases.size());
    }
  }
  for (std::size_t m = 0; m < methods.size(); ++m) {
    std::printf("%-20s %-18s %8.3f %8.3f %8.3f %8.3f\n", "mean", methods[m].name.c_str(), mean[m].sad, mean[m].mse, mean[m].gradient, mean[m].connectivity);
  }
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  std::printf("peak memory of this program: %ld MB\n", usage.ru_maxrss / 1024);
  return 0;
}
