#pragma once

#include "app/stations/page.h"

#include "app/instruments/light_tool.h"
#include "app/widgets/light_dial.h"
#include "app/widgets/value_field.h"

class QStackedWidget;

namespace hseam::app {

/// The page that gives a subject its shadows and its light, and shapes the one in hand.
class Lights : public Page {
  Q_OBJECT

 public:
  explicit Lights(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Null: no light layer is in hand.
  Instrument* instrument() override;

 private:
  struct Field {
    ValueField* widget;
    std::function<double(const scene::LightKind&)> get;
  };
  struct Fields {
    LightDial* dial = nullptr;
    std::vector<Field> fields;
  };
  const scene::LightContent* active() const;
  /// The picture that a new light would follow: the active one, or the active light's own.
  const scene::Layer* subject() const;
  /// A new light comes from where that of the place does.
  template <class Kind>
  scene::LightKind litByPlace(Kind kind) const {
    kind.light = scene::lightOf(desk_.session.scene()).value_or(kind.light);
    return kind;
  }
  void keepShadow();
  /// With the subject's foot and its line of contact found; below: under it, else over it and confined.
  void add(const QString& name,
           const std::function<scene::LightKind(const scene::Layer&, base::Point foot, std::vector<base::Point> line)>& make,
           scene::BlendMode mode, bool below);
  void edit(const scene::LightKind& kind, bool keep);
  template <class Kind>
  void buildPage(bool dial, const std::function<void(QWidget*, Fields&)>& rest);
  template <class Kind>
  void field(QWidget* page, Fields& to, const QString& name, const ValueField::Range& range, const QString& tip,
             double Kind::*member, double shownTimes = 1);
  template <class Kind>
  void lightSize(QWidget* page, Fields& to);
  template <class Kind>
  void colour(QWidget* page, const QString& name, const QString& tip, scene::Colour3 Kind::*member);

  LightTool tool_;
  QStackedWidget* pages_;
  std::vector<Fields> built_;  // by kind
};

}  // namespace hseam::app
