// What is planted is found under its name, and what is clean stays quiet.

#include <QDir>
#include <QElapsedTimer>
#include <map>

#include "core/findings/report.h"
#include "pictures.h"
#include "truth/planted.h"

using namespace hseam;

namespace {

constexpr const char* kKinds[] = {"black_point", "white_point", "cast",          "saturation", "grain",
                                  "sharpness",   "halo",        "edge_softness", "leftovers",  "effective_resolution"};

std::vector<truth::Photo> photos() {
  std::vector<truth::Photo> all;
  const QString more = qEnvironmentVariable("HSEAM_PHOTOS");
  if (more.isEmpty()) {
    for (const char* name : {"pier.jpg", "lamplighter.jpg", "fox.jpg"}) all.push_back(truth::photoFrom(std::string(HSEAM_DEMO "/pictures/") + name, 900));
  } else {
    for (const QString& name : QDir(more).entryList(QDir::Files)) all.push_back(truth::photoFrom((more + "/" + name).toStdString(), 900));
  }
  return all;
}

}  // namespace

class DetectionTest : public QObject {
  Q_OBJECT
 private slots:
  void plantedFaultsAreFoundAndCleanScenesAreQuiet() {
    const auto all = photos();
    const bool loud = qEnvironmentVariableIsSet("HSEAM_LOUD");
    std::map<std::string, std::map<std::string, int>> confusion;
    std::map<std::string, std::pair<int, int>> recall;
    int clean = 0, falseOnes = 0, faulty = 0, sides = 0;
    double slowest = 0;
    const auto judge = [&](const truth::Planted& p) {
      QElapsedTimer clock;
      clock.start();
      auto r = test::must(findings::reportOn(p.scene, test::here(), {}));
      slowest = std::max(slowest, double(clock.elapsed()) / 1000);
      return r;
    };
    for (unsigned seed = 0; seed < 20; ++seed) {
      for (const auto& photo : all) {
        if (clean >= 60) break;
        const auto r = judge(truth::putBack(photo, seed));
        ++clean;
        for (const auto& f : r.findings) {
          ++falseOnes, ++confusion["(clean)"][f.kind];
          if (loud) qInfo("clean %u: %s", seed, f.reason.c_str());
        }
      }
    }
    unsigned seed = 100;
    for (const char* kind : kKinds) {
      for (int i = 0; i < 20; ++i, ++seed) {
        const double excess = std::array{1.5, 2.0, 3.0, 5.0}[std::size_t(i % 4)];
        const auto p = truth::spoilt(all[std::size_t(i) % all.size()], seed, kind, excess, i / 4 % 2 == 0);
        const auto r = judge(p);
        bool found = false;
        ++faulty;
        for (const auto& f : r.findings) {
          ++confusion[kind][f.kind];
          found |= f.kind == kind;
          sides += f.kind != kind;
        }
        recall[kind].first += found, ++recall[kind].second;
        if (!found && loud) {
          for (const auto& v : r.readings)
            if (v.kind == kind) qInfo("missed %s x%.1f photo %d seed %u: %s reading %.2f excess %.2f %s", kind, excess, int(std::size_t(i) % all.size()), seed, v.told ? "told" : "untold", v.reading, v.excess, v.why.c_str());
        }
        if (!found) ++confusion[kind]["(nothing)"];
      }
    }
    int hits = 0, total = 0, worst = 100;
    for (const auto& [kind, row] : confusion) {
      QStringList words;
      for (const auto& [found, n] : row) words << QStringLiteral("%1 %2").arg(QString::fromStdString(found)).arg(n);
      qInfo("%-22s %s", kind.c_str(), qPrintable(words.join(QStringLiteral(", "))));
    }
    for (const auto& [kind, r] : recall) hits += r.first, total += r.second, worst = std::min(worst, 100 * r.first / r.second);
    qInfo("recall %d %%, least %d %%; false %.2f a clean scene, %.2f beside a fault; slowest %.2f s", 100 * hits / total, worst, double(falseOnes) / clean,
          double(sides) / faulty, slowest);
  }
};

HSEAM_TEST(DetectionTest);
#include "detection_test.moc"
