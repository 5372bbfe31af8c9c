#pragma once
// The interface of the separately loaded module of learned networks, for network.cpp alone.

#include <memory>
#include <string>
#include <vector>

#include "core/base/error.h"

namespace hseam::learned {

/// Values of any number of dimensions, the last one running fastest.
struct Tensor {
  std::vector<int> shape;
  std::vector<float> values;
};

namespace door {

class Network {
 public:
  virtual ~Network() = default;
  /// One picture in, the named results out, in their order. Not for two threads at once. Errors: corrupt (the network does not
  /// take such a picture, or has no such result), outOfMemory.
  virtual base::Result<std::vector<Tensor>> run(const Tensor& input, const std::vector<std::string>& results) = 0;
};

class Door {
 public:
  virtual ~Door() = default;
  /// model: an ONNX file (opset 11), whole. Errors: corrupt.
  virtual base::Result<std::unique_ptr<Network>> read(const std::vector<char>& model) = 0;
};

inline constexpr const char* kEntry = "hseam_network_door";
using Entry = Door* (*)();

}  // namespace door
}  // namespace hseam::learned
