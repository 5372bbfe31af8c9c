#include "core/matte/learned_alpha.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/learned/network.h"
#include "core/matte/halved.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;

// The network sees kSide² px; what lies nearer to the square's rim than kRim is not taken, since it depends on what is beyond.
constexpr int kSide = 128, kRim = 16, kStep = kSide - 2 * kRim;
constexpr int kInputs = 7;
constexpr std::size_t kMostSquares = 120;  // about 4 s on two cores

// The network is asked where it would count.
bool counts(const Raster<std::uint8_t>& band, const cv::Mat& trust, const Rect& area) {
  for (int y = area.y; y < area.bottom(); ++y) {
    for (int x = area.x; x < area.right(); ++x) {
      if (knownOf(*band.at(x, y)) == Known::undecided && trust.at<float>(y, x) > 0) return true;
    }
  }
  return false;
}

// Red, green, blue, surely subject, surely background, alpha, certainty. Beyond the picture its last pixels go on.
void fillSquare(const SolvedAlpha& s, int left, int top, learned::Tensor& into) {
  constexpr std::size_t plane = std::size_t(kSide) * kSide;
  for (int v = 0; v < kSide; ++v) {
    const int y = std::clamp(top + v, 0, s.alpha.height() - 1);
    for (int u = 0; u < kSide; ++u) {
      const int x = std::clamp(left + u, 0, s.alpha.width() - 1);
      float* to = into.values.data() + std::size_t(v) * kSide + std::size_t(u);
      const float* rgb = s.picture.at(x, y);
      const Known known = knownOf(*s.band.at(x, y));
      to[0] = rgb[0], to[plane] = rgb[1], to[2 * plane] = rgb[2];
      to[3 * plane] = known == Known::subject ? 1.f : 0.f;
      to[4 * plane] = known == Known::background ? 1.f : 0.f;
      to[5 * plane] = *s.alpha.at(x, y);
      to[6 * plane] = *s.certainty.at(x, y);
    }
  }
}

std::vector<Rect> squaresOver(const Raster<std::uint8_t>& band, const cv::Mat& trust) {
  std::vector<Rect> squares;
  for (int y = 0; y < band.height(); y += kStep) {
    for (int x = 0; x < band.width(); x += kStep) {
      const Rect r = Rect{x, y, kStep, kStep}.intersected(Rect{0, 0, band.width(), band.height()});
      if (counts(band, trust, r)) squares.push_back(r);
    }
  }
  return squares;
}

// How much the network counts, CV_32F: not where single colours are sure all around, and less where much is clearly fractional:
// among strands whose colours are known the equations are right to a hundredth, and the network is not.
cv::Mat trustIn(const SolvedAlpha& s) {
  constexpr int kSurroundings = 31;                // px
  constexpr double kSure = 0.86, kUnsure = 0.66;   // mean certainty
  constexpr double kPlain = 0.15, kStrands = 0.4;  // of the undecided surroundings that is clearly fractional
  constexpr double kAmongStrands = 0.2;            // of certainty by which both bounds lie lower there
  const cv::Mat labels(s.band.height(), s.band.width(), CV_8U, const_cast<std::uint8_t*>(s.band.row(0))),
      certainty(s.certainty.height(), s.certainty.width(), CV_32F, const_cast<float*>(s.certainty.row(0))),
      alpha(s.alpha.height(), s.alpha.width(), CV_32F, const_cast<float*>(s.alpha.row(0)));
  const cv::Mat undecided = (labels >= 86) & (labels <= 170);
  cv::Mat all;
  cv::boxFilter(undecided, all, CV_32F, cv::Size(kSurroundings, kSurroundings));
  all = cv::max(all, 1.f);
  const auto shareOf = [&](const cv::Mat& m) {
    cv::Mat sum, share;
    cv::boxFilter(m, sum, CV_32F, cv::Size(kSurroundings, kSurroundings));
    cv::divide(sum, all, share);
    return share;
  };
  cv::Mat counted(certainty.size(), CV_32F, cv::Scalar(0));
  certainty.copyTo(counted, undecided);
  const cv::Mat sure = shareOf(255 * counted), fractional = shareOf((alpha > 0.2f) & (alpha < 0.8f) & undecided);
  cv::Mat strands = (fractional - kPlain) * (1 / (kStrands - kPlain));
  strands = cv::min(cv::max(strands, 0.f), 1.f);
  cv::Mat trust = (kSure - kAmongStrands * strands - sure) * (1 / (kSure - kUnsure));
  return cv::min(cv::max(trust, 0.f), 1.f);
}

base::Result<Raster<float>> correctedIn(const std::vector<Rect>& squares, const cv::Mat& trust, const SolvedAlpha& solved,
                                        learned::Network& network, const base::Progress& progress) {
  Raster<float> out = solved.alpha;
  learned::Tensor input{{1, kInputs, kSide, kSide}, std::vector<float>(std::size_t(kInputs) * kSide * kSide)};
  for (std::size_t i = 0; i < squares.size(); ++i) {
    if (progress.cancelled()) return base::cancelledError();
    progress.report(double(i) / double(squares.size()));
    const Rect& r = squares[i];
    fillSquare(solved, r.x - kRim, r.y - kRim, input);
    HSEAM_TRY(const auto made, network.run(input, {"alpha"}));
    if (made[0].shape != std::vector<int>{1, 1, kSide, kSide})
      return base::Error{base::Code::corrupt, "matting", "the network gives something else than was asked for"};
    for (int y = r.y; y < r.bottom(); ++y) {
      const float* from = made[0].values.data() + std::size_t(y - r.y + kRim) * kSide + kRim;
      for (int x = r.x; x < r.right(); ++x) {
        if (knownOf(*solved.band.at(x, y)) != Known::undecided) continue;
        float& a = *out.at(x, y);
        a += trust.at<float>(y, x) * (std::clamp(from[x - r.x], 0.f, 1.f) - a);
      }
    }
  }
  progress.report(1);
  return out;
}

}  // namespace

base::Result<Raster<float>> learnedAlpha(const SolvedAlpha& solved, base::Executor& executor, const base::Progress& progress) {
  HSEAM_TRY(learned::Network * network, learned::network("matting"));
  const cv::Mat trust = trustIn(solved);
  const std::vector<Rect> squares = squaresOver(solved.band, trust);
  if (squares.size() <= kMostSquares) return correctedIn(squares, trust, solved, *network, progress);
  const Raster<float> picture = halfPicture(solved.picture), alpha = halfPicture(solved.alpha),
                      certainty = halfPicture(solved.certainty);
  const Raster<std::uint8_t> band = halfBand(solved.band);
  HSEAM_TRY(Raster<float> by, learnedAlpha({picture, band, alpha, certainty}, executor, progress));
  for (std::size_t i = 0; i < by.samples().size(); ++i) by.samples()[i] -= alpha.samples()[i];
  Raster<float> out = enlarged(by, solved.alpha.size(), executor);
  for (std::size_t i = 0; i < out.samples().size(); ++i) {
    const float solvedHere = solved.alpha.samples()[i];
    out.samples()[i] =
        knownOf(solved.band.samples()[i]) == Known::undecided ? std::clamp(solvedHere + out.samples()[i], 0.f, 1.f) : solvedHere;
  }
  return out;
}

}  // namespace hseam::matte
