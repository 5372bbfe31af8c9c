#pragma once
// The shown scene as screen tiles: rendered on workers, kept by level and place, renewed where the scene differs.

#include <QImage>
#include <QObject>
#include <QPoint>
#include <QRect>
#include <condition_variable>
#include <map>
#include <mutex>
#include <optional>
#include <thread>
#include <vector>

#include "app/canvas/view.h"
#include "core/image/display_profile.h"
#include "core/render/renderer.h"

namespace hseam::app {

class ScreenTiles : public QObject {
  Q_OBJECT

 public:
  static constexpr int kSide = 256;  // px of the level

  explicit ScreenTiles(QObject* parent = nullptr);
  ~ScreenTiles() override;

  /// From now on this scene and view. What has not changed stays; of a tile that has, only the changed part is rendered, and
  /// the old picture is shown until it comes.
  void show(const scene::Scene& scene, const View& view);
  /// What is shown goes through it; null: as it is.
  void setDisplay(std::shared_ptr<const image::DisplayTransform> display);
  /// Which tiles are looked at, nearest to the middle first. Others are not rendered.
  void want(int level, const QRect& tiles);
  /// The newest picture of a tile; null if there is none yet.
  const QImage* tile(int level, QPoint at) const;
  /// True if everything wanted is shown as it is now.
  bool settled() const { return shownThrough() == showings_; }
  /// How often show() was called with something new, and up to which of these everything wanted is shown.
  std::uint64_t showings() const { return showings_; }
  std::uint64_t shownThrough() const;
  const scene::Scene& scene() const { return scene_; }
  const View& view() const { return view_; }

 signals:
  void arrived(int level, QPoint at);
  void failed(const QString& sentence);

 private:
  struct Key {
    int level, x, y;
    friend auto operator<=>(const Key&, const Key&) = default;
  };
  // A rendered part, on its way into the tile's image.
  struct Patch {
    QImage image;
    base::Rect area;  // px of the level
    std::uint64_t since;
    QString error;
  };
  struct Held {
    QImage image;                                 // the window's thread alone
    base::Rect stale;                             // px of the level that nobody has rendered as they are now
    std::uint64_t staleSince = 0, workSince = 0;  // the first showing that stale, and what is in work, are wanted for
    std::uint64_t work = 0;                       // number of the task that is in work; 0: none
    std::vector<Patch> patches;
    std::shared_ptr<render::LowerLayers> lower;  // while only what is in front of it changes
  };
  struct Task {
    Key key;
    std::uint64_t number, since;
    base::Rect area;  // px of the level, within the tile
    scene::Scene scene;
    View view;
    std::shared_ptr<const image::DisplayTransform> display;
    std::shared_ptr<render::LowerLayers> lower;  // nobody else's while the task is in work
  };
  void work(const std::stop_token& stop);
  base::Status seenAround(const Task& task, QImage& image, const std::stop_token& stop);
  std::optional<Task> next();
  void finish(const Task& task, QImage image, const QString& error);
  void land();
  void makeStale(Held& held, const base::Rect& area);
  base::Rect areaOf(const Key& key) const;

  std::map<Key, Held> held_;  // only the window's thread adds and drops tiles
  render::Renderer renderer_;

  // All below, and the tiles' states, are shared with the workers.
  mutable std::mutex mutex_;
  std::condition_variable_any wake_;
  scene::Scene scene_;
  View view_;
  std::shared_ptr<const image::DisplayTransform> display_;
  std::vector<Key> wanted_;
  std::uint64_t showings_ = 1, tasks_ = 0;
  std::size_t steady_ = 0;       // layers from the back that the last showing left as they were
  std::size_t belowChange_ = 0;  // layers behind a change that goes on: the last two left these
  bool landing_ = false;         // land() is on its way
  std::vector<std::jthread> workers_;
};

}  // namespace hseam::app
