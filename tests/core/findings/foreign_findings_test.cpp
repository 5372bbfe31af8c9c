// What is found in composites of pictures that others made. Skipped where HSEAM_PHOTOS names none.
#include <set>

#include "core/findings/report.h"
#include "pictures.h"
#include "truth/foreign.h"
#include "truth/foreign_scenes.h"

using namespace hseam;

class ForeignFindingsTest : public QObject {
  Q_OBJECT
 private:
  std::string folder_;
  // Of tones, colours, grain and focus.
  static bool seenAsAWhole(const findings::Verdict& v) {
    static const std::set<std::string> kinds = {"black_point", "white_point", "mid_tone", "cast",
                                                "saturation",  "grain",       "sharpness"};
    return kinds.contains(findings::keyOf(v.kind));
  }

 private slots:
  void initTestCase() {
    folder_ = truth::foreignFolder();
    if (folder_.empty()) QSKIP("skipped: HSEAM_PHOTOS names no pictures that others made");
  }
  // A subject that was masked and put back on itself gives nothing away but its mask.
  void photographsPutBackAreQuiet() {
    int tried = 0;
    for (const auto& s : truth::maskedAndPutBack(folder_, test::memory(), test::here())) {
      ++tried;
      for (const auto& v : test::must(findings::reportOn(s.scene, test::here(), {})).findings)
        QVERIFY2(!seenAsAWhole(v), qPrintable(QString::fromStdString(s.name + ": " + v.sentence.text())));
    }
    QVERIFY(tried >= 4);
  }
  // Every third subject, tuned on and not.
  void faultsOfForeignSubjectsAreFoundAndCleanOnesAreQuiet() {
    const truth::ForeignScenes scenes(folder_, test::memory(), test::here());
    int clean = 0, falseOnes = 0, faulty = 0, found = 0;
    constexpr const char* kKinds[] = {"black_point", "white_point", "cast",          "saturation",
                                      "grain",       "sharpness",   "edge_softness", "leftovers"};
    unsigned k = 0;
    for (int i = 0; i < scenes.subjects(); i += 3) {
      const auto quiet = test::must(findings::reportOn(scenes.scene(i, 1, "", 0, true).scene, test::here(), {}));
      ++clean;
      for (const auto& v : quiet.findings) falseOnes += seenAsAWhole(v) || v.kind == findings::KindId::edgeSoftness;
      for (int n = 0; n < 3; ++n, ++k) {
        const std::string kind = kKinds[k % std::size(kKinds)];
        const auto r =
            test::must(findings::reportOn(scenes.scene(i, k, kind, k % 2 ? 4 : 2.5, k / 2 % 2).scene, test::here(), {}));
        ++faulty;
        const bool hit = std::any_of(r.findings.begin(), r.findings.end(),
                                     [&](const findings::Verdict& v) { return findings::keyOf(v.kind) == kind; });
        found += hit;
        for (const auto& v : r.readings) {
          // What things differ in by themselves makes it less of a fault; what is read stays what it is.
          if (v.kind == findings::KindId::saturation && v.available && v.out())
            QVERIFY(v.excess < std::abs(std::log(v.reading)) / std::log(v.tolerance) - 0.5);
          if (!hit && findings::keyOf(v.kind) == kind)
            qInfo("missed: subject %d, %s: %.2f, %s", i, kind.c_str(), v.reading, v.available ? "told" : v.reason.text().c_str());
        }
      }
    }
    qInfo("found %d of %d; false %d in %d clean scenes", found, faulty, falseOnes, clean);
    QVERIFY(faulty >= 20);
    QVERIFY2(found * 100 >= 60 * faulty, qPrintable(QStringLiteral("%1 of %2").arg(found).arg(faulty)));
    QVERIFY2(falseOnes * 2 <= clean, qPrintable(QStringLiteral("%1 in %2").arg(falseOnes).arg(clean)));
  }
};

HSEAM_TEST(ForeignFindingsTest);
#include "foreign_findings_test.moc"
