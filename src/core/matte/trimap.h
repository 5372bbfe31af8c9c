#pragma once

#include <cstdint>

namespace hseam::matte {

/// The meaning of a band's (trimap's) value: below 86 background, above 170 subject, between them undecided.
enum class Known : std::uint8_t { background, undecided, subject };
constexpr Known knownOf(std::uint8_t band) {
  return band < 86 ? Known::background : (band > 170 ? Known::subject : Known::undecided);
}
inline constexpr std::uint8_t kBackground = 0, kUndecided = 128, kSubject = 255;

}  // namespace hseam::matte
