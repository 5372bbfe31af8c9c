#pragma once

#include <QIcon>

namespace hseam::app::theme {

/// One of the application's own signs (theme/icons/sign-*.svg), drawn in the ink of the look in use whenever it is painted.
QIcon sign(const char* name);

}  // namespace hseam::app::theme
