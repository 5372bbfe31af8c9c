#pragma once

#include <QObject>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "app/canvas/instrument.h"
#include "app/canvas/view.h"
#include "app/document/messages.h"
#include "app/document/session.h"
#include "core/paint/stroke.h"
#include "core/scene/edit.h"

namespace hseam::app {

/// Paints a grey picture of the active layer: its mask, its hints or its band. Left and right button paint two values.
class Brush : public Instrument {
 public:
  /// A stroke so far.
  struct Drawn {
    const image::TiledImage& painted;
    base::Rect all, fresh;  // what it has touched; what the last dabs of it have
    bool right;             // with the right button
  };
  /// What is painted, asked for when a stroke begins.
  struct Target {
    image::TiledImage picture;  // as it is before the stroke
    base::Affine toShown;       // its px → px of the shown scene
    std::uint8_t left = 255, right = 0;
    bool flat = false;                                          // labels, not coverage
    std::function<scene::Edit(const image::TiledImage&)> edit;  // from the painted picture
    /// Turns what was painted into what is kept (labels that stand for something else); may be empty.
    std::function<base::Result<image::TiledImage>(const Drawn& drawn)> settle;
    Unbend unbend = nullptr;  // where it is shown bent: comes after the inverse of toShown; null: it is not
  };
  /// target: nothing where there is nothing to paint, with a word to the user.
  Brush(Session& session, Messages& messages, std::function<std::optional<Target>()> target, std::function<QString()> words);

  paint::Tip tip;
  /// The tip's size is px of the screen, not of what is painted; by the zoom that was last drawn.
  bool onScreen = false;
  paint::Pressure pressure = paint::Pressure::size;
  /// Another tip than the round one: what draws a stroke on the target with a value. Empty: the round tip.
  std::function<std::unique_ptr<paint::Drawing>(const Target& target, std::uint8_t value)> makeDrawing;
  /// Called after the wheel has changed size or hardness.
  std::function<void()> tipChanged;
  /// Called when a stroke has become an Edit.
  std::function<void()> stroked;
  /// Takes what was painted instead of an Edit of it: for what becomes a step together with its result. Empty: an Edit.
  std::function<void(const image::TiledImage&)> handOver;

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  bool turn(double notches, bool second) override;
  double ringSize() const override { return onScreen ? tip.sizePx / zoom_ : tip.sizePx * scale_; }
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  double ringHardness() const override { return tip.hardness; }
  void hover(const QPointF&) override;
  QString doing() const override { return words_(); }

 protected:
  double zoom() const { return zoom_; }
  base::Executor& executor() const { return session_.executor(); }

 private:
  void extend(const Touch& touch);
  void draw();
  std::optional<base::Point> inTarget(const QPointF& shown) const;

  Session& session_;
  Messages& messages_;
  std::function<std::optional<Target>()> makeTarget_;
  std::function<QString()> words_;
  std::optional<Target> target_;
  std::unique_ptr<paint::Drawing> stroke_;
  std::vector<paint::Sample> waiting_;  // not drawn yet, px of the painted picture
  QObject later_;
  image::TiledImage settled_;
  base::Rect strokeArea_;  // all that the stroke has touched
  bool right_ = false;
  std::optional<QPointF> lastEnd_;  // for straight runs, px of the shown scene
  double zoom_ = 1;                 // px of the screen per px of the shown scene, as last drawn
  double scale_ = 1;                // px of the shown scene per px of the painted picture
};

}  // namespace hseam::app
