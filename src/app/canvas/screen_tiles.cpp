#include "app/canvas/screen_tiles.h"

#include <QMetaObject>
#include <algorithm>
#include <cmath>

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
  ++version_;
  if (scene.canvas != scene_.canvas) held_.clear();
  for (auto& [key, held] : held_) {
    bool stale = !sameView;
    for (const base::Rect& r : changed) {
      // Levels average and resampling reaches out: a few px more than the change itself.
      const base::Rect reach = r.coarser(key.level).grown(4);
      stale = stale || !reach.intersected({key.x * kSide, key.y * kSide, kSide, kSide}).empty();
    }
    if (!stale) continue;
    held.fresh = false;
    dirtySince_[key] = version_;
  }
  scene_ = scene;
  view_ = view;
  dispatch();
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
    for (const Task& t : queue_) held_[t.key].inWork = false;
    queue_.clear();
    for (const Key& k : wanted_) {
      Held& h = held_[k];
      if (h.fresh || h.inWork) continue;
      h.inWork = true;
      queue_.push_back({k, version_, scene_, view_});
    }
    std::reverse(queue_.begin(), queue_.end());  // workers take from the end
  }
  wake_.notify_all();
}

void ScreenTiles::work(const std::stop_token& stop) {
  base::InlineExecutor here;
  std::unique_lock lock(mutex_);
  while (wake_.wait(lock, stop, [this] { return !queue_.empty(); })) {
    const Task task = std::move(queue_.back());
    queue_.pop_back();
    lock.unlock();
    const base::Size canvas = render::canvasAt(task.scene, task.key.level);
    const base::Rect area = base::Rect{task.key.x * kSide, task.key.y * kSide, kSide, kSide}.intersected(base::Rect::of(canvas));
    QImage image;
    QString error;
    if (!area.empty()) {
      auto pixels = renderer_.render(task.scene, area, task.key.level, here, stop);
      if (pixels.ok()) {
        image = toScreen(*pixels, area.x, area.y, task.view);
      } else if (pixels.error().code != base::Code::cancelled) {
        error = QString::fromStdString(pixels.error().text());
      }
    }
    QMetaObject::invokeMethod(
        this, [this, key = task.key, version = task.version, image, error] { land(key, version, image, error); },
        Qt::QueuedConnection);
    lock.lock();
  }
}

void ScreenTiles::land(const Key& key, std::uint64_t version, const QImage& image, const QString& error) {
  const auto at = held_.find(key);
  if (at == held_.end()) return;
  Held& h = at->second;
  h.inWork = false;
  const auto dirty = dirtySince_.find(key);
  h.fresh = dirty == dirtySince_.end() || dirty->second <= version;
  if (!image.isNull()) h.image = image;
  emit arrived(key.level, {key.x, key.y});
  if (!error.isEmpty()) {
    h.fresh = true;  // asking again would fail again
    emit failed(error);
  }
  if (!h.fresh) dispatch();
}

const QImage* ScreenTiles::tile(int level, QPoint at) const {
  const auto found = held_.find({level, at.x(), at.y()});
  return found == held_.end() || found->second.image.isNull() ? nullptr : &found->second.image;
}

bool ScreenTiles::settled() const {
  return std::all_of(wanted_.begin(), wanted_.end(), [this](const Key& k) {
    const auto found = held_.find(k);
    return found != held_.end() && found->second.fresh;
  });
}

}  // namespace hseam::app
