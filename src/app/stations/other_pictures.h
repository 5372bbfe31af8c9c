#pragma once

#include "app/document/session.h"

class QComboBox;

namespace hseam::app {

/// The pictures of the scene but the active one and paintings, by name, each with its layer's id as a qulonglong; what was chosen
/// stays chosen. Empty while no picture is active.
void listOtherPictures(QComboBox& box, Session& session);

}  // namespace hseam::app
