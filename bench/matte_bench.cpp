// matte_bench PICTURES [--ours | --quick | --bands | --large]: the solver beside an exact closed form, the first slice's solver,
// a guided filter and OpenCV's information flow, on eighteen edges with known alpha. --quick leaves the slow information flow
// out, --ours every peer. --bands holds bands found from a rough selection against bands laid by the known alpha. --large times
// whole pictures: the lamplighter as it is at a band of a tenth, and enlarged to 24 megapixels at a band of 6 %.

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
#include "core/matte/edge_shape.h"
#include "core/matte/foreground.h"
#include "core/matte/found_band.h"
#include "core/matte/quick_look.h"
#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "core/matte/whole_cut.h"
#include "core/select/subject_guess.h"
#include "exact_closed_form.h"
#include "first_slice.h"
#include "matte_errors.h"
#include "truth/must.h"
#include "truth/rendered_mattes.h"

namespace {

using namespace hseam;
using image::Raster;

using Case = truth::Matte;

using truth::must;

class Cases {
 public:
  explicit Cases(std::string folder) : folder_(std::move(folder)) {}
  Case photographed(const std::string& name, const std::string& file, base::Rect crop) {
    Case c{name, colours(file + ".jpg", crop), coverage(file + "-alpha.png", crop), colours(file + "-colours.jpg", crop), {}};
    c.band = truth::bandOf(c.alpha);
    return c;
  }
  // A subject with known alpha and colours over another picture.
  Case composed(const std::string& name, const std::string& file, base::Rect crop, const std::string& behind, base::Point there,
                truth::Mixing mixing) {
    return truth::composed(name, colours(file + "-colours.jpg", crop), coverage(file + "-alpha.png", crop),
                           colours(behind, {int(there.x), int(there.y), crop.width, crop.height}), mixing);
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

// The band's alpha as a guided filter makes it from the trimap (He, Sun, Tang 2010), radius 12 px, eps 1e-4, by box sums.
Raster<float> guidedFilter(const Case& c) {
  cv::Mat guide(c.picture.height(), c.picture.width(), CV_32FC3, const_cast<float*>(c.picture.row(0)));
  cv::Mat rough(guide.size(), CV_32F);
  for (int y = 0; y < rough.rows; ++y) {
    for (int x = 0; x < rough.cols; ++x) rough.at<float>(y, x) = float(*c.band.at(x, y)) / 255;
  }
  const auto box = [](const cv::Mat& m) {
    cv::Mat out;
    cv::blur(m, out, cv::Size(25, 25));
    return out;
  };
  std::vector<cv::Mat> channel;
  cv::split(guide, channel);
  const cv::Mat meanRough = box(rough);
  cv::Mat mean[3], with[3], cov[3][3], a[3];
  for (int i = 0; i < 3; ++i) mean[i] = box(channel[std::size_t(i)]);
  for (int i = 0; i < 3; ++i) {
    with[i] = box(channel[std::size_t(i)].mul(rough)) - mean[i].mul(meanRough);
    a[i] = cv::Mat(rough.size(), CV_32F);
    for (int j = i; j < 3; ++j) cov[i][j] = box(channel[std::size_t(i)].mul(channel[std::size_t(j)])) - mean[i].mul(mean[j]);
  }
  cv::Mat b(rough.size(), CV_32F);
  for (int y = 0; y < rough.rows; ++y) {
    for (int x = 0; x < rough.cols; ++x) {
      cv::Matx33f s;
      for (int i = 0; i < 3; ++i) {
        for (int j = i; j < 3; ++j) s(i, j) = s(j, i) = cov[i][j].at<float>(y, x) + (i == j ? 1e-4f : 0.f);
      }
      const cv::Vec3f k = s.inv() * cv::Vec3f(with[0].at<float>(y, x), with[1].at<float>(y, x), with[2].at<float>(y, x));
      float rest = meanRough.at<float>(y, x);
      for (int i = 0; i < 3; ++i) a[i].at<float>(y, x) = k[i], rest -= k[i] * mean[i].at<float>(y, x);
      b.at<float>(y, x) = rest;
    }
  }
  cv::Mat result = box(b);
  for (int i = 0; i < 3; ++i) result += box(a[i]).mul(channel[std::size_t(i)]);
  Raster<float> alpha(c.picture.width(), c.picture.height());
  for (int y = 0; y < result.rows; ++y) {
    for (int x = 0; x < result.cols; ++x) {
      const auto known = matte::knownOf(*c.band.at(x, y));
      *alpha.at(x, y) = known == matte::Known::undecided ? std::clamp(result.at<float>(y, x), 0.f, 1.f)
                                                         : (known == matte::Known::subject ? 1.f : 0.f);
    }
  }
  return alpha;
}

// Mean difference of the subject's colours (encoded, 0..1) over the band, weighed by the true alpha.
double colourError(const Case& c, const Raster<float>& alpha, base::Executor& pool) {
  Raster<float> found = c.picture;
  const auto own = must(matte::ownColours(c.picture, alpha, pool, {}));
  for (std::size_t i = 0; i < own.pixels.size(); ++i)
    std::copy_n(own.colours[i].data(), 3, found.samples().data() + std::size_t(own.pixels[i]) * 3);
  double sum = 0, weights = 0;
  for (std::size_t i = 0; i < c.alpha.samples().size(); ++i) {
    if (matte::knownOf(c.band.samples()[i]) != matte::Known::undecided) continue;
    const double a = double(c.alpha.samples()[i]);
    for (std::size_t k = 0; k < 3; ++k)
      sum += a * std::abs(double(found.samples()[i * 3 + k] - c.colours.samples()[i * 3 + k])) / 3;
    weights += a;
  }
  return sum / std::max(1e-9, weights);
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

// The most hairy 1000 px of the outline, solved again alone, as often as a user would drag.
void timeStretch(const image::TiledImage& picture, const image::TiledImage& alpha, base::Executor& pool) {
  const matte::Unrolled outline = must(matte::unrolled(alpha));
  const auto forms = must(matte::edgeForms(outline, 0, int(outline.places.size()), alpha));
  constexpr int kCount = 1000;
  int best = 0, most = -1;
  for (int first = 0; first + kCount <= int(forms.size()); first += 50) {
    if (outline.places[std::size_t(first)].outline != outline.places[std::size_t(first + kCount - 1)].outline) continue;
    const int hairy = int(std::count_if(forms.begin() + first, forms.begin() + first + kCount,
                                        [](const matte::EdgeReading& r) { return r.kind == matte::EdgeKind::hair; }));
    if (hairy > most) best = first, most = hairy;
  }
  matte::StretchSolveOptions options;
  options.solving.encodedShare = 0;
  for (const auto kind : {matte::EdgeKind::hair, matte::EdgeKind::soft, matte::EdgeKind::solid}) {
    options.as = kind;
    std::vector<double> seconds;
    for (int i = 0; i < 5; ++i) {
      const auto from = std::chrono::steady_clock::now();
      must(matte::solveStretch(picture, {}, alpha, {}, outline, best, kCount, options, pool, {}));
      seconds.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
    }
    std::sort(seconds.begin(), seconds.end());
    std::printf("1000 px of %6.1f MP solved anew as %-6s %6.0f ms (median of 5; %d px of it hair)\n",
                double(picture.size().width) * picture.size().height / 1e6, matte::nameOf(kind), 1000 * seconds[2], most);
    std::fflush(stdout);
  }
  matte::EdgePlan plan;
  plan.byKind[0] = {0.5, 0.8, 0, 10};
  plan.byKind[2] = {0.5, 1, -0.2, 0};
  const auto from = std::chrono::steady_clock::now();
  must(matte::shapedAlpha(alpha, plan, pool, {}));
  std::printf("%zu px of outline shaped: %.0f ms\n", outline.places.size(),
              1000 * std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
}

int timeStretches(const std::string& folder) {
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  const image::TiledImage picture = must(image::readPicture(folder + "/lamplighter.jpg", memory, *pool, {})).pixels;
  const image::TiledImage truth = must(image::readCoverage(folder + "/lamplighter-alpha.png", memory, *pool));
  timeStretch(enlarged(picture, 1.9, memory, *pool), enlarged(truth, 1.9, memory, *pool), *pool);
  return 0;
}

// From a rough selection to alpha and colours, the band found on the way.
void timeFromSelection(const char* name, const image::TiledImage& picture, const image::TiledImage& truth, base::Executor& pool) {
  Raster<float> alpha = must(image::readFloat(truth, 0, base::Rect::of(truth.size())));
  const auto selection =
      must(image::tiledFromRaster(truth::roughSelection(alpha, 10, 80, 5), image::PixelFormat::grey8, truth.memory(), pool));
  const auto begin = std::chrono::steady_clock::now();
  base::InlineExecutor alone;
  must(matte::quickAlpha(picture, selection, {}, alone));
  std::printf("%-34s %6.1f MP: first look after %.2f s, on one thread\n", name,
              double(truth.size().width) * truth.size().height / 1e6,
              std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
  const auto from = std::chrono::steady_clock::now();
  const matte::WholeCut made = must(matte::wholeCut(picture, selection, {}, {}, image::PixelFormat::grey8, pool, {}));
  std::printf("%-34s %6.1f MP, found band %4.1f %%: %6.1f s from selection to alpha and colours\n", name,
              double(truth.size().width) * truth.size().height / 1e6, 100 * must(matte::undecidedShare(made.band)),
              std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
  std::fflush(stdout);
}

// A guess, and a correction of it by one stroke of a hint, as often as a user would draw one.
void timeGuess(const char* name, const image::TiledImage& picture, base::Executor& pool) {
  const auto timed = [](const auto& work) {
    std::vector<double> ms;
    for (int i = 0; i < 5; ++i) {
      const auto from = std::chrono::steady_clock::now();
      work();
      ms.push_back(1000 * std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
    }
    std::sort(ms.begin(), ms.end());
    return ms[2];
  };
  select::GuessOptions options;
  options.previous = must(select::guessSubject(picture, {}, pool, {}));
  const base::Size size = picture.size();
  const base::Rect stroke{size.width / 8, size.height / 2, size.width / 20, size.height / 8};
  options.hints = must(image::withPixels(image::uniformCoverage(size, select::kHintNothing, picture.memory()), stroke,
                                         Raster<std::uint8_t>(stroke.width, stroke.height, 1, select::kHintBackground), pool));
  std::printf("%-34s %6.1f MP: hint answered at the working resolution in %.0f ms, at full size in %.0f ms; guess anew %.0f ms\n",
              name, double(size.width) * size.height / 1e6, timed([&] { must(select::seeSubjects(picture, options, 1, {})); }),
              timed([&] { must(select::guessSubject(picture, options, pool, {})); }),
              timed([&] { must(select::guessSubject(picture, {}, pool, {})); }));
  std::fflush(stdout);
}

int timeWholes(const std::string& folder) {
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  const image::TiledImage picture = must(image::readPicture(folder + "/lamplighter.jpg", memory, *pool, {})).pixels;
  const image::TiledImage truth = must(image::readCoverage(folder + "/lamplighter-alpha.png", memory, *pool));
  timeWhole("the lamplighter", picture, truth, 0.10, *pool);
  const image::TiledImage large = enlarged(picture, 1.9, memory, *pool), largeTruth = enlarged(truth, 1.9, memory, *pool);
  timeGuess("the lamplighter, enlarged", large, *pool);
  timeWhole("the lamplighter, enlarged", large, largeTruth, 0.06, *pool);
  timeFromSelection("the lamplighter, enlarged", large, largeTruth, *pool);
  return 0;
}

// A rough selection alone, against a band laid by someone who knows the truth: errors over the whole picture.
int compareBands(const std::vector<Case>& cases) {
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  std::printf("%-26s %10s %10s %8s %12s %8s\n", "case", "rule SAD", "found SAD", "ratio", "band share", "s");
  double rule = 0, found = 0;
  const auto sad = [](const Raster<float>& alpha, const Case& c) {
    double sum = 0;
    for (std::size_t i = 0; i < alpha.samples().size(); ++i) sum += std::abs(double(alpha.samples()[i] - c.alpha.samples()[i]));
    return sum / 1000;
  };
  for (const Case& c : cases) {
    Raster<std::uint8_t> codes(c.picture.width(), c.picture.height(), 3);
    for (std::size_t i = 0; i < codes.samples().size(); ++i)
      codes.samples()[i] = std::uint8_t(std::lround(c.picture.samples()[i] * 255));
    const auto picture = must(image::tiledFromRaster(codes, image::PixelFormat::rgb8, memory, *pool));
    const auto selection =
        must(image::tiledFromRaster(truth::roughSelection(c.alpha, 10, 80, 5), image::PixelFormat::grey8, memory, *pool));
    const double byRule = sad(must(matte::solveAlpha(c.picture, c.band, {}, *pool, {})), c);
    const auto from = std::chrono::steady_clock::now();
    const auto band = must(matte::findBand(picture, selection, {}, *pool, {}));
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    const auto labels = must(image::read8(band, 0, base::Rect::of(band.size())));
    const double byFound = sad(must(matte::solveAlpha(c.picture, labels, {}, *pool, {})), c);
    std::printf("%-26s %10.3f %10.3f %8.2f %5.1f/%5.1f %% %8.2f\n", c.name.c_str(), byRule, byFound, byFound / byRule,
                100 * must(matte::undecidedShare(band)),
                100 * must(matte::undecidedShare(must(image::tiledFromRaster(c.band, image::PixelFormat::grey8, memory, *pool)))),
                seconds);
    std::fflush(stdout);
    rule += byRule, found += byFound;
  }
  std::printf("%-26s %10.3f %10.3f %8.2f\n", "sum", rule, found, found / rule);
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  if (argc > 2 && std::strcmp(argv[2], "--large") == 0) return timeWholes(argv[1]);
  if (argc > 2 && std::strcmp(argv[2], "--stretch") == 0) return timeStretches(argv[1]);
  const bool quick = argc > 2 && std::strcmp(argv[2], "--quick") == 0;
  const bool ours = argc > 2 && std::strcmp(argv[2], "--ours") == 0;
  Cases make(argv[1]);
  using truth::Mixing;
  std::vector<Case> cases = {
      make.photographed("wool on paper", "lamplighter", {800, 720, 560, 500}),
      make.photographed("fur on paper", "fox", {420, 250, 560, 500}),
      make.composed("fur over the pier", "fox", {420, 250, 560, 500}, "pier.jpg", {1500, 900}, Mixing::linear),
      make.composed("wool over planks, encoded", "lamplighter", {800, 720, 560, 500}, "pier.jpg", {700, 1300}, Mixing::encoded)};
  for (const truth::Description& d : truth::standardCases()) cases.push_back(truth::rendered(d));
  if (argc > 2 && std::strcmp(argv[2], "--bands") == 0) return compareBands(cases);
  const auto pool = base::makePool(0);
  struct Method {
    std::string name;
    std::function<Raster<float>(const Case&)> solve;
  };
  std::vector<Method> methods = {
      {"hidden seam", [&](const Case& c) { return must(matte::solveAlpha(c.picture, c.band, {}, *pool, {})); }}};
  if (!ours) {
    methods.push_back({"exact closed form", [](const Case& c) { return bench::exactClosedForm(c.picture, c.band); }});
    methods.push_back({"first slice", [&](const Case& c) { return bench::firstSlice(c.picture, c.band, *pool); }});
    methods.push_back({"guided filter", guidedFilter});
  }
  if (!quick && !ours) methods.push_back({"information flow", informationFlow});
  std::printf("%-26s %-18s %8s %8s %8s %8s %8s %8s %8s\n", "case", "method", "SAD/1k", "MSE*1k", "Grad/1k", "Conn/1k", "colour",
              "s/MP", "peak MB");
  std::vector<bench::MatteErrors> mean(methods.size());
  for (const Case& c : cases) {
    for (std::size_t m = 0; m < methods.size(); ++m) {
      const auto from = std::chrono::steady_clock::now();
      const Raster<float> alpha = methods[m].solve(c);
      const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
      const auto e = bench::matteErrors(alpha, c.alpha, c.band);
      std::printf("%-26s %-18s %8.4f %8.4f %8.5f %8.4f %8.4f %8.2f %8.0f\n", c.name.c_str(), methods[m].name.c_str(), e.sad,
                  e.mse, e.gradient, e.connectivity, colourError(c, alpha, *pool), seconds / (double(c.picture.pixels()) / 1e6),
                  peakMegabytes());
      std::fflush(stdout);
      mean[m].sad += e.sad / double(cases.size()), mean[m].mse += e.mse / double(cases.size());
      mean[m].gradient += e.gradient / double(cases.size()), mean[m].connectivity += e.connectivity / double(cases.size());
    }
  }
  for (std::size_t m = 0; m < methods.size(); ++m) {
    std::printf("%-26s %-18s %8.4f %8.4f %8.5f %8.4f\n", "mean", methods[m].name.c_str(), mean[m].sad, mean[m].mse,
                mean[m].gradient, mean[m].connectivity);
  }
  return 0;
}
