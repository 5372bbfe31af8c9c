#include "core/learned/network.h"

#include <zstd.h>

#include <fstream>
#include <iterator>
#include <map>

#include "core/base/module.h"
#include "core/base/resources.h"

namespace hseam::learned {
namespace {

using base::Code;
using base::Error;

constexpr unsigned long long kMostBytes = 64 << 20;

base::Result<door::Door*> networkDoor() {
  static const base::Result<door::Door*> opened = []() -> base::Result<door::Door*> {
    if (auto entry = reinterpret_cast<door::Entry>(base::moduleEntry("hseam_networks.so", door::kEntry))) return entry();
    return Error{Code::unsupported, "hseam_networks.so", "the module that runs networks cannot be loaded"};
  }();
  return opened;
}

base::Result<std::vector<char>> unpacked(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error{Code::notFound, path, "the network is not there"};
  const std::vector<char> packed((std::istreambuf_iterator<char>(file)), {});
  const unsigned long long size = ZSTD_getFrameContentSize(packed.data(), packed.size());
  if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN || size > kMostBytes)
    return Error{Code::corrupt, path, "the network is damaged"};
  std::vector<char> out(static_cast<std::size_t>(size));
  if (ZSTD_decompress(out.data(), out.size(), packed.data(), packed.size()) != size)
    return Error{Code::corrupt, path, "the network is damaged"};
  return out;
}

}  // namespace

base::Result<std::unique_ptr<Network>> Network::read(const std::string& path) {
  HSEAM_TRY(const std::vector<char> model, unpacked(path));
  HSEAM_TRY(door::Door * door, networkDoor());
  auto inner = door->read(model);
  if (!inner.ok()) return Error{inner.error().code, path, inner.error().detail};
  return std::unique_ptr<Network>(new Network(std::move(inner).value()));
}

base::Result<std::vector<Tensor>> Network::run(const Tensor& input, const std::vector<std::string>& results) {
  const std::lock_guard lock(mutex_);
  return inner_->run(input, results);
}

base::Result<Network*> network(const std::string& name) {
  static std::mutex mutex;
  static std::map<std::string, base::Result<std::unique_ptr<Network>>> known;
  const std::lock_guard lock(mutex);
  auto at = known.find(name);
  if (at == known.end()) {
    const std::string folder = base::resourcePath("models");
    auto made = folder.empty()
                    ? base::Result<std::unique_ptr<Network>>(Error{Code::notFound, "models", "the networks are not there"})
                    : Network::read(folder + "/" + name + ".onnx.zst");
    at = known.emplace(name, std::move(made)).first;
  }
  if (!at->second.ok()) return at->second.error();
  return at->second.value().get();
}

}  // namespace hseam::learned
