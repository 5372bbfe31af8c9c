#include "truth/foreign_scenes.h"

#include <cmath>
#include <filesystem>
#include <functional>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/image/picture_file.h"
#include "truth/foreign.h"
#include "truth/must.h"

namespace hseam::truth {
namespace {

namespace fs = std::filesystem;

constexpr int kLong = 900;          // px, of a scene
constexpr double kTall = 0.55;      // of the scene's height, at most
constexpr double kGrain = 1.6;      // of 255, in subject and ground alike
constexpr double kLensBlur = 0.75;  // px

cv::Mat read(const std::string& path, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  const auto tiled = must(image::readPicture(path, memory, executor, {})).pixels;
  const auto pixels = must(image::readFloat(tiled, 0, base::Rect::of(tiled.size())));
  return cv::Mat(pixels.height(), pixels.width(), CV_32FC(pixels.channels()), const_cast<float*>(pixels.row(0))).clone();
}

image::TiledImage tiledOf(const cv::Mat& m, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  cv::Mat bytes;
  m.convertTo(bytes, CV_8U, 255);
  image::Raster<std::uint8_t> r(m.cols, m.rows, m.channels());
  std::copy_n(bytes.data, bytes.total() * std::size_t(m.channels()), r.samples().data());
  const auto format = m.channels() == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8;
  return must(image::tiledFromRaster(r, format, memory, executor));
}

cv::Mat labOf(const cv::Mat& rgb) {
  cv::Mat lab;
  cv::cvtColor(rgb, lab, cv::COLOR_RGB2Lab);
  return lab;
}
cv::Mat rgbOf(const cv::Mat& lab) {
  cv::Mat rgb;
  cv::cvtColor(lab, rgb, cv::COLOR_Lab2RGB);
  return cv::min(cv::max(rgb, 0), 1);
}

double shareOf(const cv::Mat& plane, const cv::Mat& where, double share) {
  std::vector<float> v;
  for (int i = 0; i < int(plane.total()); ++i) {
    if (where.data[i]) v.push_back(plane.ptr<float>()[i]);
  }
  const auto at = v.begin() + long(share * double(v.size() - 1));
  std::nth_element(v.begin(), at, v.end());
  return double(*at);
}

// Lightness: its 1 % and 99 % onto the ground's; colours: mean, and deviation within reason. Colours that do not exist are cut
// off on the way, so it takes a few turns.
cv::Mat movedOnto(const cv::Mat& subject, const cv::Mat& cover, const cv::Mat& ground) {
  constexpr int kTurns = 4;
  cv::Mat inside, g[3], rgb = subject;
  cv::erode(cover > 0.98, inside, cv::Mat::ones(7, 7, CV_8U));
  if (cv::countNonZero(inside) < 400) inside = cover > 0.98;
  cv::split(labOf(ground), g);
  const cv::Mat all(ground.size(), CV_8U, cv::Scalar(255));
  for (int turn = 0; turn < kTurns; ++turn) {
    cv::Mat s[3];
    cv::split(labOf(rgb), s);
    const double low = shareOf(s[0], inside, 0.01), high = shareOf(s[0], inside, 0.99), to = shareOf(g[0], all, 0.01),
                 end = shareOf(g[0], all, 0.99);
    s[0] = (s[0] - low) * ((end - to) / std::max(1.0, high - low)) + to;
    for (int c = 1; c < 3; ++c) {
      cv::Scalar mean, deviation, wanted, wantedDeviation;
      cv::meanStdDev(s[c], mean, deviation, inside);
      cv::meanStdDev(g[c], wanted, wantedDeviation);
      s[c] = (s[c] - mean[0]) * std::min(1.5, wantedDeviation[0] / std::max(1.0, deviation[0])) + wanted[0];
    }
    cv::Mat lab;
    cv::merge(s, 3, lab);
    rgb = rgbOf(lab);
  }
  return rgb;
}

void addGrain(cv::Mat& m, double of255, std::mt19937& random) {
  std::normal_distribution<float> noise(0.f, float(of255 / 255));
  for (int i = 0; i < int(m.total()); ++i) {
    const float n = noise(random);
    for (int c = 0; c < 3; ++c) m.ptr<float>()[3 * i + c] = std::clamp(m.ptr<float>()[3 * i + c] + n, 0.f, 1.f);
  }
}

double toLight(double v) {
  return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}
double fromLight(double v) {
  return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
}
double greyOfLightness(double l) {
  const double f = (l + 16) / 116;
  return fromLight(l > 8 ? f * f * f : l / 903.3);
}

void eachChannel(cv::Mat& m, const std::function<double(double, int)>& f) {
  for (int i = 0; i < int(m.total()); ++i) {
    for (int c = 0; c < 3; ++c) {
      float& v = m.ptr<float>()[3 * i + c];
      v = float(std::clamp(f(double(v), c), 0.0, 1.0));
    }
  }
}

// Cut anew a little further in, along a smooth line: what others cut out has steps and colours of its old ground at its edge.
cv::Mat cleanlyCut(const cv::Mat& cover) {
  constexpr int kFine = 4;
  constexpr double kSmooth = 2, kInPx = 1.5;
  cv::Mat fine, wide, depth, out;
  cv::resize(cover, fine, {}, kFine, kFine, cv::INTER_CUBIC);
  cv::GaussianBlur(fine, wide, {}, kSmooth * kFine);
  cv::distanceTransform(wide > 0.5, depth, cv::DIST_L2, cv::DIST_MASK_5);
  const cv::Mat cut = depth > kInPx * kFine;
  cut.convertTo(fine, CV_32F, 1 / 255.0);
  cv::resize(fine, out, cover.size(), 0, 0, cv::INTER_AREA);
  return out;
}

// The colours of light at which a grey of L* 60 moves by `by` in a* b*; warm: towards yellow.
void lightOfColour(cv::Mat& m, double by, bool warm) {
  double gain[3] = {1, 1, 1};
  for (int step = 1; step < 500; ++step) {
    const double k = 1 + 0.003 * step;
    gain[0] = warm ? k : 1 / k, gain[2] = warm ? 1 / k : k;
    cv::Mat grey(1, 1, CV_32FC3);
    for (int c = 0; c < 3; ++c) grey.ptr<float>()[c] = float(fromLight(std::min(1.0, gain[c] * toLight(greyOfLightness(60)))));
    const cv::Mat lab = labOf(grey);
    if (std::hypot(lab.ptr<float>()[1], lab.ptr<float>()[2]) >= by) break;
  }
  eachChannel(m, [&](double v, int c) { return fromLight(std::min(1.0, gain[c] * toLight(v))); });
}

}  // namespace

struct ForeignScenes::Pixels {
  cv::Mat colours, cover;
};

ForeignScenes::ForeignScenes(const std::string& folder, std::shared_ptr<image::TileMemory> memory, base::Executor& executor)
    : memory_(std::move(memory)), executor_(executor) {
  const auto named = [&](const char* part) {
    std::vector<fs::path> all;
    for (const auto& e : fs::directory_iterator(fs::path(folder) / part)) all.push_back(e.path());
    std::sort(all.begin(), all.end());
    return all;
  };
  for (const fs::path& p : named("grounds")) {
    cv::Mat m = read(p.string(), memory_, executor_), small;
    const double k = double(kLong) / std::max(m.cols, m.rows);
    cv::resize(m, small, {}, k, k, cv::INTER_AREA);
    grounds_.push_back({p.stem().string(), std::make_shared<const Pixels>(Pixels{small, {}})});
  }
  for (const fs::path& p : named("cutouts")) {
    const cv::Mat m = read(p.string(), memory_, executor_);
    cv::Mat planes[4];
    cv::split(m, planes);
    const double k = std::min({0.75, kTall * 600 / m.rows, 0.6 * kLong / m.cols});
    // Colours of light, weighed by coverage, so that what is not there does not come in.
    cv::Mat cover, colours[3], all;
    cv::resize(planes[3], cover, {}, k, k, cv::INTER_AREA);
    for (int c = 0; c < 3; ++c) {
      cv::resize(planes[c].mul(planes[3]), colours[c], {}, k, k, cv::INTER_AREA);
      cv::Mat wide, share;
      cv::GaussianBlur(colours[c], wide, {}, 4);
      cv::GaussianBlur(cover, share, {}, 4);
      colours[c] = colours[c] / cv::max(cover, 1e-3);
      cv::Mat(wide / cv::max(share, 1e-4)).copyTo(colours[c], cover < 0.02);
    }
    cv::merge(colours, 3, all);
    cover = cleanlyCut(cover);
    cv::copyMakeBorder(cover, cover, 12, 12, 12, 12, cv::BORDER_CONSTANT, cv::Scalar(0));
    cv::copyMakeBorder(all, all, 12, 12, 12, 12, cv::BORDER_REPLICATE);
    subjects_.push_back({p.stem().string(), std::make_shared<const Pixels>(Pixels{cv::min(cv::max(all, 0), 1), cover})});
  }
}

ForeignScene ForeignScenes::scene(int subject, unsigned seed, const std::string& kind, double e, bool up) const {
  std::mt19937 random(seed * 2654435761u + 97);
  std::uniform_real_distribution<double> u(0, 1);
  const auto& [groundName, groundPixels] = grounds_[std::size_t(subject + int(seed)) % grounds_.size()];
  const auto& [name, own] = subjects_[std::size_t(subject)];
  cv::Mat ground = groundPixels->colours.clone(), m = own->colours.clone(), cover = own->cover.clone();
  m = movedOnto(m, cover, ground);
  cv::GaussianBlur(ground, ground, {}, kLensBlur);
  const cv::Mat before = m.clone();
  double grain = kGrain, blur = kLensBlur, soft = kLensBlur;
  const cv::Mat inside = cover > 0.98;
  const auto lightnessAt = [&](double share) {
    cv::Mat planes[3];
    cv::split(labOf(m), planes);
    return shareOf(planes[0], inside, share);
  };
  if (kind == "black_point") {
    const double l = lightnessAt(0.005), from = greyOfLightness(l), to = greyOfLightness(l + 3 * e);
    eachChannel(m, [&](double v, int) { return to + (v - from) * (1 - to) / (1 - from); });
  } else if (kind == "white_point") {
    const double l = lightnessAt(0.995), k = greyOfLightness(l - 3 * e) / greyOfLightness(l);
    eachChannel(m, [&](double v, int) { return v * k; });
  } else if (kind == "cast") {
    lightOfColour(m, 4 * e, up);
  } else if (kind == "saturation") {
    const double k = std::pow(1.25, up ? e : -e);
    cv::Mat lab = labOf(m);
    for (int i = 0; i < int(lab.total()); ++i) lab.ptr<float>()[3 * i + 1] *= float(k), lab.ptr<float>()[3 * i + 2] *= float(k);
    m = rgbOf(lab);
  } else if (kind == "grain") {
    grain *= std::pow(1.4, up ? e : -e);
  } else if (kind == "sharpness") {
    blur = std::max(kLensBlur * std::pow(1.4, e), kLensBlur + 0.7 * e / 2.563);
  } else if (kind == "edge_softness") {
    soft = std::max(kLensBlur * std::pow(1.4, e), kLensBlur + 0.7 * e / 2.563);
  }
  cv::GaussianBlur(m, m, {}, blur);
  cv::GaussianBlur(cover, cover, {}, soft);
  if (kind == "halo") {
    // The colours of a bright or dark old ground, in what is not wholly covered and 2 px further in.
    cv::Mat rim;
    cv::erode(cover, rim, cv::getStructuringElement(cv::MORPH_ELLIPSE, {5, 5}));
    cv::GaussianBlur(rim, rim, {}, 1);
    for (int i = 0; i < int(m.total()); ++i) {
      const double share = std::min(0.9, 0.12 * e) * (1 - std::clamp(double(rim.ptr<float>()[i]), 0.0, 1.0));
      for (int c = 0; c < 3; ++c) {
        float& v = m.ptr<float>()[3 * i + c];
        v = float((1 - share) * double(v) + share * (up ? 0.97 : 0.03));
      }
    }
  } else if (kind == "leftovers") {
    const double radius = std::sqrt(6 * e * 1.4 / M_PI);
    cv::Mat blobs(cover.size(), CV_32F, cv::Scalar(0));
    for (int n = 0; n < 3; ++n) {
      const cv::Point at(8 + int(u(random) * (cover.cols - 16)), 6 + int(u(random) * 5) + (n % 2) * (cover.rows - 18));
      cv::circle(blobs, at * 8, int(radius * 8), cv::Scalar(1), cv::FILLED, cv::LINE_AA, 3);
    }
    cover = cv::max(cover, blobs);
  }
  addGrain(ground, kGrain, random);
  addGrain(m, grain, random);
  ForeignScene out;
  out.name = name + " on " + groundName;
  out.kind = kind, out.excess = e, out.layer = {2};
  out.scene.canvas = {ground.cols, ground.rows};
  const auto layer = [&](std::uint64_t id, const char* called, const cv::Mat& colours) {
    scene::Layer l;
    l.id = {id};
    l.name = called;
    scene::PictureContent p;
    p.source = tiledOf(colours, memory_, executor_);
    l.content = std::move(p);
    return l;
  };
  scene::Layer top = layer(2, "subject", m);
  top.mask.coverage = tiledOf(cover, memory_, executor_);
  auto& at = std::get<scene::PictureContent>(top.content).placement;
  at.x = std::round((0.15 + 0.7 * u(random)) * (ground.cols - m.cols));
  at.y = std::round(0.94 * ground.rows - m.rows);
  out.scene.layers = {std::make_shared<const scene::Layer>(layer(1, "ground", ground)),
                      std::make_shared<const scene::Layer>(std::move(top))};
  return out;
}

std::vector<ForeignScene> maskedAndPutBack(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                           base::Executor& executor) {
  std::vector<ForeignScene> all;
  for (const ForeignPhoto& p : foreignPhotos(folder, memory, executor)) {
    cv::Mat said(p.mask.height(), p.mask.width(), CV_8U, const_cast<std::uint8_t*>(p.mask.row(0)));
    cv::Mat cover;
    // Half of what nothing is said of is the subject's.
    cv::Mat inner = said >= 192, outer = said <= 64, toInner, toOuter;
    cv::distanceTransform(~inner, toInner, cv::DIST_L2, cv::DIST_MASK_5);
    cv::distanceTransform(~outer, toOuter, cv::DIST_L2, cv::DIST_MASK_5);
    cv::Mat(toInner < toOuter).convertTo(cover, CV_32F, 1 / 255.0);
    cv::GaussianBlur(cover, cover, {}, 0.7);
    ForeignScene out;
    out.name = p.name, out.layer = {2};
    out.scene.canvas = p.picture.size();
    for (std::uint64_t id : {1, 2}) {
      scene::Layer l;
      l.id = {id};
      l.name = id == 1 ? "photograph" : "subject";
      scene::PictureContent content;
      content.source = p.picture;
      l.content = std::move(content);
      if (id == 2) l.mask.coverage = tiledOf(cover, memory, executor);
      out.scene.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
    }
    all.push_back(std::move(out));
  }
  return all;
}

}  // namespace hseam::truth
