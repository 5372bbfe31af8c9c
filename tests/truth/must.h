#pragma once

#include <cstdio>
#include <cstdlib>

#include "core/base/error.h"

namespace hseam::truth {

/// The value, or the end of the program with the error's text: for what a bench takes for granted.
template <class T>
T must(base::Result<T> result) {
  if (!result.ok()) {
    std::fprintf(stderr, "%s\n", result.error().text().c_str());
    std::exit(1);
  }
  return std::move(result).value();
}

}  // namespace hseam::truth
