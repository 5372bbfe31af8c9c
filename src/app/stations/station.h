#pragma once

#include <QWidget>
#include <functional>
#include <optional>

#include "app/canvas/instrument.h"
#include "app/canvas/view.h"
#include "app/document/desk.h"
#include "app/widgets/pleat.h"
#include "app/widgets/run_of_work.h"

class QLabel;
class QStackedWidget;
class QPushButton;

namespace hseam::app {

/// The next most useful step, shown on top of the bench.
struct NextStep {
  QString what;    // "Guess the subject"
  QString why;     // one or two sentences
  QString button;  // empty: nothing to press
  std::function<void()> act;
};

/// Their order on the run of work.
enum StationIndex { kGather, kCutOut, kPlace, kMatch, kLookOver, kHandOver };

/// One of the six stations: its pleats, what the canvas shows while it is open, and what the pointer does.
class Station : public QWidget {
  Q_OBJECT

 public:
  explicit Station(Desk& desk, QWidget* parent = nullptr);
  virtual QString name() const = 0;
  virtual View view() const { return {}; }
  virtual Instrument* instrument() { return nullptr; }
  virtual NextStep nextStep() const = 0;
  /// State and words of its tab.
  virtual std::pair<RunOfWork::Stitch, QString> state() const = 0;
  /// Over the picture: selections, bands.
  virtual void paintOver(QPainter&, const QTransform&, const QRect&) {}
  /// The scene has changed, another layer is active, or the station was opened: show it in the controls.
  virtual void refresh() {}
  Pleats* pleats() { return pleats_; }

 signals:
  void changed();                  // view, instrument, words or next step
  void stationAsked(int station);  // the next step is taken elsewhere

 protected:
  /// A picture layer in hand; null if the active layer is none.
  const scene::PictureContent* activePicture() const;
  QString activeName() const;
  /// A step whose button leads to another station.
  NextStep onTo(StationIndex station, const QString& what, const QString& why, const QString& button) const {
    return {what, why, button, [self = const_cast<Station*>(this), station] { emit self->stationAsked(station); }};
  }
  Desk& desk_;
  Pleats* pleats_;
};

/// Small builders, so that every control has its words.
QPushButton* button(const QString& text, const QString& tip, const std::function<void()>& act);
QLabel* quietLabel(const QString& text);
QWidget* rowOf(const QList<QWidget*>& widgets);
/// From now on the stack is as tall as the page that is shown, not as its tallest.
void fitToPage(QStackedWidget* stack);

}  // namespace hseam::app
