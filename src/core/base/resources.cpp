#include "core/base/resources.h"

#include <filesystem>

namespace hseam::base {

std::string resourcePath(const std::string& name) {
  namespace fs = std::filesystem;
  std::error_code problem;
  const fs::path here = fs::read_symlink("/proc/self/exe", problem).parent_path();
  for (const fs::path& place : {here / name, here / "../share/hidden-seam" / name}) {
    if (fs::exists(place, problem)) return place.lexically_normal().string();
  }
  return {};
}

}  // namespace hseam::base
