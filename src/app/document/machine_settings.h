#pragma once
// What the window takes of the machine, as set by whoever works at it. Taken up when the program starts.

#include "core/base/machine.h"

namespace hseam::app {

/// As set; 0 where the program chooses.
base::MachineShare machineSettings();
void keepMachineSettings(const base::MachineShare& share);

}  // namespace hseam::app
