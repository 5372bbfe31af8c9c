#pragma once

namespace hseam::app {

/// The calling thread, and those that it starts, give way to the window's thread when all cores are busy. Linux: threads have
/// niceness of their own.
void lowerPriority();

}  // namespace hseam::app
