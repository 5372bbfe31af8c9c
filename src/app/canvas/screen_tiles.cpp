#include "app/canvas/screen_tiles.h"

#include <QMetaObject>
#include <algorithm>
#include <cmath>
#include <cstring>

#include "app/document/courtesy.h"

namespace hseam::app {
namespace {

constexpr std::size_t kKeptTiles = 600;  // 256 KiB each

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
  if (sameView && changed.empty()) {
    scene_ = scene;
    return;
  }
  ++showings_;
  if (scene.canvas != scene_.canvas) held_.clear();
  scene_ = scene;
  view_ = view;
  for (auto& [key, held] : held_) {
    const base::Rect whole = areaOf(key);
    const bool wasStale = !held.stale.empty();
    if (!sameView) held.stale = whole;
    for (const base::Rect& r : changed) {
      // Levels average and resampling reaches out: a few px more than the change itself.
      held.stale = held.stale.united(r.coarser(key.level).grown(4).intersected(whole));
    }
    if (!wasStale) held.staleSince = showings_;
  }
  dispatch();
}

void ScreenTiles::setDisplay(std::shared_ptr<const image::DisplayTransform> display) {
  display_ = std::move(display);
  ++showings_;
  for (auto& [key, held] : held_) {
    held.stale = areaOf(key);
    held.staleSince = showings_;
  }
  dispatch();
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
  if (keys == wanted_) return;
  wanted_ = std::move(keys);
  if (held_.size() > kKeptTiles)
    std::erase_if(held_, [&](const auto& h) { return std::find(wanted_.begin(), wanted_.end(), h.first) == wanted_.end(); });
  dispatch();
}

void ScreenTiles::dispatch() {
  {
    const std::lock_guard lock(mutex_);
    // What waits was asked for an older scene: it goes back to what is stale.
    for (const Task& t : queue_) {
      Held& h = held_[t.key];
      h.inWork = false;
      h.stale = h.stale.united(t.area);
      h.staleSince = t.since;
    }
    queue_.clear();
    for (const Key& k : wanted_) {
      const auto [at, isNew] = held_.try_emplace(k);
      Held& h = at->second;
      if (isNew) {
        h.stale = areaOf(k);
        h.staleSince = showings_;
      }
      if (h.stale.empty() || h.inWork) continue;
      h.inWork = true;
      h.workSince = h.staleSince;
      queue_.push_back({k, h.staleSince, h.stale, scene_, view_, display_});
      h.stale = {};
    }
    std::reverse(queue_.begin(), queue_.end());  // workers take from the end
  }
  wake_.notify_all();
}

void ScreenTiles::work(const std::stop_token& stop) {
  giveWay();
  base::InlineExecutor here;
  std::unique_lock lock(mutex_);
  while (wake_.wait(lock, stop, [this] { return !queue_.empty(); })) {
    const Task task = std::move(queue_.back());
    queue_.pop_back();
    lock.unlock();
    QImage image(task.area.width, task.area.height, QImage::Format_RGB32);
    QString error;
    const auto show = [&](const base::Rect& part, const render::Planes& pixels) {
      toScreen(pixels, part, task.view, image, {part.x - task.area.x, part.y - task.area.y});
    };
    const auto done = renderer_.renderTo(task.scene, task.area, task.key.level, here, show, stop);
    for (int y = 0; task.display && y < image.height(); ++y)
      task.display->apply(reinterpret_cast<std::uint32_t*>(image.scanLine(y)), std::size_t(image.width()));
    if (!done.ok()) {
      image = {};
      if (done.error().code != base::Code::cancelled) error = QString::fromStdString(done.error().text());
    }
    QMetaObject::invokeMethod(
        this, [this, key = task.key, area = task.area, image, error] { land(key, area, image, error); }, Qt::QueuedConnection);
    lock.lock();
  }
}

void ScreenTiles::land(const Key& key, const base::Rect& area, const QImage& image, const QString& error) {
  const auto at = held_.find(key);
  if (at == held_.end()) return;
  Held& h = at->second;
  h.inWork = false;
  const base::Rect whole = areaOf(key);
  if (!image.isNull() && area == whole) {
    h.image = image;
  } else if (!image.isNull() && h.image.size() == QSize(whole.width, whole.height)) {
    for (int y = 0; y < area.height; ++y)
      std::memcpy(h.image.scanLine(area.y - whole.y + y) + std::size_t(area.x - whole.x) * sizeof(QRgb), image.constScanLine(y),
                  std::size_t(area.width) * sizeof(QRgb));
  } else if (error.isEmpty()) {
    h.stale = whole;  // a part came, but there is nothing that it is a part of
    h.staleSince = h.workSince;
  }
  emit arrived(key.level, {key.x, key.y});
  if (!error.isEmpty()) emit failed(error);
  if (!h.stale.empty()) dispatch();
}

const QImage* ScreenTiles::tile(int level, QPoint at) const {
  const auto found = held_.find({level, at.x(), at.y()});
  return found == held_.end() || found->second.image.isNull() ? nullptr : &found->second.image;
}

std::uint64_t ScreenTiles::shownThrough() const {
  std::uint64_t through = showings_;
  for (const Key& k : wanted_) {
    const auto found = held_.find(k);
    if (found == held_.end()) return 0;
    const Held& h = found->second;
    if (h.inWork) through = std::min(through, h.workSince - 1);
    if (!h.stale.empty()) through = std::min(through, h.staleSince - 1);
  }
  return through;
}

}  // namespace hseam::app
