// foreign_bench PHOTOS CASES [guess] [band] [alpha] [tuned]: the cut on pictures that others made (tests/truth/foreign.h). CASES:
// a folder that make_cases.py of PHOTOS has filled. Every other case was tuned on, the rest is reported; photographs were not
// tuned on. guess: share of the area of either that both have. band: SAD with a band found from a rough selection over SAD with
// one laid by the truth. tuned: the half that was tuned on alone. alpha: errors over those of the exact closed form, and the mean
// error of colour x alpha over the picture's own.

#include <chrono>
#include <cstdio>
#include <ctime>
#include <map>
#include <set>

#include "core/matte/band.h"
#include "core/matte/foreground.h"
#include "core/matte/found_band.h"
#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "core/select/subject_guess.h"
#include "exact_closed_form.h"
#include "matte_errors.h"
#include "truth/foreign.h"
#include "truth/must.h"

namespace {

using namespace hseam;
using image::Raster;

using truth::must;

double processorSeconds() {
  return double(std::clock()) / CLOCKS_PER_SEC;
}

double sumOfDifferences(const Raster<float>& a, const Raster<float>& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.samples().size(); ++i) sum += std::abs(double(a.samples()[i] - b.samples()[i]));
  return sum / 1000;
}

// Mean difference of colour x alpha from the truth over the band.
double colourError(const truth::ForeignCase& c, const Raster<float>& alpha, const Raster<float>& colours) {
  double sum = 0;
  std::size_t n = 0;
  for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
    if (matte::knownOf(c.band.samples()[i]) != matte::Known::undecided) continue;
    for (std::size_t k = 0; k < 3; ++k, ++n) {
      sum += std::abs(double(alpha.samples()[i] * colours.samples()[i * 3 + k]) -
                      double(c.alpha.samples()[i] * c.colours.samples()[i * 3 + k]));
    }
  }
  return sum / double(std::max<std::size_t>(n, 1));
}

constexpr double kEvenPx = 26;  // twice what the selection may be off, and a little

struct Half {
  std::vector<double> guess, band, even, missed, colour;
  bench::MatteErrors ours, exact;
  void tell(const char* name) const {
    const auto mean = [](const std::vector<double>& v) {
      double sum = 0;
      for (const double x : v) sum += x;
      return v.empty() ? 0.0 : sum / double(v.size());
    };
    const auto count = [](const std::vector<double>& v, auto test) { return int(std::count_if(v.begin(), v.end(), test)); };
    std::printf("== %s\n", name);
    if (!guess.empty())
      std::printf("guess: mean %.3f, least %.2f, %d of %zu below 0.8\n", mean(guess),
                  *std::min_element(guess.begin(), guess.end()), count(guess, [](double v) { return v < 0.8; }), guess.size());
    if (!band.empty())
      std::printf("band: mean %.2f x (one of %.0f px everywhere: %.2f x), %d of %zu above 1.3 x\n", mean(band), kEvenPx,
                  mean(even), count(band, [](double v) { return v > 1.3; }), band.size());
    if (!missed.empty())
      std::printf("places told as missed by the band, where no selection was off by more than 10 px: %.2f a picture\n",
                  mean(missed));
    if (exact.sad > 0)
      std::printf(
          "alpha over the exact closed form: SAD %.2f MSE %.2f Grad %.2f Conn %.2f; colour x alpha over the picture's %.2f\n",
          ours.sad / exact.sad, ours.mse / exact.mse, ours.gradient / exact.gradient, ours.connectivity / exact.connectivity,
          mean(colour));
  }
};

void add(bench::MatteErrors& sum, const bench::MatteErrors& e) {
  sum.sad += e.sad, sum.mse += e.mse, sum.gradient += e.gradient, sum.connectivity += e.connectivity;
}

