#pragma once
// Runs a list. Each step is a process of its own, so that a broken file never stops the others.

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

/// Progress: jobs ended in this run, of all that were to be done; how many of them failed; seconds left (negative: not known
/// yet).
struct HowFar {
  int ended = 0, all = 0, failed = 0;
  double secondsLeft = -1;
};

/// Blocks the calling thread while the steps run as processes. stop: running steps are ended, and their jobs are done again the
/// next time. Errors: those of the journal and of the out folder; a failed job is not an error.
base::Result<Outcome> run(const List& list, const RunOptions& options, const std::function<void(const HowFar&)>& told,
                          const std::stop_token& stop);

}  // namespace hseam::batch
