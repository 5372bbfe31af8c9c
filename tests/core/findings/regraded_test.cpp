// Photographs of others, graded in part: what makes the subject belong brings it nearer to itself, or leaves it alone. Skipped
// where HSEAM_PHOTOS names none.

#include "truth/regraded.h"
#include "core/findings/belong.h"
#include "pictures.h"
#include "truth/foreign.h"

using namespace hseam;

class RegradedTest : public QObject {
  Q_OBJECT
 private slots:
  void whatWasGradedOtherwiseComesNearerOrIsLeftAlone() {
    const std::string folder = truth::foreignFolder();
    if (folder.empty()) QSKIP("skipped: HSEAM_PHOTOS names no pictures that others made");
    const auto cases = truth::regradedPhotos(folder, test::memory(), test::here());
    double before = 0, after = 0;
    int tried = 0, worse = 0;
    for (std::size_t i = 0; i < cases.size(); i += 7) {
      const truth::Regraded& r = cases[i];
      findings::BelongOptions options;
      using findings::KindId;
      options.only = {KindId::blackPoint, KindId::whitePoint, KindId::midTone, KindId::cast, KindId::saturation};
      const auto made = test::must(findings::belong(r.scene, r.layer, options, test::here(), {}));
      const double was = truth::distanceOverSubject(r, r.scene, test::here()),
                   is = truth::distanceOverSubject(r, test::must(scene::apply(r.scene, made.edit)), test::here());
      ++tried;
      before += was, after += is;
      if (is <= 1.005 * was) continue;
      ++worse;
      qInfo("worse: %s, %.1f -> %.1f", r.name.c_str(), was, is);
    }
    qInfo("CIEDE2000 from itself: %.0f %% of before; worse in %d of %d", 100 * after / before, worse, tried);
    QVERIFY(tried >= 20);
    QVERIFY2(worse * 8 <= tried, qPrintable(QString::number(worse)));
    QVERIFY2(after < 0.93 * before, qPrintable(QString::number(after / before)));
  }
};
HSEAM_TEST(RegradedTest);
#include "regraded_test.moc"
