#include "truth/rendered_mattes.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/transfer.h"
#include "core/matte/trimap.h"

namespace hseam::truth {
namespace {

using image::Raster;
constexpr int kFine = 3;  // samples a px and direction

class Chance {
 public:
  explicit Chance(std::uint64_t seed) : state_(seed * 2862933555777941757ull + 3037000493ull) {}
  double unit() {
    state_ = state_ * 6364136223846793005ull + 1442695040888963407ull;
    return double(state_ >> 33) / 2147483648.0;
  }
  double between(double a, double b) { return a + (b - a) * unit(); }
  // Sum of twelve: nearly normal, spread 1.
  double normal() {
    double s = -6;
    for (int i = 0; i < 12; ++i) s += unit();
    return s;
  }

 private:
  std::uint64_t state_;
};

double lattice(int x, int y, std::uint64_t seed) {
  std::uint64_t h =
      seed + std::uint64_t(std::uint32_t(x)) * 0x9E3779B97F4A7C15ull + std::uint64_t(std::uint32_t(y)) * 0xC2B2AE3D27D4EB4Full;
  h = (h ^ (h >> 29)) * 0xBF58476D1CE4E5B9ull;
  h = (h ^ (h >> 32)) * 0x94D049BB133111EBull;
  return double((h ^ (h >> 31)) >> 11) / double(1ull << 53);
}

// Value noise, -1..1.
double noise(double x, double y, std::uint64_t seed) {
  const int ix = int(std::floor(x)), iy = int(std::floor(y));
  const auto ease = [](double t) { return t * t * (3 - 2 * t); };
  const double u = ease(x - ix), v = ease(y - iy);
  const double top = lattice(ix, iy, seed) * (1 - u) + lattice(ix + 1, iy, seed) * u;
  const double bottom = lattice(ix, iy + 1, seed) * (1 - u) + lattice(ix + 1, iy + 1, seed) * u;
  return 2 * (top * (1 - v) + bottom * v) - 1;
}

double fractal(double x, double y, std::uint64_t seed, int octaves) {
  double sum = 0, size = 1, all = 0;
  for (int i = 0; i < octaves; ++i, size *= 0.55) {
    sum += size * noise(x * (1 << i), y * (1 << i), seed + std::uint64_t(i) * 77);
    all += size;
  }
  return sum / all;
}

struct Colour {
  double r, g, b;
};
Colour mixed(Colour a, Colour b, double t) {
  return {a.r + (b.r - a.r) * t, a.g + (b.g - a.g) * t, a.b + (b.b - a.b) * t};
}
Colour lit(Colour c, double by) {
  return {std::clamp(c.r * by, 0.0, 1.0), std::clamp(c.g * by, 0.0, 1.0), std::clamp(c.b * by, 0.0, 1.0)};
}

// Of Kind::mixed, radians about the body's middle, y down.
constexpr double kHairFrom = -2.3, kHairTo = -1.0, kSoftFrom = -0.5;

constexpr Colour kSubject{0.72, 0.50, 0.30};

Colour groundColour(Ground ground, double x, double y, std::uint64_t seed) {
  switch (ground) {
    case Ground::paper:
      return lit({0.72, 0.76, 0.78}, 0.95 + 0.12 * fractal(x / 400, y / 400, seed, 2));
    case Ground::boards: {
      const double board = std::floor((y + 6 * noise(x / 300, 0, seed)) / 46),
                   within = y + 6 * noise(x / 300, 0, seed) - board * 46;
      const double grain = fractal(x / 90, y / 5 + board * 31, seed + 5, 3);
      const double gap = within < 2.5 ? 0.35 : 1;
      return lit({0.38, 0.36, 0.34}, gap * (1 + 0.18 * grain + 0.25 * (lattice(int(board), 3, seed) - 0.5)));
    }
    case Ground::clouds:
      return mixed({0.36, 0.50, 0.66}, {0.80, 0.81, 0.83}, std::clamp(0.5 + 0.9 * fractal(x / 120, y / 80, seed, 4), 0.0, 1.0));
    case Ground::pebbles: {
      // The nearest of scattered points: hard borders between many tones.
      double nearest = 1e9, second = 1e9, tone = 0;
      const int cx = int(std::floor(x / 17)), cy = int(std::floor(y / 17));
      for (int j = -1; j <= 1; ++j) {
        for (int i = -1; i <= 1; ++i) {
          const double px = (cx + i + lattice(cx + i, cy + j, seed)) * 17, py = (cy + j + lattice(cx + i, cy + j, seed + 9)) * 17;
          const double d = std::hypot(x - px, y - py);
          if (d < nearest) {
            second = nearest, nearest = d, tone = lattice(cx + i, cy + j, seed + 4);
          } else {
            second = std::min(second, d);
          }
        }
      }
      const double edge = std::clamp((second - nearest) / 2.5, 0.25, 1.0);
      return lit(mixed({0.30, 0.34, 0.33}, {0.62, 0.60, 0.52}, tone), edge * (0.95 + 0.1 * noise(x / 3, y / 3, seed)));
    }
  }
  return {};
}

// Subject drawn in fine samples: encoded colours, opaque or not.
struct Canvas {
  int width, height;
  std::vector<float> rgb;
  std::vector<std::uint8_t> covered;
  Canvas(int w, int h)
      : width(w * kFine),
        height(h * kFine),
        rgb(std::size_t(width) * std::size_t(height) * 3),
        covered(std::size_t(width) * std::size_t(height)) {}

