#pragma once

#include <QWidget>

#include "app/document/desk.h"
#include "app/instruments/light_tool.h"
#include "app/widgets/light_dial.h"
#include "app/widgets/value_field.h"

class QStackedWidget;

namespace hseam::app {

/// The pleat that gives a subject its shadows and its light, and shapes the one in hand.
class Lights : public QWidget {
  Q_OBJECT

 public:
  explicit Lights(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  QString words() const;
  /// Null: no light layer is in hand.
  Instrument* tool();

 private:
  struct Field {
    ValueField* widget;
    std::function<double(const scene::LightKind&)> get;
  };
  struct Page {
    LightDial* dial = nullptr;
    std::vector<Field> fields;
  };
  const scene::LightContent* active() const;
  /// The picture that a new light would follow: the active one, or the active light's own.
  const scene::Layer* subject() const;
  void keepShadow();
  /// With the subject's foot and its line of contact found; below: under it, else over it and confined.
  void add(const QString& name,
           const std::function<scene::LightKind(const scene::Layer&, base::Point foot, std::vector<base::Point> line)>& make,
           scene::BlendMode mode, bool below);
  void edit(const scene::LightKind& kind, bool keep);
  template <class Kind>
  void buildPage(bool dial, const std::function<void(QWidget*, Page&)>& rest);
  template <class Kind>
  void field(QWidget* page, Page& to, const QString& name, const ValueField::Range& range, const QString& tip,
             double Kind::*member, double shownTimes = 1);
  template <class Kind>
  void lightSize(QWidget* page, Page& to);
  template <class Kind>
  void colour(QWidget* page, const QString& name, const QString& tip, scene::Colour3 Kind::*member);

  Desk& desk_;
  LightTool tool_;
  QStackedWidget* pages_;
  std::vector<Page> built_;  // by kind
};

}  // namespace hseam::app
