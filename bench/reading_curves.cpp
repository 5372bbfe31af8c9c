// reading_curves FOLDER: readings against the truth that was put in, as plots (SVG), one a reading.

#include <cmath>
#include <cstdio>
#include <fstream>
#include <functional>
#include <opencv2/imgproc.hpp>
#include <random>
#include <string>
#include <vector>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/measure/exposure.h"
#include "core/measure/grain.h"
#include "core/measure/light_direction.h"
#include "core/measure/outline.h"
#include "core/measure/seam_detail.h"
#include "core/measure/sharpness.h"
#include "core/measure/tones.h"

namespace {

using namespace hseam;
using measure::Reading;
using Raster = image::Raster<float>;
using Where = image::Raster<std::uint8_t>;

Raster made(int w, int h, const std::function<double(double x, double y, int c)>& f) {
  Raster r(w, h, 4, 1.f);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      for (int c = 0; c < 3; ++c) r.at(x, y)[c] = float(std::clamp(f(x + 0.5, y + 0.5, c), 0.0, 1.0));
    }
  }
  return r;
}
// Grain, and then whole steps of 8 bits.
void grainAndRound(Raster& r, double sigma, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0, std::max(1e-9, sigma));
  for (std::size_t i = 0; i < r.samples().size(); i += 4) {
    const double n = sigma > 0 ? noise(random) : 0;
    for (std::size_t c = 0; c < 3; ++c)
      r.samples()[i + c] = float(std::round(std::clamp(double(r.samples()[i + c]) + n, 0.0, 1.0) * 255) / 255);
  }
}
Where all(const Raster& r) {
  return {r.width(), r.height(), 1, std::uint8_t(255)};
}
double encodedOfL(double l) {
  const double f = (l + 16) / 116;
  return image::encodedFromLinear(l > 8 ? f * f * f : l / 903.3);
}
void cutRound(Raster& r, double radius) {
  for (int y = 0; y < r.height(); ++y) {
    for (int x = 0; x < r.width(); ++x)
      r.at(x, y)[3] =
          float(std::clamp(radius + 0.5 - std::hypot(x + 0.5 - r.width() / 2.0, y + 0.5 - r.height() / 2.0), 0.0, 1.0));
  }
}

// What a lens makes of a step of 45 L*, turned by 17°.
Reading blurRead(double sigma, unsigned seed) {
  Raster r = made(240, 240, [=](double x, double y, int) {
    const double d = (x - 120) * std::cos(0.3) + (y - 120) * std::sin(0.3);
    return encodedOfL(30 + 45 * 0.5 * std::erfc(-d / std::hypot(sigma, 0.29) / std::sqrt(2.0)));
  });
  grainAndRound(r, 0.8 / 255, seed);
  return measure::sharpnessOf({r, all(r)}).typical;
}
Reading grainRead(double of255, unsigned seed) {
  Raster r = made(300, 300, [](double x, double y, int) { return 0.3 + 0.25 * x / 300 + 0.1 * y / 300; });
  grainAndRound(r, of255 / 255, seed);
  Reading g = measure::grainLevel(measure::grainOf({r, all(r)}));
  g.value *= 255, g.spread *= 255;
  return g;
}
Reading lightRead(double deg, unsigned seed) {
  const double a = deg * M_PI / 180, lx = std::sin(a) * 0.77, ly = -std::cos(a) * 0.77, lz = 0.64;
  Raster r = made(320, 320, [=](double x, double y, int c) {
    const double u = (x - 160) / 120, v = (y - 160) / 120, d = std::min(1.0, u * u + v * v);
    const double lambert = std::max(0.0, u * lx + v * ly + std::sqrt(1 - d) * lz);
    return image::encodedFromLinear((0.45 + 0.12 * std::sin(x / 9 + c) * std::cos(y / 13)) * (0.25 + 0.75 * lambert));
  });
  grainAndRound(r, 2.0 / 255, seed);
  cutRound(r, 120);
  return measure::lightDirectionOf(r, measure::outlineOf(r));
}
Reading exposureRead(double stops, unsigned seed) {
  const auto shot = [&](double gain, unsigned by) {
    Raster r = made(300, 200, [=](double x, double y, int c) {
      return image::encodedFromLinear(
          std::min(1.0, gain * (0.03 + 0.25 * (0.5 + 0.5 * std::sin(x / 31 + c) * std::cos(y / 23)))));
    });
    grainAndRound(r, 2.0 / 255, seed * 2 + by);
    return r;
  };
  const Raster from = shot(1, 0), to = shot(std::exp2(stops), 1);
  return measure::exposureBetween(from, to, all(from)).stops;
}
// The width over which a cut's coverage falls from nine tenths to one tenth.
Reading cutRead(double width, unsigned) {
  Raster r = made(300, 300, [](double, double, int) { return 0.5; });
  const double sigma = width / 2.563;
  for (int y = 0; y < 300; ++y) {
    for (int x = 0; x < 300; ++x)
      r.at(x, y)[3] =
          float(0.5 * std::erfc((std::hypot(x + 0.5 - 150, y + 0.5 - 150) - 90) / std::hypot(sigma, 0.29) / std::sqrt(2.0)));
  }
  return measure::softnessOf(measure::outlineOf(r));
}
// Rough surfaces that go on under a round piece.
struct Rough {
  Raster own, scene;
};
Rough rough(double blur, double noise, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<float> any(0, 0.35f);
  cv::Mat texture(400, 400, CV_32F), fine;
  for (int y = 0; y < 400; ++y) {
    for (int x = 0; x < 400; ++x) texture.ptr<float>(y)[x] = any(random);
  }
  cv::GaussianBlur(texture, fine, {}, 0.8);
  cv::GaussianBlur(texture, texture, {}, 2.5);
  texture = 2 * texture + 0.3 * fine;
  cv::Mat within = texture.clone();
  if (blur > 0) cv::GaussianBlur(within, within, {}, blur);
  Rough r{made(400, 400, [&](double x, double y, int) { return 0.5 + double(within.at<float>(int(y), int(x))); }),
          made(400, 400, [&](double x, double y, int) { return 0.5 + double(texture.at<float>(int(y), int(x))); })};
  grainAndRound(r.scene, 1.0 / 255, seed + 1);
  if (blur <= 0) grainAndRound(r.own, std::hypot(1.0, noise) / 255, seed + 2);
  cutRound(r.own, 130);
  return r;
}
Reading seamBlurRead(double sigma, unsigned seed) {
  Rough r = rough(sigma, 0, seed);
  grainAndRound(r.own, 0, 1);
  return measure::blurAcross(r.own, r.scene, measure::outlineOf(r.own));
}
Reading seamGrainRead(double of255, unsigned seed) {
  const Rough r = rough(0, of255, seed);
  Reading n = measure::noiseAcross(measure::squaresAcross(r.own, r.scene, measure::outlineOf(r.own)));
  const double sigma = 255 * std::sqrt(std::max(0.0, n.value));
  n.spread = 255 * 255 * n.spread / std::max(0.2, 2 * sigma);
  n.value = sigma;
  return n;
}

