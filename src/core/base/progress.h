#pragma once
// Progress and cancellation of long work.

#include <functional>
#include <stop_token>
#include <utility>

#include "core/base/error.h"

namespace hseam::base {

/// A copyable handle. `report` may be called on any thread, with shares that never fall.
class Progress {
 public:
  using Sink = std::function<void(double share)>;
  Progress() = default;  // never stops, tells nobody
  explicit Progress(std::stop_token stop, Sink sink = {}) : stop_(std::move(stop)), sink_(std::move(sink)) {}

  bool cancelled() const { return stop_.stop_requested(); }
  void report(double share) const {
    if (sink_) sink_(from_ + (to_ - from_) * share);
  }
  /// A progress whose 0..1 is [from, to] of this one.
  Progress part(double from, double to) const {
    Progress p = *this;
    p.from_ = from_ + (to_ - from_) * from;
    p.to_ = from_ + (to_ - from_) * to;
    return p;
  }
  const std::stop_token& token() const { return stop_; }

 private:
  std::stop_token stop_;
  Sink sink_;
  double from_ = 0, to_ = 1;
};

inline Error cancelledError() {
  return {Code::cancelled, "", "stopped"};
}

}  // namespace hseam::base
