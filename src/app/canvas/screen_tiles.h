#pragma once
// The shown scene as screen tiles: rendered on workers, kept by level and place, renewed where the scene differs.

#include <QImage>
#include <QObject>
#include <QPoint>
#include <QRect>
#include <condition_variable>
#include <map>
#include <mutex>
#include <thread>
#include <vector>

#include "app/canvas/view.h"
#include "core/render/renderer.h"

namespace hseam::app {

class ScreenTiles : public QObject {
  Q_OBJECT

 public:
  static constexpr int kSide = 256;  // px of the level

  explicit ScreenTiles(QObject* parent = nullptr);
  ~ScreenTiles() override;

  /// From now on this scene and view; tiles where nothing changed stay, the others are shown until their renewal comes.
  void show(const scene::Scene& scene, const View& view);
  /// Which tiles are looked at, nearest to the middle first. Others are not rendered.
  void want(int level, const QRect& tiles);
  /// The newest picture of a tile; null if there is none yet.
  const QImage* tile(int level, QPoint at) const;
  /// True if everything wanted is shown as it is now.
  bool settled() const;
  const scene::Scene& scene() const { return scene_; }

 signals:
  void arrived(int level, QPoint at);
  void failed(const QString& sentence);

 private:
  struct Key {
    int level, x, y;
    friend auto operator<=>(const Key&, const Key&) = default;
  };
  struct Held {
    QImage image;
    bool fresh = false;
    bool inWork = false;
  };
  struct Task {
    Key key;
    std::uint64_t version;
    scene::Scene scene;
    View view;
  };
  void work(const std::stop_token& stop);
  void land(const Key& key, std::uint64_t version, const QImage& image, const QString& error);
  void dispatch();

  scene::Scene scene_;
  View view_;
  std::map<Key, Held> held_;
  std::vector<Key> wanted_;
  std::uint64_t version_ = 0;
  std::map<Key, std::uint64_t> dirtySince_;  // the version at which a tile last became stale

  render::Renderer renderer_;
  std::mutex mutex_;
  std::condition_variable_any wake_;
  std::vector<Task> queue_;
  std::vector<std::jthread> workers_;
};

}  // namespace hseam::app
