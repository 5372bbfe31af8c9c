#pragma once

#include "app/document/messages.h"
#include "app/document/session.h"
#include "core/findings/report.h"

namespace hseam::app {

/// Writes what was found, with a picture of each place and of the scene in every view; its kind by the ending: .html, .pdf,
/// .json. What cannot be written is told to the user and leaves no half file.
void writeReport(Session& session, Messages& messages, const findings::Report& report, const QString& path);

}  // namespace hseam::app
