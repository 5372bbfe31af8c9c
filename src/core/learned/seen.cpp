#include "core/learned/seen.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/learned/network.h"

namespace hseam::learned {
namespace {

using image::Raster;

constexpr int kSide = 320;  // px of the square that the subject network looks at
constexpr double kLeastScore = 0.15, kSame = 0.55;
constexpr std::size_t kMostThings = 12;
// How much the network that was taught to cut people out counts beside the one that was taught where they are.
constexpr float kOutlines = 0.6f;

// The kinds of thing that the detector was taught, in its order.
constexpr std::array<const char*, 80> kWords = {
    "person",        "bicycle",   "car",         "motorcycle", "aeroplane",  "bus",        "train",      "lorry",     "boat",
    "traffic light", "hydrant",   "stop sign",   "meter",      "bench",      "bird",       "cat",        "dog",       "horse",
    "sheep",         "cow",       "elephant",    "bear",       "zebra",      "giraffe",    "backpack",   "umbrella",  "handbag",
    "tie",           "suitcase",  "flying disc", "skis",       "snowboard",  "ball",       "kite",       "bat",       "glove",
    "skateboard",    "surfboard", "racket",      "bottle",     "wine glass", "cup",        "fork",       "knife",     "spoon",
    "bowl",          "banana",    "apple",       "sandwich",   "orange",     "broccoli",   "carrot",     "hot dog",   "pizza",
    "doughnut",      "cake",      "chair",       "sofa",       "plant",      "bed",        "table",      "toilet",    "screen",
    "laptop",        "mouse",     "remote",      "keyboard",   "telephone",  "microwave",  "oven",       "toaster",   "sink",
    "fridge",        "book",      "clock",       "vase",       "scissors",   "teddy bear", "hair dryer", "toothbrush"};

// One picture as a network takes it: planes of red, green, blue, `scale` for white.
Tensor asInput(const Raster<float>& rgb, int side, float scale) {
  cv::Mat square;
  cv::resize(cv::Mat(rgb.height(), rgb.width(), CV_32FC3, const_cast<float*>(rgb.row(0))), square, cv::Size(side, side), 0, 0,
             cv::INTER_AREA);
  Tensor t{{1, 3, side, side}, std::vector<float>(std::size_t(3) * std::size_t(side) * std::size_t(side))};
  const std::size_t plane = std::size_t(side) * std::size_t(side);
  for (std::size_t i = 0; i < plane; ++i) {
    for (std::size_t c = 0; c < 3; ++c) t.values[c * plane + i] = square.ptr<float>()[i * 3 + c] * scale;
  }
  return t;
}

bool hasShape(const Tensor& t, int channels, int side) {
  return t.shape == std::vector<int>{1, channels, side, side};
}
base::Error otherShape(const char* network) {
  return {base::Code::corrupt, network, "the network gives something else than was asked for"};
}

double overlap(const SeenThing& a, const SeenThing& b) {
  const double w = std::min(a.right, b.right) - std::max(a.left, b.left),
               h = std::min(a.bottom, b.bottom) - std::max(a.top, b.top);
  if (w <= 0 || h <= 0) return 0;
  const auto area = [](const SeenThing& s) { return (s.right - s.left) * (s.bottom - s.top); };
  return w * h / (area(a) + area(b) - w * h);
}

// Objects as points (Zhou, Wang, Krähenbühl 2019): a peak of a kind's map is a centre, and the other map tells how far its box
// reaches to each side, in px of the network's picture.
std::vector<SeenThing> thingsIn(const Tensor& centres, const Tensor& reaches) {
  const auto side = std::size_t(centres.shape[2]), kinds = std::size_t(centres.shape[1]), plane = side * side;
  std::vector<float> best(plane, 0);
  std::vector<std::size_t> which(plane, 0);
  for (std::size_t k = 0; k < kinds; ++k) {
    for (std::size_t i = 0; i < plane; ++i) {
      const float v = centres.values[k * plane + i];
      if (v > best[i]) best[i] = v, which[i] = k;
    }
  }
  std::vector<SeenThing> all;
  for (std::size_t y = 0; y < side; ++y) {
    for (std::size_t x = 0; x < side; ++x) {
      const std::size_t at = y * side + x;
      if (double(best[at]) < kLeastScore) continue;
      bool peak = true;
      for (std::size_t v = y > 0 ? y - 1 : 0; v <= std::min(side - 1, y + 1) && peak; ++v) {
        for (std::size_t u = x > 0 ? x - 1 : 0; u <= std::min(side - 1, x + 1); ++u) peak &= best[v * side + u] <= best[at];
      }
      if (!peak) continue;
      const auto reach = [&](std::size_t edge) { return double(reaches.values[edge * plane + at]) / kSide; };
      SeenThing t;
      t.isPerson = which[at] == 0;
      t.word = kWords[which[at]];
      const double cx = double(x) / double(side), cy = double(y) / double(side);
      t.left = cx - reach(0), t.top = cy - reach(1), t.right = cx + reach(2), t.bottom = cy + reach(3);
      t.score = double(best[at]);
      all.push_back(t);
    }
  }
  std::stable_sort(all.begin(), all.end(), [](const SeenThing& a, const SeenThing& b) { return a.score > b.score; });
  std::vector<SeenThing> kept;
  for (const SeenThing& t : all) {
    if (kept.size() < kMostThings &&
        std::none_of(kept.begin(), kept.end(), [&](const SeenThing& k) { return overlap(k, t) > kSame; }))
      kept.push_back(t);
  }
  return kept;
}

// Where the likely subject lies with a good third of its size around it, px of the picture; empty: hardly any is likely.
base::Rect closerPart(const Raster<float>& mask, base::Size picture) {
  constexpr std::size_t kLeast = 50;
  constexpr double kAround = 0.35, kStray = 0.01;
  std::vector<int> xs, ys;
  for (int y = 0; y < mask.height(); ++y) {
    for (int x = 0; x < mask.width(); ++x) {
      if (*mask.at(x, y) > 0.5f) xs.push_back(x), ys.push_back(y);
    }
  }
  if (xs.size() < kLeast) return {};
  std::sort(xs.begin(), xs.end());
  // Rows come in order.
  const auto range = [&](const std::vector<int>& at, int side, int px) {
    const auto share = [&](double s) { return (at[std::size_t(s * double(at.size() - 1))] + 0.5) / side; };
    const double low = share(kStray), high = share(1 - kStray), more = kAround * (high - low) + 0.02;
    return std::pair(std::max(0, int((low - more) * px)), std::min(px, int((high + more) * px)));
  };
  const auto [left, right] = range(xs, mask.width(), picture.width);
  const auto [top, bottom] = range(ys, mask.height(), picture.height);
  return {left, top, right - left, bottom - top};
}

Raster<float> mirroredPart(const Raster<float>& rgb, const base::Rect& part) {
  Raster<float> out(part.width, part.height, 3);
  for (int y = 0; y < part.height; ++y) {
    for (int x = 0; x < part.width; ++x) std::copy_n(rgb.at(part.right() - 1 - x, part.y + y), 3, out.at(x, y));
  }
  return out;
}

float logOdds(float p) {
  constexpr float kSure = 1e-4f;
  p = std::clamp(p, kSure, 1 - kSure);
  return std::log(p / (1 - p));
}

// A second opinion, on a part seen closer and mirrored, into the first: the mean of their log odds. Outside the part the second
// one holds that there is no subject.
void takeIn(const Tensor& second, const base::Rect& part, base::Size picture, Raster<float>& mask) {
  constexpr float kOutside = -5;  // log odds
  const cv::Mat seen(kSubjectSide, kSubjectSide, CV_32F, const_cast<float*>(second.values.data()));
  cv::Mat x(mask.height(), mask.width(), CV_32F), y(x.size(), CV_32F), there;
  for (int v = 0; v < mask.height(); ++v) {
    for (int u = 0; u < mask.width(); ++u) {
      const double px = (u + 0.5) / mask.width() * picture.width, py = (v + 0.5) / mask.height() * picture.height;
      x.at<float>(v, u) = float((part.right() - px) / part.width * kSubjectSide - 0.5);
      y.at<float>(v, u) = float((py - part.y) / part.height * kSubjectSide - 0.5);
    }
  }
  cv::remap(seen, there, x, y, cv::INTER_LINEAR, cv::BORDER_REPLICATE);
  for (int v = 0; v < mask.height(); ++v) {
    for (int u = 0; u < mask.width(); ++u) {
      const float a = x.at<float>(v, u), b = y.at<float>(v, u);
      const bool within = a > -0.5f && b > -0.5f && a < kSubjectSide - 0.5f && b < kSubjectSide - 0.5f;
      const float mean = (logOdds(*mask.at(u, v)) + (within ? logOdds(there.at<float>(v, u)) : kOutside)) / 2;
      *mask.at(u, v) = 1 / (1 + std::exp(-mean));
    }
  }
}

}  // namespace

base::Result<Seen> see(const Raster<float>& rgb, const base::Progress& progress) try {
  CORE_CHECK(rgb.channels() == 3 && !rgb.empty());
  HSEAM_TRY(Network * subject, network("subject"));
  progress.report(0.1);
  HSEAM_TRY(const auto made, subject->run(asInput(rgb, kSide, 255), {"mask", "centres", "reaches"}));
  progress.report(0.5);
  if (progress.cancelled()) return base::cancelledError();
  if (!hasShape(made[0], 1, kSubjectSide) || !hasShape(made[1], int(kWords.size()), kSide / 4) ||
      !hasShape(made[2], 4, kSide / 4))
    return otherShape("subject");
  Seen seen{Raster<float>(kSubjectSide, kSubjectSide), Raster<float>(kPersonSide, kPersonSide), thingsIn(made[1], made[2])};
  seen.subject.samples() = made[0].values;
  if (const base::Rect part = closerPart(seen.subject, rgb.size()); !part.empty()) {
    HSEAM_TRY(const auto closer, subject->run(asInput(mirroredPart(rgb, part), kSide, 255), {"mask"}));
    if (!hasShape(closer[0], 1, kSubjectSide)) return otherShape("subject");
    takeIn(closer[0], part, rgb.size(), seen.subject);
    progress.report(0.8);
    if (progress.cancelled()) return base::cancelledError();
  }
  if (std::none_of(seen.things.begin(), seen.things.end(), [](const SeenThing& t) { return t.isPerson; })) return seen;
  HSEAM_TRY(Network * person, network("person"));
  HSEAM_TRY(const auto people, person->run(asInput(rgb, kPersonSide, 1), {"mask"}));
  if (!hasShape(people[0], 1, kPersonSide)) return otherShape("person");
  seen.person.samples() = people[0].values;
  HSEAM_TRY(Network * outlines, network("people"));
  HSEAM_TRY(const auto cut, outlines->run(asInput(rgb, kPersonSide, 1), {"mask"}));
  if (!hasShape(cut[0], 1, kPersonSide)) return otherShape("people");
  for (std::size_t i = 0; i < seen.person.samples().size(); ++i)
    seen.person.samples()[i] += kOutlines * (std::clamp(cut[0].values[i], 0.f, 1.f) - seen.person.samples()[i]);
  progress.report(1);
  return seen;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::learned
