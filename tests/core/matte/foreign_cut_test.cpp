// The cut on pictures that others made (truth/foreign.h): skipped where there are none. The figures are a little looser than
// those measured by foreign_bench, which prints both halves.

#include "core/matte/found_band.h"
#include "core/matte/solver.h"
#include "core/select/subject_guess.h"
#include "pictures.h"
#include "truth/foreign.h"

using namespace hseam;

namespace {

double sad(const image::Raster<float>& a, const image::Raster<float>& b) {
  double sum = 0;
  for (std::size_t i = 0; i < a.samples().size(); ++i) sum += std::abs(double(a.samples()[i] - b.samples()[i]));
  return sum;
}

}  // namespace

class ForeignCutTest : public QObject {
  Q_OBJECT
 private slots:
  void initTestCase() {
    folder_ = truth::foreignFolder();
    if (folder_.empty()) QSKIP("skipped: HSEAM_PHOTOS names no pictures that others made");
    if (!truth::makeForeignCases(folder_, made_.path().toStdString(), 1))
      QSKIP("skipped: the cases cannot be made, python3-numpy or python3-opencv is missing");
    const auto all = truth::foreignCaseFolders(made_.path().toStdString());
    // A fixed third, of both halves.
    for (std::size_t i = 1; i < all.size(); i += 3) cases_.push_back(all[i]);
    QVERIFY(cases_.size() >= 6);
  }
  void thePhotographsSubjectsAreGuessed() {
    double sum = 0, least = 1;
    const auto photos = truth::foreignPhotos(folder_, test::memory(), test::here());
    for (const auto& p : photos) {
      const double share =
          truth::intersectionOverUnion(test::must(select::guessSubject(p.picture, {}, test::here(), {})), p.mask);
      qInfo("%s: %.3f", p.name.c_str(), share);
      sum += share, least = std::min(least, share);
    }
    const double mean = sum / double(photos.size());
    QVERIFY2(mean > kPhotosMean && least > kPhotosLeast, qPrintable(QStringLiteral("mean %1, least %2").arg(mean).arg(least)));
  }
  void cutOutsOnGroundsAreGuessed() {
    double sum = 0;
    for (const std::string& folder : cases_) {
      const auto c = truth::readForeignCase(folder, test::memory(), test::here());
      image::Raster<std::uint8_t> mask(c.alpha.width(), c.alpha.height());
      for (std::size_t i = 0; i < mask.samples().size(); ++i) mask.samples()[i] = c.alpha.samples()[i] >= 0.5f ? 255 : 0;
      const double share = truth::intersectionOverUnion(test::must(select::guessSubject(c.picture, {}, test::here(), {})), mask);
      qInfo("%s: %.3f", c.name.c_str(), share);
      sum += share;
    }
    const double mean = sum / double(cases_.size());
    QVERIFY2(mean > kCutOutsMean, qPrintable(QString::number(mean)));
  }
  void aFoundBandIsNearlyAsGoodAsALaidOne() {
    double ratios = 0, byColours = 0;
    int far = 0;
    matte::SolveOptions colours;
    colours.learned = false;
    for (const std::string& folder : cases_) {
      const auto c = truth::readForeignCase(folder, test::memory(), test::here());
      const auto band = test::must(matte::findBand(c.picture, c.selection, {}, test::here(), {}));
      const auto labels = test::must(image::read8(band, 0, base::Rect::of(band.size())));
      const double laid = sad(test::must(matte::solveAlpha(c.rgb, c.band, {}, test::here(), {})), c.alpha),
                   alone = sad(test::must(matte::solveAlpha(c.rgb, c.band, colours, test::here(), {})), c.alpha),
                   found = sad(test::must(matte::solveAlpha(c.rgb, labels, {}, test::here(), {})), c.alpha);
      qInfo("%s: %.2f, of what colours alone give in a laid one %.2f", c.name.c_str(), found / laid, found / alone);
      ratios += found / laid, byColours += found / alone, far += found / laid > 1.3;
    }
    const double n = double(cases_.size()), mean = ratios / n;
    // A drawn hat whose black outline the band swallows makes half of the mean.
    QVERIFY2(mean < 1.8 && far <= 3, qPrintable(QStringLiteral("mean %1, %2 of %3 above 1.3").arg(mean).arg(far).arg(n)));
    QVERIFY2(byColours / n < 1.05, qPrintable(QString::number(byColours / n)));
  }

 private:
  static constexpr double kPhotosMean = 0.85, kPhotosLeast = 0.65, kCutOutsMean = 0.65;
  std::string folder_;
  QTemporaryDir made_;
  std::vector<std::string> cases_;
};
HSEAM_TEST(ForeignCutTest);
#include "foreign_cut_test.moc"
