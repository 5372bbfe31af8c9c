#include "core/base/temporary_folder.h"

#include <filesystem>
#include <system_error>

#include <unistd.h>

namespace hseam::base {

TemporaryFolder::TemporaryFolder(const char* purpose) {
  std::error_code problem;
  std::string name = (std::filesystem::temp_directory_path(problem) / ("hseam-" + std::string(purpose) + "-XXXXXX")).string();
  if (!problem && mkdtemp(name.data())) path_ = name;
}

TemporaryFolder::~TemporaryFolder() {
  std::error_code ignored;
  if (ok()) std::filesystem::remove_all(path_, ignored);
}

}  // namespace hseam::base
