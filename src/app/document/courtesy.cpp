#include "app/document/courtesy.h"

#include <sys/resource.h>
#include <unistd.h>

namespace hseam::app {

void lowerPriority() {
  constexpr int kNiceness = 8;
  static_cast<void>(setpriority(PRIO_PROCESS, id_t(gettid()), kNiceness));
}

}  // namespace hseam::app