  void put(int x, int y, Colour c) {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const std::size_t at = std::size_t(y) * std::size_t(width) + std::size_t(x);
    rgb[at * 3] = float(c.r), rgb[at * 3 + 1] = float(c.g), rgb[at * 3 + 2] = float(c.b);
    covered[at] = 1;
  }
  // px of the picture.
  void disc(double cx, double cy, double radius, Colour c) {
    const double r = radius * kFine, x0 = cx * kFine, y0 = cy * kFine;
    for (int y = int(std::floor(y0 - r)); y <= int(y0 + r); ++y) {
      for (int x = int(std::floor(x0 - r)); x <= int(x0 + r); ++x) {
        if (std::hypot(x + 0.5 - x0, y + 0.5 - y0) <= r) put(x, y, c);
      }
    }
  }
  template <class Inside, class Shade>
  void fill(const Inside& inside, const Shade& shade) {
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) {
        const double px = (x + 0.5) / kFine, py = (y + 0.5) / kFine;
        if (inside(px, py)) put(x, y, shade(px, py));
      }
    }
  }
};

Colour cloth(double x, double y, std::uint64_t seed) {
  const double shade = 1 + 0.35 * fractal(x / 150, y / 150, seed, 2) + 0.10 * fractal(x / 6, y / 6, seed + 2, 2);
  return lit(mixed(kSubject, {0.62, 0.34, 0.28}, std::clamp(0.5 + fractal(x / 90, y / 70, seed + 3, 2), 0.0, 1.0)), shade);
}

// The outline of the body: a lobe that stands on the lower border.
double bodyRadius(double angle, double size, std::uint64_t seed) {
  return size * (1 + 0.10 * std::sin(2 * angle + double(seed % 7)) + 0.05 * std::sin(5 * angle + double(seed % 5)));
}
bool inBody(double x, double y, const Description& d, double size) {
  const double cx = d.width * 0.5, cy = d.height * 0.62;
  if (y > cy && std::abs(x - cx) < size * 0.8) return true;
  return std::hypot(x - cx, y - cy) < bodyRadius(std::atan2(y - cy, x - cx), size, d.seed);
}

