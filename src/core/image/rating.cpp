#include "core/image/rating.h"

#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/base/whole_file.h"
#include "core/image/decoded_file.h"

namespace hseam::image {
namespace {

namespace files = std::filesystem;

constexpr int kOut = -1, kNone = 0, kPerhaps = 3, kKeep = 5;
constexpr std::uintmax_t kLargestSidecar = 16u << 20;

Rating ratingFrom(int xmp) {
  if (xmp == kNone) return Rating::none;
  return xmp < kPerhaps ? Rating::out : (xmp < kKeep ? Rating::perhaps : Rating::keep);
}
int xmpOf(Rating r) {
  return r == Rating::keep ? kKeep : (r == Rating::perhaps ? kPerhaps : (r == Rating::out ? kOut : kNone));
}

// Empty if there is none.
std::string textOf(const std::string& path) {
  std::error_code problem;
  if (files::file_size(path, problem) > kLargestSidecar || problem) return {};
  std::ifstream file(path, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

}  // namespace

std::string sidecarOf(const std::string& picturePath) {
  return picturePath + ".xmp";
}

Rating ratingOf(const std::string& picturePath) try {
  std::string text = textOf(sidecarOf(picturePath));
  if (text.empty()) text = textOf(files::path(picturePath).replace_extension(".xmp").string());
  if (text.empty()) return Rating::none;
  const auto door = pictureDoor();
  return door.ok() ? ratingFrom((*door)->ratingIn(text)) : Rating::none;
} catch (...) {
  return Rating::none;
}

base::Status setRating(const std::string& picturePath, Rating rating) try {
  const std::string path = sidecarOf(picturePath);
  HSEAM_TRY(door::Door * door, pictureDoor());
  auto text = door->withRating(textOf(path), xmpOf(rating));
  if (!text.ok()) return base::Error{text.error().code, path, text.error().detail};
  return base::writeWhole(path, *text);
} catch (...) {
  return base::caught(picturePath);
}

}  // namespace hseam::image
