#pragma once
// Learned networks that come with the program, in the folder "models" (base/resources): ONNX packed with Zstandard. Nothing is
// fetched, and no picture leaves the machine.

#include <mutex>

#include "core/learned/door/network_door.h"

namespace hseam::learned {

class Network {
 public:
  /// From a packed file. Errors: notFound, corrupt (damaged, or no network), unsupported (the module that runs
  /// networks is missing).
  static base::Result<std::unique_ptr<Network>> read(const std::string& path);
  /// From any thread; one at a time. Errors: those of door::Network::run.
  base::Result<std::vector<Tensor>> run(const Tensor& input, const std::vector<std::string>& results);

 private:
  explicit Network(std::unique_ptr<door::Network> inner) : inner_(std::move(inner)) {}
  std::mutex mutex_;
  std::unique_ptr<door::Network> inner_;
};

/// The network of that name, read at the first call and kept. Errors: those of Network::read.
base::Result<Network*> network(const std::string& name);

}  // namespace hseam::learned