void strands(Canvas& canvas, const Description& d, Chance& chance, int count, double length, double thickness, double bend,
             double size, bool locks, double from = -M_PI, double to = M_PI) {
  const double cx = d.width * 0.5, cy = d.height * 0.62;
  double lock = 0, lockBend = 0;
  Colour tone = kSubject;
  for (int i = 0; i < count; ++i) {
    if (!locks || i % 9 == 0) {
      lock = chance.between(from, to), lockBend = chance.between(-bend, bend);
      tone = lit(mixed(kSubject, {0.50, 0.30, 0.18}, chance.unit()), chance.between(0.75, 1.25));
    }
    double angle = lock + (locks ? 0.05 * chance.normal() : 0);
    const double r0 = bodyRadius(angle, size, d.seed) - 6;
    double x = cx + r0 * std::cos(angle), y = cy + r0 * std::sin(angle);
    double heading = angle + 0.25 * chance.normal() + (locks ? 0 : 0.5);
    const double curve = (lockBend + 0.25 * bend * chance.normal()) / length, reach = length * chance.between(0.4, 1.1);
    const double wide = thickness * chance.between(0.5, 1.2) / 2;
    const Colour own = lit(tone, chance.between(0.88, 1.12));
    for (double t = 0; t < reach; t += 0.3) {
      canvas.disc(x, y, std::max(0.18, wide * (1 - 0.75 * t / reach)), lit(own, 1 + 0.12 * std::sin(t / 9)));
      x += 0.3 * std::cos(heading), y += 0.3 * std::sin(heading);
      heading += 0.3 * curve;
    }
  }
}

void draw(Canvas& canvas, const Description& d, Chance& chance) {
  const double size = std::min(d.width, d.height) * 0.33;
  const auto shade = [&](double x, double y) { return cloth(x, y, d.seed + 40); };
  const auto body = [&](double grown) { canvas.fill([&](double x, double y) { return inBody(x, y, d, size + grown); }, shade); };
  switch (d.kind) {
    case Kind::hair:
      body(0);
      strands(canvas, d, chance, 900, size * 0.62, 1.5, 1.8, size, true);
      strands(canvas, d, chance, 60, size * 0.75, 0.9, 2.6, size, false);
      break;
    case Kind::fur:
      body(0);
      strands(canvas, d, chance, 4200, size * 0.22, 1.2, 0.8, size, true);
      break;
    case Kind::mixed:
      body(0);
      strands(canvas, d, chance, 420, size * 0.4, 1.5, 1.5, size, true, kHairFrom, kHairTo);
      break;
    case Kind::lattice: {
      // Leaves on twigs, dense in the middle, with the ground between them outside.
      const double cx = d.width * 0.5, cy = d.height * 0.55;
      canvas.fill([&](double x, double y) { return std::hypot(x - cx, y - cy) < size * 0.62; },
                  [&](double x, double y) {
                    return lit({0.40, 0.44, 0.19}, 1 + 0.5 * fractal(x / 14, y / 14, d.seed, 3));
                  });
      for (int i = 0; i < 190; ++i) {
        const double a = chance.between(-M_PI, M_PI), r = size * 1.25 * std::sqrt(chance.unit());
        const double x = cx + r * std::cos(a), y = cy + r * std::sin(a), turn = chance.between(0, M_PI),
                     l = chance.between(9, 20), w = l * 0.34;
        const Colour leaf = lit(mixed({0.34, 0.44, 0.18}, {0.56, 0.50, 0.22}, chance.unit()), chance.between(0.7, 1.25));
        for (double t = -l; t <= l; t += 0.3) {
          const double half = w * (1 - t * t / (l * l));
          for (double s = -half; s <= half; s += 0.3)
            canvas.disc(x + t * std::cos(turn) - s * std::sin(turn), y + t * std::sin(turn) + s * std::cos(turn), 0.3,
                        lit(leaf, s > 0 ? 1.1 : 0.92));
        }
      }
      for (int i = 0; i < 26; ++i) {
        double x = cx + chance.between(-8, 8), y = d.height, heading = -M_PI / 2 + 0.35 * chance.normal();
        for (double t = 0; t < size * 1.9; t += 0.4) {
          canvas.disc(x, y, 1.4 * (1 - t / (size * 2)) + 0.3, lit({0.34, 0.25, 0.18}, 1 + 0.2 * noise(t / 8, i, d.seed)));
          x += 0.4 * std::cos(heading), y += 0.4 * std::sin(heading);
          heading += 0.02 * chance.normal();
        }
      }
      break;
    }
    case Kind::defocus:
    case Kind::motion:
    case Kind::veil:
    case Kind::solid:
      body(0);
      break;
  }
}

double toMixing(double encoded, Mixing m) {
  return m == Mixing::linear ? image::linearFromEncoded(encoded) : encoded;
}
double fromMixing(double v, Mixing m) {
  return m == Mixing::linear ? image::encodedFromLinear(v) : v;
}

