#pragma once

#include <QObject>
#include <QStringList>

#include "app/document/desk.h"
#include "core/sets/assembled.h"

namespace hseam::app {

/// What the pages of frames do to the active picture: each wish is worked out aside, and becomes one step with its result.
class FrameWork : public QObject {
  Q_OBJECT

 public:
  explicit FrameWork(Desk& desk);
  /// The set of the active picture as it is wished for; null: it is one picture.
  const scene::FrameSet* set() const;
  /// It is being worked out.
  bool busy() const { return pending_ != nullptr; }
  /// Frames on the base's pixels, as the picture was set together last.
  const std::shared_ptr<sets::LaidFrames>& laid() const { return laid_; }

  /// Files become frames of the active picture, which is the base.
  void add(const QStringList& files, std::optional<scene::FrameSet::Way> way = std::nullopt);
  void use(std::size_t frame, bool used);
  void takeOut(std::size_t frame);
  void makeBase(std::size_t frame);
  /// A frame moved by hand, px of the base.
  void nudge(std::size_t frame, double dx, double dy);
  void setWay(scene::FrameSet::Way way);
  void setPicks(const image::TiledImage& picks);
  void setLamp(std::size_t frame, double strength, const std::array<double, 3>& tint);
  /// A layer for each frame that shows, each masked to where it does; the picture itself is hidden.
  void makeLayers();
  /// The picture stays as it is now; its frames go.
  void settle();

 signals:
  void changed();

 private:
  using Next = std::function<base::Result<std::optional<scene::FrameSet>>(base::Executor&, const base::Progress&)>;
  void become(const QString& name, const QString& how, std::shared_ptr<const scene::FrameSet> wish, Next next);
  void become(const QString& how, scene::FrameSet wish);
  const scene::Layer* layer() const;

  Desk& desk_;
  std::shared_ptr<sets::LaidFrames> laid_ = std::make_shared<sets::LaidFrames>();
  std::shared_ptr<const scene::FrameSet> pending_;
  scene::LayerId pendingOf_;
};

}  // namespace hseam::app
