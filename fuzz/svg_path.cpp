// Path data, and drawings that hold it.
#include "core/path/cover.h"
#include "core/path/svg.h"
#include "fuzz/reader.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t count) {
  using namespace hseam;
  const auto read = path::fromPathData(std::string(reinterpret_cast<const char*>(bytes), count));
  // What is read covers something, and is written so that it can be read again.
  if (read.ok()) {
    static_cast<void>(path::coverageIn(*read, {0, 0, 32, 32}));
    if (!read->empty() && !path::fromPathData(path::pathData(*read)).ok()) std::abort();
  }
  const fuzz::File file(bytes, count, ".svg");
  static_cast<void>(path::readSvg(file.path()).ok());
  return 0;
}
