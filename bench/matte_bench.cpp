// matte_bench PICTURES [--quick | --large]: the solver beside OpenCV's information-flow matting and an exact closed form, on
// crops of about 0.6 megapixel with known alpha. --quick leaves the slow information flow out. --large instead times whole
// pictures: the lamplighter as it is at a band of a tenth, and enlarged to 24 megapixels at a band of 6 %.

#include <sys/resource.h>

#include <chrono>
#include <cstdio>
#include <cstring>
#include <functional>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <string>
#include <vector>

#include <opencv2/alphamat.hpp>  // only after core.hpp: it does not include what it needs

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
    for (int x = 0; x < soft.cols; ++x)
      soft.at<std::uint8_t>(y, x) = *truth.at(x, y) > 0.02f && *truth.at(x, y) < 0.98f ? 255 : 0;
  }
  cv::dilate(soft, soft, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(25, 25)));
  Raster<std::uint8_t> band(truth.width(), truth.height());
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x) {
      *band.at(x, y) =
          soft.at<std::uint8_t>(y, x) ? matte::kUndecided : (*truth.at(x, y) >= 0.5f ? matte::kSubject : matte::kBackground);
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
        v = float(image::encodedFromLinear(a * image::linearFromEncoded(double(v)) +
                                           (1 - a) * image::linearFromEncoded(double(back.samples()[i * 3 + k]))));
      }
    }
    c.band = bandOf(c.truth);
    return c;
  }

 private:
  Raster<float> colours(const std::string& file, base::Rect crop) {
    return must(image::readFloat(must(image::readPicture(folder_ + "/" + file, memory_, here_, {})).pixels, 0, crop));
  }
  Raster<float> coverage(const std::string& file, base::Rect crop) {
    return must(image::readFloat(must(image::readCoverage(folder_ + "/" + file, memory_, here_)), 0, crop));
  }
  std::string folder_;
  std::shared_ptr<image::TileMemory> memory_ = image::TileMemory::create(std::size_t(4) << 30);
  base::InlineExecutor here_;
};

Raster<float> informationFlow(const Case& c) {
  cv::Mat picture(c.picture.height(), c.picture.width(), CV_8UC3), band(c.band.height(), c.band.width(), CV_8U), result;
  for (int y = 0; y < picture.rows; ++y) {
    for (int x = 0; x < picture.cols; ++x) {
      const float* p = c.picture.at(x, y);
      picture.at<cv::Vec3b>(y, x) = cv::Vec3b(cv::saturate_cast<uchar>(p[2] * 255), cv::saturate_cast<uchar>(p[1] * 255),
                                              cv::saturate_cast<uchar>(p[0] * 255));
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

double peakMegabytes() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return double(usage.ru_maxrss) / 1024;
}

// A whole cut-out as the product makes it: alpha and own colours, from tiles to tiles.
void timeWhole(const char* name, const image::TiledImage& picture, const image::TiledImage& truth, double bandShare,
               base::Executor& pool) {
  const base::Size size = truth.size();
  const double megapixels = double(size.width) * size.height / 1e6;
  const Raster<std::uint8_t> alpha = must(image::read8(truth, 0, base::Rect::of(size)));
  cv::Mat soft(size.height, size.width, CV_8U);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) soft.at<std::uint8_t>(y, x) = *alpha.at(x, y) > 5 && *alpha.at(x, y) < 250 ? 255 : 0;
  }
  // Dilated until the band has the share that is asked for.
  while (cv::countNonZero(soft) < bandShare * double(soft.total())) cv::dilate(soft, soft, cv::Mat::ones(3, 3, CV_8U));
  Raster<std::uint8_t> band(size.width, size.height);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x)
      *band.at(x, y) =
          soft.at<std::uint8_t>(y, x) ? matte::kUndecided : (*alpha.at(x, y) >= 128 ? matte::kSubject : matte::kBackground);
  }
  const image::TiledImage labels = must(image::tiledFromRaster(band, image::PixelFormat::grey8, truth.memory(), pool));
  const auto from = std::chrono::steady_clock::now();
  must(matte::solveCut(picture, labels, {}, image::PixelFormat::grey8, pool, {}));
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
  std::printf("%-34s %6.1f MP, band %4.1f %%: %6.1f s, %5.2f s/MP, peak memory %5.0f MB\n", name, megapixels,
              100 * must(matte::undecidedShare(labels)), seconds, seconds / megapixels, peakMegabytes());
  std::fflush(stdout);
}

