#include <QDir>
#include <QTemporaryDir>
#include <atomic>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/executor.h"
#include "core/base/geometry.h"
#include "core/base/json_text.h"
#include "core/base/log.h"
#include "core/base/progress.h"
#include "core/base/stamp.h"
#include "test_main.h"

using namespace hseam::base;

class BaseTest : public QObject {
  Q_OBJECT
 private slots:
  void whateverIsThrownBecomesAnError() {
    const auto codeOf = [](const std::function<void()>& thrower) {
      try {
        thrower();
      } catch (...) {
        return caught("here");
      }
      return Error{};
    };
    QCOMPARE(codeOf([] { throw std::bad_alloc(); }).code, Code::outOfMemory);
    QCOMPARE(codeOf([] { throw std::runtime_error("Failed to allocate 9 bytes in function 'OutOfMemoryError'"); }).code,
             Code::outOfMemory);
    const Error library = codeOf([] { throw std::runtime_error("the third wheel"); });
    QVERIFY(library.code == Code::failed && library.where == "here" && library.detail.find("third wheel") != std::string::npos);
    QCOMPARE(codeOf([] { throw 7; }).code, Code::failed);
    QCOMPARE(QString::fromLatin1(codeName(Code::failed)), QStringLiteral("failed"));
  }
  void whatIsLoggedLiesInTheStateFolder() {
    const QTemporaryDir state;
    qputenv("XDG_STATE_HOME", state.path().toLocal8Bit());
    const auto read = [](const std::string& path) {
      QFile f(QString::fromStdString(path));
      return f.open(QIODevice::ReadOnly) ? QString::fromUtf8(f.readAll()) : QString();
    };
    log(LogLevel::error, "nobody listens");
    const std::string path = beginLog("tried", LogLevel::info);
    QCOMPARE(QString::fromStdString(path), state.path() + QStringLiteral("/hidden-seam/tried.log"));
    log(LogLevel::debug, "too small a thing");
    log(LogLevel::info, "a step {} with braces");
    log(LogLevel::warning, "a word of warning");
    QVERIFY(read(path).contains(QStringLiteral("warning  a word of warning")));  // at once
    endLog();
    const QString all = read(path);
    QVERIFY(all.contains(QStringLiteral("a step {} with braces")) && !all.contains(QStringLiteral("too small")) &&
            !all.contains(QStringLiteral("nobody")));
    // It begins anew, and keeps two.
    beginLog("tried", LogLevel::info);
    for (int i = 0; i < 40; ++i) log(LogLevel::info, std::string(100'000, 'x'));
    endLog();
    QCOMPARE(QDir(state.path() + QStringLiteral("/hidden-seam")).entryList(QDir::Files).size(), 3);
    QCOMPARE(QString::fromStdString(beginLog("tried", LogLevel::off)), QString());
    // Where nothing can be written the work goes on.
    qputenv("XDG_STATE_HOME", "/proc");
    QCOMPARE(QString::fromStdString(beginLog("tried", LogLevel::info)), QString());
    log(LogLevel::error, "nobody listens");
    qunsetenv("XDG_STATE_HOME");
    QVERIFY(logLevelNamed("warning") == LogLevel::warning && !logLevelNamed("loud"));
  }
  void jsonTakesAnyBytes() {
    QCOMPARE(QString::fromStdString(jsonText(nlohmann::json{{"name", "R\xe9n"}})), QStringLiteral("{\"name\":\"R\uFFFDn\"}"));
  }
  void rectsCoarsenOutwards() {
    QCOMPARE(Rect({5, 7, 3, 1}).coarser(2), Rect({1, 1, 1, 1}));
    QCOMPARE(Rect({3, 3, 2, 2}).coarser(2), Rect({0, 0, 2, 2}));
    QCOMPARE(Rect({-1, -5, 2, 3}).coarser(1), Rect({-1, -3, 2, 2}));
    QVERIFY(Rect({0, 0, 0, 5}).coarser(3).empty());
  }
  void unionIgnoresEmptyRects() {
    QCOMPARE(Rect({100, 100, 0, 0}).united({1, 2, 3, 4}), Rect({1, 2, 3, 4}));
    QCOMPARE(Rect({0, 0, 2, 2}).united({5, 5, 1, 1}), Rect({0, 0, 6, 6}));
    QVERIFY(Rect({0, 0, 2, 2}).intersected({2, 0, 2, 2}).empty());
    QVERIFY(Rect({7, 7, 0, 3}).grown(5).empty());
  }
  void inverseUndoesAnAffine() {
    const Affine m{0.8, -0.6, 0.6, 0.8, 12.5, -3};
    const Point p = m.inverse()->map(m.map({31, -7}));
    QVERIFY(std::abs(p.x - 31) < 1e-12 && std::abs(p.y + 7) < 1e-12);
    QVERIFY(!Affine({1, 2, 2, 4, 0, 0}).inverse());
    const Point q = m.after(Affine::scaling(2)).map({1, 1}), r = m.map({2, 2});
    QCOMPARE(q, r);
  }
  void boundsDoNotGrowByRounding() {
    const Affine m{1.0 / 3, 0, 0, 1.0 / 3, 0, 0};
    QCOMPARE(boundsOf(m, {0, 0, 300, 300}), Rect({0, 0, 100, 100}));
    QCOMPARE(boundsOf({0, -1, 1, 0, 10, 0}, {0, 0, 4, 2}), Rect({8, 0, 2, 4}));
  }
  void poolCallsEveryIndexOnce() {
    const auto pool = makePool(3);
    std::vector<std::atomic<int>> calls(1000);
    pool->forEach(1000, [&](int i) {
      // Calls from inside the pool must not block it.
      pool->forEach(3, [&](int k) { calls[std::size_t(i)] += k == 0; });
    });
    for (const auto& c : calls) QCOMPARE(c.load(), 1);
  }
  void partsOfProgressAddUp() {
    std::vector<double> seen;
    const Progress all({}, [&](double s) { seen.push_back(s); });
    all.part(0.5, 1).part(0, 0.5).report(1);
    QCOMPARE(seen.back(), 0.75);
    std::stop_source stop;
    const Progress stoppable(stop.get_token());
    QVERIFY(!stoppable.cancelled());
    stop.request_stop();
    QVERIFY(stoppable.part(0, 0.1).cancelled());
  }
  void resultsCarryValueOrError() {
    const auto half = [](int v) -> Result<int> {
      if (v % 2) return Error{Code::invalid, "v", "is odd"};
      return v / 2;
    };
    const auto quarter = [&](int v) -> Result<int> {
      HSEAM_TRY(const int h, half(v));
      return half(h);
    };
    QCOMPARE(*quarter(8), 2);
    QCOMPARE(QString::fromStdString(quarter(6).error().text()), QStringLiteral("v: is odd"));
    QCOMPARE(QLatin1String(codeName(quarter(3).error().code)), QLatin1String("invalid"));
  }
  void stampsNeverRepeat() {
    std::set<std::uint64_t> seen;
    for (int i = 0; i < 1000; ++i) QVERIFY(seen.insert(nextStamp()).second);
  }
};
HSEAM_TEST(BaseTest);
#include "base_test.moc"