double angleOf(const Description& d, double x, double y) {
  return std::atan2(y - d.height * 0.62, x - d.width * 0.5);
}

cv::Mat discKernel(double radius) {
  const int n = int(std::ceil(radius));
  cv::Mat k(2 * n + 1, 2 * n + 1, CV_32F);
  for (int y = -n; y <= n; ++y) {
    for (int x = -n; x <= n; ++x) k.at<float>(y + n, x + n) = float(std::clamp(radius + 0.5 - std::hypot(x, y), 0.0, 1.0));
  }
  return k / cv::sum(k)[0];
}

// Colour times alpha and alpha, in mixing values, 4 channels.
cv::Mat premultiplied(const Canvas& canvas, const Description& d) {
  cv::Mat out(d.height, d.width, CV_32FC4, cv::Scalar::all(0));
  for (int y = 0; y < canvas.height; ++y) {
    for (int x = 0; x < canvas.width; ++x) {
      const std::size_t at = std::size_t(y) * std::size_t(canvas.width) + std::size_t(x);
      if (!canvas.covered[at]) continue;
      cv::Vec4f& v = out.at<cv::Vec4f>(y / kFine, x / kFine);
      for (int c = 0; c < 3; ++c)
        v[c] += float(toMixing(double(canvas.rgb[at * 3 + std::size_t(c)]), d.mixing)) / (kFine * kFine);
      v[3] += 1.f / (kFine * kFine);
    }
  }
  if (d.kind == Kind::defocus) {
    cv::filter2D(out, out, -1, discKernel(8.5), cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
  } else if (d.kind == Kind::motion) {
    cv::Mat k = cv::Mat::zeros(31, 31, CV_32F);
    cv::line(k, {2, 10}, {28, 20}, cv::Scalar(1), 1, cv::LINE_AA);
    cv::filter2D(out, out, -1, k / cv::sum(k)[0], cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
  } else if (d.kind == Kind::mixed) {
    cv::Mat blurred;
    cv::filter2D(out, blurred, -1, discKernel(8.5), cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
    for (int y = 0; y < d.height; ++y) {
      for (int x = 0; x < d.width; ++x) {
        const double a = angleOf(d, x, y), t = std::clamp((a - kSoftFrom) / 0.2 + 0.5, 0.0, 1.0) * (x > d.width * 0.5 ? 1 : 0);
        cv::Vec4f& v = out.at<cv::Vec4f>(y, x);
        v += (blurred.at<cv::Vec4f>(y, x) - v) * float(t);
      }
    }
  } else if (d.kind == Kind::veil) {
    // Thin cloth that thins out towards the top.
    for (int y = 0; y < d.height; ++y) {
      for (int x = 0; x < d.width; ++x) {
        const double fold =
            0.55 + 0.3 * std::sin(x / 21.0 + 2 * noise(x / 80.0, y / 60.0, d.seed)) + (y - d.height * 0.45) / (d.height * 0.35);
        out.at<cv::Vec4f>(y, x) *= float(std::clamp(fold, 0.12, 1.0));
      }
    }
  }
  cv::GaussianBlur(out, out, {}, 0.6, 0.6, cv::BORDER_REPLICATE);
  return out;
}

}  // namespace

Raster<std::uint8_t> bandOf(const Raster<float>& alpha) {
  cv::Mat soft(alpha.height(), alpha.width(), CV_8U);
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x)
      soft.at<std::uint8_t>(y, x) = *alpha.at(x, y) > 0.02f && *alpha.at(x, y) < 0.98f ? 255 : 0;
  }
  cv::dilate(soft, soft, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(25, 25)));
  Raster<std::uint8_t> band(alpha.width(), alpha.height());
  for (int y = 0; y < soft.rows; ++y) {
    for (int x = 0; x < soft.cols; ++x) {
      *band.at(x, y) =
          soft.at<std::uint8_t>(y, x) ? matte::kUndecided : (*alpha.at(x, y) >= 0.5f ? matte::kSubject : matte::kBackground);
    }
  }
  return band;
}

