#pragma once

#include "app/document/lane.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// What pages and instruments work with.
struct Desk {
  Session& session;
  Messages& messages;
  Lane& jobs;        // what was asked for: listed, with progress and stop
  Lane& aside;       // what the eye waits for: small pictures and figures of the interface
  Lane& background;  // what can wait: readings of the whole scene
};

}  // namespace hseam::app
