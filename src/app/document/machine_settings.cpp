#include "app/document/machine_settings.h"

#include <QSettings>

namespace hseam::app {
namespace {

constexpr const char *kThreads = "machine/threads", *kPixels = "machine/pixelMegabytes",
                     *kThumbnails = "machine/thumbnailMegabytes";

std::size_t bytesIn(const char* key) {
  return std::size_t(std::max(0, QSettings().value(QLatin1String(key), 0).toInt())) << 20;
}
void keepBytes(const char* key, std::size_t bytes) {
  QSettings().setValue(QLatin1String(key), int(bytes >> 20));
}

}  // namespace

base::MachineShare machineSettings() {
  return {std::max(0, QSettings().value(QLatin1String(kThreads), 0).toInt()), bytesIn(kPixels), bytesIn(kThumbnails)};
}

void keepMachineSettings(const base::MachineShare& share) {
  QSettings().setValue(QLatin1String(kThreads), share.threads);
  keepBytes(kPixels, share.pixelBytes);
  keepBytes(kThumbnails, share.thumbnailBytes);
}

}  // namespace hseam::app
