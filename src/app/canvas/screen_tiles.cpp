#include "app/canvas/screen_tiles.h"

#include <QMetaObject>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <utility>

#include "app/document/courtesy.h"

namespace hseam::app {
namespace {

constexpr std::size_t kKeptTiles = 600;        // 256 KiB each
constexpr std::size_t kLowerLayersKept = 128;  // 1 MiB each

}  // namespace

ScreenTiles::ScreenTiles(QObject* parent) : QObject(parent) {
  const unsigned count = std::max(1u, std::thread::hardware_concurrency());
  for (unsigned i = 0; i < count; ++i) workers_.emplace_back([this](const std::stop_token& stop) { work(stop); });
}

ScreenTiles::~ScreenTiles() {
  for (auto& w : workers_) w.request_stop();
  wake_.notify_all();
  workers_.clear();
}

void ScreenTiles::show(const scene::Scene& scene, const View& view) {
  const bool sameView = view == view_ && scene.canvas == scene_.canvas;
  const std::vector<base::Rect> changed = sameView ? scene::difference(scene_, scene) : std::vector<base::Rect>{};
  const std::lock_guard lock(mutex_);
  if (sameView && changed.empty()) {
    scene_ = scene;
    return;
  }
  ++showings_;
  const std::size_t steady = sameView ? render::sameFromTheBack(scene_, scene) : 0;
  belowChange_ = steady == steady_ ? steady : 0;
  steady_ = steady;
  if (scene.canvas != scene_.canvas) {
    held_.clear();
    wanted_.clear();
  }
  scene_ = scene;
  view_ = view;
  for (auto& [key, held] : held_) {
    if (!sameView) makeStale(held, areaOf(key));
    // Levels average and resampling reaches out: a few px more than the change itself.
    const int reach = 4 + reachOf(view_.eyes);
    for (const base::Rect& r : changed) makeStale(held, r.coarser(key.level).grown(reach).intersected(areaOf(key)));
  }
  wake_.notify_all();
}

void ScreenTiles::makeStale(Held& held, const base::Rect& area) {
  if (area.empty()) return;
  if (held.stale.empty()) held.staleSince = showings_;
  held.stale = held.stale.united(area);
}

void ScreenTiles::setDisplay(std::shared_ptr<const image::DisplayTransform> display) {
  const std::lock_guard lock(mutex_);
  if (display == display_) return;
  display_ = std::move(display);
  ++showings_;
  for (auto& [key, held] : held_) makeStale(held, areaOf(key));
  wake_.notify_all();
}

base::Rect ScreenTiles::areaOf(const Key& key) const {
  return base::Rect{key.x * kSide, key.y * kSide, kSide, kSide}.intersected(base::Rect::of(render::canvasAt(scene_, key.level)));
}

void ScreenTiles::want(int level, const QRect& tiles) {
  std::vector<Key> keys;
  for (int y = tiles.top(); y <= tiles.bottom(); ++y) {
    for (int x = tiles.left(); x <= tiles.right(); ++x) keys.push_back({level, x, y});
  }
  const double cx = tiles.x() + tiles.width() / 2.0, cy = tiles.y() + tiles.height() / 2.0;
  std::sort(keys.begin(), keys.end(), [&](const Key& a, const Key& b) {
    return std::hypot(a.x + .5 - cx, a.y + .5 - cy) < std::hypot(b.x + .5 - cx, b.y + .5 - cy);
  });
  const std::lock_guard lock(mutex_);
  if (keys == wanted_) return;
  const auto isWanted = [&](const Key& k) { return std::find(keys.begin(), keys.end(), k) != keys.end(); };
  if (held_.size() > kKeptTiles) std::erase_if(held_, [&](const auto& h) { return !isWanted(h.first); });
  for (auto& [key, held] : held_) {
    if (!isWanted(key)) held.lower.reset();
  }
  for (const Key& k : keys) {
    const auto [at, isNew] = held_.try_emplace(k);
    if (isNew) makeStale(at->second, areaOf(k));
  }
  wanted_ = std::move(keys);
  wake_.notify_all();
}

// The nearest tile to the middle that waits for something. One task at a time for each tile: it takes all that is stale by then.
std::optional<ScreenTiles::Task> ScreenTiles::next() {
  for (const Key& k : wanted_) {
    Held& h = held_.at(k);
    if (h.stale.empty() || h.work != 0) continue;
    h.work = ++tasks_;
    h.workSince = h.staleSince;
    if (belowChange_ == 0 || wanted_.size() > kLowerLayersKept) {
      h.lower.reset();
    } else if (!h.lower || h.lower->standsFor(scene_, k.level) != belowChange_) {
      h.lower = std::make_shared<render::LowerLayers>(scene_, belowChange_, areaOf(k), k.level);
    }
    return Task{k, h.work, h.staleSince, std::exchange(h.stale, {}), scene_, view_, display_, h.lower};
  }
  return std::nullopt;
}

void ScreenTiles::work(const std::stop_token& stop) {
  lowerPriority();
  base::InlineExecutor here;
  for (std::optional<Task> task;;) {
    {
      std::unique_lock lock(mutex_);
      if (!wake_.wait(lock, stop, [&] { return (task = next()).has_value(); })) return;
    }
    QImage image(task->area.width, task->area.height, QImage::Format_RGB32);
    QString error;
    const auto show = [&](const base::Rect& part, const render::Planes& pixels) {
      toScreen(pixels, part, task->view, image, {part.x - task->area.x, part.y - task->area.y});
    };
    const base::Status done =
        reachOf(task->view.eyes) > 0 || task->view.against
            ? seenAround(*task, image, stop)
            : renderer_.renderTo(task->scene, task->area, task->key.level, here, show, stop, task->lower.get());
    for (int y = 0; task->display && y < image.height(); ++y)
      task->display->apply(reinterpret_cast<std::uint32_t*>(image.scanLine(y)), std::size_t(image.width()));
    if (!done.ok()) {
      image = {};
      if (done.error().code != base::Code::cancelled) error = QString::fromStdString(done.error().text());
    }
    finish(*task, std::move(image), error);
  }
}

// Eyes that look around see a little more than the part, which is cut off again.
base::Status ScreenTiles::seenAround(const Task& task, QImage& image, const std::stop_token& stop) {
  base::InlineExecutor here;
  const base::Rect wide =
      task.area.grown(reachOf(task.view.eyes)).intersected(base::Rect::of(render::canvasAt(task.scene, task.key.level)));
  HSEAM_TRY(image::Raster<float> pixels, renderer_.render(task.scene, wide, task.key.level, here, stop));
  constexpr float kTimes = 4;
  if (const auto& then = task.view.against; then && then->canvas == task.scene.canvas) {
    HSEAM_TRY(const image::Raster<float> before, renderer_.render(*then, wide, task.key.level, here, stop));
    differ(pixels, before, kTimes);
  }
  View plain = task.view;
  if (reachOf(task.view.eyes) > 0) {
    seeAround(pixels, task.view.eyes);
    plain.eyes = Eyes::plain;
  }
  image =
      toScreen(pixels, wide.x, wide.y, plain).copy(task.area.x - wide.x, task.area.y - wide.y, task.area.width, task.area.height);
  return {};
}

// The tile is free for its next task at once; the window takes the picture when it has time.
void ScreenTiles::finish(const Task& task, QImage image, const QString& error) {
  const std::lock_guard lock(mutex_);
  const auto at = held_.find(task.key);
  if (at == held_.end() || at->second.work != task.number) return;  // dropped meanwhile, or another canvas's
  at->second.work = 0;
  at->second.patches.push_back({std::move(image), task.area, task.since, error});
  if (landing_) return;
  landing_ = true;
  QMetaObject::invokeMethod(this, &ScreenTiles::land, Qt::QueuedConnection);
}

void ScreenTiles::land() {
  std::vector<Key> changed;
  QString error;
  {
    const std::lock_guard lock(mutex_);
    landing_ = false;
    for (auto& [key, h] : held_) {
      if (h.patches.empty()) continue;
      changed.push_back(key);
      const base::Rect whole = areaOf(key);
      for (Patch& p : h.patches) {
        if (!p.error.isEmpty()) error = p.error;
        if (p.image.isNull()) continue;
        if (p.area == whole) {
          h.image = std::move(p.image);
        } else if (h.image.size() == QSize(whole.width, whole.height)) {
          for (int y = 0; y < p.area.height; ++y)
            std::memcpy(h.image.scanLine(p.area.y - whole.y + y) + std::size_t(p.area.x - whole.x) * sizeof(QRgb),
                        p.image.constScanLine(y), std::size_t(p.area.width) * sizeof(QRgb));
        } else {
          makeStale(h, whole);  // a part came, but there is nothing that it is a part of
          h.staleSince = std::min(h.staleSince, p.since);
          wake_.notify_all();
        }
      }
      h.patches.clear();
    }
  }
  for (const Key& k : changed) emit arrived(k.level, {k.x, k.y});
  if (!error.isEmpty()) emit failed(error);
}

const QImage* ScreenTiles::tile(int level, QPoint at) const {
  const auto found = held_.find({level, at.x(), at.y()});
  return found == held_.end() || found->second.image.isNull() ? nullptr : &found->second.image;
}

std::uint64_t ScreenTiles::shownThrough() const {
  const std::lock_guard lock(mutex_);
  std::uint64_t through = showings_;
  for (const Key& k : wanted_) {
    const Held& h = held_.at(k);
    if (h.work != 0) through = std::min(through, h.workSince - 1);
    if (!h.stale.empty()) through = std::min(through, h.staleSince - 1);
    for (const Patch& p : h.patches) through = std::min(through, p.since - 1);
  }
  return through;
}

}  // namespace hseam::app
