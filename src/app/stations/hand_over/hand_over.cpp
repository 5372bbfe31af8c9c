#include "app/stations/hand_over/hand_over.h"

#include "app/stations/hand_over/many_files.h"
#include "app/stations/hand_over/weight.h"

namespace hseam::app {

HandOver::HandOver(Desk& desk) : Station(desk) {
  auto* whose = new WhoseItIs(desk);
  copy_ = add(new WriteCopy(desk, *whose));
  parcels_ = add(new Parcels(desk, *whose, *copy_));
  add(new Weight(desk, *copy_));
  add(whose);
  add(new ManyFiles(desk));
  openPage(QStringLiteral("write"));
}

NextStep HandOver::nextStep() const {
  if (desk_.session.scene().layers.empty()) return {tr("Nothing to hand over yet"), tr("Add pictures in Gather first."), {}, {}};
  if (!copy_->mayGoOut()) {
    return onTo(
        kGather, tr("Check the permissions first"),
        tr("What stands against it is listed below. Note who has allowed what, or type the word and answer for it yourself."),
        tr("Note permissions in Gather"));
  }
  auto* self = const_cast<HandOver*>(this);
  return {tr("Write a flat copy"), tr("The project itself is kept as you work; nothing needs saving."), tr("Write the file…"),
          [self] { self->copy_->ask(); }};
}

std::pair<RunOfWork::Stitch, QString> HandOver::state() const {
  if (!parcels_->words().isEmpty())
    return {parcels_->anyFailed() ? RunOfWork::Stitch::loose : RunOfWork::Stitch::tight, parcels_->words()};
  return copy_->written().isEmpty() ? std::pair{RunOfWork::Stitch::none, tr("not yet")}
                                    : std::pair{RunOfWork::Stitch::tight, copy_->written()};
}

}  // namespace hseam::app
