#include "core/base/whole_file.h"

#include <filesystem>
#include <fstream>

namespace hseam::base {

Status writeWhole(const std::string& path, std::string_view bytes) {
  const std::string part = path + ".part";
  std::error_code problem;
  {
    std::ofstream out(part, std::ios::binary | std::ios::trunc);
    out.write(bytes.data(), std::streamsize(bytes.size()));
    out.flush();
    if (!out) {
      std::filesystem::remove(part, problem);
      return Error{Code::unwritable, path, "cannot be written (is its folder read-only, full or gone?)"};
    }
  }
  std::filesystem::rename(part, path, problem);
  if (!problem) return {};
  const std::string why = problem.message();
  std::filesystem::remove(part, problem);
  return Error{Code::unwritable, path, "cannot be written: " + why};
}

}  // namespace hseam::base