image::TiledImage enlarged(const image::TiledImage& small, double by, const std::shared_ptr<image::TileMemory>& memory,
                           base::Executor& pool) {
  const base::Size size = small.size();
  const Raster<std::uint8_t> in = must(image::read8(small, 0, base::Rect::of(size)));
  const int type = in.channels() == 3 ? CV_8UC3 : CV_8UC1;
  cv::Mat large;
  cv::resize(cv::Mat(size.height, size.width, type, const_cast<std::uint8_t*>(in.row(0))), large, cv::Size(), by, by,
             cv::INTER_CUBIC);
  Raster<std::uint8_t> out(large.cols, large.rows, in.channels());
  for (int y = 0; y < large.rows; ++y)
    std::copy_n(large.ptr<std::uint8_t>(y), std::size_t(large.cols) * std::size_t(in.channels()), out.row(y));
  return must(
      image::tiledFromRaster(out, in.channels() == 3 ? image::PixelFormat::rgb8 : image::PixelFormat::grey8, memory, pool));
}

int timeWholes(const std::string& folder) {
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  const image::TiledImage picture = must(image::readPicture(folder + "/lamplighter.jpg", memory, *pool, {})).pixels;
  const image::TiledImage truth = must(image::readCoverage(folder + "/lamplighter-alpha.png", memory, *pool));
  timeWhole("the lamplighter", picture, truth, 0.10, *pool);
  timeWhole("the lamplighter, enlarged", enlarged(picture, 1.9, memory, *pool), enlarged(truth, 1.9, memory, *pool), 0.06, *pool);
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  if (argc > 2 && std::strcmp(argv[2], "--large") == 0) return timeWholes(argv[1]);
  const bool quick = argc > 2 && std::strcmp(argv[2], "--quick") == 0;
  Cases make(argv[1]);
  const std::vector<Case> cases = {
      make.photographed("wool on paper", "lamplighter", {750, 700, 800, 750}),
      make.photographed("fur, close colours", "fox", {420, 250, 800, 750}),
      make.composed("fur over the pier", "fox", {420, 250, 800, 750}, "pier.jpg", {1500, 900, 800, 750})};
  const auto pool = base::makePool(0);
  struct Method {
    std::string name;
    std::function<Raster<float>(const Case&)> solve;
  };
  std::vector<Method> methods = {
      {"hidden seam", [&](const Case& c) { return must(matte::solveAlpha(c.picture, c.band, {}, *pool, {})); }},
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
      std::printf("%-20s %-18s %8.3f %8.3f %8.3f %8.3f %8.2f\n", c.name.c_str(), methods[m].name.c_str(), e.sad, e.mse,
                  e.gradient, e.connectivity, seconds / (double(c.picture.pixels()) / 1e6));
      std::fflush(stdout);
      mean[m].sad += e.sad / double(cases.size()), mean[m].mse += e.mse / double(cases.size());
      mean[m].gradient += e.gradient / double(cases.size()), mean[m].connectivity += e.connectivity / double(cases.size());
    }
  }
  for (std::size_t m = 0; m < methods.size(); ++m) {
    std::printf("%-20s %-18s %8.3f %8.3f %8.3f %8.3f\n", "mean", methods[m].name.c_str(), mean[m].sad, mean[m].mse,
                mean[m].gradient, mean[m].connectivity);
  }
  return 0;
}
