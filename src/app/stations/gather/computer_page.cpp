#include "app/stations/gather/computer_page.h"

#include <QLabel>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/document/machine_settings.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

QString megabytes(std::size_t bytes) {
  return QObject::tr("%1 MB").arg(bytes >> 20);
}

}  // namespace

ComputerPage::ComputerPage(Desk& desk)
    : Page(desk, {"computer", tr("This computer"), tr("How many cores and how much memory the program takes")}) {
  auto* all = column();
  const auto ownMemory = int(base::physicalMemory() >> 20);
  all->addWidget(quietLabel(tr("0: as it suits this computer. Taken up when the program starts.")));
  threads_ = field(tr("Cores"), tr("That compute at the same time. 0: all of them"), {}, 256);
  pixels_ = field(tr("Pixels"), tr("Kept in memory before those that lie on the disk are let go. 0: a third of the memory"),
                  tr(" MB"), ownMemory / 4 * 3);
  thumbnails_ =
      field(tr("Small pictures"), tr("Of the contact sheet, kept in memory. 0: a hundredth of the pixels"), tr(" MB"), 512);
  inUse_ = quietLabel({});
  inUse_->setAccessibleName(tr("What is taken now"));
  all->addWidget(inUse_);
}

QSpinBox* ComputerPage::field(const QString& name, const QString& tip, const QString& unit, int most) {
  auto* box = new QSpinBox;
  box->setRange(0, most);
  box->setSuffix(unit);
  box->setSpecialValueText(tr("automatic"));
  box->setKeyboardTracking(false);
  box->setAccessibleName(name);
  box->setToolTip(tip);
  connect(box, &QSpinBox::valueChanged, this, &ComputerPage::keep);
  layout()->addWidget(namedRow(name, box));
  return box;
}

void ComputerPage::keep() {
  keepMachineSettings({threads_->value(), std::size_t(pixels_->value()) << 20, std::size_t(thumbnails_->value()) << 20});
  emit changed();
}

void ComputerPage::refresh() {
  const base::MachineShare set = machineSettings();
  for (const auto& [box, value] :
       {std::pair(threads_, set.threads), {pixels_, int(set.pixelBytes >> 20)}, {thumbnails_, int(set.thumbnailBytes >> 20)}}) {
    const QSignalBlocker quiet(box);
    box->setValue(value);
  }
  const base::MachineShare next = base::chosenFor(set);
  const auto& memory = *desk_.session.memory();
  inUse_->setText(tr("Now: %1 of at most %2 of pixels. From the next start: %3 cores, %4 of pixels, %5 of small pictures.")
                      .arg(megabytes(memory.residentBytes()), megabytes(memory.budgetBytes()))
                      .arg(next.threads)
                      .arg(megabytes(next.pixelBytes), megabytes(next.thumbnailBytes)));
}

QString ComputerPage::words() const {
  const base::MachineShare set = machineSettings();
  return set.threads == 0 && set.pixelBytes == 0 && set.thumbnailBytes == 0 ? tr("automatic") : tr("set by hand");
}

}  // namespace hseam::app
