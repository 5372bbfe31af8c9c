#pragma once
// Works a list off: each step is a process of its own, so that no file, however broken, stops the others.

#include <functional>
#include <stop_token>

#include "core/batch/journal.h"
#include "core/batch/list.h"

namespace hseam::batch {

struct RunOptions {
  std::string program;      // path of hseam
  int workers = 1;          // jobs at a time
  int threads = 0;          // of each; 0: its own choice
  bool again = false;       // do what is done already, too
  bool retryFailed = true;  // try what failed before once more
};

struct Failure {
  std::string job, said;
};
struct Outcome {
  int done = 0, before = 0;  // now; by an earlier run
  std::vector<Failure> failed;
  bool stopped = false;
};

/// How far it is: jobs that have ended now, of all that had to be done, how many of them failed, and seconds left (negative: not
/// known yet).
struct HowFar {
  int ended = 0, all = 0, failed = 0;
  double secondsLeft = -1;
};

/// Calling thread only; the steps run beside it. stop: running steps are ended, their jobs are done anew the next time. Errors:
/// of the journal and of the out folder; what a job says is no error.
base::Result<Outcome> run(const List& list, const RunOptions& options, const std::function<void(const HowFar&)>& told,
                          const std::stop_token& stop);

}  // namespace hseam::batch
