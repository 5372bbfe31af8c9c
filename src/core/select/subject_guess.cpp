#include "core/select/subject_guess.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"
#include "core/image/rgb.h"
#include "core/learned/seen.h"
#include "core/select/border_colours.h"
#include "core/select/coarse_cut.h"
#include "core/select/doubt.h"
#include "core/select/full_size.h"
#include "core/select/hint_reach.h"

namespace hseam::select {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;
using learned::Seen;
using learned::SeenThing;

constexpr float kSureSubject = 0.97f, kSureBackground = 0.01f;  // of the prior
constexpr double kFar = 0.15;                                   // of the root of its area
constexpr float kFarSubject = 0.6f, kFarBackground = 0.4f;      // of the prior, there
constexpr double kThingScore = 0.3;                             // below, a thing is no candidate of its own
constexpr double kPersonScore = 0.2;                            // from which on the network that knows people is asked
constexpr double kPlainScore = 0.4, kPlainPrior = 0.4;          // of a thing that is plainly part of the subject
constexpr double kSameThing = 0.4;                              // agreement of the prior and a cut by colours
constexpr int kRounds = 4;

// The picture at the size at which it is guessed.
struct Small {
  Raster<float> rgb;
  cv::Mat rgb8, lab;
  cv::Size size() const { return rgb8.size(); }
};

base::Size smallSize(base::Size s) {
  const double k = std::min(1.0, double(kGuessSide) / std::max(s.width, s.height));
  return {std::max(1, int(std::lround(s.width * k))), std::max(1, int(std::lround(s.height * k)))};
}

// The smallest level that is not smaller than `wanted`.
int levelFor(const TiledImage& picture, base::Size wanted) {
  int n = 0;
  while (n + 1 < picture.levelCount() && picture.level(n + 1).size.width >= wanted.width &&
         picture.level(n + 1).size.height >= wanted.height)
    ++n;
  return n;
}

base::Result<cv::Mat> smallGrey(const TiledImage& grey, base::Size size) {
  const int level = levelFor(grey, size);
  HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(grey, level, Rect::of(grey.level(level).size)));
  cv::Mat out;
  cv::resize(cv::Mat(read.height(), read.width(), CV_8U, const_cast<std::uint8_t*>(read.row(0))), out,
             cv::Size(size.width, size.height), 0, 0, cv::INTER_AREA);
  return out;
}

// Pixel by pixel: OpenCV's conversion fills its tables at the first call, which took a seventh of a guess.
cv::Mat labOf(const cv::Mat& rgb) {
  cv::Mat lab(rgb.size(), CV_32FC3);
  for (int i = 0; i < int(rgb.total()); ++i) {
    const cv::Vec3f& c = rgb.ptr<cv::Vec3f>()[i];
    const image::Lab at = image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])});
    lab.ptr<cv::Vec3f>()[i] = {float(at.l), float(at.a), float(at.b)};
  }
  return lab;
}

base::Result<Small> smallOf(const TiledImage& picture) {
  const base::Size size = smallSize(picture.size());
  const int level = levelFor(picture, size);
  HSEAM_TRY(Raster<float> read, image::readFloat(picture, level, Rect::of(picture.level(level).size)));
  const Raster<float> all = image::rgbOf(std::move(read));
  Small s{Raster<float>(size.width, size.height, 3), {}, {}};
  cv::Mat rgb(size.height, size.width, CV_32FC3, s.rgb.row(0));
  cv::resize(cv::Mat(all.height(), all.width(), CV_32FC3, const_cast<float*>(all.row(0))), rgb, rgb.size(), 0, 0, cv::INTER_AREA);
  rgb.convertTo(s.rgb8, CV_8UC3, 255);
  s.lab = labOf(rgb);
  return s;
}

cv::Mat enlarged(const Raster<float>& square, cv::Size size) {
  cv::Mat out;
  cv::resize(cv::Mat(square.height(), square.width(), CV_32F, const_cast<float*>(square.row(0))), out, size, 0, 0,
             cv::INTER_LINEAR);
  return out;
}

cv::Rect boxOf(const SeenThing& t, cv::Size size, double grown) {
  const double w = (t.right - t.left) * grown, h = (t.bottom - t.top) * grown;
  const int l = int(std::floor((t.left - w) * size.width)), top = int(std::floor((t.top - h) * size.height)),
            r = int(std::ceil((t.right + w) * size.width)), b = int(std::ceil((t.bottom + h) * size.height));
  return cv::Rect(l, top, r - l, b - top) & cv::Rect(0, 0, size.width, size.height);
}

