// window_bench: the real window on a scene of 24 megapixels × 10 layers. From an event to the end of the paint that shows it,
// for a brush and for a slider, and the longest time that the window's thread was busy in one go.

#include <QApplication>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <QThread>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <string>
#include <vector>

#include "app/main_window.h"
#include "app/stations/match/match.h"
#include "app/theme/theme.h"
#include "app/widgets/curve_editor.h"
#include "core/store/project_file.h"

namespace {

using namespace hseam;

constexpr int kWidth = 6000, kHeight = 4000;

image::TiledImage picture(const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor, int seed) {
  auto made = image::tiledFromRows(
      {kWidth, kHeight}, image::PixelFormat::rgb8, memory, executor, {},
      [&](int first, int count, std::byte* rows) -> base::Status {
        for (int y = 0; y < count; ++y) {
          for (int x = 0; x < kWidth; ++x) {
            for (int c = 0; c < 3; ++c) {
              rows[(std::size_t(y) * kWidth + std::size_t(x)) * 3 + std::size_t(c)] =
                  std::byte(128 + int(70 * std::sin((x + seed * 900) / 210.0 + c)) + ((x * 13 + (first + y) * 7 + seed) % 23));
            }
          }
        }
        return {};
      });
  return std::move(made).value();
}

image::TiledImage softMask(const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  auto made = image::tiledFromRows({kWidth, kHeight}, image::PixelFormat::grey8, memory, executor, {},
                                   [&](int first, int count, std::byte* rows) -> base::Status {
                                     for (int y = 0; y < count; ++y) {
                                       for (int x = 0; x < kWidth; ++x) {
                                         const double d = std::hypot(x - kWidth / 2.0, first + y - kHeight / 2.0);
                                         rows[std::size_t(y) * kWidth + std::size_t(x)] =
                                             std::byte(int(255 * std::clamp((1500 - d) / 80 + 0.5, 0.0, 1.0)));
                                       }
                                     }
                                     return {};
                                   });
  return std::move(made).value();
}

constexpr std::uint64_t kPainted = 5, kCurve = 10;  // ids of the layers that the bench works on

// Full-size layers: pictures in changing modes, all but the backmost masked, and two curves.
scene::Scene bigScene(int layers, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  scene::Scene s;
  s.canvas = {kWidth, kHeight};
  const auto mask = softMask(memory, executor);
  constexpr scene::BlendMode kModes[] = {scene::BlendMode::normal, scene::BlendMode::multiply, scene::BlendMode::screen};
  for (std::uint64_t i = 1; i <= std::uint64_t(layers); ++i) {
    scene::Layer l;
    l.id = {i};
    if (i == 4 || i == kCurve) {
      l.name = "curve " + std::to_string(i);
      l.content = scene::AdjustmentContent{scene::Curves{{{0, 0.02}, {0.5, 0.46}, {1, 0.97}}, {}, {}, {}}};
    } else {
      l.name = "picture " + std::to_string(i);
      scene::PictureContent p;
      p.source = picture(memory, executor, int(i));
      if (i > 1) l.mask.coverage = mask;
      if (i != kPainted) l.mode = kModes[i % 3];
      l.content = std::move(p);
    }
    s.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
  }
  return s;
}

// Notes every single stretch of work that the window's thread did without going back to its loop.
class BlockMeter : public QApplication {
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override {
    if (inside_) return QApplication::notify(receiver, event);
    inside_ = true;
    QElapsedTimer clock;
    clock.start();
    const bool done = QApplication::notify(receiver, event);
    const double ms = double(clock.nsecsElapsed()) / 1e6;
    if (ms > longest) longest = ms;
    if (ms > 50 && qEnvironmentVariableIsSet("HSEAM_BENCH_BLOCKS"))
      std::fprintf(stderr, "    %.0f ms: event %d to %s\n", ms, int(event->type()), receiver->metaObject()->className());
    inside_ = false;
    return done;
  }
  double longest = 0;

