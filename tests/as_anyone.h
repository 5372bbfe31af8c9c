#pragma once

#include <linux/capability.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace hseam::test {

/// Root may write anywhere: while this lives, this thread and those that it starts may not.
class AsAnyone {
 public:
  AsAnyone() {
    syscall(SYS_capget, &header_, before_);
    __user_cap_data_struct now[2] = {before_[0], before_[1]};
    now[0].effective &= ~(1u << CAP_DAC_OVERRIDE | 1u << CAP_DAC_READ_SEARCH);
    syscall(SYS_capset, &header_, now);
  }
  ~AsAnyone() { syscall(SYS_capset, &header_, before_); }

 private:
  __user_cap_header_struct header_{_LINUX_CAPABILITY_VERSION_3, 0};
  __user_cap_data_struct before_[2] = {};
};

}  // namespace hseam::test
