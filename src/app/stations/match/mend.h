#pragma once

#include <vector>

#include "app/instruments/copy_brush.h"
#include "app/stations/page.h"
#include "app/widgets/value_field.h"
#include "core/retouch/after_stroke.h"

class QCheckBox;
class QComboBox;
class QLabel;

namespace hseam::app {

class TipFields;

/// Repairs by hand on a painting over what is mended: copied from elsewhere, copied in the light of where it lies, a fleck
/// filled from what is round it, or a mark taken off cloth. The first stroke makes the painting.
class Mend : public Page {
  Q_OBJECT

 public:
  explicit Mend(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &brush_; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  enum class Way { copy, copyInLight, fleck, mark, takeAway };
  // A stroke that is worked out beside the window.
  struct Waiting {
    Way way;
    scene::LayerId painting;
    image::TiledImage coverage;
    base::Rect touched;
    base::Affine toSource;  // px of the scene
    scene::Scene source;
  };
  Way way() const;
  bool onPainting() const;
  scene::Scene source() const;
  std::optional<Brush::Target> target();
  QString doing() const;
  void takeTip();
  void takeWay();
  void workOut();
  /// A copy lies in the scene now: says whether its texture lies there twice, and whether tone steps at its rim.
  void lookAtStroke(const image::TiledImage& coverage, const base::Rect& touched, const base::Affine& toSource);
  void forgetMarks();

  CopyBrush brush_;
  std::vector<Waiting> waiting_;  // in the order they were drawn; the first is being worked out
  scene::LayerId stroked_;        // the painting of the stroke in hand
  base::Rect touched_;            // what it has touched
  image::TiledImage takenAway_;   // the painting, if it takes repairs away
  bool takes_ = false;            // the stroke in hand takes away
  std::uint32_t seed_ = 1;
  struct Noted {
    retouch::Copied copy;
    int step;  // of the history, that made it
  };
  std::vector<Noted> copies_;
  image::TiledImage drawn_;         // the coverage of the stroke in hand
  std::vector<base::Rect> marked_;  // places whose texture repeats, px of the scene
  int markedAt_ = 0;                // the step that they were marked after
  QComboBox *ways_, *sources_;
  QWidget* copying_;  // what only copies need
  TipFields* tip_;
  ValueField *turn_, *scale_;
  QCheckBox *mirrored_, *afresh_;
  QLabel* after_;
};

}  // namespace hseam::app