// How likely each pixel is subject. Where a person is seen, the network that knows people is asked as well.
cv::Mat priorOf(const Seen& seen, cv::Size size) {
  cv::Mat prior = enlarged(seen.subject, size);
  const cv::Mat person = enlarged(seen.person, size);
  for (const SeenThing& t : seen.things) {
    if (!t.isPerson || t.score < kPersonScore) continue;
    const cv::Rect box = boxOf(t, size, 0.05);
    if (box.empty()) continue;
    // A person that is not the subject at all stays out of it.
    if (cv::mean(prior(box))[0] < 0.15) continue;
    cv::Mat part = prior(box);
    cv::max(part, person(box), part);
  }
  // Where things are plainly seen that hold a good part of the prior, what lies outside their boxes (a tower, a rock) hardly
  // counts.
  cv::Mat things(size, CV_8U, cv::Scalar(0));
  for (const SeenThing& t : seen.things) {
    const cv::Rect box = boxOf(t, size, 0.03);
    if (t.score < kPlainScore || box.area() < int(prior.total()) / 50 || cv::mean(prior(box))[0] < kPlainPrior) continue;
    things(box).setTo(255);
  }
  if (cv::mean(prior, things)[0] * cv::countNonZero(things) > 0.35 * cv::sum(prior)[0]) {
    cv::Mat faint = prior * 0.1;
    faint.copyTo(prior, ~things);
  }
  return prior;
}

cv::Mat labelsFrom(const cv::Mat& prior) {
  cv::Mat labels(prior.size(), CV_8U, cv::Scalar(kLikelyBackground));
  const cv::Mat likely = prior >= 0.5f;
  labels.setTo(kLikelySubject, likely);
  // Far from the likely outline colours alone do not decide against what was learned.
  if (const int area = cv::countNonZero(likely); area > 0 && area < int(prior.total())) {
    cv::Mat inside, outside;
    cv::distanceTransform(likely, inside, cv::DIST_L2, cv::DIST_MASK_5);
    cv::distanceTransform(~likely, outside, cv::DIST_L2, cv::DIST_MASK_5);
    const float far = float(kFar * std::sqrt(double(area)));
    labels.setTo(kSurelySubject, (inside > far) & (prior > kFarSubject));
    labels.setTo(kSurelyBackground, (outside > far) & (prior < kFarBackground));
  }
  labels.setTo(kSurelySubject, prior > kSureSubject);
  labels.setTo(kSurelyBackground, prior < kSureBackground);
  return labels;
}

// Nothing outside counts. Where the prior sees next to nothing inside, the middle is likely and colours decide.
void limitTo(const cv::Mat& inside, cv::Mat& labels) {
  labels.setTo(kSurelyBackground, ~inside);
  const int area = cv::countNonZero(inside), seen = cv::countNonZero((labels & 1) & inside);
  if (area == 0 || seen * 5 > area) return;
  cv::Mat depth;
  cv::distanceTransform(inside, depth, cv::DIST_L2, cv::DIST_MASK_5);
  double deepest = 0;
  cv::minMaxLoc(depth, nullptr, &deepest);
  labels.setTo(kLikelyBackground, inside);
  labels.setTo(kLikelySubject, depth > float(deepest) * 0.25f);
}

// A rim that is inside the limit is still what the outside looks like.
base::Result<cv::Mat> limitOf(const GuessOptions& options, const TiledImage& picture, base::Size size) {
  cv::Mat inside;
  if (options.box) {
    const double kx = double(size.width) / picture.size().width, ky = double(size.height) / picture.size().height;
    const Rect b = *options.box;
    inside = cv::Mat(size.height, size.width, CV_8U, cv::Scalar(0));
    const cv::Rect r(int(std::floor(b.x * kx)), int(std::floor(b.y * ky)), int(std::ceil(b.width * kx)),
                     int(std::ceil(b.height * ky)));
    inside(r & cv::Rect(0, 0, size.width, size.height)).setTo(255);
  } else if (!options.within.isNull()) {
    HSEAM_TRY(const cv::Mat loose, smallGrey(options.within, size));
    // A loose outline may run over the subject's edge here and there.
    cv::dilate(loose >= 128, inside, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(9, 9)));
  }
  return inside;
}

