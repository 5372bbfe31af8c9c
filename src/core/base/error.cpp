#include "core/base/error.h"

#include <cstdio>
#include <cstdlib>
#include <exception>
#include <new>

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
    case Code::failed:
      return "failed";
  }
  return "unknown";
}

Error noMemory(std::string where) {
  return {Code::outOfMemory, std::move(where), "there is not enough memory; close other pictures or programs and try again"};
}

Error caught(std::string where) {
  try {
    throw;
  } catch (const std::bad_alloc&) {
    return noMemory(std::move(where));
  } catch (const std::exception& e) {
    const std::string text = e.what();
    // OpenCV tells a lack of memory by an exception of its own.
    if (text.find("OutOfMemoryError") != std::string::npos) return noMemory(std::move(where));
    return {Code::failed, std::move(where), "a part of the program broke down over it: " + text};
  } catch (...) {
    return {Code::failed, std::move(where), "a part of the program broke down over it without saying why"};
  }
}

void checkFailed(const char* condition, const char* file, int line) {
  std::fprintf(stderr, "Hidden Seam found itself in an impossible state: %s (%s:%d)\n", condition, file, line);
  std::abort();
}

}  // namespace hseam::base