struct Curve {
  const char *file, *title, *unit;
  std::vector<double> truths;
  Reading (*read)(double truth, unsigned seed);
};

void draw(const Curve& c, const std::string& folder) {
  constexpr double kLeft = 56, kTop = 34, kSide = 300;
  const double low = std::min(0.0, c.truths.front()), high = c.truths.back(), range = high - low;
  const auto x = [&](double v) { return kLeft + kSide * (v - low) / range; };
  const auto y = [&](double v) { return kTop + kSide - kSide * std::clamp((v - low) / range, -0.05, 1.05); };
  std::ofstream out(folder + "/" + c.file + ".svg");
  out << "<svg xmlns='http://www.w3.org/2000/svg' width='390' height='390' font-family='sans-serif' font-size='12'>\n"
      << "<rect width='390' height='390' fill='white'/>\n<text x='" << kLeft << "' y='20' font-size='14'>" << c.title
      << "</text>\n<rect x='" << kLeft << "' y='" << kTop << "' width='" << kSide << "' height='" << kSide
      << "' fill='none' stroke='#999'/>\n<line x1='" << x(low) << "' y1='" << y(low) << "' x2='" << x(high) << "' y2='" << y(high)
      << "' stroke='#bbb'/>\n<text x='" << kLeft + kSide / 2 << "' y='" << kTop + kSide + 38 << "' text-anchor='middle'>truth, "
      << c.unit << "</text>\n<text x='14' y='" << kTop + kSide / 2 << "' transform='rotate(-90 14 " << kTop + kSide / 2
      << ")' text-anchor='middle'>reading</text>\n";
  for (const double v : {low, low + range / 2, high}) {
    char label[32];
    std::snprintf(label, sizeof label, "%.3g", v);
    out << "<text x='" << x(v) << "' y='" << kTop + kSide + 18 << "' text-anchor='middle'>" << label << "</text>\n<text x='"
        << kLeft - 6 << "' y='" << y(v) + 4 << "' text-anchor='end'>" << label << "</text>\n";
  }
  int untold = 0, count = 0;
  double worst = 0;
  for (const double t : c.truths) {
    for (unsigned seed = 1; seed <= 3; ++seed) {
      const Reading r = c.read(t, seed);
      ++count;
      if (!r.available) {
        ++untold;
        out << "<text x='" << x(t) << "' y='" << kTop + kSide - 4 << "' text-anchor='middle' fill='#a00'>?</text>\n";
        continue;
      }
      worst = std::max(worst, std::abs(r.value - t));
      out << "<line x1='" << x(t) << "' x2='" << x(t) << "' y1='" << y(r.value - r.spread) << "' y2='" << y(r.value + r.spread)
          << "' stroke='#357'/>\n<circle cx='" << x(t) << "' cy='" << y(r.value) << "' r='2.5' fill='#357'/>\n";
    }
  }
  out << "</svg>\n";
  std::printf("%-16s %2d readings, %d not told, furthest from the truth %.3g %s\n", c.file, count, untold, worst, c.unit);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: reading_curves FOLDER\n");
    return 2;
  }
  const Curve curves[] = {
      {"blur", "Blur of edges", "px", {0.5, 0.8, 1.2, 1.6, 2, 2.5, 3, 4, 5, 6, 7, 8}, blurRead},
      {"grain", "Grain", "of 255", {0.5, 0.8, 1.2, 2, 3, 4, 5, 6, 7, 8}, grainRead},
      {"cut-width", "Width of a cut", "px", {0.8, 1.2, 1.8, 2.5, 3.5, 4.5, 6, 7.5}, cutRead},
      {"light-direction",
       "From where light falls",
       "degrees",
       {-170, -140, -110, -80, -50, -20, 10, 40, 70, 100, 130, 160},
       lightRead},
      {"exposure", "Exposure between two pictures", "stops", {-1.5, -1, -0.5, -0.2, 0, 0.1, 0.3, 0.6, 1, 1.3}, exposureRead},
      {"seam-blur", "Blur of one side of a seam, on texture", "px", {0.4, 0.6, 0.8, 1, 1.3, 1.6, 2, 2.5}, seamBlurRead},
      {"seam-grain",
       "Grain that one side of a seam has more, on texture",
       "of 255",
       {0.8, 1.2, 1.8, 2.5, 3.5, 5, 7},
       seamGrainRead}};
  for (const Curve& c : curves) draw(c, argv[1]);
  return 0;
}