EdgeTag edgeTagAt(const Description& d, double x, double y) {
  constexpr double kMargin = 0.2;  // strands lean over, blur sets in
  const double a = angleOf(d, x, y);
  if (a > kHairFrom + kMargin / 2 && a < kHairTo - kMargin / 2) return EdgeTag::hair;
  if (a > kSoftFrom + kMargin && x > d.width * 0.5) return EdgeTag::soft;
  if (x < d.width * 0.5 && (a > M_PI / 2 || a < kHairFrom - 2 * kMargin)) return EdgeTag::solid;
  return EdgeTag::between;
}

Matte rendered(const Description& d) {
  Chance chance(d.seed);
  Canvas canvas(d.width, d.height);
  draw(canvas, d, chance);
  const cv::Mat subject = premultiplied(canvas, d);
  Matte m{d.name, Raster<float>(d.width, d.height, 3), Raster<float>(d.width, d.height), Raster<float>(d.width, d.height, 3), {}};
  for (int y = 0; y < d.height; ++y) {
    for (int x = 0; x < d.width; ++x) {
      const cv::Vec4f v = subject.at<cv::Vec4f>(y, x);
      const double a = std::clamp(double(v[3]), 0.0, 1.0);
      *m.alpha.at(x, y) = float(a);
      Colour g = groundColour(d.ground, x, y, d.seed + 900);
      if (d.closeInColour > 0)
        g = mixed(g, lit(kSubject, (g.r + g.g + g.b) / (kSubject.r + kSubject.g + kSubject.b)), d.closeInColour);
      const double ground[3] = {g.r, g.g, g.b};
      for (int c = 0; c < 3; ++c) {
        const double value = double(v[c]) + (1 - a) * toMixing(ground[c], d.mixing);
        const double shown = fromMixing(value, d.mixing) + 0.004 * chance.normal();
        m.picture.at(x, y)[c] = float(std::lround(std::clamp(shown, 0.0, 1.0) * 255)) / 255;
        m.colours.at(x, y)[c] = a > 0 ? float(fromMixing(std::min(1.0, double(v[c]) / a), d.mixing)) : 0.f;
      }
    }
  }
  m.band = bandOf(m.alpha);
  return m;
}

Matte composed(std::string name, const Raster<float>& colours, const Raster<float>& alpha, const Raster<float>& ground,
               Mixing mixing) {
  Matte m{std::move(name), colours, alpha, colours, bandOf(alpha)};
  for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
    for (std::size_t k = 0; k < 3; ++k) {
      const double a = double(alpha.samples()[i]), f = double(colours.samples()[i * 3 + k]),
                   b = double(ground.samples()[i * 3 + k]);
      const double shown = fromMixing(a * toMixing(f, mixing) + (1 - a) * toMixing(b, mixing), mixing);
      m.picture.samples()[i * 3 + k] = float(std::lround(std::clamp(shown, 0.0, 1.0) * 255)) / 255;
    }
  }
  return m;
}

Raster<std::uint8_t> roughSelection(const Raster<float>& alpha, double amplitude, double correlation, std::uint64_t seed) {
  cv::Mat in(alpha.height(), alpha.width(), CV_8U);
  for (int y = 0; y < in.rows; ++y) {
    for (int x = 0; x < in.cols; ++x) in.at<std::uint8_t>(y, x) = *alpha.at(x, y) >= 0.5f ? 255 : 0;
  }
  // A hand does not follow single strands.
  cv::morphologyEx(in, in, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(9, 9)));
  cv::Mat inside, outside;
  cv::distanceTransform(in, inside, cv::DIST_L2, cv::DIST_MASK_5);
  cv::distanceTransform(255 - in, outside, cv::DIST_L2, cv::DIST_MASK_5);
  Raster<std::uint8_t> out(alpha.width(), alpha.height());
  for (int y = 0; y < in.rows; ++y) {
    for (int x = 0; x < in.cols; ++x) {
      const double distance = double(inside.at<float>(y, x)) - double(outside.at<float>(y, x));
      *out.at(x, y) = distance + amplitude * noise(x / correlation, y / correlation, seed) > 0 ? 255 : 0;
    }
  }
  return out;
}

}  // namespace hseam::truth
