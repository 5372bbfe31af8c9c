#pragma once

#include <deque>

#include "app/stations/hand_over/permission_question.h"
#include "app/stations/page.h"
#include "core/deliver/parcel.h"

class QCheckBox;
class QFrame;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QSpinBox;
class QVBoxLayout;

namespace hseam::app {

class WhoseItIs;
class WriteCopy;

/// Several destinations at once, each a card: what is ticked is written into one folder, one after the other; one that fails
/// holds none of the others up.
class Parcels : public Page {
  Q_OBJECT

 public:
  Parcels(Desk& desk, const WhoseItIs& whose, const WriteCopy& copy);
  void refresh() override;
  QString words() const override;
  bool anyFailed() const { return failed_ > 0; }
  /// Writes what is ticked into a folder, without asking where.
  void sendTo(const QString& folder);

 private:
  struct Card {
    deliver::Parcel parcel;
    QString key;  // its slot in the lane, and in the settings
    QCheckBox* wanted;
    QLineEdit* suffix;
    QSpinBox *longSide, *most;
    QLabel* state;
    QProgressBar* bar;
  };
  Card& addCard(const deliver::Parcel& parcel, const QString& what, QVBoxLayout* column);
  deliver::Parcel parcelOf(const Card& card) const;
  void ended(Card& card, const base::Result<deliver::Sent>& sent);
  void showProgress();
  bool anyWanted() const;
  void askAndSend();

  const WhoseItIs& whose_;
  const WriteCopy& copy_;
  std::deque<Card> cards_;  // stay where they are
  PermissionQuestion* permission_;
  QCheckBox* replace_;
  QPushButton* go_;
  int sent_ = 0, failed_ = 0;
};

}  // namespace hseam::app