 private:
  bool inside_ = false;
};

double quantile(std::vector<double> v, double q) {
  if (v.empty()) return 0;
  std::sort(v.begin(), v.end());
  return v[std::min(v.size() - 1, std::size_t(q * double(v.size())))];
}

class Bench {
 public:
  explicit Bench(BlockMeter& application) : application_(application) {
    window_.resize(1280, 800);
    window_.show();
    connection_ = QObject::connect(&window_.canvas(), &app::Canvas::painted, [this] { paintedAt_ = clock_.nsecsElapsed(); });
    clock_.start();
  }

  bool open(const QString& project) {
    window_.workspace().openProject(project);
    return settle();
  }
  app::MainWindow& window() { return window_; }

  bool settle() {
    QElapsedTimer wait;
    wait.start();
    do {
      QApplication::processEvents(QEventLoop::AllEvents, 5);
      QThread::usleep(200);
      if (wait.elapsed() > 120'000) return false;
    } while (window_.desk().jobs.running() || !window_.canvas().settled());
    return true;
  }

  // Each event, then the loop until the picture shows it (the paint after the last renewed tile).
  template <class Send>
  void measure(const char* name, int events, const Send& send) {
    std::vector<double> shown;
    application_.longest = 0;
    for (int i = 0; i < events; ++i) {
      const qint64 at = clock_.nsecsElapsed();
      send(i);
      QElapsedTimer wait;
      wait.start();
      do {
        QApplication::processEvents(QEventLoop::AllEvents, 2);
      } while ((!window_.canvas().settled() || paintedAt_ < at) && wait.elapsed() < 5000);
      QApplication::processEvents();
      shown.push_back(double(paintedAt_ - at) / 1e6);
    }
    std::printf("%-44s %8.1f %8.1f %12.1f\n", name, quantile(shown, 0.5), quantile(shown, 0.99), application_.longest);
    std::fflush(stdout);
  }

  // The right button hides: most of the mask is shown already, and a stroke that changes nothing would be a fast one.
  void mouse(QEvent::Type type, QPointF scene) {
    const QPointF p = window_.canvas().toWidget().map(scene);
    QMouseEvent e(type, p, window_.canvas().mapToGlobal(p), type == QEvent::MouseMove ? Qt::NoButton : Qt::RightButton,
                  type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::RightButton, {});
    QApplication::sendEvent(&window_.canvas(), &e);
  }

  void brush(const char* name, double tip, double zoom) {
    auto& canvas = window_.canvas();
    if (zoom == 0) {
      canvas.zoomToFit();
    } else {
      canvas.zoomToFit();
      canvas.zoomTo(zoom, QPointF(canvas.width() / 2.0, canvas.height() / 2.0));
    }
    if (auto* size = sizeField()) size->setValue(tip);
    settle();
    const QPointF middle = canvas.toWidget().inverted().map(QPointF(canvas.width() / 2.0, canvas.height() / 2.0));
    const double reach = std::min(canvas.width(), canvas.height()) / 3.0 / canvas.zoom();
    mouse(QEvent::MouseButtonPress, middle);
    settle();
    // Ten seconds of a pointer at 125 Hz. Every event has the time at which the device sent it, however late the window takes
    // it; it is shown by the first paint after all of what it changed has come.
    constexpr int kEvents = 1250;
    constexpr qint64 kEvery = 8'000'000;
    std::vector<double> shown;
    struct Waiting {
      qint64 sent;
      std::uint64_t showing;
      qint64 arrived = 0;  // when the last of it was there
    };
    std::vector<Waiting> waiting;
    const qint64 start = clock_.nsecsElapsed();
    const auto look = [&] {
      const std::uint64_t through = canvas.shownThrough();
      for (Waiting& w : waiting) {
        if (w.arrived == 0 && w.showing <= through) w.arrived = clock_.nsecsElapsed();
      }
      std::erase_if(waiting, [&](const Waiting& w) {
        if (w.arrived == 0 || paintedAt_ < w.arrived) return false;
        shown.push_back(double(paintedAt_ - w.sent) / 1e6);
        return true;
      });
    };
    application_.longest = 0;
    for (int i = 0; i < kEvents; ++i) {
      while (clock_.nsecsElapsed() < start + i * kEvery) {
        QApplication::processEvents(QEventLoop::AllEvents, 1);
        look();
        QThread::usleep(100);
      }
      const std::uint64_t before = canvas.showings();
      mouse(QEvent::MouseMove, middle + QPointF(reach * std::sin(i * 0.045), reach * 0.7 * std::sin(i * 0.071)));
      // The brush draws, and the window gathers what that changed.
      for (int turn = 0; turn < 2; ++turn) QCoreApplication::sendPostedEvents(nullptr, QEvent::MetaCall);
      // What changes nothing has nothing to show.
      if (canvas.showings() > before) waiting.push_back({start + i * kEvery, canvas.showings()});
    }
    const qint64 end = clock_.nsecsElapsed();
    while (!waiting.empty() && clock_.nsecsElapsed() < end + 500'000'000) {
      QApplication::processEvents(QEventLoop::AllEvents, 1);
      look();
    }
    std::printf("%-44s %8.1f %8.1f %12.1f\n", name, quantile(shown, 0.5), quantile(shown, 0.99), application_.longest);
    application_.longest = 0;
    mouse(QEvent::MouseButtonRelease, middle);
    settle();
    window_.desk().session.undo();
    settle();
    window_.workspace().document().flush();
  }

 private:
  QDoubleSpinBox* sizeField() {
    for (auto* box : window_.findChildren<QDoubleSpinBox*>()) {
      if (box->isVisible() && box->accessibleName() == QStringLiteral("size")) return box;
    }
    return nullptr;
  }
  BlockMeter& application_;
  app::MainWindow window_;
  QMetaObject::Connection connection_;
  QElapsedTimer clock_;
  qint64 paintedAt_ = 0;
};

// Pages of this process that were in memory at the most, MB (VmHWM of proc(5)).
long peakResidentMb() {
  std::ifstream status("/proc/self/status");
  std::string word;
  long kb = 0;
  while (status >> word) {
    if (word == "VmHWM:" && status >> kb) break;
  }
  return kb / 1024;
}

}  // namespace

int main(int argc, char** argv) {
  BlockMeter application(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("hidden-seam"));
  QApplication::setApplicationName(QStringLiteral("hidden-seam-bench"));
  app::theme::apply(application);
  const QTemporaryDir dir;
  setbuf(stdout, nullptr);
  // window_bench [LAYERS]: ten, or as many as are asked for.
  const int layers = argc > 1 ? std::max(10, std::atoi(argv[1])) : 10;
  const QString project = dir.filePath(QStringLiteral("big.hseam"));
  const auto pool = base::makePool(0);
  {
    const auto memory = image::TileMemory::create(std::size_t(1) << 30);
    auto made = store::ProjectFile::create(project.toStdString(), bigScene(layers, memory, *pool), "bench", memory, *pool);
    if (!made.ok()) {
      std::fprintf(stderr, "%s\n", made.error().text().c_str());
      return 1;
    }
  }
  Bench bench(application);
  QElapsedTimer clock;
  clock.start();
  if (!bench.open(project)) return 1;
  std::printf("24 megapixels x %d layers opened and shown at fit: %.2f s\n", layers, double(clock.elapsed()) / 1000);
  std::printf("%-44s %8s %8s %12s\n", "from the event to the paint that shows it", "median", "p99", "longest block, ms");
  bench.window().desk().session.setActive({kPainted});
  bench.window().goTo(app::kMatch);
  const auto open = [&bench](const QString& page) { bench.window().station(app::kMatch).openPage(page); };
  open(QStringLiteral("paint"));
  bench.settle();
  for (const double tip : {20.0, 200.0, 1000.0}) {
    for (const double zoom : {0.0, 1.0, 4.0}) {
      const QString name = QStringLiteral("brush of %1 px, %2")
                               .arg(tip)
                               .arg(zoom == 0 ? QStringLiteral("fit") : QStringLiteral("%1 %").arg(zoom * 100));
      bench.brush(qPrintable(name), tip, zoom);
    }
  }
  bench.window().canvas().zoomToFit();
  bench.window().desk().session.setActive({kCurve});
  open(QStringLiteral("adjust"));
  bench.settle();
  bench.measure("dragging a curve, fit", 60, [&](int i) {
    bench.window().desk().session.draft(
        scene::SetAdjustment{{kCurve}, scene::Curves{{{0, 0.02}, {0.5, 0.4 + 0.003 * i}, {1, 0.97}}, {}, {}, {}}});
  });
  bench.window().desk().session.setActive({kPainted});
  bench.settle();
  bench.measure("dragging an opacity, fit", 60, [&](int i) {
    bench.window().desk().session.draft(scene::SetOpacity{{kPainted}, 0.3 + 0.01 * i});
  });
  const base::Size size = scene::findLayer(bench.window().desk().session.scene(), {kPainted})->picture()->source.size();
  bench.measure("dragging a corner of a bend, fit", 60, [&](int i) {
    auto bend = std::make_shared<scene::Warp>();
    bend->corners = {
        {2.0 * i, 1.0 * i}, {double(size.width), 0}, {double(size.width), double(size.height)}, {0, double(size.height)}};
    bench.window().desk().session.draft(scene::SetWarp{{kPainted}, std::move(bend)});
  });
  bench.measure("dragging a crossing of a grid, fit", 60, [&](int i) {
    auto bend = std::make_shared<scene::Warp>(scene::withGrid({}, size, 4, 4));
    bend->grid[7].x += 3.0 * i, bend->grid[7].y += 2.0 * i;
    bench.window().desk().session.draft(scene::SetWarp{{kPainted}, std::move(bend)});
  });
  bench.measure("dragging one of eight tacks, fit", 60, [&](int i) {
    auto bend = std::make_shared<scene::Warp>();
    for (int k = 0; k < 8; ++k) {
      const base::Point at{size.width * (0.2 + 0.2 * (k % 4)), size.height * (k < 4 ? 0.3 : 0.7)};
      bend->tacks.push_back({at, {at.x + (k == 5 ? 3.0 * i : 0), at.y + (k == 5 ? 2.0 * i : 0)}});
    }
    bench.window().desk().session.draft(scene::SetWarp{{kPainted}, std::move(bend)});
  });
  bench.window().desk().session.draft(std::nullopt);
  bench.settle();
  bench.window().desk().session.apply(scene::SetOpacity{{kPainted}, 0.5});
  bench.settle();
  bench.measure("undo and redo, fit", 20,
                [&](int i) { i % 2 ? bench.window().desk().session.redo() : bench.window().desk().session.undo(); });
  const auto count = [&](const char* what, const auto& act) {
    const int before = bench.window().refreshes();
    act();
    bench.settle();
    std::printf("the open station is refreshed %d times by %s\n", bench.window().refreshes() - before, what);
  };
  count("an undo", [&] { bench.window().desk().session.undo(); });
  count("a redo", [&] { bench.window().desk().session.redo(); });
  count("thirty drafts in one turn of the event loop", [&] {
    for (int i = 0; i < 30; ++i) bench.window().desk().session.draft(scene::SetOpacity{{kPainted}, 0.3 + 0.01 * i});
  });
  bench.window().desk().session.draft(std::nullopt);
  bench.settle();
  count("a hundred ticks of a job's progress", [&] {
    bench.window().desk().jobs.start<bool>(
        QStringLiteral("count"),
        [](base::Executor&, const base::Progress& progress) -> base::Result<bool> {
          for (int i = 0; i < 100; ++i) {
            progress.report(i / 100.0);
            QThread::msleep(5);
          }
          return true;
        },
        [](bool) {});
  });
  std::printf("resident at the most, with the making of the project: %ld MB\n", peakResidentMb());
  return 0;
}
