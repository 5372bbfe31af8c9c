#pragma once

#include "app/instruments/pick_tool.h"
#include "app/stations/page.h"
#include "core/tasks/ready.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

class LevelLines;
class ValueField;

/// The active picture is readied: light, colour and detail, before it is cut and set. Every change shows in the scene at once.
class ReadyPage : public Page {
  Q_OBJECT

 public:
  explicit ReadyPage(Desk& desk);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }
  Instrument* instrument() override;

 private:
  struct Field {
    ValueField* field;
    double tasks::Readying::*value;
    double times;
  };
  void buildLight(QVBoxLayout& c);
  void buildColour(QVBoxLayout& c);
  void buildDetail(QVBoxLayout& c);
  void add(QVBoxLayout& c, ValueField* field, double tasks::Readying::*value, double times);
  void change(const tasks::Readying& to, bool keep);
  void showEnds();
  void measure();
  void takeGrey(const QPointF& at);
  void startFromMeasured();
  void byItsLight();
  void makeAlike();

  PickTool pick_;
  LevelLines* lines_;
  QLabel *cutOff_, *measured_;
  std::vector<Field> fields_;
  QPushButton *shot_, *grey_, *start_, *alike_, *light_;
  QComboBox* other_;
  // What was measured of the picture with this source and mask, and with these adjustments.
  std::pair<std::uint64_t, std::uint64_t> measuredOf_;
  tasks::Readying measuredWith_;
  std::optional<tasks::ReadyNumbers> came_, now_;
};

}  // namespace hseam::app
