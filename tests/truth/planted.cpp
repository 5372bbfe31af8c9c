#include "truth/planted.h"

#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/image/lab.h"
#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "pictures.h"

namespace hseam::truth {
namespace {

cv::Mat matOf(const Photo& p) {
  return cv::Mat(p.height(), p.width(), CV_8UC3, const_cast<std::uint8_t*>(p.samples().data())).clone();
}

// Coverage of a roundish piece, blurred like a lens does.
cv::Mat piece(int w, int h, std::mt19937& random, double sigma) {
  std::uniform_real_distribution<double> u(0, 1);
  const double r0 = (0.16 + 0.07 * u(random)) * std::min(w, h) * 1.35, cx = w * (0.38 + 0.24 * u(random)),
               cy = h * (0.40 + 0.2 * u(random));
  double amount[6], phase[6];
  for (int k = 0; k < 6; ++k) amount[k] = 0.16 * (u(random) - 0.5) * 2 / (1 + 0.5 * k), phase[k] = 2 * M_PI * u(random);
  // The radius is r0 (1 + sum of amount cos(kt + phase)); the multiples of the angle by turning once more, not by cosines, which
  // were a third of what the tests of findings cost.
  double even[6], odd[6];
  for (int k = 0; k < 6; ++k) even[k] = r0 * amount[k] * std::cos(phase[k]), odd[k] = -r0 * amount[k] * std::sin(phase[k]);
  constexpr int kFine = 3;
  cv::Mat fine(h * kFine, w * kFine, CV_32F);
  for (int y = 0; y < fine.rows; ++y) {
    for (int x = 0; x < fine.cols; ++x) {
      const double dx = (x + 0.5) / kFine - cx, dy = (y + 0.5) / kFine - cy, far = std::max(1e-9, std::sqrt(dx * dx + dy * dy));
      const double c1 = dx / far, s1 = dy / far;
      double r = r0, c = c1, s = s1;
      for (int k = 0; k < 6; ++k) {
        r += even[k] * c + odd[k] * s;
        const double turned = c * c1 - s * s1;
        s = s * c1 + c * s1, c = turned;
      }
      fine.ptr<float>(y)[x] = far < r ? 1.f : 0.f;
    }
  }
  cv::Mat out;
  cv::resize(fine, out, {w, h}, 0, 0, cv::INTER_AREA);
  if (sigma > 0) cv::GaussianBlur(out, out, {}, sigma);
  return out;
}

image::TiledImage tiled(const cv::Mat& m) {
  Photo r(m.cols, m.rows, m.channels());
  for (int y = 0; y < m.rows; ++y) std::copy_n(m.ptr<std::uint8_t>(y), m.cols * m.channels(), r.at(0, y));
  return test::must(image::tiledFromRaster(r, m.channels() == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8,
                                           test::memory(), test::here()));
}

template <class F>
void each(cv::Mat& m, const F& f) {
  for (int y = 0; y < m.rows; ++y) {
    for (int x = 0; x < m.cols; ++x) {
      std::uint8_t* p = m.ptr<std::uint8_t>(y) + 3 * x;
      double c[3] = {p[0] / 255.0, p[1] / 255.0, p[2] / 255.0};
      f(c);
      for (int k = 0; k < 3; ++k) p[k] = std::uint8_t(std::lround(255 * std::clamp(c[k], 0.0, 1.0)));
    }
  }
}

double lOf(double v) {
  return image::labFromEncoded({v, v, v}).l;
}
double greyOf(double l) {
  double low = 0, high = 1;
  for (int i = 0; i < 40; ++i) (lOf((low + high) / 2) < l ? low : high) = (low + high) / 2;
  return low;
}

// Where its coverage is whole: L* at a share.
double quantileL(const cv::Mat& m, const cv::Mat& cover, double share) {
  std::vector<float> l;
  for (int y = 0; y < m.rows; ++y) {
    for (int x = 0; x < m.cols; ++x) {
      if (cover.ptr<float>(y)[x] < 0.98f) continue;
      const std::uint8_t* p = m.ptr<std::uint8_t>(y) + 3 * x;
      l.push_back(float(image::labFromEncoded({p[0] / 255.0, p[1] / 255.0, p[2] / 255.0}).l));
    }
  }
  const auto at = std::size_t(share * double(l.size() - 1));
  std::nth_element(l.begin(), l.begin() + long(at), l.end());
  return double(l[at]);
}

// By definition alone: the diagonal difference's mean square over the flattest tenth of what is covered.
double grainOf(const cv::Mat& m, const cv::Mat& cover) {
  std::vector<std::pair<double, double>> all;
  for (int y = 0; y + 8 < m.rows; y += 8) {
    for (int x = 0; x + 8 < m.cols; x += 8) {
      if (cover.ptr<float>(y)[x] < 0.98f || cover.ptr<float>(y + 7)[x + 7] < 0.98f) continue;
      double sum = 0, squares = 0, diagonal = 0;
      for (int v = 0; v < 8; v += 2) {
        for (int u = 0; u < 8; u += 2) {
          const auto at = [&](int a, int b) { return double(m.ptr<std::uint8_t>(y + v + b)[3 * (x + u + a) + 1]); };
          const double mean = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
          sum += mean, squares += mean * mean;
          diagonal += std::pow(at(0, 0) - at(1, 0) - at(0, 1) + at(1, 1), 2) / 4;
        }
      }
      all.push_back({squares / 16 - sum / 16 * sum / 16, diagonal / 16});
    }
  }
  std::sort(all.begin(), all.end());
  double sum = 0;
  const std::size_t n = std::max<std::size_t>(1, all.size() / 10);
  for (std::size_t i = 0; i < n; ++i) sum += all[i].second;
  return std::sqrt(sum / double(n));
}

// Towards the edge a share of a ground shows through.
cv::Mat rimmed(const cv::Mat& m, const cv::Mat& rim, double share, double ground) {
  cv::Mat out = m.clone();
  for (int y = 0; y < m.rows; ++y) {
    for (int x = 0; x < m.cols; ++x) {
      const double a = double(rim.ptr<float>(y)[x]), left = a < 0.995 ? std::min(1.0, (1 - a) * 2.2) * share : 0;
      if (left <= 0) continue;
      std::uint8_t* p = out.ptr<std::uint8_t>(y) + 3 * x;
      for (int k = 0; k < 3; ++k)
        p[k] = std::uint8_t(std::lround(255 * image::encodedFromLinear((1 - left) * image::linearFromEncoded(p[k] / 255.0) +
                                                                       left * image::linearFromEncoded(ground))));
    }
  }
  return out;
}

// By how much the edge's colours moved: the mean in L*a*b* where coverage is a quarter to nine tenths, as CIEDE2000 from the mean
// colour that was there.
double rimSize(const cv::Mat& before, const cv::Mat& after, const cv::Mat& cover) {
  double n = 0;
  std::array<double, 3> was{}, by{};
  for (int y = 0; y < before.rows; ++y) {
    for (int x = 0; x < before.cols; ++x) {
      const float a = cover.ptr<float>(y)[x];
      if (a < 0.25f || a > 0.9f) continue;
      const auto lab = [&](const cv::Mat& m) {
        const std::uint8_t* p = m.ptr<std::uint8_t>(y) + 3 * x;
        return image::labFromEncoded({p[0] / 255.0, p[1] / 255.0, p[2] / 255.0});
      };
      const image::Lab u = lab(before), v = lab(after);
      was[0] += u.l, was[1] += u.a, was[2] += u.b;
      by[0] += v.l - u.l, by[1] += v.a - u.a, by[2] += v.b - u.b;
      n += 1;
    }
  }
  if (n < 1) return 0;
  for (double& v : was) v /= n;
  return image::deltaE2000({was[0], was[1], was[2]}, {was[0] + by[0] / n, was[1] + by[1] / n, was[2] + by[2] / n});
}

struct Subject {
  cv::Mat colours, cover;
  double scale = 1, x = 0, y = 0;
};

void plant(Subject& s, const std::string& kind, double e, bool up, std::mt19937& random) {
  cv::Mat& m = s.colours;
  if (kind == "black_point") {
    const double v = greyOf(quantileL(m, s.cover, 0.005)), t = greyOf(lOf(v) + 3 * e), lift = (t - v) / (1 - v);
    each(m, [lift](double* c) {
      for (int k = 0; k < 3; ++k) c[k] = lift + (1 - lift) * c[k];
    });
  } else if (kind == "white_point") {
    const double v = greyOf(quantileL(m, s.cover, 0.995)), t = greyOf(lOf(v) - 3 * e), k = t / v;
    each(m, [k](double* c) {
      for (int i = 0; i < 3; ++i) c[i] *= k;
    });
  } else if (kind == "cast") {
    // Light of another colour: red and blue against each other, so that a grey of L* 60 moves by four times the excess.
    double gain = 1;
    const double grey = image::linearFromEncoded(0.5663);
    for (int i = 0; i < 400; ++i, gain += 0.002) {
      const double r = up ? gain : 1 / gain, b = up ? 1 / gain : gain;
      const image::Lab lab = image::labFromEncoded(
          {image::encodedFromLinear(std::min(1.0, grey * r)), 0.5663, image::encodedFromLinear(std::min(1.0, grey * b))});
      if (std::hypot(lab.a, lab.b) >= 4 * e) break;
    }
    const double r = up ? gain : 1 / gain, b = up ? 1 / gain : gain;
    each(m, [r, b](double* c) {
      c[0] = image::encodedFromLinear(std::min(1.0, r * image::linearFromEncoded(c[0])));
      c[2] = image::encodedFromLinear(std::min(1.0, b * image::linearFromEncoded(c[2])));
    });
  } else if (kind == "saturation") {
    const double k = std::pow(1.25, up ? e : -e);
    each(m, [k](double* c) {
      const double l = 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
      for (int i = 0; i < 3; ++i) c[i] = l + k * (c[i] - l);
    });
  } else if (kind == "grain") {
    const double own = std::max(0.6, grainOf(m, s.cover)), add = own * std::sqrt(std::pow(1.4, 2 * e) - 1);
    std::normal_distribution<double> noise(0, add / 255);
    each(m, [&](double* c) {
      const double n = noise(random);
      for (int k = 0; k < 3; ++k) c[k] += n;
    });
  } else if (kind == "sharpness") {
    // As wide as the excess asks, on edges of a sigma of 0.8 px.
    const double own = 0.8, wanted = std::max(own * std::pow(1.4, e), own + 0.7 * e / 2.563);
    cv::GaussianBlur(m, m, {}, std::sqrt(wanted * wanted - own * own));
  } else if (kind == "halo") {
    // A rim of another background, light or dark, exactly as strong as the excess asks; where the one cannot be, the other.
    const cv::Mat unspoilt = m.clone();
    cv::Mat rim;
    cv::GaussianBlur(s.cover, rim, {}, 1.2);
    for (const bool light : {up, !up}) {
      double low = 0, high = 1;
      const auto reaches = [&](double share) {
        m = rimmed(unspoilt, rim, share, light ? 0.97 : 0.03);
        return rimSize(unspoilt, m, s.cover) >= 3 * e;
      };
      if (!reaches(high)) continue;
      for (int i = 0; i < 12; ++i) (reaches((low + high) / 2) ? high : low) = (low + high) / 2;
      reaches(high);
      break;
    }
  } else if (kind == "edge_softness") {
    cv::GaussianBlur(s.cover, s.cover, {}, 0.8 * std::pow(1.4, e) + 0.3 * e);
  } else if (kind == "leftovers") {
    std::uniform_real_distribution<double> u(0, 1);
    const double radius = std::sqrt(6 * e * 1.3 / M_PI);
    for (int n = 0; n < 3; ++n) {
      const int x = int(m.cols * (0.08 + 0.84 * u(random))), y = int(m.rows * (0.06 + 0.1 * u(random)) + (n % 2) * m.rows * 0.78);
      for (int v = -8; v <= 8; ++v) {
        for (int w = -8; w <= 8; ++w) {
          if (std::hypot(v, w) > radius || y + v < 0 || y + v >= m.rows || x + w < 0 || x + w >= m.cols) continue;
          s.cover.ptr<float>(y + v)[x + w] = 1;
          // What stuck to it from elsewhere.
          for (int k = 0; k < 3; ++k)
            m.ptr<std::uint8_t>(y + v)[3 * (x + w) + k] = std::uint8_t(255 - m.ptr<std::uint8_t>(y + v)[3 * (x + w) + k]);
        }
      }
    }
  } else if (kind == "effective_resolution") {
    const double k = 1 + 0.1 * e;
    const cv::Size less(int(std::lround(m.cols / k)), int(std::lround(m.rows / k)));
    cv::resize(m, m, less, 0, 0, cv::INTER_AREA);
    cv::resize(s.cover, s.cover, less, 0, 0, cv::INTER_AREA);
    s.scale = k;
  }
}

Planted composed(const Photo& photo, unsigned seed, const std::string& kind, double excess, bool up) {
  std::mt19937 random(seed * 7919 + 13);
  const cv::Mat plate = matOf(photo);
  Subject s{plate.clone(), piece(plate.cols, plate.rows, random, 0.6)};
  if (!kind.empty()) plant(s, kind, excess, up, random);
  cv::Mat cover;
  s.cover.convertTo(cover, CV_8U, 255);
  Planted out;
  out.kind = kind;
  out.excess = excess;
  out.scene.canvas = {plate.cols, plate.rows};
  const auto layer = [&](std::uint64_t id, const char* name, const cv::Mat& colours) {
    scene::Layer l;
    l.id = {id};
    l.name = name;
    scene::PictureContent p;
    p.source = tiled(colours);
    l.content = std::move(p);
    return l;
  };
  scene::Layer subject = layer(2, "subject", s.colours);
  subject.mask.coverage = tiled(cover);
  std::get<scene::PictureContent>(subject.content).placement.scale = s.scale;
  out.scene.layers = {std::make_shared<const scene::Layer>(layer(1, "plate", plate)),
                      std::make_shared<const scene::Layer>(std::move(subject))};
  out.layer = {2};
  return out;
}

}  // namespace

Planted foreign(const Photo& photo, const Photo& other, unsigned seed) {
  Planted p = composed(photo, seed, "", 0, true);
  cv::Mat m = matOf(other);
  cv::resize(m, m, {photo.width(), photo.height()});
  scene::Layer l = *p.scene.layers[1];
  std::get<scene::PictureContent>(l.content).source = tiled(m);
  p.scene.layers[1] = std::make_shared<const scene::Layer>(std::move(l));
  return p;
}
Planted putBack(const Photo& photo, unsigned seed) {
  return composed(photo, seed, "", 0, true);
}
Planted spoilt(const Photo& photo, unsigned seed, const std::string& kind, double excess, bool up) {
  return composed(photo, seed, kind, excess, up);
}

Photo photoFrom(const std::string& path, int longSide) {
  const auto read = test::must(image::readPicture(path, test::memory(), test::here(), {}));
  const auto pixels = test::must(image::readFloat(read.pixels, 0, base::Rect::of(read.pixels.size())));
  cv::Mat m(pixels.height(), pixels.width(), CV_8UC3);
  for (int y = 0; y < m.rows; ++y) {
    for (int x = 0; x < m.cols; ++x) {
      for (int c = 0; c < 3; ++c)
        m.ptr<std::uint8_t>(y)[3 * x + c] = std::uint8_t(std::lround(255 * pixels.at(x, y)[pixels.channels() < 3 ? 0 : c]));
    }
  }
  const double k = double(longSide) / std::max(m.cols, m.rows);
  if (k < 1) cv::resize(m, m, {}, k, k, cv::INTER_AREA);
  Photo out(m.cols, m.rows, 3);
  for (int y = 0; y < m.rows; ++y) std::copy_n(m.ptr<std::uint8_t>(y), m.cols * 3, out.at(0, y));
  return out;
}

}  // namespace hseam::truth