Raster<std::uint8_t> maskOf(const Raster<float>& alpha) {
  Raster<std::uint8_t> mask(alpha.width(), alpha.height());
  for (std::size_t i = 0; i < mask.samples().size(); ++i) mask.samples()[i] = alpha.samples()[i] >= 0.5f ? 255 : 0;
  return mask;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) return 2;
  std::set<std::string> what(argv + 3, argv + argc);
  const bool tunedAlone = what.erase("tuned") > 0;
  if (what.empty()) what = {"guess", "band", "alpha"};
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  if (what.contains("guess")) {
    Half photos;
    for (const truth::ForeignPhoto& p : truth::foreignPhotos(argv[1], memory, *pool)) {
      const double from = processorSeconds();
      const auto found = must(select::guessSubject(p.picture, {}, *pool, {}));
      photos.guess.push_back(truth::intersectionOverUnion(found, p.mask));
      std::printf("%-24s guess %.3f (%.2f s of processor time, %.2f MP)\n", p.name.c_str(), photos.guess.back(),
                  processorSeconds() - from, double(p.mask.pixels()) / 1e6);
    }
    photos.tell("photographs");
  }
  Half halves[2];
  const auto folders = truth::foreignCaseFolders(argv[2]);
  for (std::size_t i = 0; i < folders.size(); ++i) {
    const truth::ForeignCase c = truth::readForeignCase(folders[i], memory, *pool);
    Half& half = halves[i % 2];
    if (tunedAlone && i % 2) continue;
    std::printf("%-24s", c.name.c_str());
    if (what.contains("guess")) {
      const auto found = must(select::guessSubject(c.picture, {}, *pool, {}));
      half.guess.push_back(truth::intersectionOverUnion(found, maskOf(c.alpha)));
      std::printf(" guess %.3f", half.guess.back());
    }
    const auto solved = [&](const Raster<std::uint8_t>& labels) { return must(matte::solveAlpha(c.rgb, labels, {}, *pool, {})); };
    const Raster<float> alpha = what.size() == 1 && what.contains("guess") ? Raster<float>() : solved(c.band);
    if (what.contains("band")) {
      const matte::FoundBand seen = must(matte::findBandAndMisses(c.picture, c.selection, {}, *pool, {}));
      const image::TiledImage& band = seen.band;
      half.missed.push_back(double(seen.missed.size()));
      const auto labels = must(image::read8(band, 0, base::Rect::of(band.size())));
      const double truly = sumOfDifferences(alpha, c.alpha), found = sumOfDifferences(solved(labels), c.alpha);
      const auto even =
          must(image::read8(must(matte::makeBand(c.selection, kEvenPx, *pool, {})), 0, base::Rect::of(band.size())));
      half.band.push_back(found / truly);
      half.even.push_back(sumOfDifferences(must(matte::solveAlpha(c.rgb, even, {}, *pool, {})), c.alpha) / truly);
      std::printf(" band %.2f x (%.2f, %.2f; %.1f %%), even %.2f x", found / truly, found, truly,
                  100 * must(matte::undecidedShare(band)), half.even.back());
    }
    if (what.contains("alpha")) {
      const auto e = bench::matteErrors(alpha, c.alpha, c.band);
      const Raster<float> exact = bench::exactClosedForm(c.rgb, c.band);
      const auto x = bench::matteErrors(exact, c.alpha, c.band);
      add(half.ours, e), add(half.exact, x);
      Raster<float> own = c.rgb;
      const auto found = must(matte::ownColours(c.rgb, alpha, *pool, {}));
      for (std::size_t k = 0; k < found.pixels.size(); ++k)
        std::copy_n(found.colours[k].data(), 3, own.samples().data() + std::size_t(found.pixels[k]) * 3);
      half.colour.push_back(colourError(c, alpha, own) / std::max(1e-9, colourError(c, alpha, c.rgb)));
      std::printf(" alpha %.2f %.2f %.2f %.2f colour %.2f", e.sad / x.sad, e.mse / x.mse, e.gradient / x.gradient,
                  e.connectivity / std::max(1e-9, x.connectivity), half.colour.back());
    }
    std::printf("\n");
    std::fflush(stdout);
  }
  halves[0].tell("cut-outs on grounds, the half that was tuned on");
  halves[1].tell("cut-outs on grounds, the half that was not");
  return 0;
}