// Where hints correct an earlier guess, a stroke for the subject takes nothing away from it and one for the background adds
// nothing: only the other side is open, and that near the strokes.
void addHints(const cv::Mat& hints, const cv::Mat& lab, bool correcting, cv::Mat& labels) {
  // What was averaged counts by more than a third of a stroke.
  cv::Mat said(hints.size(), CV_8U, cv::Scalar(kHintNothing));
  said.setTo(kHintSubject, hints >= 170);
  said.setTo(kHintBackground, hints <= 86);
  const cv::Mat reached = hintReach(lab, said);
  if (correcting) {
    const int around = std::max(3, std::max(hints.cols, hints.rows) / 24);
    const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * around + 1, 2 * around + 1));
    cv::Mat nearSubject, nearBackground;
    cv::dilate(reached == 255, nearSubject, disc);
    cv::dilate(reached == 1, nearBackground, disc);
    labels.setTo(kSurelySubject, ~nearBackground & (labels == kLikelySubject));
    labels.setTo(kSurelyBackground, ~nearSubject & (labels == kLikelyBackground));
  }
  labels.setTo(kSurelySubject, reached == 255);
  labels.setTo(kSurelyBackground, reached == 1);
  labels.setTo(kSurelySubject, said == kHintSubject);
  labels.setTo(kSurelyBackground, said == kHintBackground);
}

Raster<std::uint8_t> rasterOf(const cv::Mat& m) {
  Raster<std::uint8_t> out(m.cols, m.rows);
  for (int y = 0; y < m.rows; ++y) std::copy_n(m.ptr<std::uint8_t>(y), m.cols, out.row(y));
  return out;
}

// How much of the cut and of the prior both have, the prior by its likelihood.
double agreesWith(const cv::Mat& prior, const cv::Mat& subject) {
  cv::Mat cut, both, either;
  subject.convertTo(cut, CV_32F, 1.0 / 255);
  cv::min(prior, cut, both);
  cv::max(prior, cut, either);
  return cv::sum(both)[0] / std::max(1e-6, cv::sum(either)[0]);
}

double overlapOf(const cv::Mat& a, const cv::Mat& b) {
  const int either = cv::countNonZero(a | b);
  return either > 0 ? double(cv::countNonZero(a & b)) / either : 0;
}

// What the best-fitting thing that was seen is called.
std::string nameOf(const cv::Mat& subject, const Seen& seen) {
  cv::Mat points;
  cv::findNonZero(subject, points);
  if (points.empty()) return "everything in front";
  const cv::Rect own = cv::boundingRect(points);
  const SeenThing* best = nullptr;
  double most = 0.5;
  for (const SeenThing& t : seen.things) {
    const cv::Rect box = boxOf(t, subject.size(), 0), common = box & own;
    const double share = double(common.area()) / std::max(1, (box | own).area());
    if (t.score >= kThingScore && share > most) best = &t, most = share;
  }
  return best ? best->word : "everything in front";
}

base::Result<cv::Mat> cutOf(const Small& small, const cv::Mat& labels, const base::Progress& progress) {
  return coarseCut(small.rgb8, labels.clone(), kRounds, progress);
}

// The mean step of colour across a cut's outline, L*a*b* units a px.
double edgeAlong(const cv::Mat& lab, const cv::Mat& subject) {
  cv::Mat soft, dx, dy, rim;
  cv::GaussianBlur(lab, soft, cv::Size(5, 5), 1);
  cv::Sobel(soft, dx, CV_32F, 1, 0, 3, 0.125);
  cv::Sobel(soft, dy, CV_32F, 0, 1, 3, 0.125);
  cv::morphologyEx(subject, rim, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
  double sum = 0;
  int n = 0;
  for (int i = 0; i < int(rim.total()); ++i) {
    if (!rim.data[i]) continue;
    const cv::Vec3f &x = dx.ptr<cv::Vec3f>()[i], &y = dy.ptr<cv::Vec3f>()[i];
    sum += std::sqrt(x.dot(x) + y.dot(y));
    ++n;
  }
  return n > 0 ? sum / n : 0;
}

// On a plain ground colours tell the outline better than what was learned, if both mean the same thing. Nothing: they do not.
std::optional<cv::Mat> cutByColours(const Small& small, const cv::Mat& prior, const base::Progress& progress) {
  const BorderColours border = byBorderColours(small.lab);
  if (!border.plain) return std::nullopt;
  cv::Mat labels = labelsFrom(border.likely);
  const auto alone = coarseCut(small.rgb8, labels.clone(), kRounds, progress);
  if (!alone.ok() || agreesWith(prior, *alone) < kSameThing) return std::nullopt;
  // What was learned may know of parts that have the ground's colours; the outline that runs along stronger edges is taken.
  labels.setTo(kSurelySubject, prior > kSureSubject);
  const auto helped = coarseCut(small.rgb8, labels, kRounds, progress);
  return helped.ok() && edgeAlong(small.lab, *helped) > edgeAlong(small.lab, *alone) ? *helped : *alone;
}

// Things of their own, each within its box.
base::Status addThings(const Small& small, const Seen& seen, const cv::Mat& prior, int most, std::vector<Candidate>& to,
                       const base::Progress& progress) {
  for (const SeenThing& t : seen.things) {
    if (int(to.size()) >= most || t.score < kThingScore) break;
    const cv::Rect box = boxOf(t, small.size(), 0.04);
    if (box.area() < int(small.rgb.pixels()) / 400) continue;
    cv::Mat inside(small.size(), CV_8U, cv::Scalar(0)), labels = labelsFrom(prior);
    inside(box).setTo(255);
    limitTo(inside, labels);
    const auto cut = cutOf(small, labels, progress);
    if (!cut.ok()) {
      if (cut.error().code == base::Code::cancelled) return cut.error();
      continue;  // nothing can be told apart in this box
    }
    const bool known = std::any_of(to.begin(), to.end(), [&](const Candidate& c) {
      return overlapOf(*cut, cv::Mat(c.subject.height(), c.subject.width(), CV_8U, const_cast<std::uint8_t*>(c.subject.row(0)))) >
             0.85;
    });
    if (!known && cv::countNonZero(*cut) > 0) to.push_back({t.word, t.score, rasterOf(*cut)});
  }
  return {};
}

}  // namespace

