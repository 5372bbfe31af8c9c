#pragma once

#include "app/document/lane.h"
#include "app/document/session.h"
#include "core/findings/report.h"

namespace hseam::app {

/// The findings' places and numbers as a layer in front of everything, to be handed on with the picture.
void addMarks(Session& session, Lane& jobs, const std::vector<findings::Verdict>& findings);

}  // namespace hseam::app
