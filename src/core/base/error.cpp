#include "core/base/error.h"

#include <cstdio>
#include <cstdlib>

namespace hseam::base {

const char* codeName(Code code) {
  switch (code) {
    case Code::notFound:
      return "notFound";
    case Code::unreadable:
      return "unreadable";
    case Code::corrupt:
      return "corrupt";
    case Code::limitExceeded:
      return "limitExceeded";
    case Code::unsupported:
      return "unsupported";
    case Code::unwritable:
      return "unwritable";
    case Code::outOfMemory:
      return "outOfMemory";
    case Code::cancelled:
      return "cancelled";
    case Code::conflict:
      return "conflict";
    case Code::invalid:
      return "invalid";
  }
  return "unknown";
}

Error noMemory(std::string where) {
  return {Code::outOfMemory, std::move(where), "there is not enough memory; close other pictures or programs and try again"};
}

void checkFailed(const char* condition, const char* file, int line) {
  std::fprintf(stderr, "Hidden Seam found itself in an impossible state: %s (%s:%d)\n", condition, file, line);
  std::abort();
}

}  // namespace hseam::base
