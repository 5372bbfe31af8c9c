#pragma once

#include <QList>
#include <functional>

#include "core/scene/adjustment.h"

class QWidget;

namespace hseam::app {

/// All adjustments on four shelves, each a button that opens a list; `add` gets the one that is chosen, as it begins.
QList<QWidget*> shelves(const std::function<void(const scene::Adjustment&)>& add);

}  // namespace hseam::app