base::Result<SeenSubjects> seeSubjects(const TiledImage& picture, const GuessOptions& options, int most,
                                       const base::Progress& progress) try {
  HSEAM_TRY(const Small small, smallOf(picture));
  const base::Size size{small.size().width, small.size().height};
  progress.report(0.05);
  SeenSubjects out;
  Seen seen;
  cv::Mat prior, labels;
  int rounds = kRounds;
  if (!options.previous.isNull()) {
    HSEAM_TRY(const cv::Mat before, smallGrey(options.previous, size));
    before.convertTo(prior, CV_32F, 1.0 / 255);
    labels = cv::Mat(before.size(), CV_8U, cv::Scalar(kLikelyBackground));
    labels.setTo(kLikelySubject, before >= 128);
    rounds = 1;  // the mixtures come from what was right already
  } else {
    auto looked = learned::see(small.rgb, progress.part(0.05, 0.6));
    if (looked.ok()) {
      seen = std::move(looked).value();
      prior = priorOf(seen, small.size());
    } else if (looked.error().code == base::Code::cancelled || looked.error().code == base::Code::outOfMemory) {
      return looked.error();
    } else {
      out.missing = looked.error().text();
      prior = byBorderColours(small.lab).likely;
    }
    labels = labelsFrom(prior);
  }
  HSEAM_TRY(const cv::Mat inside, limitOf(options, picture, size));
  if (!inside.empty()) limitTo(inside, labels);
  if (!options.hints.isNull()) {
    HSEAM_TRY(const cv::Mat hints, smallGrey(options.hints, size));
    addHints(hints, small.lab, !options.previous.isNull(), labels);
  }
  cv::Mat subject;
  const bool anew = inside.empty() && options.hints.isNull() && options.previous.isNull();
  if (const auto byColours = anew && out.missing.empty() ? cutByColours(small, prior, {}) : std::nullopt) {
    subject = *byColours;
  } else {
    HSEAM_TRY(subject, coarseCut(small.rgb8, labels, rounds, progress.part(0.6, most > 1 ? 0.8 : 1)));
  }
  const Agreement agreement = agreementOf(prior, subject);
  out.candidates.push_back({nameOf(subject, seen), agreement.confidence, rasterOf(subject)});
  const double k = double(picture.size().width) / size.width;
  for (const Rect& r : agreement.doubtful) {
    out.doubtful.push_back(
        Rect{int(r.x * k), int(r.y * k), std::max(1, int(r.width * k)), std::max(1, int(r.height * k))}.intersected(
            Rect::of(picture.size())));
  }
  if (most > 1) HSEAM_DO(addThings(small, seen, prior, most, out.candidates, progress.part(0.8, 1)));
  progress.report(1);
  return out;
} catch (...) {
  return base::caught();
}

base::Result<TiledImage> guessSubject(const TiledImage& picture, const GuessOptions& options, base::Executor& executor,
                                      const base::Progress& progress) {
  HSEAM_TRY(SeenSubjects seen, seeSubjects(picture, options, 1, progress.part(0, 0.7)));
  return atFullSize(picture, std::move(seen.candidates.front().subject), executor, progress.part(0.7, 1));
}

}  // namespace hseam::select
